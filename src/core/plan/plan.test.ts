import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { barOf, withBar } from '../../../tests/fixtures/holding';
import { DEMO_JOBS, demoJob, lineRow, shopTool, shopTools } from '../../../tests/fixtures/jobs';
import { operation, turnedJob } from '../../../tests/fixtures/turned';
import { FINDING_WORDS } from '../findings';
import { regionVolume } from '../geometry';
import { barSeat } from '../holding';
import { DeriveCache } from './cache';
import { candidatesFor } from './candidates';
import { derive, deriveSteps, hashRegion } from './derive';
import { applyDiff, diffDocuments, invertDiff, isEmptyDiff } from './diff';
import { type Job, jobJsonSchema, readJob, readJobText } from './document';
import { landingPlace } from './landing';

const json = fc.letrec((tie) => ({
  value: fc.oneof(
    { depthSize: 'small' },
    fc.integer(),
    fc.string(),
    fc.boolean(),
    fc.constant(null),
    fc.array(fc.integer(), { maxLength: 3 }),
    tie('object'),
  ),
  object: fc.dictionary(
    fc.string({ minLength: 1, maxLength: 5 }).filter((k) => !['__proto__', 'constructor', 'prototype'].includes(k)),
    tie('value'),
    { maxKeys: 5 },
  ),
})).object;

const cutting = (job: Job, id: string): { feed: number } =>
  (job.operations[id] as unknown as { cutting: { feed: number } }).cutting;

describe('diffs', () => {
  it('lead from one document to the other and back', () => {
    fc.assert(
      fc.property(json, json, (a, b) => {
        const d = diffDocuments(a, b);
        expect(applyDiff(a, d)).toEqual(b);
        expect(applyDiff(b, invertDiff(d))).toEqual(a);
        expect(isEmptyDiff(diffDocuments(a, a))).toBe(true);
      }),
    );
  });
  it('name the changed field by its place', () => {
    const a = demoJob('LM-101');
    const b = structuredClone(a);
    cutting(b, 'op3').feed = 0.25;
    expect(diffDocuments(a, b)).toEqual({
      added: {},
      removed: {},
      updated: { '/operations/op3/cutting/feed': [0.3, 0.25] },
    });
  });
  it('refuse paths into nothing or into the prototype', () => {
    expect(() => applyDiff({ a: 1 }, { added: { '/b/c': 1 }, updated: {}, removed: {} })).toThrow('nothing at b');
    expect(() => applyDiff({}, { added: { '/__proto__/polluted': 1 }, updated: {}, removed: {} })).toThrow();
    expect(({} as Record<string, unknown>).polluted).toBeUndefined();
  });
});

describe('job files', () => {
  it('are read as written', () => {
    for (const name of DEMO_JOBS) {
      const job = demoJob(name);
      const again = readJobText(JSON.stringify(job));
      expect(again.ok && again.job).toEqual(job);
    }
  });
  it.each<[string, (job: Record<string, unknown>) => unknown, string, string]>([
    ['no object', () => 'hello', 'not-a-job', ''],
    ['another format', (j) => ({ ...j, format: 'other' }), 'not-a-job', 'format'],
    ['a newer version', (j) => ({ ...j, version: 99 }), 'newer-version', 'version'],
    ['a bad number', (j) => withBar(j as unknown as Job, { diameter: -3 }), 'shape', 'holdings.h1.stock.diameter'],
    [
      'a text for a number',
      (j) => withBar(j as unknown as Job, { diameter: 'wide' as unknown as number }),
      'shape',
      'holdings.h1.stock.diameter',
    ],
    ['an order that names nothing', (j) => ({ ...j, order: { '1': ['ghost'] } }), 'reference', 'order.1.0'],
  ])('with %s are refused with the place', (_name, change, code, place) => {
    const read = readJob(change(demoJob('LM-101') as unknown as Record<string, unknown>));
    expect(read.ok).toBe(false);
    if (!read.ok) {
      expect(read.problems.map((p) => p.code)).toContain(code);
      expect(read.problems.map((p) => p.place)).toContain(place);
      for (const p of read.problems) expect(p.message).toMatch(/[.]$/);
    }
  });
  it('cut short are refused', () => {
    const read = readJobText(JSON.stringify(demoJob('LM-101')).slice(0, 900));
    expect(!read.ok && read.problems[0].code).toBe('not-json');
  });
  it('have a published schema', () => {
    expect(JSON.stringify(jobJsonSchema())).toContain('lively-spindle-job');
  });
});

const edits: ((j: Job, n: number) => void)[] = [
  (j, n) => void (cutting(j, 'op3').feed = 0.2 + n / 100),
  (j, n) => void Object.assign((j.operations.op3 as { params: object }).params, { depth: 1.5 + n / 10 }),
  (j) => void (j.operations.op4.on = !j.operations.op4.on),
  (j, n) => void (barOf(j).diameter = 64 + n),
  (j) => void j.order['1'].splice(2, 0, ...j.order['1'].splice(4, 1)),
  (j, n) => void (j.operations.op1.name = `face ${n}`),
  (j, n) => void Object.assign(j.part.outer.rows[2], { diameter: 50 - n / 10 }),
];

describe('derive', () => {
  it('from the cache equals derive from scratch over random edits', () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.integer({ min: 0, max: edits.length - 1 }), fc.integer({ min: 0, max: 9 })), {
          minLength: 1,
          maxLength: 4,
        }),
        (steps) => {
          const cache = new DeriveCache();
          const job = demoJob('LM-101');
          derive(job, cache);
          for (const [which, n] of steps) {
            edits[which](job, n);
            const fast = derive(structuredClone(job), cache);
            const slow = derive(structuredClone(job));
            expect(fast.findings).toEqual(slow.findings);
            expect(hashRegion(fast.finished.turnedOutline)).toBe(hashRegion(slow.finished.turnedOutline));
            expect(fast.timeline.total).toBe(slow.timeline.total);
            expect(fast.program).toEqual(slow.program);
          }
        },
      ),
      { numRuns: 8 },
    );
  });
  it('recomputes only what follows from an edit', () => {
    const cache = new DeriveCache();
    const job = demoJob('LM-101');
    derive(job, cache);
    const before = cache.plans.misses;
    cutting(job, 'op7').feed = 0.08;
    derive(job, cache);
    expect(cache.plans.misses - before).toBe(1);
    job.operations.op2.name = 'renamed';
    derive(job, cache);
    expect(cache.plans.misses - before).toBe(1);
  });
  it('reports progress and can be left', () => {
    const steps = deriveSteps(demoJob('LM-155'), new DeriveCache());
    expect(steps.next().value).toEqual({ done: 0, all: 6, made: null });
    // each path is known as soon as it is planned, while the rest is still to come
    const whole = derive(demoJob('LM-155'));
    for (let i = 1; i < 6; i++) {
      const { value } = steps.next();
      const made = value && 'made' in value ? value.made : null;
      expect(made?.id).toBe(whole.operations[i - 1].id);
      expect(made?.events).toEqual(whole.operations[i - 1].events);
    }
    expect(steps.return(undefined as never).done).toBe(true);
  });
  it('leaves the demo parts exact, with no serious finding', () => {
    for (const name of DEMO_JOBS) {
      const d = derive(demoJob(name));
      expect(d.findings.filter((f) => f.severity !== 'info')).toEqual([]);
      expect(regionVolume(d.finished.turnedOutline) / d.part.volume).toBeCloseTo(1, 4);
      expect(d.coverage.every((c) => c.state === 'finished')).toBe(true);
    }
  });
});

describe('findings', () => {
  it('say how much stick-out is missing, and that much is enough', () => {
    const job = demoJob('LM-101');
    barOf(job).stickOut = 25;
    const f = derive(job).findings.find((k) => k.code === 'cutoff-meets-jaws');
    barOf(job).stickOut = Number((f?.numbers as { needed?: number } | undefined)?.needed);
    expect(derive(job).findings.some((k) => k.code === 'cutoff-meets-jaws')).toBe(false);
    barOf(job).stickOut -= 0.01;
    expect(derive(job).findings.some((k) => k.code === 'cutoff-meets-jaws')).toBe(true);
    expect(barSeat(barOf(job)).jawFront).toBeLessThan(-25);
  });
  it('have words for every code', () => {
    // every number or text that a sentence may ask for
    const any = new Proxy({}, { get: (_, key) => (key === 'number' || key === 'most' ? 3 : 2) });
    for (const words of Object.values(FINDING_WORDS)) {
      const w = (words as (k: unknown) => { message: string; remedy: string })(any);
      expect(w.message.length).toBeGreaterThan(8);
      expect(w.message).not.toMatch(/undefined|NaN/);
    }
  });
});

describe('what can cut this', () => {
  it('ranks real paths and gives reasons', () => {
    const job = demoJob('LM-101');
    job.order['1'] = ['op1', 'op2', 'op7'];
    const found = candidatesFor(job, { from: 'o2', to: 'o6' }, 'outer', 'h1');
    expect(found[0].reach).toBeGreaterThan(0.9);
    // finishing raw metal in one cut is possible but doubtful, so roughing comes first
    expect(found[0].kind).toBe('outer-rough');
    // the 80° corner before the slender 35° one
    expect(['face-rough-80', 'rough-trigon']).toContain(found[0].tool);
    expect(found.find((c) => c.kind === 'outer-finish')?.doubtful).toBe(true);
    expect(found.filter((c) => c.reach === 0).every((c) => c.reason !== null)).toBe(true);
    const inner = candidatesFor(job, { from: 'i1', to: 'i1' }, 'inner', 'h1');
    expect(inner.find((c) => c.kind === 'inner-rough')?.reach).toBeGreaterThan(0.5);
    expect(inner.every((c) => ['inner-rough', 'inner-finish', 'drill'].includes(c.kind))).toBe(true);
  });
  it('drills a blind bore as deep as the point may go, and no through hole into its bottom', () => {
    const job = demoJob('LM-118');
    job.order['1'] = ['op1', 'op7'];
    const found = candidatesFor(job, null, 'inner', 'h1', undefined, shopTools());
    const drills = found.filter((c) => c.kind === 'drill' && c.reach > 0);
    const bottom = -Math.min(...(job.part.inner?.rows ?? []).flatMap((r) => ('z' in r && r.z !== null ? [r.z] : [])));
    expect(drills.map((c) => c.tool)).toContain('drill-16');
    for (const c of drills) {
      if (c.operation.kind !== 'drill') throw new Error('a drill drills');
      expect(c.operation.params.depthTo).toBe('point');
      // the bottom is the point of these drills: it is drilled to the end, and nothing is left there
      if (c.tool === 'drill-16' || c.tool === 'drill-16-long') {
        expect(c.operation.params.depth).toBeCloseTo(bottom, 3);
        continue;
      }
      // the bore ends at a row of the profile; no other point comes to within 0.2 of it, and a thin one comes nearly there
      expect(c.operation.params.depth).toBeLessThanOrEqual(bottom - 0.2);
      if (c.tool === 'drill-7') expect(c.operation.params.depth).toBeGreaterThan(bottom - 0.31);
    }
    // a through bore is drilled through
    const through = candidatesFor(
      demoJob('LM-101', (j) => void (j.order['1'] = ['op1'])),
      null,
      'inner',
      'h1',
    );
    expect(through.find((c) => c.kind === 'drill')?.operation).toMatchObject({ params: { depth: null } });
  });
  it('roughs into hollows that the roughing before has bridged, and cuts off behind the back only', () => {
    const job = turnedJob({
      outer: [
        lineRow('a', 40, 0),
        lineRow('b', 26, -20),
        lineRow('c', 40, -40),
        lineRow('d', 40, -46),
        lineRow('e', 0, -46),
      ],
      bar: 42,
      length: 46,
      tools: ['face-rough-80', 'finish-35', 'cutoff-3'].map(shopTool),
      operations: [
        operation({ id: 'r', kind: 'outer-rough', tool: 'face-rough-80', params: { depth: 2, undercuts: 'bridge' } }),
      ],
    });
    const of = (from: string, to = from) => candidatesFor(job, { from, to }, 'outer', 'h1');
    const rough = of('b', 'c').find((c) => c.kind === 'outer-rough' && c.tool === 'finish-35');
    expect(rough?.reach).toBeGreaterThan(0.8);
    expect(rough?.operation.params).toMatchObject({ undercuts: 'enter' });
    const raw = { ...job, order: { '1': [] }, operations: {} };
    const first = candidatesFor(raw, { from: 'a', to: 'e' }, 'outer', 'h1').find((c) => c.kind === 'outer-rough');
    expect(first?.operation.params).toMatchObject({ undercuts: 'bridge' });
    expect(of('e').some((c) => c.kind === 'cutoff')).toBe(true);
    expect(of('a', 'e').some((c) => c.kind === 'cutoff')).toBe(true);
    for (const id of ['a', 'b', 'c']) expect(of(id).some((c) => c.kind === 'cutoff')).toBe(false);
  });
  it('tells where a thread of another pitch than the part shows would be cut', () => {
    const job = demoJob('LM-140');
    for (const { id, kind } of Object.values(job.operations)) if (kind === 'outer-thread') delete job.operations[id];
    job.order = { '1': job.order['1'].filter((id) => id in job.operations) };
    const threads = candidatesFor(job, { from: 'o2', to: 'o2' }, 'outer', 'h1', undefined, shopTools()).filter(
      (c) => c.makes !== null,
    );
    expect(threads.length).toBeGreaterThan(1);
    for (const c of threads) expect(c.reason?.includes('Thread M16 × 1.5') ?? false).toBe(c.makes !== 'M16x1.5');
    expect(threads[0].makes).toBe('M16x1.5');
  });
  it('lands a new operation where it belongs, never after the cutoff', () => {
    const job = demoJob('LM-101');
    expect(landingPlace(job, 'face', 'h1')).toBe(1);
    expect(landingPlace(job, 'inner-finish', 'h1')).toBe(6);
    expect(landingPlace(job, 'cutoff', 'h1')).toBe(7);
  });
});
