import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { lineRow } from '../../../tests/fixtures/jobs';
import { operation, tool, turnedJob } from '../../../tests/fixtures/turned';
import { postJob, programText, proveJob } from '../nc';
import { derive, type Job } from '../plan';
import { ToolSchema } from '../tooling';

/** Taps and centre drills of random sizes: posted, read back, and held against numbers worked out here from their sizes. */

const CASES = Number(process.env.PROPERTY_CASES ?? 120);
const seed = Number(process.env.PROPERTY_SEED ?? 1 + Math.floor(Math.random() * 1e6));
const tenth = (least: number, most: number) =>
  fc.integer({ min: Math.round(least * 10), max: Math.round(most * 10) }).map((v) => v / 10);
const DIALECTS = fc.constantFrom('tarn-1', 'tarn-2', 'tarn-5');

const SIZES = [
  [3, 0.5],
  [5, 0.8],
  [8, 1.25],
  [10, 1.5],
  [12, 1.75],
  [16, 2],
  [20, 2.5],
].map(([nominal, pitch]) => ({ nominal, pitch }));

const proved = (job: Job) => {
  const d = derive(job);
  const bad = d.findings.filter((f) => f.severity === 'blocking').map((f) => `${f.operation} ${f.code}`);
  const proof = proveJob(job, d, postJob(job, d, '').map(programText));
  const problems = proof.channels.flatMap((c) => [...c.problems, ...c.differences]);
  return { d, bad, proof, problems };
};
const op = (d: ReturnType<typeof derive>, id: string) => {
  const found = d.operations.find((o) => o.id === id);
  if (!found) throw new Error(`no ${id}`);
  return found;
};

describe('taps', () => {
  const SAYS = fc.record({
    size: fc.constantFrom(...SIZES),
    through: fc.boolean(),
    full: tenth(6, 24),
    under: tenth(0, 8),
    chamfer: fc.constantFrom(1.5, 2.5, 4),
    hand: fc.constantFrom('right' as const, 'left' as const),
    chuck: fc.constantFrom('rigid' as const, 'floating' as const),
    share: fc.integer({ min: 92, max: 99 }),
    output: fc.constantFrom('moves' as const, 'cycle' as const),
    speed: fc.integer({ min: 100, max: 1200 }),
    dialect: DIALECTS,
  });
  it(`go as deep as they say in step with the spindle, and what has no room is refused (${CASES} cases from seed ${seed})`, () => {
    let made = 0;
    fc.assert(
      fc.property(SAYS, (p) => {
        const { nominal, pitch } = p.size;
        const hole = nominal - pitch;
        const length = p.through ? 40 : 60;
        // the drill's cone ends so far below the tap that it has room, or not
        const deep = p.full + p.chamfer * pitch + p.under;
        const cone = hole / 2 / Math.tan((70 * Math.PI) / 180);
        const job = turnedJob({
          start: hole,
          outer: [lineRow('a', 40, 0), lineRow('b', 40, -length), lineRow('c', p.through ? hole : 0, -length)],
          inner: p.through ? [lineRow('i', hole, -length)] : [lineRow('i', hole, -deep), lineRow('k', 0, -deep - cone)],
          bar: 40,
          length,
          frontAllowance: 0,
          tools: [
            tool({ id: 'drill', kind: 'drill', diameter: hole, pointAngle: 140, fluteLength: 90, overhang: 110 }),
            ToolSchema.parse({
              id: 'tap',
              name: 'tap',
              kind: 'tap',
              stickOut: 100,
              cutter: { kind: 'tap', thread: `M${nominal}x${pitch}`, chamfer: p.chamfer, threadLength: 80 },
              holder: { kind: 'sleeve', diameter: 20, length: 30 },
            }),
          ],
          operations: [
            operation({
              id: 'drill',
              kind: 'drill',
              tool: 'drill',
              cutting: { speed: { mode: 'fixed', value: 1500 }, feed: 0.1 },
              params: {
                depth: p.through ? null : deep,
                depthTo: 'full-diameter',
                breakThrough: (p.chamfer + 2) * pitch,
              },
            }),
            operation({
              id: 'tap',
              kind: 'tap',
              tool: 'tap',
              cutting: { speed: { mode: 'fixed', value: p.speed }, feed: 0.1 },
              params: {
                depth: p.through ? null : p.full,
                hand: p.hand,
                chuck: p.chuck,
                feedShare: p.share,
                output: p.output,
              },
            }),
          ],
        });
        job.machine.dialect = p.dialect;
        const { d, bad, proof, problems } = proved(job);
        const tap = op(d, 'tap');
        // below the tap half a pitch has to stay over the cone, measured at the core of the thread
        const room = p.through || p.under >= 0.5 * pitch;
        if (!room && bad.length > 0) {
          expect(bad).toEqual(['tap tap-no-room']);
          expect(tap.events).toEqual([]);
          return;
        }
        expect(bad).toEqual([]);
        made++;
        const passes = tap.events.flatMap((e) => (e.kind === 'thread' ? [e] : []));
        expect(passes.length).toBe(2);
        const share = p.chuck === 'floating' ? p.share / 100 : 1;
        for (const pass of passes) expect(pass.lead).toBeCloseTo(pitch * share, 6);
        const bottom = p.through ? length + p.chamfer * pitch + pitch : p.full + p.chamfer * pitch;
        const start = passes[1].to.Z ?? Number.NaN;
        expect(start).toBeGreaterThanOrEqual(2 * pitch);
        // a floating chuck gives the rest of the way
        expect(passes[0].to.Z).toBeCloseTo(start - (start + bottom) * share, 2);
        const turns = tap.events.flatMap((e) => (e.kind === 'spindle' ? [e.direction] : []));
        expect(turns).toEqual(
          p.hand === 'right' ? ['forward', 'reverse', 'forward'] : ['reverse', 'forward', 'reverse'],
        );
        // as many turns in as out, none quicker than the spindle
        const turned = (start + bottom) / pitch;
        expect(tap.times.cutting).toBeGreaterThan((2 * turned) / (p.speed / 60) - 0.01);
        expect(problems).toEqual([]);
        expect(proof.agrees).toBe(true);
      }),
      { numRuns: CASES, seed },
    );
    expect(made).toBeGreaterThan(CASES / 2);
  });
});

describe('centre drills', () => {
  const SAYS = fc.record({
    pilot: fc.constantFrom(1, 1.6, 2, 2.5, 3.15, 4),
    widen: fc.double({ min: 0.2, max: 1, noNaN: true }),
    allowance: tenth(0, 2),
    dwell: fc.oneof(fc.constant(0), tenth(0.1, 1)),
    dialect: DIALECTS,
  });
  it(`make a 60° seat of the mouth that is asked for, and take off what that is (${CASES} cases from seed ${seed})`, () => {
    fc.assert(
      fc.property(SAYS, (p) => {
        const [d1, body, pilotLength] = [p.pilot, 2.5 * p.pilot, 1.2 * p.pilot];
        const mouth = Math.floor((d1 + (body - d1) * p.widen) * 100) / 100;
        const seat = (mouth - d1) / 2 / Math.tan(Math.PI / 6);
        const point = d1 / 2 / Math.tan((59 * Math.PI) / 180);
        const depth = seat + pilotLength;
        const job = turnedJob({
          start: mouth,
          outer: [lineRow('a', 30, 0), lineRow('b', 30, -30), lineRow('c', 0, -30)],
          inner: [lineRow('i', d1, -seat), lineRow('j', d1, -(depth - point)), lineRow('k', 0, -depth)],
          bar: 30,
          length: 30,
          frontAllowance: 0,
          tools: [
            ToolSchema.parse({
              id: 'centre',
              name: 'centre drill',
              kind: 'centring',
              cutter: { kind: 'centre-drill', pilot: d1, pilotLength, body },
              holder: { kind: 'sleeve', diameter: 20, length: 30 },
              stickOut: depth + 20,
            }),
          ],
          operations: [
            operation({
              id: 'centre',
              kind: 'centre',
              tool: 'centre',
              cutting: { speed: { mode: 'fixed', value: 2000 }, feed: 0.04 },
              params: { mouth, dwell: p.dwell },
            }),
          ],
        });
        job.machine.dialect = p.dialect;
        const { d, bad, proof, problems } = proved(job);
        expect(d.part.problems).toEqual([]);
        expect(bad).toEqual([]);
        // point, pilot and the frustum of the seat
        const [r, R] = [d1 / 2, mouth / 2];
        const volume =
          (Math.PI * r * r * point) / 3 +
          Math.PI * r * r * (pilotLength - point) +
          (Math.PI * seat * (R * R + R * r + r * r)) / 3;
        expect(op(d, 'centre').removed).toBeGreaterThan(volume * 0.998 - 0.01);
        expect(op(d, 'centre').removed).toBeLessThan(volume * 1.002 + 0.01);
        expect(problems).toEqual([]);
        expect(proof.agrees).toBe(true);
      }),
      { numRuns: CASES, seed },
    );
  });
});
