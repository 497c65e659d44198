/**
 * Twenty people on five jobs, an edit each every two seconds, and the list looked at, in a shop of two thousand jobs: how
 * long saving and the list take, against a bare insert of the same bytes in the same run. Then many saves for the server's
 * memory. A server and a database of its own: node tests/bench/run.mjs tests/bench/load.ts [seconds] [saves]
 */
import { type ChildProcess, execFileSync, spawn } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { Client } from 'pg';
import { DEMO_PASSWORD } from '../../src/house/demo';

const seconds = Number(process.argv[3] ?? 40);
const saves = Number(process.argv[4] ?? 20_000);
const PEOPLE = 20;
const JOBS = 5;
const port = 4790;
const base = `http://127.0.0.1:${port}`;

const shell = (script: string): string =>
  execFileSync('bash', ['-c', `. bin/lib.sh; ensure_database_server >/dev/null 2>&1; ${script}`], {
    encoding: 'utf8',
    maxBuffer: 1e8,
    env: { ...process.env, DATABASE_URL: '' },
  });
const [url, ownerUrl] = shell(
  'drop_database lively_load; use_database lively_load; setup_database >/dev/null; echo "$DATABASE_URL"; echo "$OWNER_DATABASE_URL"',
)
  .trim()
  .split('\n')
  .slice(-2);
const env = {
  ...process.env,
  DATABASE_URL: url,
  PORT: String(port),
  LIVELY_HOSTS: `127.0.0.1:${port}`,
  NODE_ENV: 'production',
};
const server: ChildProcess = spawn(
  process.execPath,
  ['--import', './node_modules/tsx/dist/loader.mjs', 'src/server/serve.ts'],
  { env: env as NodeJS.ProcessEnv, stdio: ['ignore', 'ignore', 'inherit'] },
);
process.on('exit', () => server.kill('SIGKILL'));

const pause = (ms: number): Promise<void> => new Promise((r) => setTimeout(r, ms));
for (let i = 0; i < 100; i++) {
  if ((await fetch(`${base}/api/health`).catch(() => null))?.ok) break;
  await pause(200);
}
const memory = (): number =>
  Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${server.pid}/status`, 'utf8'))?.[1] ?? 0) / 1024;

const signed = async (name: string): Promise<string> => {
  const r = await fetch(`${base}/api/session`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ name, password: DEMO_PASSWORD }),
  });
  if (!r.ok) throw new Error(`${name}: ${r.status} ${await r.text()}`);
  return (r.headers.get('set-cookie') ?? '').split(';')[0];
};

const owner = new Client({ connectionString: ownerUrl });
await owner.connect();
// twenty people with the demo's own hash
await owner.query(
  `insert into people (name, password, rights) select 'Person ' || n, (select password from people limit 1), '{view,program}' from generate_series(1, $1::integer) n`,
  [PEOPLE],
);
await owner.query('begin');
await owner.query(`
  create temp table copies as
    select gen_random_uuid() as id, document, summary from jobs j, generate_series(1, 200) n limit 1990;
  insert into jobs (id, version, document, summary, updated_by, updated_at)
    select id, 1, document, summary, 'Load', now() - random() * interval '300 days' from copies;
  insert into revisions (job_id, version, edit_id, diff, snapshot, author)
    select id, 1, gen_random_uuid(), '{"added":{},"updated":{},"removed":{}}', document, 'Load' from copies;`);
await owner.query('commit');
await owner.query('analyze');

const cookies: string[] = [];
for (let i = 1; i <= PEOPLE; i++) cookies.push(await signed(`Person ${i}`));
const asked = async (
  path: string,
  cookie: string,
  body?: unknown,
): Promise<{ status: number; body: Record<string, never>; ms: number }> => {
  const started = performance.now();
  const r = await fetch(`${base}${path}`, {
    method: body ? 'POST' : 'GET',
    headers: { cookie, ...(body ? { 'content-type': 'application/json' } : {}) },
    ...(body ? { body: JSON.stringify(body) } : {}),
  });
  const value = (await r.json()) as Record<string, never>;
  return { status: r.status, body: value, ms: performance.now() - started };
};
const list = (await asked('/api/jobs?limit=5', cookies[0])).body as unknown as {
  jobs: { id: string; version: number }[];
  count: number;
};
const jobs = list.jobs.slice(0, JOBS).map((j) => ({ id: j.id, version: j.version }));

const saving: number[] = [];
const listing: number[] = [];
let conflicts = 0;
const trace: [number, number, string][] = [];
const zero = performance.now();
const editing = async (job: { id: string; version: number }, cookie: string, n: number): Promise<number> => {
  const r = await asked(`/api/jobs/${job.id}/edits`, cookie, {
    edit: randomUUID(),
    base: job.version,
    label: 'note',
    diff: { added: {}, updated: { '/header/note': ['', `load ${n}`] }, removed: {} },
  });
  const { version } = r.body as unknown as { version: number };
  if (r.status === 200 || r.status === 409) job.version = Math.max(job.version, version);
  else throw new Error(`${r.status} ${JSON.stringify(r.body)}`);
  if (r.status === 409) conflicts++;
  return r.ms;
};
const until = Date.now() + seconds * 1000;
const person = async (i: number): Promise<void> => {
  await pause(Math.random() * 2000);
  for (let n = 0; Date.now() < until; n++) {
    const ms = await editing(jobs[i % JOBS], cookies[i], n);
    saving.push(ms);
    trace.push([(performance.now() - zero) / 1000, ms, 'save']);
    if (n % 2 === 0) listing.push((await asked('/api/jobs?words=lm', cookies[i])).ms);
    await pause(2000);
  }
};
await Promise.all(Array.from({ length: PEOPLE }, (_, i) => person(i)));

// the same bytes as one bare insert
const plain = new Client({ connectionString: ownerUrl });
await plain.connect();
await plain.query('create table bare (id uuid, document jsonb)');
const { rows } = await plain.query('select document from jobs where id = $1', [jobs[0].id]);
const text = JSON.stringify(rows[0].document);
const inserts: number[] = [];
for (let i = 0; i < 100; i++) {
  const started = performance.now();
  await plain.query('insert into bare values ($1, $2)', [randomUUID(), text]);
  inserts.push(performance.now() - started);
}
const at = (list: number[], share: number): number =>
  [...list].sort((a, b) => a - b)[Math.floor(list.length * share)] ?? 0;
const row = (what: string, value: string): void => console.log(what.padEnd(52), value);
if (process.env.LOAD_TRACE)
  console.log(
    trace
      .filter((t) => t[1] > 60)
      .map((t) => `${t[0].toFixed(1)}s ${t[2]} ${t[1].toFixed(0)}`)
      .join(', '),
  );
row('jobs in the shop', String(list.count));
row(
  `saving, ${saving.length} edits: median / p95`,
  `${at(saving, 0.5).toFixed(1)} / ${at(saving, 0.95).toFixed(1)} ms  (${conflicts} met another version; p95 is ${(at(saving, 0.95) / at(inserts, 0.5)).toFixed(1)} × a bare insert)`,
);
row(
  `list and search, ${listing.length} times: median / p95`,
  `${at(listing, 0.5).toFixed(1)} / ${at(listing, 0.95).toFixed(1)} ms`,
);
row('bare insert of a document: median', `${at(inserts, 0.5).toFixed(2)} ms`);

const kept: string[] = [];
const lanes = jobs.map((job, lane) => async (): Promise<void> => {
  for (let n = 0; n < saves / JOBS; n++) {
    // below the rate that one person has
    await editing(job, cookies[(n * JOBS + lane) % PEOPLE], n);
    if (lane === 0 && n % Math.floor(saves / JOBS / 5) === 0) kept.push(memory().toFixed(0));
  }
});
const begun = performance.now();
await Promise.all(lanes.map((l) => l()));
const took = (performance.now() - begun) / 1000;
row(`${saves} saves in a row`, `${took.toFixed(0)} s, ${(saves / took).toFixed(0)} a second`);
row('memory of the server during them, MB', [...kept, memory().toFixed(0)].join(', '));
await plain.end();
await owner.end();
server.kill('SIGKILL');
shell('drop_database lively_load');
process.exit(0);
