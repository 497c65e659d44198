import { execFile } from 'node:child_process';
import { createHash } from 'node:crypto';
import { createReadStream, readdirSync, readFileSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { promisify } from 'node:util';
import { Client } from 'pg';
import { z } from 'zod';

/** Parts of bin/backup and bin/restore: what a backup says of itself, and whether that holds. */

const FORMAT = 'lively-spindle-backup';

const ManifestSchema = z.object({
  format: z.literal(FORMAT),
  version: z.literal(1),
  made: z.string(),
  identity: z.string(),
  migrations: z.array(z.string()),
  counts: z.record(z.string(), z.number()),
  size: z.number(),
  sha256: z.string(),
});
type Manifest = z.infer<typeof ManifestSchema>;

const COUNTED = ['jobs', 'revisions', 'people', 'files', 'audit', 'machines', 'tools', 'materials'] as const;

const hashOf = (file: string): Promise<string> =>
  new Promise((done, failed) => {
    const hash = createHash('sha256');
    createReadStream(file)
      .on('data', (d) => hash.update(d))
      .on('end', () => done(hash.digest('hex')))
      .on('error', failed);
  });

const connected = async <T>(work: (client: Client) => Promise<T>): Promise<T> => {
  const client = new Client({ connectionString: process.env.OWNER_DATABASE_URL });
  await client.connect();
  try {
    return await work(client);
  } finally {
    await client.end();
  }
};

const counts = async (client: Client): Promise<Record<string, number>> => {
  const result: Record<string, number> = {};
  for (const table of COUNTED)
    result[table] = (await client.query(`select count(*)::integer as n from ${table}`)).rows[0].n;
  return result;
};

/** Dumps the shop into a file and says what is in it, both of one and the same moment. */
const dumped = (file: string, program: string): Promise<Manifest> =>
  connected(async (client) => {
    await client.query('begin isolation level repeatable read read only');
    const snapshot = (await client.query('select pg_export_snapshot() as name')).rows[0].name as string;
    const [counted, identity, migrations] = [
      await counts(client),
      (await client.query('select identity from shop')).rows[0].identity as string,
      (await client.query('select name from schema_migrations order by name')).rows.map((r) => r.name as string),
    ];
    const options = ['--format=custom', '--schema=public', '--no-owner', '--no-privileges', `--snapshot=${snapshot}`];
    await promisify(execFile)(program, [...options, `--file=${file}`, process.env.OWNER_DATABASE_URL ?? '']);
    await client.query('commit');
    return {
      format: FORMAT,
      version: 1,
      made: new Date().toISOString(),
      identity,
      migrations,
      counts: counted,
      size: statSync(file).size,
      sha256: await hashOf(file),
    };
  });

const read = (path: string): Manifest | null => {
  try {
    return ManifestSchema.parse(JSON.parse(readFileSync(path, 'utf8')));
  } catch {
    return null;
  }
};

const words = (m: Manifest): string =>
  `${m.counts.jobs} jobs with ${m.counts.revisions} revisions, ${m.counts.people} people, ${m.counts.files} files, as of ${m.made.slice(0, 16).replace('T', ' ')} UTC`;

/** Why this program cannot read a backup, or null. */
const unreadable = (m: Manifest): string | null => {
  const known = readdirSync(join(process.cwd(), 'src/db/migrations'));
  const newer = m.migrations.find((name) => !known.includes(name));
  return newer
    ? `The backup was made by a newer program (${newer} is not known here). Nothing was changed; bring this program up to date first.`
    : null;
};

/** Whether a database holds what a backup says, and every job in it can be read. */
const amiss = (m: Manifest): Promise<string | null> =>
  connected(async (client) => {
    const now = await counts(client);
    for (const table of COUNTED)
      if (now[table] !== m.counts[table])
        return `${table}: ${now[table]} are there, the backup says ${m.counts[table]}`;
    const { rows } = await client.query('select id, document from jobs');
    // the planning code is large, and only this wants it
    const { readJob } = await import('../core/plan');
    const broken = rows.find((r) => !readJob(r.document).ok);
    return broken ? `job ${broken.id} cannot be read` : null;
  });

const main = async ([what, path, dump]: readonly string[]): Promise<number> => {
  if (what === 'dump') {
    try {
      console.log(JSON.stringify(await dumped(path, dump), null, 1));
      return 0;
    } catch (error) {
      const { stderr, message } = error as { stderr?: string; message: string };
      console.error(`The backup was not made: ${(stderr ?? message).trim().split('\n').at(-1)}`);
      return 1;
    }
  }
  const manifest = read(path);
  if (!manifest) return 1;
  switch (what) {
    case 'words':
      process.stdout.write(words(manifest));
      return 0;
    case 'whole':
      return statSync(dump).size === manifest.size && (await hashOf(dump)) === manifest.sha256 ? 0 : 1;
    case 'readable': {
      const why = unreadable(manifest);
      if (why) console.error(why);
      return why ? 1 : 0;
    }
    case 'check': {
      const why = await amiss(manifest);
      if (why) console.error(why);
      return why ? 1 : 0;
    }
    default:
      return 2;
  }
};

process.exitCode = await main(process.argv.slice(2));
