import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { demoJob, lineRow } from '../../../../tests/fixtures/jobs';
import { randomBore, randomOutside } from '../../../../tests/fixtures/randomJobs';
import { rasterOf, rasterStock } from '../../../../tests/fixtures/raster';
import { operation, tool, turnedJob } from '../../../../tests/fixtures/turned';
import { passDepths } from '../../cutting';
import { regionArea, subtractRegion } from '../../geometry';
import { movesOf } from '../../motion';
import { postJob, programText, proveJob } from '../../nc';
import { derive, type Job, rawStockOf } from '../../plan';

const CASES = Math.ceil(Number(process.env.PROVED_CASES ?? 200) / 5);
const FIRST = Number(process.env.PROPERTY_SEED ?? 1 + Math.floor(Math.random() * 1e6));

describe('depths of passes', () => {
  const total = fc.double({ min: 0.01, max: 40, noNaN: true });
  const most = fc.double({ min: 0.05, max: 5, noNaN: true });
  const style = fc.constantFrom('equal' as const, 'full' as const, 'falling' as const);
  it('come to the whole, none deeper than asked for', () => {
    fc.assert(
      fc.property(total, most, style, fc.double({ min: 0, max: 1, noNaN: true }), (t, m, s, least) => {
        const depths = passDepths(t, m, s, least);
        expect(depths.reduce((a, b) => a + b, 0)).toBeCloseTo(t, 8);
        for (const d of depths) {
          expect(d).toBeLessThanOrEqual(m + 1e-9);
          expect(d).toBeGreaterThan(0);
        }
      }),
    );
  });
  it('fall from the first to half of it', () => {
    const [first, ...rest] = passDepths(9, 3, 'falling');
    expect(rest.length).toBe(3);
    expect(first).toBeCloseTo(3, 9);
    expect(rest[2]).toBeCloseTo(1.5, 9);
  });
  it('share a last one thinner than the nose with the one before', () => {
    const expected = [2, 2, 1.15, 1.15];
    for (const [i, d] of passDepths(6.3, 2, 'full', 0.8).entries()) expect(d).toBeCloseTo(expected[i], 9);
    expect(passDepths(6.9, 2, 'full', 0.8)).toEqual([2, 2, 2, expect.closeTo(0.9, 9)]);
  });
});

/** A job whose roughing runs another way. */
const roughed = (job: Job, along: 'x' | 'contour', output: 'moves' | 'cycle', dialect = 'tarn-2'): Job => {
  const made = structuredClone(job);
  made.machine.dialect = dialect;
  for (const o of Object.values(made.operations))
    if (o.kind === 'outer-rough' || o.kind === 'inner-rough') Object.assign(o.params, { along, output });
  return made;
};

/** A bore ⌀40 × 10 with a flat bottom around a drilled hole ⌀24. */
const facedBore = (): Job => {
  const job = randomBore(1, ['moves', 'computed']);
  const wide = turnedJob({
    start: 40,
    outer: [lineRow('o1', 60, 0), lineRow('o2', 60, -20), lineRow('o3', 24, -20)],
    inner: [lineRow('i1', 40, -10), lineRow('i2', 24, -10), lineRow('i3', 24, -20)],
    bar: 60,
    length: 20,
    safeDistance: 1,
    tools: [
      tool({ id: 'drill', kind: 'drill', diameter: 24, pointAngle: 118, fluteLength: 70, overhang: 90 }),
      job.tools.bar,
    ],
    operations: Object.values(job.operations).filter((o) => o.kind !== 'inner-finish'),
  });
  Object.assign((wide.operations.drill as { params: object }).params, {
    depth: null,
    breakThrough: 2,
    depthTo: 'full',
  });
  Object.assign((wide.operations.rough as { params: object }).params, { depth: 2, allowanceX: 0.4, allowanceZ: 0.1 });
  return wide;
};

const WAYS: [string, (seed: number) => Job][] = [
  ['across', (seed) => roughed(randomOutside(seed, 'right', ['moves', 'computed']), 'x', 'moves')],
  ['across, as G72', (seed) => roughed(randomOutside(seed, 'right', ['moves', 'computed']), 'x', 'cycle')],
  [
    'across, as G72 in one block',
    (seed) => roughed(randomOutside(seed, 'right', ['moves', 'control']), 'x', 'cycle', 'tarn-1'),
  ],
  [
    'along the contour',
    (seed) => roughed(randomOutside(seed, seed % 2 ? 'right' : 'left', ['moves', 'computed']), 'contour', 'moves'),
  ],
  [
    'along the contour, as G73',
    (seed) => roughed(randomOutside(seed, 'right', ['moves', 'computed']), 'contour', 'cycle'),
  ],
  [
    'along the contour, as G73 in one block',
    (seed) => roughed(randomOutside(seed, 'right', ['moves', 'computed']), 'contour', 'cycle', 'tarn-1'),
  ],
  ['across a bore', (seed) => roughed(randomBore(seed, ['moves', 'computed']), 'x', 'moves')],
  ['across a bore, as G72', (seed) => roughed(randomBore(seed, ['moves', 'computed']), 'x', 'cycle')],
  [
    'across a bore, as G72 in one block',
    (seed) => roughed(randomBore(seed, ['moves', 'computed']), 'x', 'cycle', 'tarn-1'),
  ],
  ['along a bore', (seed) => roughed(randomBore(seed, ['moves', 'computed']), 'contour', 'moves')],
];

describe('roughing another way than along the axis', () => {
  it.each(WAYS)(
    `%s: nothing blocks, the text is the plan (from seed ${FIRST})`,
    { timeout: 300_000 },
    (_name, make) => {
      const failures: string[] = [];
      let cut = 0;
      for (let seed = FIRST; seed < FIRST + Math.ceil(CASES / WAYS.length) + 1; seed++) {
        const job = make(seed);
        const d = derive(job);
        if (d.part.region.length === 0) continue;
        const rough = d.operations.find((o) => o.id === 'rough');
        if (rough && rough.removed > 0) cut++;
        const proof = proveJob(job, d, postJob(job, d, '').map(programText));
        for (const f of d.findings)
          if (f.severity === 'blocking')
            failures.push(`seed ${seed} ${f.operation}: ${f.code} ${JSON.stringify(f.numbers)}`);
        if (!proof.agrees)
          failures.push(`seed ${seed}: ${proof.maxDeviation} ${JSON.stringify(proof.channels[0].problems[0])}`);
      }
      expect(failures).toEqual([]);
      expect(cut).toBeGreaterThan(0);
    },
  );

  it.each([
    ['x', 'tarn-2', /^G72 W[\d.]+ R[\d.]+\nG72 P100 /m],
    ['x', 'tarn-1', /^G72 P100 .*D[\d.]+ /m],
    ['contour', 'tarn-2', /^G73 U[\d.]+ W[\d.]+ R\d+\nG73 P100 /m],
    ['contour', 'tarn-1', /^G73 P100 .*I[\d.]+ K[\d.]+ D\d+ /m],
  ] as const)('is a cycle of the control on a steady shaft: %s, %s', (along, dialect, head) => {
    const job = roughed(demoJob('LM-101'), along, 'cycle', dialect);
    Object.assign((job.operations.op3 as { params: object }).params, { depth: 2 });
    const d = derive(job);
    const posted = postJob(job, d, '');
    expect(programText(posted[0])).toMatch(head);
    const proof = proveJob(job, d, posted.map(programText));
    expect(proof.channels[0].problems).toEqual([]);
    expect(proof.agrees).toBe(true);
    expect(proof.stock.thickness).toBeLessThan(0.001);
  });

  it('leaves the stock that a raster leaves', { timeout: 120_000 }, () => {
    for (const [along, make] of [
      ['x', (seed: number) => randomOutside(seed, 'right', ['moves', 'computed'])],
      ['contour', (seed: number) => randomOutside(seed, 'right', ['moves', 'computed'])],
      ['x', (seed: number) => randomBore(seed, ['moves', 'computed'])],
    ] as const) {
      const job = roughed(make(FIRST), along, 'moves');
      const d = derive(job);
      if (d.part.region.length === 0) continue;
      const apart = rasterStock(d).difference(
        rasterOf((d.operations.at(-1)?.after ?? rawStockOf(d)).turnedOutline, rawStockOf(d).turnedOutline),
      );
      expect(apart).toBe(0);
    }
  });

  it.each([
    ['the bar', 50, 1.6, 3],
    ['a bar that is hardly larger', 42, 0.8, 1],
    ['a bar that just needs one more', 45, 1.15, 2],
  ])('shares the thickness of %s among equal passes along the contour', (_, bar, depth, passes) => {
    // ⌀40 with 0.2 left in radius: half of (bar − 40.4), told to within a thirty-second of a pass
    const job = turnedJob({
      outer: [lineRow('a', 40, 0), lineRow('b', 40, -30), lineRow('c', 0, -30)],
      bar,
      length: 30,
      tools: [tool({ id: 't', kind: 'turning', insert: 'DCMT11T304', approachAngle: 93, overhang: 60 })],
      operations: [
        operation({
          id: 'r',
          kind: 'outer-rough',
          tool: 't',
          params: { depth: 2, along: 'contour', allowanceX: 0.4, allowanceZ: 0.2 },
        }),
      ],
    });
    const [rough] = derive(job).operations;
    expect(Math.abs((rough.depth ?? 0) - depth)).toBeLessThan(2 / 32);
    const ways = rough.events.filter((e) => e.kind === 'feed' && e.purpose === 'cut');
    expect(ways).toHaveLength(passes);
  });
  it('leaves no more than its allowance along the contour, wherever the tool comes to', () => {
    // in the first four the holder is held off the floor by metal that only later passes take
    const known = [
      [288, 'right'],
      [787846, 'right'],
      [992, 'left'],
      [1002, 'left'],
    ] as const;
    const others = Array.from({ length: 6 }, (_, i) => [FIRST + i, i % 2 === 0 ? 'right' : 'left'] as const);
    for (const [seed, hand] of [...known, ...others]) {
      const along = derive(roughed(randomOutside(seed, hand, ['moves', 'computed']), 'contour', 'moves'));
      const levels = derive(randomOutside(seed, hand, ['moves', 'computed']));
      const [a, b] = [along, levels].map((d) => d.operations.find((o) => o.id === 'rough')?.after.turnedOutline ?? []);
      // both come down to the same floor: what the levels leave, the contour leaves
      expect(regionArea(subtractRegion(a, b)), `seed ${seed}`).toBeLessThan(0.5);
    }
  });

  it('feeds toward the axis at every level when it runs across', () => {
    const d = derive(roughed(randomOutside(FIRST, 'right', ['moves', 'computed']), 'x', 'moves'));
    const rough = d.operations.find((o) => o.id === 'rough');
    const cuts = movesOf(rough?.events ?? []).filter((m) => m.event.purpose === 'cut' && m.event.kind === 'feed');
    expect(cuts.length).toBeGreaterThan(2);
    for (const m of cuts) expect(m.to.X).toBeLessThanOrEqual(m.from.X + 1e-6);
  });

  it('feeds away from the axis at every level across a bore, and takes what it takes along it', () => {
    for (let seed = FIRST; seed < FIRST + 8; seed++) {
      const along = randomBore(seed, ['moves', 'computed']);
      const [a, b] = [along, roughed(along, 'x', 'moves')].map((j) => derive(j));
      if (a.part.region.length === 0) continue;
      const [level, across] = [a, b].map((d) => d.operations.find((o) => o.id === 'rough'));
      const cuts = movesOf(across?.events ?? []).filter((m) => m.event.purpose === 'cut' && m.event.kind === 'feed');
      expect(cuts.length, `seed ${seed}`).toBeGreaterThan(1);
      for (const m of cuts) expect(m.to.X, `seed ${seed}`).toBeGreaterThanOrEqual(m.from.X - 1e-6);
      // where a wall is not steady one way leaves a corner that the other takes; on the cone of a drill's point a bar that
      // faces outward has no room to begin
      const blind = along.part.inner?.rows.some((row) => row.kind === 'line' && row.diameter === 0) ?? false;
      expect(across?.removed, `seed ${seed}`).toBeGreaterThan((blind ? 0.2 : 0.9) * (level?.removed ?? 0));
    }
  });

  it('begins no pass where the insert would strike the far wall of the bore with what comes behind its nose', () => {
    // the relief behind the thread of this bore is wider than the hole behind it
    const job = roughed(demoJob('LM-104'), 'x', 'moves');
    const d = derive(job);
    expect(d.findings.filter((f) => f.severity === 'blocking')).toEqual([]);
    const proof = proveJob(job, d, postJob(job, d, '').map(programText));
    expect(proof.ok).toBe(true);
    const rough = d.operations.find((o) => o.id === 'op4');
    // the insert is 6.1 across from its nose: within the hole ⌀12 it never comes nearer to the axis than that allows
    const deep = movesOf(rough?.events ?? []).filter((m) => (m.to.Z ?? 0) < -20.5);
    expect(deep.length).toBeGreaterThan(5);
    for (const m of deep) expect(m.to.X).toBeGreaterThan(0.4 + 6.11 - 6);
  });

  it.each([
    ['tarn-2', /^G72 W\S+ R\S+\nG72 P100 Q\d+ U-\S+ W\S+ F/m],
    ['tarn-1', /^G72 P100 Q\d+ U-\S+ W\S+ D\S+ F/m],
  ] as const)('faces a bore outward by the control’s cycle: the stock is what moves leave, %s', (dialect, head) => {
    const job = roughed(facedBore(), 'x', 'cycle', dialect);
    const d = derive(job);
    expect(d.findings.map((f) => f.code)).not.toContain('cycle-not-possible');
    expect(d.findings.filter((f) => f.severity === 'blocking')).toEqual([]);
    const posted = postJob(job, d, '').map(programText);
    expect(posted[0]).toMatch(head);
    const proof = proveJob(job, d, posted);
    expect(proof.ok).toBe(true);
    expect(proof.stock.thickness).toBeLessThan(1e-3);
    // it begins beside the wall of the drilled hole ⌀24, and every pass runs away from the axis
    const rough = d.operations.find((o) => o.id === 'rough');
    const cuts = movesOf(rough?.events ?? []).filter((m) => m.event.purpose === 'cut' && m.event.kind === 'feed');
    expect(Math.min(...cuts.map((m) => m.from.X))).toBeCloseTo(11.5, 6);
    for (const m of cuts) expect(m.to.X).toBeGreaterThanOrEqual(m.from.X - 1e-6);
    const moves = derive(roughed(facedBore(), 'x', 'moves')).operations.find((o) => o.id === 'rough');
    expect(Math.abs((rough?.removed ?? 0) / (moves?.removed ?? 1) - 1)).toBeLessThan(0.02);
  });

  it('faces a flat bottom outward from a drilled hole, level by level, worked by hand', () => {
    // bore ⌀40 × 10 deep with a flat bottom, drilled ⌀24 through: 10 of depth 2 less 0.1, five levels and a share
    const job = roughed(facedBore(), 'x', 'moves');
    const d = derive(job);
    expect(d.findings.filter((f) => f.severity === 'blocking')).toEqual([]);
    const rough = d.operations.find((o) => o.id === 'rough');
    const cuts = movesOf(rough?.events ?? []).filter((m) => m.event.purpose === 'cut' && m.event.kind === 'feed');
    const out = cuts.filter((m) => m.to.X > m.from.X + 1);
    // 9.9 in passes of 2: five, a little more than 1.98, for the nose comes lower still as it rolls over the edge of the hole
    const levels = out.map((m) => m.to.Z);
    expect(levels.length).toBe(5);
    for (const [k, z] of levels.entries()) expect(Math.abs(z + 1.98 * (k + 1)), `level ${k + 1}`).toBeLessThan(0.05);
    expect(levels[4]).toBeCloseTo(-9.9, 6);
    // each as far as the wall less half the allowance on diameter of 0.4
    for (const m of out) expect(m.to.X).toBeCloseTo(19.8, 6);
    // π·(19.8² − 12²)·9.9, less the nose's corner at the bottom
    const nose = (1 - Math.PI / 4) * 0.4 ** 2;
    const ring = Math.PI * (19.8 ** 2 - 12 ** 2) * 9.9 - 2 * Math.PI * 19.7 * nose;
    expect(Math.abs((rough?.removed ?? 0) - ring)).toBeLessThan(2);
    const cycle = derive(roughed(facedBore(), 'x', 'cycle'));
    expect(cycle.findings.map((f) => f.code)).not.toContain('internal');
  });

  it('with a leaning edge comes out beside the metal that it leaves above itself where the span ends', () => {
    // the inner half of the face stays: the edge behind the nose leans by 32° over it, for an insert of 55°, by 52° for 35°
    for (const [insert, lean] of [
      ['DCMT11T304', 32],
      ['VBMT160404', 52],
    ] as const) {
      const job = turnedJob({
        outer: [
          lineRow('a', 30, 0),
          lineRow('b', 30, -8),
          lineRow('c', 50, -8),
          lineRow('d', 70, -8),
          lineRow('e', 70, -20),
          lineRow('f', 0, -20),
        ],
        bar: 72,
        length: 20,
        tools: [tool({ id: 'own', kind: 'turning', insert, approachAngle: 93, overhang: 60 })],
        operations: [
          operation({
            id: 'r',
            kind: 'outer-rough',
            tool: 'own',
            span: { from: 'd', to: 'd' },
            params: { depth: 2, undercuts: 'enter', along: 'x' },
          }),
        ],
      });
      const d = derive(job);
      expect(d.findings.filter((f) => f.severity === 'blocking')).toEqual([]);
      const feeds = movesOf(d.operations[0].events).filter((m) => m.event.kind === 'feed');
      const end = feeds.filter((m) => m.event.purpose === 'cut').reduce((x, m) => Math.min(x, m.to.X), 99);
      // 2 mm of metal hang over the first pass
      const out = feeds.find((m) => m.event.purpose === 'lead-out');
      expect((out?.to.X ?? 0) - end).toBeGreaterThan(2 * Math.tan((lean * Math.PI) / 180) - 0.5);
    }
  });
});
