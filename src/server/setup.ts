import { randomBytes } from 'node:crypto';
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { Client } from 'pg';
import { MaterialSchema } from '../core/cutting';
import { DIALECTS } from '../core/dialects';
import { readMachine } from '../core/machine';
import { readJobText } from '../core/plan';
import { ToolSchema } from '../core/tooling';
import { migrate, NewerDatabase } from '../db/migrate';
import { insertPerson } from '../db/people';
import { closePool, databaseUrl, transaction } from '../db/pool';
import { putShop } from '../db/shop';
import { DEMO_PASSWORD, DEMO_PEOPLE } from '../house/demo';
import { createJob } from './jobs';
import { hashPassword } from './passwords';
import { hashOf } from './signIn';
import { summarise } from './summary';
import { prepareQueue } from './work';

const root = process.cwd();
const read = (path: string): unknown => JSON.parse(readFileSync(join(root, path), 'utf8'));

/** Machines, tools, materials and dialects that a shop begins with. */
const loadLibrary = async (): Promise<void> => {
  await transaction(async (client) => {
    for (const file of readdirSync(join(root, 'demo/machines'))) {
      const found = readMachine(read(`demo/machines/${file}`));
      if (!found.ok) throw new Error(`${file}: ${found.problems.map((p) => p.message).join(' ')}`);
      await putShop(client, 'machines', found.machine.id, found.machine);
    }
    for (const value of read('demo/tools/tools.json') as unknown[]) {
      const tool = ToolSchema.parse(value);
      await putShop(client, 'tools', tool.id, tool);
    }
    for (const value of read('demo/materials/materials.json') as unknown[]) {
      const material = MaterialSchema.parse(value);
      await putShop(client, 'materials', material.id, material);
    }
    for (const dialect of DIALECTS) await putShop(client, 'dialects', dialect.id, dialect);
  });
};

const loadDemo = async (): Promise<number> => {
  const password = await hashPassword(DEMO_PASSWORD);
  const ids = new Map<string, string>();
  await transaction(async (client) => {
    for (const p of DEMO_PEOPLE) ids.set(p.name, await insertPerson(client, { ...p, password }));
  });
  let jobs = 0;
  for (const file of readdirSync(join(root, 'demo/jobs')).sort().reverse()) {
    const job = readJobText(readFileSync(join(root, 'demo/jobs', file), 'utf8'));
    if (!job.ok) throw new Error(`${file}: ${job.problems.map((p) => p.message).join(' ')}`);
    const name = job.job.header.author;
    const id = ids.get(name);
    const by = { person: id ? { id, name } : null, name, address: '' };
    await createJob(job.job, by, undefined, summarise(job.job));
    jobs++;
  }
  return jobs;
};

/** Lets the role that works read and write, and nothing else: no table is its own, the audit list only grows. */
const grant = async (client: Client, role: string): Promise<void> => {
  const name = client.escapeIdentifier(role);
  await client.query(`
    grant usage on schema public to ${name};
    grant select, insert, update, delete on all tables in schema public to ${name};
    revoke update, delete on audit from ${name};
    revoke insert, update, delete on schema_migrations from ${name};
    revoke insert, delete on shop from ${name};
    grant usage on all sequences in schema public to ${name};`);
};

export interface Prepared {
  readonly ran: readonly string[];
  readonly jobs: number;
  /** The code for the first administrator, when the shop has nobody. */
  readonly code: string | null;
}

export interface Wishes {
  /** Throw everything away first. */
  readonly reset: boolean;
  /** Load the demo shop into an empty database. */
  readonly demo: boolean;
}

/** Migrates as the owner, gives the working role its rights, and loads what an empty shop begins with. */
export const prepare = async (ownerUrl: string, { reset, demo }: Wishes): Promise<Prepared> => {
  const url = databaseUrl();
  const owner = new Client({ connectionString: ownerUrl });
  await owner.connect();
  try {
    const role = decodeURIComponent(new URL(url).username);
    const own = decodeURIComponent(new URL(ownerUrl).username) === role;
    if (reset)
      await owner.query(
        'drop schema if exists graphile_worker cascade; drop schema if exists public cascade; create schema public;',
      );
    const ran = await migrate(owner, join(root, 'src/db/migrations'));
    if (!own) {
      await owner.query(`create schema if not exists graphile_worker authorization ${owner.escapeIdentifier(role)}`);
      await grant(owner, role);
    }
    // the queue's tables are the working role's own; only while they are made may it make a schema
    const database = owner.escapeIdentifier((await owner.query('select current_database() as name')).rows[0].name);
    const may = (word: string): string =>
      `${word} on database ${database} ${word.startsWith('grant') ? 'to' : 'from'} ${owner.escapeIdentifier(role)}`;
    if (!own) await owner.query(may('grant create'));
    try {
      await prepareQueue(url);
    } finally {
      if (!own) await owner.query(may('revoke create'));
    }
    // one start at a time loads the shop
    await owner.query('select pg_advisory_lock(4310)');
    const { rows } = await owner.query('select count(*)::integer as n from machines');
    const fresh = rows[0].n === 0;
    await owner.query('insert into shop (demo) values ($1::boolean) on conflict do nothing', [fresh && demo]);
    if (fresh) await loadLibrary();
    const jobs = fresh && demo ? await loadDemo() : 0;
    const people = await owner.query('select 1 from people limit 1');
    let code: string | null = null;
    if (!people.rowCount) {
      code = randomBytes(9).toString('base64url');
      await owner.query('update shop set first_code = $1::bytea', [hashOf(code)]);
    }
    return { ran, jobs, code };
  } finally {
    await owner.end();
  }
};

const main = async (): Promise<void> => {
  const ownerUrl = process.env.OWNER_DATABASE_URL ?? databaseUrl();
  try {
    const { ran, jobs, code } = await prepare(ownerUrl, {
      reset: process.argv.includes('--reset'),
      demo: !process.argv.includes('--no-demo'),
    });
    console.log(
      `database ready${ran.length > 0 ? `, ${ran.length} migration(s) run` : ''}${jobs > 0 ? `, ${jobs} demo jobs loaded` : ''}`,
    );
    if (code) console.log(`nobody works here yet; the code for the first administrator is ${code}`);
  } catch (error) {
    if (!(error instanceof NewerDatabase)) throw error;
    console.error(error.message);
    process.exitCode = 3;
  } finally {
    await closePool();
  }
};

if (process.argv[1]?.endsWith('setup.ts')) await main();
