import { execFileSync, spawnSync } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { readdirSync, readFileSync } from 'node:fs';
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
const asRoot = process.getuid?.() === 0;
const home = `/tmp/lively-kill-${process.pid}`;
const port = 55700 + (process.pid % 200);
const run = (command: string, args: string[]): string =>
  (asRoot
    ? execFileSync('runuser', ['-u', 'postgres', '--', command, ...args], { stdio: ['ignore', 'pipe', 'ignore'] })
    : execFileSync(command, args, { stdio: ['ignore', 'pipe', 'ignore'] })
  ).toString();
const start = (): void => {
  // output must not hold the pipe open
  spawnSync(
    asRoot ? 'runuser' : `${bin}/pg_ctl`,
    [
      ...(asRoot ? ['-u', 'postgres', '--', `${bin}/pg_ctl`] : []),
      '-D',
      `${home}/data`,
      '-w',
      '-l',
      `${home}/log`,
      '-o',
      `-c listen_addresses=127.0.0.1 -c port=${port} -c unix_socket_directories=${home}`,
      'start',
    ],
    { stdio: 'ignore' },
  );
};
const before = process.env.DATABASE_URL;

beforeAll(async () => {
  execFileSync('mkdir', ['-p', home]);
  if (asRoot) execFileSync('chown', ['postgres', home]);
  run(`${bin}/initdb`, ['-D', `${home}/data`, '-U', 'lively', '-A', 'trust', '--encoding=UTF8', '--locale=C.UTF-8']);
  start();
  await closePool();
  process.env.DATABASE_URL = `postgres://lively@127.0.0.1:${port}/postgres`;
  await prepare(process.env.DATABASE_URL, { reset: false, demo: false });
});

afterAll(async () => {
  await closePool();
  process.env.DATABASE_URL = before;
  spawnSync(
    asRoot ? 'runuser' : `${bin}/pg_ctl`,
    [...(asRoot ? ['-u', 'postgres', '--', `${bin}/pg_ctl`] : []), '-D', `${home}/data`, '-m', 'immediate', 'stop'],
    {
      stdio: 'ignore',
    },
  );
  execFileSync('rm', ['-rf', home]);
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
