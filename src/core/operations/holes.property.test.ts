import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { lineRow } from '../../../tests/fixtures/jobs';
import { operation, tool, turnedJob } from '../../../tests/fixtures/turned';
import { postJob, programText, proveJob } from '../nc';
import { derive, type Job } from '../plan';
import { ToolSchema } from '../tooling';

/** Holes on the axis, whatever their sizes and however they are drilled: posted, read back, and held against closed forms. */

const CASES = Number(process.env.PROPERTY_CASES ?? 120);
const seed = Number(process.env.PROPERTY_SEED ?? 1 + Math.floor(Math.random() * 1e6));

const hundredth = (least: number, most: number) =>
  fc.integer({ min: Math.round(least * 100), max: Math.round(most * 100) }).map((v) => v / 100);

interface Say {
  readonly drill: number;
  readonly point: number;
  readonly length: number;
  readonly through: boolean;
  readonly share: number;
  readonly to: 'point' | 'full-diameter';
  readonly more: number;
  readonly peck: number;
  readonly chips: 'clear' | 'break';
  readonly back: number;
  readonly keep: number;
  readonly dwell: number;
  readonly output: 'moves' | 'cycle';
  readonly safe: number;
  readonly next: 'nothing' | 'ream' | 'bore';
}

const SAYS = fc.record({
  drill: hundredth(3, 16),
  point: fc.constantFrom(90, 118, 130, 140, 179),
  length: hundredth(15, 45),
  through: fc.boolean(),
  share: hundredth(0.2, 0.7),
  to: fc.constantFrom('point' as const, 'full-diameter' as const),
  more: hundredth(0.5, 4),
  peck: fc.oneof(fc.constant(0), hundredth(0.5, 8)),
  chips: fc.constantFrom('clear' as const, 'break' as const),
  back: hundredth(0.2, 1),
  keep: fc.integer({ min: 50, max: 100 }),
  dwell: fc.oneof(fc.constant(0), hundredth(0.1, 2)),
  output: fc.constantFrom('moves' as const, 'cycle' as const),
  safe: hundredth(0.5, 3),
  next: fc.constantFrom('nothing' as const, 'ream' as const, 'bore' as const),
});

const tip = (p: Pick<Say, 'drill' | 'point'>): number => p.drill / 2 / Math.tan((p.point * Math.PI) / 360);
const depthOf = (p: Say): number => Math.round(p.length * p.share * 100) / 100;

/** The sizes of a hole: where full diameter and point of the drill end, from the front. */
const drilled = (p: Say): { full: number; end: number } => {
  if (p.through) return { full: p.length + p.more, end: p.length + p.more + tip(p) };
  const asked = depthOf(p);
  return p.to === 'point' ? { full: asked - tip(p), end: asked } : { full: asked, end: asked + tip(p) };
};

const holeJob = (p: Say): { job: Job; finish: number } => {
  const { full, end } = drilled(p);
  const reamed = Math.round((p.drill + 0.2) * 100) / 100;
  const widened = p.next === 'ream' ? reamed : p.next === 'bore' ? p.drill + 1 : p.drill;
  // what follows stays above the drill's cone, and its own chamfer or nose too
  const deep = p.through ? p.length : Math.max(1, Math.round((full - 3) * 100) / 100);
  const rows =
    p.next === 'nothing'
      ? [lineRow('i1', p.drill, p.through ? -p.length : -Math.max(full, 0.001))]
      : [
          lineRow('i1', widened, -deep),
          ...(p.through
            ? []
            : [
                // a reamer's chamfer leaves a slope of 45°, a bar a wall
                lineRow('i2', p.drill, p.next === 'ream' ? -(deep + (widened - p.drill) / 2) : -deep),
                lineRow('i3', p.drill, -full),
              ]),
        ];
  const inner = p.through ? rows : [...rows, lineRow('tip', 0, -end)];
  const start = widened;
  const params: Record<string, unknown> = {
    depth: p.through ? null : depthOf(p),
    depthTo: p.to,
    breakThrough: p.more,
    peck: p.peck,
    chips: p.chips,
    back: p.back,
    keep: p.keep,
    dwell: p.dwell,
    output: p.output,
  };
  const following = {
    nothing: [],
    ream: [
      operation({
        id: 'next',
        kind: 'ream',
        tool: 'next',
        cutting: { speed: { mode: 'fixed', value: 400 }, feed: 0.1 },
        params: { depth: p.through ? null : deep, breakThrough: Math.max(0, p.more - 0.2), dwell: p.dwell },
      }),
    ],
    bore: [
      operation({
        id: 'next',
        kind: 'inner-finish',
        tool: 'next',
        cutting: { speed: { mode: 'fixed', value: 900 }, feed: 0.08 },
        span: { from: 'i1', to: 'i1' },
        params: { compensation: p.output === 'cycle' ? 'control' : 'computed' },
      }),
    ],
  }[p.next];
  const tools = {
    nothing: [],
    ream: [
      ToolSchema.parse({
        id: 'next',
        name: 'reamer',
        kind: 'reamer',
        stickOut: 100,
        cutter: {
          kind: 'reamer',
          diameter: reamed,
          chamfer: (reamed - p.drill) / 2,
          fluteLength: 80,
          material: 'carbide',
        },
        holder: { kind: 'sleeve', diameter: 20, length: 30 },
      }),
    ],
    bore: [
      tool({
        id: 'next',
        kind: 'boring',
        bar: 'carbide',
        insert: 'CCMT060202',
        approachAngle: 95,
        barDiameter: Math.max(2, p.drill * 0.55),
        noseToAxis: Math.max(1.2, p.drill * 0.32),
        overhang: 60,
      }),
    ],
  }[p.next];
  const job = turnedJob({
    start,
    outer: [lineRow('o1', 50, 0), lineRow('o2', 50, -p.length), lineRow('o3', p.through ? widened : 0, -p.length)],
    inner,
    bar: 50,
    length: p.length,
    safeDistance: p.safe,
    frontAllowance: 0,
    tools: [
      tool({ id: 'drill', kind: 'drill', diameter: p.drill, pointAngle: p.point, fluteLength: 90, overhang: 110 }),
      ...tools,
    ],
    operations: [
      operation({
        id: 'drill',
        kind: 'drill',
        tool: 'drill',
        cutting: { speed: { mode: 'fixed', value: 1200 }, feed: 0.1 },
        params,
      }),
      ...following,
    ],
  });
  return { job, finish: deep };
};

describe('holes on the axis', () => {
  it(`take off what they say, and their text is the plan (${CASES} cases from seed ${seed})`, {
    timeout: 300_000,
  }, () => {
    let made = 0;
    fc.assert(
      fc.property(SAYS, (p) => {
        const { full, end } = drilled(p);
        if (!p.through && (full < 4 || end > p.length - 0.5)) return;
        if (p.next === 'bore' && p.drill < 9) return;
        const { job, finish } = holeJob(p);
        const d = derive(job);
        const bad = d.findings.filter((f) => f.severity === 'blocking');
        if (bad.length > 0 || d.part.problems.length > 0)
          throw new Error(
            `${bad.map((f) => `${f.operation} ${f.code} ${JSON.stringify(f.numbers)}`).join('; ')} ${JSON.stringify(d.part.problems)}`,
          );
        const proof = proveJob(job, d, postJob(job, d, '').map(programText));
        const problems = proof.channels.flatMap((c) => [...c.problems, ...c.differences]);
        if (!proof.agrees)
          throw new Error(`not the plan: ${proof.maxDeviation} ${JSON.stringify(problems.slice(0, 2))}`);
        // a cylinder with the drill's cone at its end
        const r = p.drill / 2;
        const volume = Math.PI * r * r * full + (Math.PI * r * r * tip(p)) / 3;
        const [drill, after] = d.operations;
        if (Math.abs(drill.removed - volume) > 0.002 * volume + 0.05)
          throw new Error(`the drill takes ${drill.removed} mm³, not ${volume}`);
        made++;
        if (!after) return;
        const R = p.next === 'ream' ? Math.round((p.drill + 0.2) * 100) / 200 : r + 0.5;
        // a bar runs on by 1, as far as the hole goes
        const on = p.next === 'ream' ? Math.max(0, p.more - 0.2) : Math.min(1, p.more + tip(p) / 2);
        const deep = p.through ? p.length + on : finish;
        const ring = Math.PI * (R * R - r * r) * deep;
        // the chamfer of a reamer goes further; the nose of a bar leaves its fillet
        if (Math.abs(after.removed - ring) > 0.02 * ring + Math.PI * R * 0.3)
          throw new Error(`${p.next} takes ${after.removed} mm³, not about ${ring}`);
      }),
      { numRuns: CASES, seed },
    );
    expect(made).toBeGreaterThan(CASES / 4);
  });
});
