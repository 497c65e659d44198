import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { insideThreadJob, threadedJob } from '../../../../tests/fixtures/threads';
import { regionVolume } from '../../geometry';
import type { MotionEvent } from '../../motion';
import { postJob, programText, proveJob } from '../../nc';
import { derive, type Job } from '../../plan';
import { withValues } from '../../plan/diff';

type Pass = Extract<MotionEvent, { kind: 'thread' }>;
const threadOf = (job: Job) => {
  const d = derive(job);
  const op = d.operations.find((o) => o.id === 'thread');
  if (!op) throw new Error('no thread');
  return { d, op, passes: op.events.filter((e): e is Pass => e.kind === 'thread') };
};
const told = (job: Job): string[] => threadOf(job).op.findings.map((f) => `${f.severity} ${f.code}`);
const serious = (job: Job): string[] => told(job).filter((t) => !t.startsWith('info'));
const proved = (job: Job) => {
  const { d } = threadOf(job);
  return proveJob(job, d, postJob(job, d, '').map(programText));
};
const M16 = { diameter: 16, tool: 'thread-60-fine', params: { thread: 'M16x1.5' } } as const;

describe('an outside thread', () => {
  it('of M16×1.5 comes in by equal area to 1.087, all passes with one lead to one end in the relief', () => {
    const { passes, op, d } = threadOf(threadedJob(M16));
    expect(serious(threadedJob(M16))).toEqual([]);
    const depths = passes.map((p) => 8 - (p.to.X ?? 0));
    // h/√6 = .444, then .444·√n, and the last .03 in a pass of their own
    expect(depths.map((v) => Number(v.toFixed(3)))).toEqual([0.444, 0.628, 0.769, 0.888, 0.993, 1.057, 1.087]);
    expect(new Set(passes.map((p) => p.lead))).toEqual(new Set([1.5]));
    expect(new Set(passes.map((p) => p.to.Z))).toEqual(new Set([-20.5]));
    // in the section the thread is a form on the surface: the stock is as before
    expect(op.removed).toBeCloseTo(0, 6);
    expect(regionVolume(d.finished.turnedOutline)).toBeGreaterThan(0);
    // 7 passes of some 22.5 mm at 25 mm/s, and as many ways back
    expect(op.times.cutting).toBeGreaterThan(7 * (22.2 / 25));
    expect(op.times.cutting).toBeLessThan(7 * (22.8 / 25) + 0.2);
  });
  it('begins where the slide has come to its speed, and along the flank further on as it gets deeper', () => {
    const { op } = threadOf(threadedJob(M16));
    const starts: number[] = [];
    op.events.forEach((e, i) => {
      const before = op.events[i - 1];
      if (e.kind === 'thread' && before?.kind === 'rapid')
        starts.push(op.events[i - 2].kind === 'rapid' ? zOf(op.events, i) : Number.NaN);
    });
    const depths = [0.444, 0.444 * Math.SQRT2];
    expect(starts[0] - starts[1]).toBeCloseTo((depths[1] - depths[0]) * Math.tan((27.5 * Math.PI) / 180), 3);
    expect(Math.min(...starts)).toBeGreaterThanOrEqual(1.5 - 1e-6);
  });
  it.each([
    ['Tarn 2, moves', 'tarn-2', { output: 'moves' }, /G32 Z-20\.5 F1\.5/],
    ['Tarn 2, cycle', 'tarn-2', { output: 'cycle' }, /G76 P010055 Q50 R0\.03\nG76 X13\.826 Z-20\.5 P1087 Q444 F1\.5/],
    ['Tarn 5, cycle with spring passes', 'tarn-5', { output: 'cycle', springPasses: 2 }, /G76 P030055/],
    ['Tarn 1, cycle', 'tarn-1', { output: 'cycle', finish: 0 }, /G76 X13\.826 Z-20\.5 K1\.087 D0\.444 A55 P1 F1\.5/],
    ['Tarn 1, moves', 'tarn-1', { output: 'moves' }, /G32 Z-20\.5 F1\.5/],
    ['straight in', 'tarn-2', { output: 'cycle', infeed: 'straight' }, /G76 P010000/],
  ])('is posted, read back and proved: %s', (_name, dialect, params, text) => {
    const job = threadedJob({ ...M16, dialect, params: { ...M16.params, ...params } });
    expect(told(job).filter((t) => t.includes('cycle-not-possible'))).toEqual([]);
    expect(postJob(job, derive(job), '').map(programText)[0]).toMatch(text);
    const proof = proved(job);
    expect(proof.channels.flatMap((c) => [...c.problems, ...c.differences])).toEqual([]);
    expect(proof).toMatchObject({ ok: true });
    expect(proof.maxDeviation).toBeLessThanOrEqual(0.001);
  });
  it.each([
    ['two starts', { starts: 2 }, 'one start'],
    ['alternating infeed', { infeed: 'alternating' }, 'one flank'],
    ['an angle of 28°', { infeedAngle: 28 }, '28'],
    ['fixed depths', { mode: 'fixed' }, 'equal area'],
    ['no last pass', { finish: 0 }, 'last pass'],
  ])('is written as moves where the cycle cannot do it, with the reason: %s', (_name, params, reason) => {
    const job = threadedJob({ ...M16, params: { ...M16.params, output: 'cycle', ...params } });
    const found = threadOf(job).op.findings.find((f) => f.code === 'cycle-not-possible');
    expect(JSON.stringify(found?.numbers)).toContain(reason);
    expect(proved(job).ok).toBe(true);
    expect(programText(postJob(job, derive(job), '')[0])).toContain('G32');
  });
  it('of two starts has twice the lead, and each depth cut once at 0° and once at 180°', () => {
    const { passes } = threadOf(threadedJob({ ...M16, params: { ...M16.params, starts: 2 } }));
    expect(new Set(passes.map((p) => p.lead))).toEqual(new Set([3]));
    expect(passes.map((p) => p.startAngle).slice(0, 4)).toEqual([0, 180, 0, 180]);
    expect(passes[0].to.X).toBe(passes[1].to.X);
  });
  it('left-hand is cut away from the chuck with the spindle forward, toward it with the tool turned over', () => {
    const left = threadedJob({
      ...M16,
      relief: { diameter: 12, width: 8 },
      params: { thread: 'M16x1.5', hand: 'left' },
      speed: 500,
    });
    const { op, passes } = threadOf(left);
    expect(serious(left)).toEqual([]);
    expect(op.events.find((e) => e.kind === 'spindle')).toMatchObject({ direction: 'forward' });
    expect(passes[0].to.Z).toBeGreaterThan(0);
    expect(proved(left).ok).toBe(true);
    const over = threadedJob({ ...M16, params: { thread: 'M16x1.5', hand: 'left' } }, (j) => {
      j.mounts.upper['3']['1'].wayUp = 'turned';
    });
    expect(threadOf(over).op.events.find((e) => e.kind === 'spindle')).toMatchObject({ direction: 'reverse' });
    expect(threadOf(over).passes[0].to.Z).toBeLessThan(0);
  });
  it('tapered runs 1:16 on the diameter: NPT 1/2 over its length', () => {
    const d = 19.264 + 0.8 * (25.4 / 14);
    const job = threadedJob({
      diameter: Number(d.toFixed(3)),
      tool: 'thread-60-coarse',
      relief: null,
      params: { thread: 'NPT1/2', length: 12, infeed: 'straight', output: 'cycle', depth: 1.3 },
    });
    const { op, passes } = threadOf(job);
    const blocking = op.findings.filter((f) => f.severity === 'blocking');
    expect(blocking).toEqual([]);
    const i = op.events.indexOf(passes[0]);
    const start = op.events[i - 1];
    const z = zOf(op.events, i);
    if (start.kind !== 'rapid') throw new Error('a pass begins after a rapid');
    const taper = ((passes[0].to.X ?? 0) - (start.to.X ?? 0)) / (z - (passes[0].to.Z ?? 0));
    expect(taper).toBeCloseTo(1 / 32, 6);
    expect(proved(job).agrees).toBe(true);
  });
});

/** Z of the programmed tip before an event. */
const zOf = (events: readonly MotionEvent[], index: number): number => {
  for (let k = index - 1; k >= 0; k--) {
    const e = events[k];
    if ((e.kind === 'rapid' || e.kind === 'feed' || e.kind === 'thread') && e.to.Z !== undefined) return e.to.Z;
  }
  throw new Error('nowhere');
};

describe('an inside thread', () => {
  const M30 = { bore: 28.376, tool: 'thread-bar-60-12', params: { thread: 'M30x1.5', length: 14 } } as const;
  it('of M30×1.5 goes 0.924 out from the minor diameter, and is proved as moves and as a cycle', () => {
    const { passes } = threadOf(insideThreadJob(M30));
    expect(serious(insideThreadJob(M30))).toEqual([]);
    expect(Math.max(...passes.map((p) => p.to.X ?? 0))).toBeCloseTo(28.376 / 2 + 0.924, 3);
    expect(passes[0].to.Z).toBeCloseTo(-14, 3);
    for (const output of ['moves', 'cycle']) {
      const job = insideThreadJob({ ...M30, params: { ...M30.params, output } });
      const proof = proved(job);
      expect(proof.channels.flatMap((c) => [...c.problems, ...c.differences])).toEqual([]);
      expect(proof.ok).toBe(true);
    }
  });
  it('is refused where the bore is too small or too large for it', () => {
    expect(serious(insideThreadJob({ ...M30, bore: 27.5 }))).toContain('attention thread-diameter');
    expect(serious(insideThreadJob({ ...M30, bore: 29 }))).toContain('attention thread-diameter');
  });
});

describe('an inside thread that goes through', () => {
  // the bore runs on 1 mm behind the part, in a hole of ⌀20: the insert, 3.6 wide, comes up against its wall
  const through = insideThreadJob({ bore: 28, tool: 'thread-bar-60-16', params: { thread: 'M30.165x2' }, speed: 300 });
  it('ends where the bar that is not bored yet would meet the insert, and says what would help', () => {
    const { passes, op } = threadOf(through);
    // the bar that bored it leans, and has left a tenth at the most between its passes
    for (const p of passes) expect(p.to.Z).toBeGreaterThanOrEqual(-31 + 1.8 - 1e-3);
    for (const p of passes) expect(p.to.Z).toBeLessThan(-31 + 1.8 + 0.1);
    const found = op.findings.find((f) => f.code === 'thread-behind');
    expect(found).toMatchObject({ severity: 'attention' });
    // it should run out one turn behind the part
    const missing = 30 + (passes[0].to.Z ?? 0);
    expect(missing).toBeGreaterThan(0.79);
    expect(found?.numbers).toMatchObject({
      missing: expect.closeTo(missing, 3),
      further: expect.closeTo(missing + 2, 3),
    });
  });
  it('is whole where drill and bar go so much further, which one button sets', () => {
    const remedy = threadOf(through).op.findings.find((f) => f.code === 'thread-behind')?.remedy;
    // 2.8 and what the bar has left, up to a tenth
    expect(remedy?.set).toEqual({
      '/operations/drill/params/breakThrough': 6.9,
      '/operations/bore/params/extendBehind': 3.9,
      '/operations/finish/params/extendBehind': 3.9,
    });
    const cured = withValues(structuredClone(through), remedy?.set ?? {});
    expect(serious(cured)).toEqual([]);
    for (const p of threadOf(cured).passes) expect(p.to.Z).toBeCloseTo(-32, 3);
    expect(proved(cured).ok).toBe(true);
  });
});

describe('an inside thread that begins behind', () => {
  it('has no room to run in where the bar there is not bored: not a rapid into metal', () => {
    const left = insideThreadJob({
      bore: 28,
      tool: 'thread-bar-60-16',
      params: { thread: 'M30.165x2', hand: 'left' },
      speed: 300,
    });
    expect(serious(left)).toEqual(['blocking thread-run-in']);
    expect(threadOf(left).passes).toEqual([]);
  });
});

describe('an outside thread to the back of the part', () => {
  it('does not run into the bar behind it', () => {
    // nothing is turned behind the part, and the bar is 12 wider
    const stud = (behind: number): Job =>
      threadedJob({ ...M16, relief: null }, (j) => {
        j.part.outer.rows = j.part.outer.rows.slice(0, 2).concat([{ ...j.part.outer.rows[1], id: 'z', diameter: 0 }]);
        for (const id of ['rough', 'finish']) Object.assign(j.operations[id].params, { extendBehind: behind });
      });
    expect(serious(stud(0))).toContain('attention thread-behind');
    for (const p of threadOf(stud(0)).passes) expect(p.to.Z).toBeGreaterThan(-24);
    expect(serious(stud(5))).toEqual([]);
    for (const p of threadOf(stud(5)).passes) expect(p.to.Z).toBeCloseTo(-25.5, 3);
  });
});

describe('threads that cannot be', () => {
  it.each<[string, Parameters<typeof threadedJob>[0], string]>([
    ['no name', { ...M16, params: {} }, 'blocking thread-unknown'],
    ['a name that is none', { ...M16, params: { thread: 'M16y' } }, 'blocking thread-unknown'],
    ['an insert of other flanks', { ...M16, tool: 'thread-55' }, 'blocking thread-flanks'],
    ['a pitch that the insert does not cut', { ...M16, params: { thread: 'M16' } }, 'blocking thread-pitch'],
    ['another diameter', { ...M16, diameter: 17 }, 'attention thread-diameter'],
    ['a depth of one’s own', { ...M16, params: { thread: 'M16x1.5', depth: 0.8 } }, 'attention thread-depth'],
    [
      'more speed than the slide has',
      { ...M16, speed: 3900, params: { thread: 'M16x1.5', starts: 8 } },
      'blocking thread-too-fast',
    ],
    ['too short a run-in', { ...M16, params: { thread: 'M16x1.5', runIn: 0.3 } }, 'attention thread-run-in-short'],
    [
      'more run-out than the relief has',
      { ...M16, params: { thread: 'M16x1.5', runOut: 6 } },
      'attention thread-run-out',
    ],
    ['a shoulder and no relief', { ...M16, relief: null }, 'attention thread-short'],
    [
      'no room to run in from behind',
      { ...M16, params: { thread: 'M16x1.5', hand: 'left' }, relief: { diameter: 13, width: 2 } },
      'blocking thread-run-in',
    ],
    ['an impossible number of starts', { ...M16, params: { thread: 'M16x1.5', starts: 2.5 } }, 'blocking bad-number'],
    [
      'least depths without end',
      { ...M16, params: { thread: 'M16x1.5', least: 0.005, first: 0.005, mode: 'fixed' } },
      '',
    ],
  ])('%s', (_name, p, code) => {
    const job = threadedJob(p);
    if (code) expect(serious(job)).toContain(code);
    // what is told never gouges
    expect(told(job)).not.toContain('blocking gouge');
    expect(told(job)).not.toContain('blocking internal');
  });
  it('constant surface speed is refused, with the speed that cures it', () => {
    const job = threadedJob(M16, (j) => {
      const op = j.operations.thread;
      if ('cutting' in op) op.cutting.speed = { mode: 'surface', value: 130, clamp: null };
    });
    const found = threadOf(job).op.findings.find((f) => f.code === 'thread-needs-speed');
    expect(found?.remedy?.set['/operations/thread/cutting/speed']).toEqual({ mode: 'fixed', value: 2586 });
  });
});

describe('random outside threads', () => {
  it('never gouge, never run a rapid through metal, and are read back as they were planned', () => {
    const made = fc.record({
      size: fc.constantFrom('M12x1.25', 'M16x1.5', 'M20x1.5', 'M24x2', 'M20', 'M30', '3/4-10', '1/2-13'),
      reliefWidth: fc.double({ min: 2, max: 9, noNaN: true }),
      reliefDepth: fc.double({ min: 1, max: 2.4, noNaN: true }),
      relief: fc.boolean(),
      infeed: fc.constantFrom('straight', 'flank', 'alternating'),
      hand: fc.constantFrom('right', 'right', 'left'),
      speed: fc.integer({ min: 200, max: 1500 }),
      length: fc.option(fc.double({ min: 3, max: 15, noNaN: true }), { nil: null }),
      output: fc.constantFrom('moves', 'cycle'),
      dialect: fc.constantFrom('tarn-1', 'tarn-2'),
      finish: fc.constantFrom(0, 0.03),
      starts: fc.constantFrom(1, 1, 2),
    });
    const seed = Number(process.env.PROPERTY_SEED ?? Date.now() % 1_000_000);
    let cut = 0;
    fc.assert(
      fc.property(made, (p) => {
        const major = {
          'M12x1.25': 12,
          'M16x1.5': 16,
          'M20x1.5': 20,
          M24x2: 24,
          M20: 20,
          M30: 30,
          '3/4-10': 19.05,
          '1/2-13': 12.7,
        }[p.size] as number;
        const coarse = ['M24x2', 'M20', 'M30', '3/4-10', '1/2-13'].includes(p.size);
        const job = threadedJob({
          diameter: major,
          tool: coarse ? 'thread-60-coarse' : 'thread-60-fine',
          relief: p.relief ? { diameter: major - 2 * p.reliefDepth, width: p.reliefWidth } : null,
          dialect: p.dialect,
          speed: p.speed,
          params: {
            thread: p.size,
            infeed: p.infeed,
            hand: p.hand,
            length: p.length,
            output: p.output,
            finish: p.finish,
            starts: p.starts,
          },
        });
        const { op, passes, d } = threadOf(job);
        const codes = op.findings.filter((f) => f.severity === 'blocking').map((f) => f.code);
        for (const c of codes)
          expect(['thread-run-in', 'thread-pitch', 'thread-too-fast', 'thread-unknown']).toContain(c);
        if (passes.length === 0) return;
        cut++;
        const proof = proveJob(job, d, postJob(job, d, '').map(programText));
        const problems = proof.channels.flatMap((c) => [...c.problems, ...c.differences]);
        if (problems.length > 0 || proof.maxDeviation > 0.001)
          throw new Error(
            `seed ${seed}: ${JSON.stringify(p)} ${JSON.stringify(problems.slice(0, 2))} ${proof.maxDeviation}`,
          );
      }),
      { numRuns: Number(process.env.PROPERTY_CASES ?? 120), seed },
    );
    expect(cut).toBeGreaterThan(10);
  });
});
