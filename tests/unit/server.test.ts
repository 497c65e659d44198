import { spawn } from 'node:child_process';
import { createHash, randomUUID } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { gunzipSync } from 'node:zlib';
import { Client } from 'pg';
import { afterAll, describe, expect, it } from 'vitest';
import { postJob, programText } from '../../src/core/nc';
import { derive, diffDocuments, JOB_VERSION, type Job } from '../../src/core/plan';
import { bestOrder } from '../../src/core/plan/order';
import { ask, askedResult, askedState, settleAsked, sweepAsked } from '../../src/db/asked';
import { listAudit } from '../../src/db/audit';
import { findFile, putFile } from '../../src/db/files';
import { findJob, listJobs } from '../../src/db/jobs';
import { migrate } from '../../src/db/migrate';
import { closePool, pool, transaction } from '../../src/db/pool';
import { askLostAgain, findProgram } from '../../src/db/releases';
import { listRevisions } from '../../src/db/revisions';
import { askedKey, importAsked, orderAsked } from '../../src/server/asked';
import { BODY_LIMIT, readBody } from '../../src/server/http';
import { callRevision, createJob, loadJob, putAway, saveEdit } from '../../src/server/jobs';
import { startWorker } from '../../src/server/work';
import { bringFile } from '../../src/solid/bringFile';
import { unpacked } from '../../src/solid/packed';
import { PLAIN_WISH } from '../../src/solid/wishes';
import { givenTime } from '../fixtures/given';
import { withBar } from '../fixtures/holding';
import { named, SOMEBODY } from '../fixtures/house';
import { demoJob } from '../fixtures/jobs';
import { testKernel } from '../fixtures/kernel';

const folder = fileURLToPath(new URL('../../src/db/migrations', import.meta.url));

afterAll(closePool);

const make = async () => {
  const job = demoJob('LM-155');
  const { id } = await createJob(job, SOMEBODY);
  return { id, job };
};

/** Puts a document of an older program in a job's place, as an older program would have. */
const rewrite = (id: string, document: unknown): Promise<void> =>
  transaction(async (client) => {
    await client.query(
      `insert into revisions (job_id, version, edit_id, diff, snapshot, author, label)
       values ($1::uuid, 2, gen_random_uuid(), '{}', $2::jsonb, 'old', 'old')`,
      [id, JSON.stringify(document)],
    );
    await client.query('update jobs set version = 2, document = $2::jsonb where id = $1::uuid', [
      id,
      JSON.stringify(document),
    ]);
  });

const editOf = (before: unknown, after: unknown, base: number) => ({
  edit: randomUUID(),
  base,
  label: 'test',
  diff: diffDocuments(before, after),
});

describe('files of parts', () => {
  it('keeps a file by its hash, once, and gives the same bytes back', async () => {
    const bytes = Buffer.from(`ISO-10303-21; ${randomUUID()}`);
    const hash = createHash('sha256').update(bytes).digest('hex');
    await putFile(hash, 'part.step', bytes, null);
    await putFile(hash, 'again.step', bytes, null);
    const row = await findFile(hash);
    expect(row?.name).toBe('part.step');
    expect(row?.bytes.equals(bytes)).toBe(true);
    expect(await findFile('0'.repeat(64))).toBeNull();
    await expect(putFile('not a hash', 'x', bytes, null)).rejects.toThrow();
  });
});

describe('saving', () => {
  it('runs every migration once', async () => {
    const owner = new Client({ connectionString: process.env.OWNER_DATABASE_URL });
    await owner.connect();
    expect(await migrate(owner, folder)).toEqual([]);
    await owner.end();
  });
  it('counts versions and keeps every revision', async () => {
    const { id, job } = await make();
    const next = { ...job, header: { ...job.header, name: 'Collar two' } };
    expect(await saveEdit(id, editOf(job, next, 1), SOMEBODY)).toEqual({ kind: 'saved', version: 2 });
    expect(((await findJob(id))?.document as Job | undefined)?.header.name).toBe('Collar two');
    const { rows } = await pool().query('select version, diff from revisions where job_id = $1 order by version', [id]);
    expect(rows.map((r) => r.version)).toEqual([1, 2]);
    expect(rows[1].diff.updated['/header/name']).toEqual(['Bobbin collar', 'Collar two']);
  });
  it('never overwrites a version that somebody else has made', async () => {
    const { id, job } = await make();
    const mine = { ...job, header: { ...job.header, name: 'mine' } };
    const theirs = { ...job, header: { ...job.header, name: 'theirs' } };
    expect((await saveEdit(id, editOf(job, theirs, 1), named('Bram Fenwick'))).kind).toBe('saved');
    const outcome = await saveEdit(id, editOf(job, mine, 1), SOMEBODY);
    expect(outcome.kind).toBe('conflict');
    if (outcome.kind === 'conflict') {
      expect(outcome.document.header.name).toBe('theirs');
      expect(outcome.updatedBy).toBe('Bram Fenwick');
    }
    expect(((await findJob(id))?.document as Job | undefined)?.header.name).toBe('theirs');
  });
  it('lets exactly one of many edits at once win', async () => {
    const { id, job } = await make();
    const outcomes = await Promise.all(
      Array.from({ length: 12 }, (_, i) =>
        saveEdit(id, editOf(job, { ...job, header: { ...job.header, name: `n${i}` } }, 1), SOMEBODY),
      ),
    );
    expect(outcomes.filter((o) => o.kind === 'saved').length).toBe(1);
    expect(outcomes.filter((o) => o.kind === 'conflict').length).toBe(11);
    expect((await findJob(id))?.version).toBe(2);
  });
  it('takes an edit that is sent twice only once', async () => {
    const { id, job } = await make();
    const edit = editOf(job, { ...job, header: { ...job.header, note: 'hello' } }, 1);
    expect(await saveEdit(id, edit, SOMEBODY)).toEqual({ kind: 'saved', version: 2 });
    expect(await saveEdit(id, edit, SOMEBODY)).toEqual({ kind: 'saved', version: 2 });
    expect((await findJob(id))?.version).toBe(2);
  });
  it('refuses edits that would break the document', async () => {
    const { id, job } = await make();
    const broken = withBar(job, { diameter: -1 });
    const outcome = await saveEdit(id, editOf(job, broken, 1), SOMEBODY);
    expect(outcome.kind).toBe('invalid');
    if (outcome.kind === 'invalid') expect(outcome.message).toContain('stock.diameter');
    expect(
      (
        await saveEdit(
          id,
          { ...editOf(job, job, 1), diff: { added: { '/ghost/deep': 1 }, updated: {}, removed: {} } },
          SOMEBODY,
        )
      ).kind,
    ).toBe('invalid');
    expect((await findJob(id))?.version).toBe(1);
  });
  it('refuses a slip of the hand with its place, at once', async () => {
    const { id, job } = await make();
    const slipped = withBar(job, { diameter: 6200 });
    const given = givenTime();
    const outcome = await saveEdit(id, editOf(job, slipped, 1), SOMEBODY);
    expect(outcome.kind === 'invalid' && outcome.message).toContain('stock.diameter: it must be at most 1500 mm');
    expect(given()).toBeLessThan(2000);
  });
  it('plans for the list of jobs after saving, not while it saves', async () => {
    const { id, job } = await make();
    const name = 'Seen before it is planned';
    await saveEdit(id, editOf(job, { ...job, header: { ...job.header, name } }, 1), SOMEBODY);
    const worker = await startWorker();
    const row = async () => (await listJobs({ limit: 100 })).jobs.find((j) => j.id === id);
    expect((await row())?.summary.name).toBe(name);
    for (let i = 0; i < 2000 && !((await row())?.summary.seconds ?? 0); i++)
      await new Promise((r) => setTimeout(r, 100));
    expect((await row())?.summary.seconds).toBeGreaterThan(10);
    expect((await row())?.summary.path).toContain('M');
    await worker.stop();
  });
  it('has a file read by a worker as a browser would read it, once for all who ask', async () => {
    const bytes = readFileSync('demo/solids/LM-101.step');
    const hash = createHash('sha256').update(bytes).digest('hex');
    const wishes = { step: { ...PLAIN_WISH, section: 'cut' as const, angle: 30 } };
    const asked = importAsked({ hash, kind: 'step', wishes });
    const key = askedKey(asked);
    const person = null;
    // what is not kept here cannot be read
    expect(await ask(key, asked, person)).toBe(false);
    await putFile(hash, 'LM-101.step', bytes, person);
    expect(await ask(key, asked, person)).toBe(true);
    expect(await askedState(key)).toEqual({ state: 'waiting', reason: null });
    expect(await askedResult(key)).toBeNull();
    // before there is a worker: reading here lets nobody else on for seconds
    const here = await bringFile('step', bytes, wishes, testKernel);
    const worker = await startWorker();
    for (let i = 0; i < 2000 && (await askedState(key))?.state === 'waiting'; i++)
      await new Promise((r) => setTimeout(r, 50));
    expect(await askedState(key)).toEqual({ state: 'made', reason: null });
    const made = unpacked(gunzipSync((await askedResult(key)) ?? Buffer.alloc(0)).toString());
    expect(made.part).toEqual(JSON.parse(JSON.stringify(here.part)));
    expect(made.mesh?.triangles).toEqual(here.mesh?.triangles);
    // asked again it stands there; with other wishes it is another one
    expect(await ask(key, asked, person)).toBe(true);
    expect((await askedState(key))?.state).toBe('made');
    expect(askedKey(importAsked({ hash, kind: 'step', wishes: {} }))).not.toBe(key);
    // a torn file is read too: what is wrong with it comes back
    const torn = bytes.subarray(0, 4000);
    const tornHash = createHash('sha256').update(torn).digest('hex');
    await putFile(tornHash, 'torn.step', torn, person);
    const askedTorn = importAsked({ hash: tornHash, kind: 'step', wishes: {} });
    const tornKey = askedKey(askedTorn);
    await ask(tornKey, askedTorn, person);
    for (let i = 0; i < 2000 && (await askedState(tornKey))?.state === 'waiting'; i++)
      await new Promise((r) => setTimeout(r, 50));
    const read = unpacked(gunzipSync((await askedResult(tornKey)) ?? Buffer.alloc(0)).toString());
    expect(read.part).toBeNull();
    expect(read.problems.length).toBeGreaterThan(0);
    await worker.stop();
    // one that failed is tried again when it is asked for again
    await pool().query(`update asked set state = 'waiting', result = null, done_at = null where key = $1`, [key]);
    await settleAsked(key, null, 'no memory');
    expect(await askedState(key)).toEqual({ state: 'failed', reason: 'no memory' });
    await ask(key, asked, person);
    expect((await askedState(key))?.state).toBe('waiting');
    // kept a day
    await pool().query(`update asked set asked_at = now() - interval '25 hours'`);
    expect(await sweepAsked()).toBeGreaterThanOrEqual(2);
    expect(await askedState(key)).toBeNull();
  });
  it('has an order of fewer tool changes found by a worker, for the state that was asked about', async () => {
    const { id, job } = await make();
    const asked = orderAsked(id, 1);
    const late = orderAsked(id, 7);
    expect(await ask(askedKey(orderAsked(randomUUID(), 1)), orderAsked(randomUUID(), 1), null)).toBe(false);
    expect(await ask(askedKey(asked), asked, null)).toBe(true);
    expect(await ask(askedKey(late), late, null)).toBe(true);
    const worker = await startWorker();
    for (const key of [askedKey(asked), askedKey(late)])
      for (let i = 0; i < 2000 && (await askedState(key))?.state === 'waiting'; i++)
        await new Promise((r) => setTimeout(r, 50));
    await worker.stop();
    const best = JSON.parse((await askedResult(askedKey(asked)))?.toString() ?? 'null');
    expect(best).toEqual(JSON.parse(JSON.stringify(bestOrder(job))));
    expect((await askedState(askedKey(late)))?.reason).toBe('The job was changed meanwhile. Ask again.');
  });
  it('lets nobody who asks for a plan wait for files that are read', async () => {
    const bytes = readFileSync('demo/solids/LM-101.step');
    const hash = createHash('sha256').update(bytes).digest('hex');
    await putFile(hash, 'LM-101.step', bytes, null);
    const files = [41, 42, 43, 44, 45, 46].map((angle) =>
      importAsked({ hash, kind: 'step', wishes: { step: { ...PLAIN_WISH, section: 'cut' as const, angle } } }),
    );
    for (const f of files) expect(await ask(askedKey(f), f, null)).toBe(true);
    const { id } = await make();
    const asked = orderAsked(id, 1);
    await ask(askedKey(asked), asked, null);
    const worker = await startWorker();
    for (let i = 0; i < 2000 && (await askedState(askedKey(asked)))?.state === 'waiting'; i++)
      await new Promise((r) => setTimeout(r, 50));
    expect((await askedState(askedKey(asked)))?.state).toBe('made');
    expect((await askedState(askedKey(files[5])))?.state).toBe('waiting');
    await pool().query('delete from asked where key = any($1::text[])', [files.map(askedKey)]);
    await worker.stop();
  });
  it('releases a revision with the programs that a worker has posted and proved, and refuses one that is not sound', async () => {
    const { id, job } = await make();
    const worker = await startWorker();
    const revision = async (version: number) =>
      (await listRevisions(id, null, false)).rows.find((r) => r.version === version);
    const settled = async (version: number) => {
      for (let i = 0; i < 2000 && (await revision(version))?.release?.state === 'waiting'; i++)
        await new Promise((r) => setTimeout(r, 50));
      return revision(version);
    };
    expect(await callRevision(id, 1, 'first off', true, SOMEBODY)).toBe(true);
    expect((await revision(1))?.releasedAt).toBeNull();
    const released = await settled(1);
    expect(released).toMatchObject({
      name: 'first off',
      release: { state: 'released', by: SOMEBODY.name, reason: null },
    });
    expect(released?.releasedAt).not.toBeNull();
    expect(released?.release?.proof?.maxDeviation).toBeLessThanOrEqual(0.001);
    expect(released?.release?.proof?.moves).toBeGreaterThan(20);
    const [{ name, hash }] = released?.release?.programs ?? [];
    expect(name).toBe('LM-155-ch1.nc');
    const text = (await findProgram(id, 1, name)) ?? '';
    expect(createHash('sha256').update(text).digest('hex')).toBe(hash);
    // what was posted that day is what posting gives
    expect(text.split('\n').slice(6)).toEqual(
      programText(postJob(job, derive(job), '')[0])
        .split('\n')
        .slice(6),
    );
    expect(await findProgram(id, 1, 'another.nc')).toBeNull();
    // a tool for no station: something blocks
    const broken = structuredClone(job);
    const op = Object.values(broken.operations).find((o) => o.kind === 'outer-rough');
    if (op?.kind === 'outer-rough') op.tool = null;
    expect((await saveEdit(id, editOf(job, broken, 1), SOMEBODY)).kind).toBe('saved');
    await callRevision(id, 2, 'broken', true, SOMEBODY);
    const refused = await settled(2);
    expect(refused).toMatchObject({ releasedAt: null, release: { state: 'refused', programs: [] } });
    expect(refused?.release?.reason).toMatch(/finding.* it/);
    const told = (
      await listAudit({ person: null, action: null, words: null, from: null, to: null, before: null })
    ).rows.filter((r) => r.job === id);
    expect(told.map((r) => r.action)).toEqual(
      expect.arrayContaining(['release asked for', 'revision released', 'release refused']),
    );
    // a release that was given up is found and tried again; one that somebody works on is left alone
    await saveEdit(id, editOf(broken, { ...job, header: { ...job.header, name: 'Sound again' } }, 2), SOMEBODY);
    await worker.stop();
    await callRevision(id, 3, 'third', true, SOMEBODY);
    expect(await askLostAgain()).toBe(0);
    await pool().query('update graphile_worker._private_jobs set attempts = max_attempts where key = $1', [
      `release:${id}:3`,
    ]);
    // at a full minute the worker looks for lost ones itself
    const left = 60_000 - (Date.now() % 60_000);
    if (left < 5000) await new Promise((r) => setTimeout(r, left + 1000));
    const second = await startWorker();
    await new Promise((r) => setTimeout(r, 300));
    expect((await revision(3))?.release?.state).toBe('waiting');
    expect(await askLostAgain()).toBe(1);
    expect((await settled(3))?.release?.state).toBe('released');
    expect(await askLostAgain()).toBe(0);
    await second.stop();
    // asking again for what is released changes nothing
    await callRevision(id, 1, 'first off', true, SOMEBODY);
    expect((await revision(1))?.release?.state).toBe('released');
  });
  it('brings a document of version 1 up to date wherever it is read, and edits it', async () => {
    const { id } = await make();
    const old = JSON.parse(readFileSync('tests/fixtures/version-1/LM-118.spindle.json', 'utf8'));
    await rewrite(id, old);
    const opened = await loadJob(id);
    if (!opened || 'unreadable' in opened) throw new Error('not opened');
    expect(opened.document.version).toBe(JOB_VERSION);
    const next = structuredClone(opened.document);
    const op = next.operations.op3;
    if (op.kind !== 'outer-rough') throw new Error('another demo');
    expect(op.cutting.speed).toEqual({ mode: 'surface', value: 200, clamp: null });
    op.cutting.speed = { mode: 'fixed', value: 900 };
    expect((await saveEdit(id, editOf(opened.document, next, 2), SOMEBODY)).kind).toBe('saved');
    const saved = await loadJob(id);
    expect(saved && 'document' in saved && saved.document).toEqual(next);
  });
  it('knows no job that is deleted, and brings it back', async () => {
    const { id, job } = await make();
    expect(await putAway(id, true, SOMEBODY)).toBe(true);
    expect(await findJob(id)).toBeNull();
    expect((await saveEdit(id, editOf(job, { ...job, header: { ...job.header, name: 'x' } }, 1), SOMEBODY)).kind).toBe(
      'missing',
    );
    expect(await putAway(id, false, SOMEBODY)).toBe(true);
    expect((await listJobs()).jobs.some((j) => j.id === id)).toBe(true);
  });
  it('keeps hostile names as they are', async () => {
    const job = demoJob('LM-155');
    job.header.name = `'); drop table jobs; -- <img src=x onerror=alert(1)> \u202e`;
    const { id } = await createJob(job, SOMEBODY);
    expect(((await findJob(id))?.document as Job | undefined)?.header.name).toBe(job.header.name);
  });
  it('a process killed while saving loses nothing that it has acknowledged', async () => {
    const { id } = await make();
    const child = spawn(
      process.execPath,
      [
        '--import',
        fileURLToPath(new URL('../../node_modules/tsx/dist/loader.mjs', import.meta.url)),
        fileURLToPath(new URL('../fixtures/saver.ts', import.meta.url)),
        id,
      ],
      { env: process.env },
    );
    const acknowledged: number[] = [];
    let buffer = '';
    await new Promise<void>((resolve, reject) => {
      child.stdout.on('data', (chunk: Buffer) => {
        buffer += chunk.toString();
        const lines = buffer.split('\n');
        buffer = lines.pop() ?? '';
        acknowledged.push(...lines.filter(Boolean).map(Number));
        // in the middle of the stream, without any warning
        if (acknowledged.length >= 15) child.kill('SIGKILL');
      });
      child.on('exit', () => resolve());
      child.on('error', reject);
    });
    const last = Math.max(...acknowledged);
    const row = await findJob(id);
    expect(acknowledged.length).toBeGreaterThanOrEqual(15);
    expect(row?.version).toBeGreaterThanOrEqual(last);
    expect((row?.document as Job | undefined)?.header.note).toBe(`edit ${(row?.version ?? 0) - 1}`);
    const { rows } = await pool().query('select count(*)::integer as n from revisions where job_id = $1', [id]);
    expect(rows[0].n).toBe(row?.version);
  });
});

describe('uploads', () => {
  it('beyond the limit are refused while they come in', async () => {
    let sent = 0;
    const stream = new ReadableStream<Uint8Array>({
      pull(controller) {
        sent += 1048576;
        controller.enqueue(new Uint8Array(1048576));
        if (sent > 60 * 1048576) controller.close();
      },
    });
    const body = await readBody(
      new Request('http://localhost/', { method: 'POST', body: stream, duplex: 'half' } as RequestInit),
    );
    expect(body.ok).toBe(false);
    if (!body.ok) expect(body.response.status).toBe(413);
    expect(sent).toBeLessThan(BODY_LIMIT + 4 * 1048576);
  });
});
