import { describe, expect, it } from 'vitest';
import { barOf } from '../../../tests/fixtures/holding';
import { demoJob } from '../../../tests/fixtures/jobs';
import { seeded } from '../../../tests/fixtures/random';
import { buildPart, turnedRound } from '../part';
import { DeriveCache } from './cache';
import { derive, hashRegion } from './derive';
import { type Job, readJob } from './document';
import { elementWord, operationNames } from './formulas';

/** Every place in a document that holds a number, a text or a switch. */
const leaves = (value: unknown, path: string[] = []): string[][] => {
  if (typeof value === 'object' && value !== null)
    return Object.entries(value).flatMap(([k, v]) => leaves(v, [...path, k]));
  return [path];
};

const at = (root: unknown, path: readonly string[]): Record<string, unknown> =>
  path.slice(0, -1).reduce<unknown>((v, k) => (v as Record<string, unknown>)[k], root) as Record<string, unknown>;

/** The document with one leaf changed to something that the schema takes, or null. */
const changed = (job: Job, path: readonly string[], random: () => number): Job | null => {
  const copy = structuredClone(job);
  const parent = at(copy, path);
  const key = path[path.length - 1];
  const value = parent[key];
  const pick = <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)];
  if (typeof value === 'number') parent[key] = pick([value * 1.1, value + 1, value * 0.9, 0 - value]);
  else if (typeof value === 'boolean') parent[key] = !value;
  else if (value === null) parent[key] = pick([1, 5, 'x']);
  else if (typeof value === 'string')
    parent[key] = pick([
      'mm',
      'inch',
      'moves',
      'cycle',
      'enter',
      'bridge',
      'computed',
      'control',
      'left',
      'turned',
      'full',
      'G55',
      'steel',
      'bent',
      'straight',
      `${value}x`,
    ]);
  const read = readJob(copy);
  return read.ok ? read.job : null;
};

const same = (fast: ReturnType<typeof derive>, slow: ReturnType<typeof derive>, label: string): void => {
  expect(fast.findings, label).toEqual(slow.findings);
  expect(fast.program, label).toEqual(slow.program);
  expect(fast.timeline, label).toEqual(slow.timeline);
  expect(hashRegion(fast.finished.turnedOutline), label).toBe(hashRegion(slow.finished.turnedOutline));
  expect(fast.coverage, label).toEqual(slow.coverage);
};

describe('a derive from the cache', () => {
  it('is the derive from scratch, whatever leaf of the document changes', { timeout: 600_000 }, () => {
    const random = seeded(Number(process.env.PROPERTY_SEED ?? 1 + Math.floor(Math.random() * 1e6)));
    const job = demoJob('LM-118');
    const all = leaves(job);
    const cache = new DeriveCache();
    derive(job, cache);
    let tried = 0;
    const most = process.env.DEEP ? 600 : 70;
    for (let k = 0; k < most * 4 && tried < most; k++) {
      const path = all[Math.floor(random() * all.length)];
      const next = changed(job, path, random);
      if (!next) continue;
      tried++;
      same(derive(structuredClone(next), cache), derive(structuredClone(next)), path.join('.'));
    }
    expect(tried).toBeGreaterThan(most / 2);
  });
  it('sees a change of units at once', () => {
    const job = demoJob('LM-118');
    job.part.dimensions = [{ name: 'head', formula: '46' }];
    const row = job.part.outer.rows[3];
    row.formulas = { diameter: 'head' };
    const cache = new DeriveCache();
    derive(job, cache);
    const inch: Job = { ...structuredClone(job), units: 'inch' };
    same(derive(inch, cache), derive(structuredClone(inch)), 'units');
  });
  it('plans nothing anew for a row that lies far behind an operation', () => {
    const job = demoJob('LM-118');
    for (const r of job.part.outer.rows) if (r.z !== null && r.z <= -36) r.z -= 200;
    job.part.outer.rows.splice(
      -2,
      0,
      { id: 'far1', kind: 'line', diameter: 46, z: -150, corner: null },
      { id: 'far2', kind: 'line', diameter: 46, z: -200, corner: null },
    );
    barOf(job).stickOut = 400;
    Object.assign(job.operations.op3, { span: { from: 'o1', to: 'o2' } });
    Object.assign(job.operations.op5, { span: { from: 'o1', to: 'o2' } });
    job.order['1'] = ['op1', 'op3', 'op5'];
    for (const id of Object.keys(job.operations)) if (!job.order['1'].includes(id)) delete job.operations[id];
    const cache = new DeriveCache();
    expect(derive(job, cache).findings.some((f) => f.code === 'internal')).toBe(false);
    const before = cache.plans.misses;
    const edited = structuredClone(job);
    const far = edited.part.outer.rows.find((r) => r.id === 'far2');
    if (far) far.diameter = 44;
    derive(edited, cache);
    expect(cache.plans.misses - before).toBe(0);
  });
  it('plans nothing anew for a name, a comment or a colour of speech', () => {
    const job = demoJob('LM-101');
    const cache = new DeriveCache();
    derive(job, cache);
    const before = cache.plans.misses;
    const renamed = structuredClone(job);
    renamed.header.note = 'later';
    for (const op of Object.values(renamed.operations)) op.name += ' again';
    derive(renamed, cache);
    expect(cache.plans.misses - before).toBe(0);
  });
});

describe('formulas of operations', () => {
  it('win over numbers, follow their dimensions, and are told when they fail', () => {
    const job = demoJob('LM-118');
    job.part.dimensions = [{ name: 'step', formula: '1.25' }];
    const op = job.operations.op3;
    if (op.kind !== 'outer-rough') throw new Error('another demo');
    op.formulas = { 'params.depth': 'step * 2', 'cutting.feed': '0.1 + 0.05' };
    const d = derive(job);
    const rough = d.operations.find((o) => o.id === 'op3');
    expect(rough?.depth).toBeLessThanOrEqual(2.5);
    expect(rough?.events.some((e) => e.kind === 'feed' && Math.abs(e.feed.value - 0.15) < 1e-9)).toBe(true);
    job.part.dimensions = [{ name: 'step', formula: '0.5' }];
    expect(derive(job).operations.find((o) => o.id === 'op3')?.depth).toBeLessThanOrEqual(1);
    op.formulas = { 'params.depth': 'ghost + 1' };
    expect(derive(job).findings.find((f) => f.code === 'formula')).toBeDefined();
  });
  it('tie a limit to the end of an element, with a distance, and go with it when the part changes', () => {
    const backOf = (change: (j: Job) => void): number => {
      const job = demoJob('LM-101');
      const op = job.operations.op3;
      if (op.kind !== 'outer-rough') throw new Error('op3 roughs');
      op.params.output = 'moves';
      op.formulas = { 'params.backLimit': 'o6_back + 1.5' };
      change(job);
      const d = derive(job);
      expect(d.findings.filter((f) => f.code === 'formula')).toEqual([]);
      const feeds = d.operations
        .find((o) => o.id === 'op3')
        ?.events.flatMap((e) => (e.kind === 'feed' ? (e.to.Z ?? []) : []));
      return Math.min(...(feeds ?? []));
    };
    const before = backOf(() => undefined);
    expect(before).toBeCloseTo(-21.5 + 1.5, 3);
    // the back face three further back: the limit goes along
    const after = backOf((j) => {
      for (const r of [...j.part.outer.rows, ...(j.part.inner?.rows ?? [])]) if (r.z === -22) r.z = -25;
      j.holdings.h1.stock = { ...j.holdings.h1.stock, stickOut: 50 } as Job['holdings'][string]['stock'];
    });
    expect(after).toBeCloseTo(before - 3, 3);
  });
  it('name elements of the side that is up, by words that a formula can say', () => {
    expect(elementWord('o8/b1.1')).toBe('o8_b1_1');
    expect(elementWord('7')).toBe('e7');
    const part = buildPart(demoJob('LM-118').part);
    const here = operationNames(part, new Map([['o1_back', 5]]));
    const turned = operationNames(turnedRound(part), new Map());
    // a dimension of that name is the programmer's own word
    expect(here.get('o1_back')).toBe(5);
    const outer = part.outer.find((e) => Math.abs(e.curve.from.x - e.curve.to.x) > 5);
    const word = elementWord(outer?.id ?? '');
    const length = (names: ReadonlyMap<string, number>) =>
      (names.get(`${word}_front`) ?? 0) - (names.get(`${word}_back`) ?? 0);
    expect(length(here)).toBeGreaterThan(5);
    expect(length(turned)).toBeCloseTo(length(here), 9);
  });
});
