import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { pool, transaction } from './pool';

/** Runs every numbered file that has not run yet, each in one transaction with its version row. Gives the names that ran. */
export const migrate = async (folder: string): Promise<string[]> => {
  await pool().query(
    'create table if not exists schema_migrations (name text primary key, ran_at timestamptz not null default now())',
  );
  const ran: string[] = [];
  const files = readdirSync(folder)
    .filter((f) => /^\d+_.*\.sql$/.test(f))
    .sort();
  for (const name of files) {
    const did = await transaction(async (client) => {
      // two starts at once must not run one file twice
      await client.query('lock table schema_migrations in exclusive mode');
      const seen = await client.query('select 1 from schema_migrations where name = $1::text', [name]);
      if (seen.rowCount) return false;
      await client.query(readFileSync(join(folder, name), 'utf8'));
      await client.query('insert into schema_migrations (name) values ($1::text)', [name]);
      return true;
    });
    if (did) ran.push(name);
  }
  return ran;
};
