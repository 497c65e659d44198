import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { lineRow, shopTool } from '../../../../tests/fixtures/jobs';
import { operation, turnedJob } from '../../../../tests/fixtures/turned';
import type { MotionEvent } from '../../motion';
import { postJob, programText, proveJob } from '../../nc';
import { derive, type Job, threadsIn } from '../../plan';
import { heldIn } from '../../plan/derive';

type Pass = Extract<MotionEvent, { kind: 'thread' }>;

/** A flange whose face runs from a bore, a hub that stands proud, or the centre. */
const flange = (
  p: {
    readonly tool?: string;
    readonly params?: Record<string, unknown>;
    readonly speed?: number;
    readonly diameter?: number;
    readonly within?: 'bore' | 'hub' | 'centre';
    readonly dialect?: string;
  } = {},
): Job => {
  const { within = 'bore', diameter = 60 } = p;
  const rows = [
    ...(within === 'hub' ? [lineRow('h', 24, 4), lineRow('w', 24, 0)] : []),
    lineRow('f', diameter, 0),
    lineRow('y', diameter, -30),
    lineRow('b', within === 'bore' ? 20 : 0, -30),
  ];
  const [rough, drill, tool] = ['face-rough-80', 'drill-20', p.tool ?? 'thread-face-60'].map(shopTool);
  const job = turnedJob({
    outer: rows,
    start: within === 'bore' ? 20 : 0,
    inner: within === 'bore' ? [lineRow('i', 20, -30)] : null,
    // the outside is as the bar is: the way in is free
    bar: diameter,
    length: 30,
    frontAllowance: within === 'hub' ? 5 : 1,
    tools: [rough, drill, tool],
    operations: [
      operation({ id: 'face', kind: 'face', holding: 'h1', tool: rough.id, params: { depth: 1 } }),
      ...(within === 'bore'
        ? [
            operation({
              id: 'drill',
              kind: 'drill',
              holding: 'h1',
              tool: drill.id,
              cutting: { speed: { mode: 'fixed', value: 1200 }, feed: 0.15 },
              params: {},
            }),
          ]
        : []),
      operation({
        id: 'spiral',
        kind: 'face-thread',
        holding: 'h1',
        tool: tool.id,
        span: { from: 'f', to: 'f' },
        cutting: { speed: { mode: 'fixed', value: p.speed ?? 400 }, feed: 0.1 },
        params: { thread: 'P1.5', ...p.params },
      }),
    ],
  });
  if (within === 'hub') {
    job.part.outer.start.z = 4;
    Object.assign(job.operations.face.params, { targetZ: 0, toDiameter: 24 });
  }
  if (p.dialect) job.machine.dialect = p.dialect;
  return job;
};

const spiralOf = (job: Job) => {
  const d = derive(job);
  const op = d.operations.find((o) => o.id === 'spiral');
  if (!op) throw new Error('no spiral');
  return { d, op, passes: op.events.filter((e): e is Pass => e.kind === 'thread') };
};
const told = (job: Job): string[] =>
  spiralOf(job)
    .op.findings.filter((f) => f.severity !== 'info')
    .map((f) => `${f.severity} ${f.code}`);
const proof = (job: Job) => {
  const { d } = spiralOf(job);
  return proveJob(job, d, postJob(job, d, '').map(programText));
};

describe('a spiral on a face', () => {
  it('of 60° comes in by equal area to 7/8 H less the nose, from beyond the rim into the bore, in step with one lead', () => {
    const { passes, op, d } = spiralOf(flange());
    expect(told(flange())).toEqual([]);
    // 7/8 · 0.866 · 1.5 − 0.06·(1/sin 30° − 1)
    const depth = 0.875 * 0.8660254 * 1.5 - 0.06;
    const depths = passes.map((p) => -lastZ(op.events, p));
    const first = depths[0];
    expect(depths.at(-1)).toBeCloseTo(depth, 3);
    for (const [i, v] of depths.slice(0, -2).entries()) expect(v).toBeCloseTo(first * Math.sqrt(i + 1), 2);
    expect(new Set(passes.map((p) => p.lead))).toEqual(new Set([1.5]));
    // one pitch beyond the edge of the bore
    expect(new Set(passes.map((p) => p.to.X))).toEqual(new Set([10 - 1.5]));
    expect(passes.every((p) => p.to.Z === undefined || p.to.Z === lastZ(op.events, p))).toBe(true);
    // a form on the surface: the section keeps its face
    expect(op.removed).toBeCloseTo(0, 6);
    expect(op.times.cutting).toBeGreaterThan((passes.length * (30 - 8.5)) / 10);
    expect(d.operations.every((o) => o.findings.every((f) => f.severity !== 'blocking'))).toBe(true);
  });
  it.each(['tarn-1', 'tarn-2', 'tarn-5'])('is posted for %s, read back and proved', (dialect) => {
    const job = flange({ dialect });
    const [text] = postJob(job, derive(job), '').map(programText);
    expect(text).toMatch(/G32 X17\.? F1\.5/);
    const p = proof(job);
    expect(p.channels.flatMap((c) => [...c.problems, ...c.differences])).toEqual([]);
    expect(p.ok).toBe(true);
    expect(p.maxDeviation).toBeLessThanOrEqual(0.001);
  });
  it('left-hand opens outward with the spindle forward, and of two starts has twice the lead', () => {
    const left = flange({ params: { hand: 'left' } });
    const { passes, op } = spiralOf(left);
    expect(told(left)).toEqual([]);
    expect(op.events.find((e) => e.kind === 'spindle')).toMatchObject({ direction: 'forward' });
    expect(passes.every((p) => (p.to.X ?? 0) > 30)).toBe(true);
    const two = spiralOf(flange({ params: { starts: 2 } })).passes;
    expect(new Set(two.map((p) => p.lead))).toEqual(new Set([3]));
    expect(two.slice(0, 2).map((p) => p.startAngle)).toEqual([0, 180]);
    expect(proof(left).ok).toBe(true);
  });
  it('on a whole face ends at the centre and does not cross it', () => {
    const job = flange({ within: 'centre' });
    expect(new Set(spiralOf(job).passes.map((p) => p.to.X))).toEqual(new Set([0]));
    expect(proof(job).ok).toBe(true);
  });
  it('ends short of a hub, and says by how much; a length keeps clear of it', () => {
    const hub = flange({ within: 'hub' });
    const short = spiralOf(hub).op.findings.find((f) => f.code === 'thread-short');
    // the insert is 3.2 wide: its side stands 1.6 from the middle of its nose
    const { missing = 0 } = (short?.numbers ?? {}) as { missing?: number };
    expect(missing).toBeGreaterThan(1.5);
    expect(missing).toBeLessThan(1.7);
    expect(proof(hub).ok).toBe(true);
    const clear = flange({ within: 'hub', params: { length: 10 } });
    expect(told(clear)).toEqual([]);
    expect(spiralOf(clear).passes.every((p) => p.to.X === 20)).toBe(true);
  });
  it('wants the face around a hub turned, which facing does down to the face and no further', () => {
    const hub = flange({ within: 'hub' });
    const faced = (z: number) => {
      const job = structuredClone(hub);
      Object.assign(job.operations.face.params, { targetZ: z });
      return derive(job).operations[0].findings.map((f) => f.code);
    };
    expect(faced(0)).toEqual([]);
    expect(faced(-0.01)).toContain('face-below-part');
    const noHub = structuredClone(hub);
    Object.assign(noHub.operations.face.params, { toDiameter: null });
    expect(derive(noHub).operations[0].findings.map((f) => f.code)).toContain('face-below-part');
  });
  it('says what is no spiral, what the insert does not cut, and what the slide cannot follow', () => {
    expect(told(flange({ params: { thread: 'M16x1.5' } }))).toEqual(['blocking spiral-unknown']);
    expect(told(flange({ params: { thread: '' } }))).toEqual(['blocking spiral-unknown']);
    expect(told(flange({ params: { thread: 'P4' } }))).toContain('blocking thread-pitch');
    expect(told(flange({ params: { thread: 'P1.5x30' } }))).toContain('blocking thread-flanks');
    expect(told(flange({ speed: 4000, params: { starts: 6 } }))).toContain('blocking thread-too-fast');
    const uncut = flange();
    uncut.operations.face.on = false;
    expect(told(uncut)).toContain('blocking thread-on-stock');
  });
  it('is drawn where it lies: crest on the face, root behind it', () => {
    const job = flange({ tool: 'thread-face-30', params: { thread: 'P4x30', length: 12 } });
    const [drawn] = threadsIn(job, heldIn(derive(job), 'h1'));
    expect(drawn).toMatchObject({ designation: 'P4x30', pitch: 4 });
    expect(drawn.crest.map((p) => [p.x, p.y])).toEqual([
      [0, 30],
      [0, 18],
    ]);
    // 0.5 P and a clearance of 0.25
    expect(drawn.root[0].x).toBeCloseTo(-2.25, 9);
  });
  const seed = Number(process.env.PROPERTY_SEED ?? Date.now() % 1_000_000);
  it(`of random sizes never gouges, never meets metal in a rapid, and is read back as planned (seed ${seed})`, () => {
    const cases = fc.record({
      diameter: fc.integer({ min: 40, max: 90 }),
      tool: fc.constantFrom(
        { id: 'thread-face-60', least: 0.5, most: 1.5, flanks: '' },
        { id: 'thread-face-60-c', least: 1.5, most: 3, flanks: '' },
        { id: 'thread-face-30', least: 4, most: 4, flanks: 'x30' },
      ),
      share: fc.double({ min: 0, max: 1, noNaN: true }),
      hand: fc.constantFrom('right', 'left'),
      starts: fc.integer({ min: 1, max: 3 }),
      infeed: fc.constantFrom('straight', 'flank', 'alternating'),
      length: fc.option(fc.integer({ min: 4, max: 14 }), { nil: null }),
      within: fc.constantFrom('bore', 'centre'),
      dialect: fc.constantFrom('tarn-1', 'tarn-2', 'tarn-5'),
    });
    fc.assert(
      fc.property(cases, ({ tool: { id: tool, least, most, flanks }, share, ...c }) => {
        const pitch = Math.round((least + (most - least) * share) * 20) / 20;
        const job = flange({
          ...c,
          tool,
          speed: 200,
          params: { thread: `P${pitch}${flanks}`, hand: c.hand, starts: c.starts, infeed: c.infeed, length: c.length },
        } as Parameters<typeof flange>[0]);
        const { op, d } = spiralOf(job);
        const bad = op.findings.filter((f) => f.severity === 'blocking');
        // a left-hand one begins inside, where there may be no room for the run-in
        expect(bad.map((f) => f.code).filter((code) => !(c.hand === 'left' && code === 'thread-run-in'))).toEqual([]);
        expect(d.findings.some((f) => f.code === 'gouge' || f.code === 'rapid-in-stock')).toBe(false);
        if (bad.length > 0) return;
        const p = proof(job);
        expect(p.channels.flatMap((k) => [...k.problems, ...k.differences])).toEqual([]);
        expect(p.maxDeviation).toBeLessThanOrEqual(0.001);
      }),
      { numRuns: Number(process.env.PROPERTY_CASES ?? 120), seed },
    );
  });
});

/** Z of the tip where a pass begins. */
const lastZ = (events: readonly MotionEvent[], pass: MotionEvent): number => {
  let z = Number.NaN;
  for (const e of events) {
    if (e === pass) return z;
    if ('to' in e && typeof e.to === 'object' && e.to.Z !== undefined) z = e.to.Z;
  }
  return z;
};
