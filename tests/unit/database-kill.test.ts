import { execFileSync, spawnSync } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { Client } from 'pg';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { diffDocuments, type Job } from '../../src/core/plan';
import { findJob } from '../../src/db/jobs';
import { closePool } from '../../src/db/pool';
import { createJob, saveEdit } from '../../src/server/jobs';
import { prepare } from '../../src/server/setup';
import { SOMEBODY } from '../fixtures/house';
import { demoJob } from '../fixtures/jobs';

// a cluster of its own, so that killing it disturbs nobody
const versions = readdirSync('/usr/lib/postgresql').sort();
const bin = `/usr/lib/postgresql/${versions[versions.length - 1]}/bin`;
const home = mkdtempSync('/tmp/lively-kill-');
let port = 0;
/** As the postgres user where this is root, whom PostgreSQL refuses. */
const pg = (command: string, ...args: string[]): boolean => {
  const asRoot = process.getuid?.() === 0;
  // output must not hold the pipe open
  const r = spawnSync(asRoot ? 'runuser' : command, asRoot ? ['-u', 'postgres', '--', command, ...args] : args, {
    stdio: 'ignore',
  });
  return r.status === 0;
};
const start = (): boolean =>
  pg(
    `${bin}/pg_ctl`,
    '-D',
    `${home}/data`,
    '-w',
    '-l',
    `${home}/log`,
    '-o',
    `-c listen_addresses=127.0.0.1 -c port=${port} -c unix_socket_directories=${home}`,
    'start',
  );
/** Below the ports that the system lends to connections: one of those may be the near end of somebody's. */
const somePort = (): number => 20_000 + Math.floor(Math.random() * 12_000);
const before = process.env.DATABASE_URL;

beforeAll(async () => {
  if (process.getuid?.() === 0) execFileSync('chown', ['postgres', home]);
  const made = pg(
    `${bin}/initdb`,
    '-D',
    `${home}/data`,
    '-U',
    'lively',
    '-A',
    'trust',
    '--encoding=UTF8',
    '--locale=C.UTF-8',
  );
  if (!made) throw new Error(`no cluster could be made in ${home}`);
  let runs = false;
  for (let tries = 0; tries < 6 && !runs; tries++) {
    port = somePort();
    runs = start();
  }
  if (!runs) throw new Error(`the cluster did not start: ${execFileSync('tail', ['-n', '5', `${home}/log`])}`);
  await closePool();
  process.env.DATABASE_URL = `postgres://lively@127.0.0.1:${port}/postgres`;
  await prepare(process.env.DATABASE_URL, { reset: false, demo: false });
});

afterAll(async () => {
  await closePool();
  process.env.DATABASE_URL = before;
  pg(`${bin}/pg_ctl`, '-D', `${home}/data`, '-m', 'immediate', 'stop');
  rmSync(home, { recursive: true, force: true });
});

describe('PostgreSQL killed while saving', () => {
  it('loses nothing acknowledged, and saving goes on afterwards', async () => {
    const job = demoJob('LM-155');
    const { id } = await createJob(job, SOMEBODY);
    let acknowledged = 1;
    let failed = false;
    const save = async (): Promise<void> => {
      const row = await findJob(id);
      if (!row) throw new Error('gone');
      const next = {
        ...(row.document as Job),
        header: { ...(row.document as Job).header, note: `v${row.version + 1}` },
      };
      const o = await saveEdit(
        id,
        {
          edit: randomUUID(),
          base: row.version,
          label: '',
          diff: diffDocuments(row.document, next),
        },
        SOMEBODY,
      );
      if (o.kind === 'saved') acknowledged = o.version;
    };
    const postmaster = Number(readFileSync(`${home}/data/postmaster.pid`, 'utf8').split('\n')[0]);
    const kill = setTimeout(() => {
      // postmaster and all its children at once, as a power cut would
      const children = execFileSync('pgrep', ['-P', String(postmaster)])
        .toString()
        .trim()
        .split('\n')
        .map(Number);
      for (const pid of [postmaster, ...children]) {
        try {
          process.kill(pid, 'SIGKILL');
        } catch {
          // already gone with its parent
        }
      }
    }, 400);
    try {
      for (let i = 0; i < 5000; i++) await save();
    } catch {
      failed = true;
    }
    clearTimeout(kill);
    expect(failed).toBe(true);
    expect(acknowledged).toBeGreaterThan(2);
    await closePool();
    for (let i = 0; i < 50; i++) {
      start();
      const c = new Client({ connectionString: process.env.DATABASE_URL });
      try {
        await c.connect();
        await c.end();
        break;
      } catch {
        await new Promise((r) => setTimeout(r, 200));
      }
    }
    const row = await findJob(id);
    expect(row?.version).toBeGreaterThanOrEqual(acknowledged);
    expect((row?.document as Job | undefined)?.header.note).toBe(`v${row?.version}`);
    await save();
    expect(acknowledged).toBe((row?.version ?? 0) + 1);
  });
});
