import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Client } from 'pg';

const numbered = (folder: string): string[] =>
  readdirSync(folder)
    .filter((f) => /^\d+_.*\.sql$/.test(f))
    .sort();

/** A database that a newer program has changed: going on would work against rules that this one does not know. */
export class NewerDatabase extends Error {}

/**
 * Runs every numbered file that has not run yet, each in one transaction with its version row, as the role that owns the
 * tables. Gives the names that ran.
 */
export const migrate = async (client: Client, folder: string): Promise<string[]> => {
  await client.query(
    'create table if not exists schema_migrations (name text primary key, ran_at timestamptz not null default now())',
  );
  const files = numbered(folder);
  const ran: string[] = [];
  const { rows } = await client.query<{ name: string }>('select name from schema_migrations order by name');
  const unknown = rows.find((r) => !files.includes(r.name));
  if (unknown)
    throw new NewerDatabase(
      `The database was changed by a newer program (${unknown.name}). Start that program, or bring back a backup of before.`,
    );
  for (const name of files) {
    await client.query('begin');
    try {
      // two starts at once must not run one file twice
      await client.query('lock table schema_migrations in exclusive mode');
      const seen = await client.query('select 1 from schema_migrations where name = $1::text', [name]);
      if (!seen.rowCount) {
        await client.query(readFileSync(join(folder, name), 'utf8'));
        await client.query('insert into schema_migrations (name) values ($1::text)', [name]);
        ran.push(name);
      }
      await client.query('commit');
    } catch (error) {
      await client.query('rollback');
      throw error;
    }
  }
  return ran;
};
