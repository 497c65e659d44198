/**
 * Kills a shop of its own again and again (server, worker, one database process, the whole database) while eight people
 * save, and counts afterwards: every acknowledged edit is there once, under the version that was acknowledged.
 *   node --import ./node_modules/tsx/dist/loader.mjs tests/kills.ts [kills]      bin/test runs a dozen; 1000 take an hour or two
 * Wants a build (.next) and packages in this checkout.
 */
import { execFileSync, spawn, spawnSync } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { cpSync, mkdirSync, readFileSync, rmSync, symlinkSync } from 'node:fs';
import { Client } from 'pg';
import { DEMO_PASSWORD } from '../src/house/demo';
import { seeded } from './fixtures/random';

const kills = Number(process.argv[2] ?? 12);
const seed = Number(process.env.KILL_SEED ?? 1 + Math.floor(Math.random() * 1e6));
const random = seeded(seed);
const PEOPLE = 8;
const here = process.cwd();
const home = `/tmp/lively-kills-${process.pid}`;
const port = 4800 + (process.pid % 90);
const base = `http://127.0.0.1:${port}`;
const pause = (ms: number): Promise<void> => new Promise((r) => setTimeout(r, ms));

mkdirSync(home, { recursive: true });
for (const part of [
  'bin',
  'src',
  'demo',
  'public',
  'package.json',
  'package-lock.json',
  'next.config.ts',
  'tsconfig.json',
  'postcss.config.mjs',
])
  cpSync(`${here}/${part}`, `${home}/${part}`, { recursive: true });
for (const part of ['node_modules']) symlinkSync(`${here}/${part}`, `${home}/${part}`);
cpSync(`${here}/.next`, `${home}/.next`, { recursive: true });
const { DATABASE_URL: _u, OWNER_DATABASE_URL: _o, PORT: _p, ...env } = process.env;
const bash = (script: string): string => execFileSync('bash', ['-c', script], { cwd: home, env, encoding: 'utf8' });
// the build was made from these very sources
bash(
  '. bin/lib.sh; sources_sum > .next/lively-stamp.new; tr -d "\\n" < .next/lively-stamp.new > .next/lively-stamp; echo >> .next/lively-stamp',
);
const begun = spawnSync('bin/start', ['--detach', '--port', String(port)], { cwd: home, env, encoding: 'utf8' });
if (begun.status !== 0) throw new Error(`${begun.stdout}${begun.stderr}`);

const end = (): void => {
  spawnSync('bin/start', ['--stop'], { cwd: home, env });
  spawnSync('bash', ['-c', '. bin/lib.sh; find_pg_home; pg_as "$PG_BIN/pg_ctl" -D "$PG_HOME/data" -m immediate stop'], {
    cwd: home,
    env,
  });
  rmSync(home, { recursive: true, force: true });
};

const ask = async (
  path: string,
  cookie: string,
  body?: unknown,
): Promise<{ status: number; body: Record<string, unknown> } | null> => {
  try {
    const r = await fetch(`${base}${path}`, {
      method: body ? 'POST' : 'GET',
      signal: AbortSignal.timeout(40_000),
      headers: { cookie, ...(body ? { 'content-type': 'application/json' } : {}) },
      ...(body ? { body: JSON.stringify(body) } : {}),
    });
    return { status: r.status, body: (await r.json()) as Record<string, unknown> };
  } catch {
    return null;
  }
};

const session = async (name: string): Promise<string> => {
  const r = await fetch(`${base}/api/session`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ name, password: DEMO_PASSWORD }),
  });
  return (r.headers.get('set-cookie') ?? '').split(';')[0];
};
const cookies = [await session('Ottilie Marsh'), await session('Bram Fenwick')];
const list = await ask('/api/jobs?limit=4', cookies[0]);
if (!list) throw new Error('the shop does not answer');
const jobs = (list.body as { jobs: { id: string }[] }).jobs.map((j) => j.id);

let running = true;
let lastAnswer = Date.now();
const acknowledged = new Map<string, { job: string; version: number }>();
const person = async (i: number): Promise<void> => {
  const job = jobs[i % jobs.length];
  const cookie = cookies[i % cookies.length];
  let version = 1;
  for (let n = 0; running; n++) {
    const edit = {
      edit: randomUUID(),
      base: version,
      label: `p${i}`,
      diff: { added: {}, updated: { '/header/note': ['', `p${i} ${n}`] }, removed: {} },
    };
    // the same edit again until it is answered, as the page does
    for (;;) {
      const r = await ask(`/api/jobs/${job}/edits`, cookie, edit);
      if (r && (r.status === 200 || r.status === 409)) {
        lastAnswer = Date.now();
        version = r.body.version as number;
        if (r.status === 200) acknowledged.set(edit.edit, { job, version });
        break;
      }
      if (r && r.status < 500 && r.status !== 429) throw new Error(`${r.status} ${JSON.stringify(r.body)}`);
      if (!running && !r) break;
      await pause(150);
    }
    await pause(20 + Math.random() * 60);
  }
};

const pidOf = (): { pid: number; server: number } => JSON.parse(readFileSync(`${home}/.data/run.json`, 'utf8'));
const killed = (pid: number): void => {
  try {
    process.kill(pid, 'SIGKILL');
  } catch {
    // gone already
  }
};
/** The database's first process. While it is being raised again its file is not there for a moment. */
const postmaster = (): number => {
  for (let k = 0; k < 100; k++) {
    const pid = Number(
      bash('. bin/lib.sh; find_pg_home; pg_as cat "$PG_HOME/data/postmaster.pid" 2>/dev/null | sed -n 1p').trim(),
    );
    if (pid > 0) return pid;
    spawnSync('sleep', ['0.1']);
  }
  throw new Error('the database was not raised again within 10 s');
};
const children = (pid: number): number[] =>
  spawnSync('pgrep', ['-P', String(pid)], { encoding: 'utf8' })
    .stdout.split('\n')
    .filter(Boolean)
    .map(Number);

let worker = spawn('bin/worker', [], { cwd: home, env, stdio: 'ignore' });
const ways: Record<string, () => void> = {
  server: () => killed(pidOf().server),
  worker: () => {
    for (const pid of [...children(worker.pid ?? 0), worker.pid ?? 0]) killed(pid);
    worker = spawn('bin/worker', [], { cwd: home, env, stdio: 'ignore' });
  },
  'a database process': () => {
    const all = children(postmaster());
    killed(all[Math.floor(random() * all.length)]);
  },
  'the database': () => {
    const pid = postmaster();
    for (const k of [pid, ...children(pid)]) killed(k);
  },
};

const people = Array.from({ length: PEOPLE }, (_, i) => person(i));
const failed = Promise.race([...people.map((p) => p.then(() => new Promise(() => undefined)))]);
const recoveries: Record<string, number[]> = {};
try {
  await pause(1500);
  for (let k = 0; k < kills; k++) {
    const names = Object.keys(ways);
    // each way once before chance decides
    const name = k < names.length ? names[k] : names[Math.floor(random() * names.length)];
    const at = Date.now();
    ways[name]();
    await Promise.race([pause(120), failed]);
    const since = Date.now();
    while (lastAnswer < since) {
      await Promise.race([pause(20), failed]);
      if (Date.now() - at > 180_000)
        throw new Error(`no edit was taken within 180 s after ${name} was killed (kill ${k + 1}, seed ${seed})`);
    }
    (recoveries[name] ??= []).push(lastAnswer - at);
    await Promise.race([pause(100 + random() * 900), failed]);
  }
  running = false;
  await Promise.all(people);
  const url = bash(
    '. bin/lib.sh; ensure_database_server >/dev/null 2>&1; use_database lively; echo "$OWNER_DATABASE_URL"',
  )
    .trim()
    .split('\n')
    .at(-1);
  const client = new Client({ connectionString: url });
  await client.connect();
  let lost = 0;
  let doubled = 0;
  for (const [edit, { job, version }] of acknowledged) {
    const { rows } = await client.query('select job_id, version from revisions where edit_id = $1', [edit]);
    if (rows.length === 0 || rows[0].job_id !== job || rows[0].version !== version) lost++;
    if (rows.length > 1) doubled++;
  }
  const { rows: broken } = await client.query(
    `select j.id from jobs j where j.id = any ($1)
        and (j.version <> (select max(version) from revisions where job_id = j.id)
             or j.version <> (select count(*) from revisions where job_id = j.id)
             or j.document -> 'header' ->> 'note' is distinct from
                (select diff -> 'updated' -> '/header/note' ->> 1 from revisions where job_id = j.id and version = j.version))`,
    [jobs],
  );
  await client.end();
  const median = (v: number[]): number => [...v].sort((a, b) => a - b)[v.length >> 1];
  console.log(
    `${kills} kills (seed ${seed}), ${acknowledged.size} acknowledged edits: ${lost} lost, ${doubled} doubled, ${broken.length} jobs amiss`,
  );
  for (const [name, times] of Object.entries(recoveries))
    console.log(
      `  ${name.padEnd(20)} ${times.length} times; saving went on after ${(median(times) / 1000).toFixed(1)} s, at most ${(Math.max(...times) / 1000).toFixed(1)} s`,
    );
  if (lost + doubled + broken.length > 0) process.exitCode = 1;
} finally {
  running = false;
  worker.kill('SIGKILL');
  end();
}
process.exit();
