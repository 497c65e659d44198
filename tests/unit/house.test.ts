import { createHash, randomUUID } from 'node:crypto';
import fc from 'fast-check';
import { Client } from 'pg';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { diffDocuments, type Job } from '../../src/core/plan';
import { listAudit } from '../../src/db/audit';
import { putFile, sweepFiles } from '../../src/db/files';
import { findJob, listJobs } from '../../src/db/jobs';
import { insertPerson } from '../../src/db/people';
import { closePool, pool, transaction } from '../../src/db/pool';
import { listRevisions } from '../../src/db/revisions';
import type { Person, Right } from '../../src/house/rights';
import { USUAL } from '../../src/house/rights';
import { archiveOf, bringArchive } from '../../src/server/archive';
import { documentAt } from '../../src/server/history';
import { thin } from '../../src/server/housekeeping';
import { byOf, callRevision, createJob, goBack, saveEdit, setLabels } from '../../src/server/jobs';
import { hear } from '../../src/server/news';
import { hashPassword } from '../../src/server/passwords';
import { addPerson, changePerson } from '../../src/server/people';
import { hashOf, personOf, signIn, signOut } from '../../src/server/signIn';
import { givenTime } from '../fixtures/given';
import { SOMEBODY } from '../fixtures/house';
import { demoJob } from '../fixtures/jobs';

const FROM = { address: '192.0.2.7', agent: 'test' };
const PASSWORD = 'warp weft and heddle';
let hashed = '';

beforeAll(async () => {
  hashed = await hashPassword(PASSWORD);
});
afterAll(closePool);

const newPerson = async (rights: Right[]): Promise<Person> => {
  const name = `P ${randomUUID()}`;
  const id = await transaction((client) => insertPerson(client, { name, password: hashed, rights }));
  return { id, name, rights, preferences: USUAL };
};
const noAdministrators = (): Promise<unknown> =>
  pool().query(`update people set active = false where 'administer' = any (rights)`);

const make = async (): Promise<{ id: string; job: Job }> => {
  const job = demoJob('LM-155');
  return { ...(await createJob(job, SOMEBODY)), job };
};
const save = async (id: string, before: Job, after: Job, base: number) =>
  saveEdit(id, { edit: randomUUID(), base, label: 'test', diff: diffDocuments(before, after) }, SOMEBODY);
const withNote = (job: Job, note: string): Job => ({ ...job, header: { ...job.header, note } });

describe('sessions', () => {
  it('begin with the right password only, and end', async () => {
    const p = await newPerson(['view']);
    expect((await signIn(p.name, 'another password', FROM)).kind).toBe('wrong');
    expect((await signIn(`${p.name} not`, PASSWORD, FROM)).kind).toBe('wrong');
    const done = await signIn(p.name.toUpperCase(), PASSWORD, FROM);
    if (done.kind !== 'in') throw new Error(done.kind);
    const person = await personOf(done.token);
    expect(person?.id).toBe(p.id);
    // what the database holds is no token
    const { rows } = await pool().query('select token from sessions where person = $1', [p.id]);
    expect(rows[0].token.equals(hashOf(done.token))).toBe(true);
    await signOut(done.token, p, FROM.address);
    expect(await personOf(done.token)).toBeNull();
    expect(await personOf('x')).toBeNull();
  });
  it('end by themselves: 12 hours unused, or 14 days old', async () => {
    const p = await newPerson(['view']);
    for (const age of [`seen_at = now() - interval '13 hours'`, `created_at = now() - interval '15 days'`]) {
      const done = await signIn(p.name, PASSWORD, FROM);
      if (done.kind !== 'in') throw new Error(done.kind);
      await pool().query(`update sessions set ${age} where person = $1`, [p.id]);
      expect(await personOf(done.token)).toBeNull();
    }
  });
  it('of a person who is shut out end at once', async () => {
    await noAdministrators();
    const boss = await newPerson(['view', 'administer']);
    const p = await newPerson(['view', 'program']);
    const done = await signIn(p.name, PASSWORD, FROM);
    if (done.kind !== 'in') throw new Error(done.kind);
    await changePerson(boss, '', p.id, { name: p.name, rights: p.rights, active: false, password: null });
    expect(await personOf(done.token)).toBeNull();
    expect((await signIn(p.name, PASSWORD, FROM)).kind).toBe('wrong');
  });
});

describe('administrators', () => {
  it('are never all gone: of two who remove each other at once, one stays and one is told', async () => {
    for (let i = 0; i < 5; i++) {
      await noAdministrators();
      const [a, b] = [await newPerson(['view', 'administer']), await newPerson(['view', 'administer'])];
      const remove = (by: Person, whom: Person) =>
        changePerson(by, '', whom.id, { name: whom.name, rights: whom.rights, active: false, password: null });
      const outcomes = await Promise.all([remove(a, b), remove(b, a)]);
      expect(outcomes.map((o) => o.kind).sort()).toEqual(['done', 'refused']);
      const lost = outcomes.find((o) => o.kind === 'refused');
      expect(lost?.kind === 'refused' && lost.message).toContain('no longer an administrator');
      const { rows } = await pool().query(`select 1 from people where active and 'administer' = any (rights)`);
      expect(rows.length).toBe(1);
    }
  });
  it('cannot take their own right away when they are the last', async () => {
    await noAdministrators();
    const a = await newPerson(['view', 'administer']);
    const o = await changePerson(a, '', a.id, { name: a.name, rights: ['view'], active: true, password: null });
    expect(o.kind === 'refused' && o.message).toContain('only administrator');
  });
  it('find a taken name and a weak password told, and what they do written down', async () => {
    await noAdministrators();
    const a = await newPerson(['view', 'administer']);
    const p = await newPerson(['view']);
    const again = await addPerson(a, '', { name: p.name.toLowerCase(), rights: [], password: PASSWORD });
    expect(again.kind === 'refused' && again.message).toContain('here already');
    const weak = await addPerson(a, '', { name: 'Z', rights: [], password: 'passwordpassword' });
    expect(weak.kind).toBe('refused');
    const name = `N ${randomUUID()}`;
    const made = await addPerson(a, '192.0.2.1', { name, rights: ['program'], password: PASSWORD });
    expect(made.kind).toBe('done');
    const all = { person: a.id, action: null, words: null, from: null, to: null, before: null };
    const [entry] = (await listAudit(all)).rows;
    expect(entry).toMatchObject({ name: a.name, action: 'person made', subject: name, address: '192.0.2.1' });
    expect(entry.detail).toEqual({ rights: ['view', 'program'] });
    expect((await listAudit({ ...all, action: 'person removed' })).rows).toEqual([]);
    expect((await listAudit({ ...all, words: name.slice(2, 20) })).rows.length).toBe(1);
  });
  it('edit jobs, and the list of who did what tells it, a page at a time', async () => {
    const person = await newPerson(['view', 'program']);
    const { id, job } = await make();
    let last = job;
    for (let v = 1; v <= 103; v++) {
      const next = withNote(last, `n${v}`);
      const diff = diffDocuments(last, next);
      await saveEdit(id, { edit: randomUUID(), base: v, label: `note ${v}`, diff }, byOf(person, '192.0.2.9'));
      last = next;
    }
    await setLabels(id, ['told'], byOf(person, '192.0.2.9'));
    const all = { person: person.id, action: null, words: null, from: null, to: null, before: null };
    const first = await listAudit(all);
    expect(first.rows.length).toBe(100);
    // the newest is told from the audit list, the rest from the revisions, in the order of time
    expect(first.rows.slice(0, 3).map((r) => [r.action, r.detail.revision ?? null])).toEqual([
      ['labels set', null],
      ['job edited', 104],
      ['job edited', 103],
    ]);
    expect(first.rows[1]).toMatchObject({ name: person.name, job: id, detail: { edit: 'note 103' } });
    const second = await listAudit({ ...all, before: first.next });
    expect(second.rows.map((r) => r.detail.revision)).toEqual([5, 4, 3, 2]);
    expect(second.next).toBeNull();
    expect((await listAudit({ ...all, action: 'labels set' })).rows.length).toBe(1);
    expect((await listAudit({ ...all, action: 'job edited', words: 'note 77' })).rows.length).toBe(1);
    expect((await listAudit({ ...all, to: '2020-01-01' })).rows).toEqual([]);
  });
});

describe('history', () => {
  it('gives every revision back as it was saved, whatever was changed', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.array(fc.tuple(fc.constantFrom('note', 'rows', 'remove', 'feed'), fc.integer({ min: 1, max: 99 })), {
          minLength: 1,
          maxLength: 40,
        }),
        async (changes) => {
          const { id, job } = await make();
          const versions: Job[] = [job];
          for (const [what, n] of changes) {
            const next = structuredClone(versions[versions.length - 1]);
            if (what === 'note') next.header.note = `note ${n}`;
            if (what === 'rows') next.part.outer.rows[0].diameter = 10 + n / 10;
            if (what === 'feed')
              for (const o of Object.values(next.operations)) if ('cutting' in o) o.cutting.feed = n / 1000;
            if (what === 'remove') {
              const last = next.order['1'].pop();
              if (last) delete next.operations[last];
            }
            if (JSON.stringify(next) === JSON.stringify(versions.at(-1))) continue;
            const done = await save(id, versions[versions.length - 1], next, versions.length);
            expect(done.kind).toBe('saved');
            versions.push(next);
          }
          for (const [i, v] of versions.entries()) {
            const old = await documentAt(id, i + 1);
            expect(old.ok && old.job).toEqual(v);
          }
        },
      ),
      { numRuns: 6 },
    );
  });
  it('pages backward, names, releases, and goes back as a new edit', async () => {
    const { id, job } = await make();
    let last = job;
    for (let v = 1; v < 70; v++) {
      const next = withNote(last, `v${v + 1}`);
      await save(id, last, next, v);
      last = next;
    }
    const first = await listRevisions(id, null, false);
    expect(first.rows.map((r) => r.version).slice(0, 2)).toEqual([70, 69]);
    const second = await listRevisions(id, first.next, false);
    expect(second.rows.at(-1)?.version).toBe(1);
    expect(first.rows.length + second.rows.length).toBe(70);
    expect(await callRevision(id, 3, 'as quoted', false, SOMEBODY)).toBe(true);
    expect(await callRevision(id, 300, 'nothing', false, SOMEBODY)).toBe(false);
    expect((await listRevisions(id, null, true)).rows.map((r) => r.name)).toEqual(['as quoted']);
    const edit = randomUUID();
    expect(await goBack(id, 3, 69, edit, SOMEBODY)).toMatchObject({ kind: 'conflict', version: 70 });
    expect(await goBack(id, 3, 70, edit, SOMEBODY)).toEqual({ kind: 'saved', version: 71 });
    expect((await findJob(id))?.document).toMatchObject({ header: { note: 'v3' } });
    const before = await documentAt(id, 70);
    expect(before.ok && before.job.header.note).toBe('v70');
    expect((await documentAt(id, 72)).ok).toBe(false);
  });
  it('thins what is old by its rule, and what stays can still be shown', async () => {
    const { id, job } = await make();
    let last = job;
    for (let v = 1; v < 30; v++) {
      const next = withNote(last, `v${v + 1}`);
      await save(id, last, next, v);
      last = next;
    }
    await callRevision(id, 5, 'kept', false, SOMEBODY);
    // 1 to 10 in one day two months ago, 11 to 20 over ten days, the rest is new
    await pool().query(
      `update revisions set created_at = case when version <= 10 then date_trunc('day', now()) - interval '60 days' + version * interval '1 minute'
              when version <= 20 then date_trunc('day', now()) - make_interval(days => 60 - version) + interval '1 hour' else created_at end
        where job_id = $1`,
      [id],
    );
    expect(await thin(id)).toBe(7);
    const left = (await listRevisions(id, null, false)).rows.map((r) => r.version);
    expect(left).toEqual([...Array.from({ length: 21 }, (_, i) => 30 - i), 5, 1].filter((v) => v >= 10 || v <= 5));
    for (const v of left) {
      const old = await documentAt(id, v);
      expect(old.ok && old.job.header.note).toBe(v === 1 ? job.header.note : `v${v}`);
    }
    expect(await thin(id)).toBe(0);
    expect((await save(id, last, withNote(last, 'on'), 30)).kind).toBe('saved');
  });
});

describe('the tables keep what the code promises', () => {
  const refused = async (sql: string, values: unknown[], code: string): Promise<void> => {
    await expect(pool().query(sql, values)).rejects.toMatchObject({ code });
  };
  it('documents are jobs, versions grow one by one and stand at a revision, files match their hash', async () => {
    const { id, job } = await make();
    await refused('update jobs set version = 2, document = $2 where id = $1', [id, '{"a":1}'], '23514');
    await refused(
      'update jobs set version = 3, document = $2 where id = $1',
      [id, JSON.stringify(withNote(job, 'x'))],
      '23514',
    );
    await refused('update jobs set document = $2 where id = $1', [id, JSON.stringify(withNote(job, 'x'))], '23514');
    await refused(
      'update jobs set version = 2, document = $2 where id = $1',
      [id, JSON.stringify(withNote(job, 'x'))],
      '23503',
    );
    await refused(
      'insert into files (hash, name, bytes) values ($1, $2, $3)',
      ['a'.repeat(64), 'x', Buffer.from('x')],
      '23514',
    );
    await refused('delete from revisions where job_id = $1', [id], '23503');
    expect((await findJob(id))?.version).toBe(1);
  });
  it('the working role owns nothing, and the audit list only grows', async () => {
    await refused('update audit set name = name', [], '42501');
    await refused('delete from audit', [], '42501');
    await refused('drop table jobs', [], '42501');
    await refused('create table x (a integer)', [], '42501');
    await refused('create schema x', [], '42501');
    await refused(`update schema_migrations set name = 'x'`, [], '42501');
    const { rows } = await pool().query(
      'select rolsuper, rolcreaterole, rolcreatedb from pg_roles where rolname = current_user',
    );
    expect(rows[0]).toEqual({ rolsuper: false, rolcreaterole: false, rolcreatedb: false });
  });
  it('a stuck transaction on one job holds up neither others nor the list, and is told within its limit', async () => {
    const [stuck, other] = [await make(), await make()];
    const client = new Client({ connectionString: process.env.OWNER_DATABASE_URL });
    await client.connect();
    await client.query('begin');
    await client.query('select 1 from jobs where id = $1 for update', [stuck.id]);
    const started = givenTime();
    const held = Array.from({ length: 20 }, () =>
      save(stuck.id, stuck.job, withNote(stuck.job, 'x'), 1).catch((e) => e.code),
    );
    await new Promise((r) => setTimeout(r, 200));
    const quick = givenTime();
    expect((await save(other.id, other.job, withNote(other.job, 'y'), 1)).kind).toBe('saved');
    expect((await listJobs()).jobs.length).toBeGreaterThan(0);
    expect(quick()).toBeLessThan(1500);
    expect(await held[0]).toBe('55P03');
    expect(started()).toBeLessThan(8000);
    await client.query('rollback');
    await client.end();
    const rest = await Promise.all(held);
    expect(rest.filter((o) => typeof o === 'object' && o.kind === 'saved').length).toBe(1);
  });
});

describe('files', () => {
  it('without owners go after a week, those that a job or its history names stay', async () => {
    const bytes = [randomUUID(), randomUUID(), randomUUID()].map((t) => Buffer.from(t));
    const [lone, used, once] = bytes.map((b) => createHash('sha256').update(b).digest('hex'));
    for (const [i, hash] of [lone, used, once].entries()) await putFile(hash, 'x.step', bytes[i], null);
    const { id, job } = await make();
    const withFile = (hash: string): Job => withNote(job, `from "${hash}"`);
    await save(id, job, withFile(once), 1);
    await save(id, withFile(once), withFile(used), 2);
    await pool().query(`update files set created_at = now() - interval '8 days' where hash = any ($1)`, [
      [lone, used, once],
    ]);
    expect(await sweepFiles()).toBeGreaterThanOrEqual(1);
    const { rows } = await pool().query('select hash from files where hash = any ($1)', [[lone, used, once]]);
    expect(rows.map((r) => r.hash).sort()).toEqual([used, once].sort());
  });
  it('go with their job into an archive and come back; a damaged one is refused', async () => {
    const bytes = Buffer.from(`ISO-10303-21; ${randomUUID()}`);
    const hash = createHash('sha256').update(bytes).digest('hex');
    await putFile(hash, 'Nabe größer.step', bytes, null);
    const job = demoJob('LM-118');
    job.part.source = { name: 'Nabe größer.step', kind: 'step', hash, axis: null, wish: {} } as Job['part']['source'];
    const { id } = await createJob(job, SOMEBODY);
    const archive = await archiveOf(id);
    if (!archive) throw new Error('no archive');
    await pool().query('delete from files where hash = $1', [hash]);
    const back = await bringArchive(archive.bytes, SOMEBODY);
    if (!back.ok) throw new Error(back.message);
    expect((await findJob(back.job.id))?.document).toEqual((await findJob(id))?.document);
    const { rows } = await pool().query('select name, bytes from files where hash = $1', [hash]);
    expect(rows[0].bytes.equals(bytes)).toBe(true);
    expect(rows[0].name).toBe('Nabe größer.step');
    for (const part of [0.2, 0.5, 0.9]) {
      const torn = await bringArchive(archive.bytes.slice(0, archive.bytes.length * part), SOMEBODY);
      expect(torn.ok).toBe(false);
    }
  });
});

describe('the list', () => {
  it('is paged without gaps and doubles, also when many were saved in one moment, and searched whole', async () => {
    const word = `w${randomUUID().slice(0, 8)}`;
    const job = demoJob('LM-155');
    for (let i = 0; i < 23; i++)
      await createJob({ ...job, header: { ...job.header, name: `${word} ${i} 100%_\\` } }, SOMEBODY);
    await pool().query("update jobs set updated_at = date_trunc('minute', now()) where words like $1", [`%${word}%`]);
    const seen: string[] = [];
    for (let after: string | null = null; ; ) {
      const page = await listJobs({ words: `${word} bobbin`.replace(' bobbin', ''), after, limit: 5 });
      expect(page.count).toBe(23);
      seen.push(...page.jobs.map((j) => j.id));
      if (!page.next) break;
      after = page.next;
    }
    expect(new Set(seen).size).toBe(23);
    expect(seen.length).toBe(23);
    expect((await listJobs({ words: `${word.toUpperCase()} 100%_\\ lm-155` })).count).toBe(23);
    expect((await listJobs({ words: `${word} 7 brass` })).count).toBeGreaterThanOrEqual(1);
    expect((await listJobs({ words: `${word} 100x` })).count).toBe(0);
    await setLabels(seen[3], ['spring order'], SOMEBODY);
    expect((await listJobs({ words: `${word} spring` })).jobs.map((j) => j.id)).toEqual([seen[3]]);
    expect((await listJobs({ label: 'spring order', words: word })).count).toBe(1);
  });
});

describe('news', () => {
  it('of a saved edit reach whoever listens, from whichever process, and of none that was rolled back', async () => {
    const { id, job } = await make();
    const heard: string[] = [];
    const deaf = hear(id, (n) => heard.push(n.kind === 'version' ? `${n.version} ${n.edit}` : n.kind));
    await new Promise((r) => setTimeout(r, 400));
    const edit = randomUUID();
    await saveEdit(id, { edit, base: 1, label: '', diff: diffDocuments(job, withNote(job, 'told')) }, SOMEBODY);
    await saveEdit(
      id,
      { edit: randomUUID(), base: 1, label: '', diff: diffDocuments(job, withNote(job, 'not')) },
      SOMEBODY,
    );
    await new Promise((r) => setTimeout(r, 300));
    deaf();
    expect(heard.filter((h) => h !== 'look')).toEqual([`2 ${edit}`]);
  });
});
