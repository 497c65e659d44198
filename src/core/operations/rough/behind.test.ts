import { describe, expect, it } from 'vitest';
import { lineRow, shopTool } from '../../../../tests/fixtures/jobs';
import { seeded } from '../../../../tests/fixtures/random';
import { rasterOf, rasterStock } from '../../../../tests/fixtures/raster';
import { operation, tool, turnedJob } from '../../../../tests/fixtures/turned';
import { wordFinding } from '../../findings';
import { type Region, rectangle } from '../../geometry';
import { movesOf } from '../../motion';
import { postJob, programText, proveJob } from '../../nc';
import { type Derived, derive, type Job, rawStockOf } from '../../plan';
import type { Tool } from '../../tooling';
import { slotBehind } from '../behind';

interface Sizes {
  readonly collar: number;
  readonly neck: number;
  /** Length of the collar, of the metal behind it, and of the slot that a blade opens behind that. */
  readonly front: number;
  readonly metal: number;
  readonly slot: number;
  /** Radius by which the collar's back face leans or is rounded toward the neck. */
  readonly foot: number;
}

const USUAL: Sizes = { collar: 60, neck: 44, front: 12, metal: 10, slot: 53, foot: 0 };
const BY_HAND = { speed: { mode: 'surface', value: 150 }, feed: 0.2 };

/** A collar with metal behind it, and a slot behind that metal; then roughed along X from behind. */
const collared = (own: Tool, params: object, s: Sizes = USUAL, corner: 'fillet' | 'chamfer' = 'fillet'): Job => {
  const back = -s.front - s.metal - s.slot;
  return turnedJob({
    outer: [
      lineRow('a', s.collar, 0),
      lineRow('b', s.collar, -s.front),
      { ...lineRow('c', s.neck, -s.front), corner: s.foot > 0 ? { kind: corner, size: s.foot } : null },
      lineRow('d', s.neck, -s.front - s.metal),
      lineRow('s', s.neck, back),
      lineRow('e', s.collar, back),
      lineRow('f', s.collar, back - 15),
      lineRow('g', 0, back - 15),
    ],
    bar: s.collar + 2,
    length: 15 - back,
    tools: [shopTool('face-rough-80'), shopTool('groove-3'), own],
    operations: [
      operation({ id: 'face', kind: 'face', tool: 'face-rough-80', cutting: BY_HAND, params: { depth: 1 } }),
      operation({
        id: 'skin',
        kind: 'outer-rough',
        tool: 'face-rough-80',
        cutting: BY_HAND,
        params: { depth: 2, undercuts: 'bridge' },
      }),
      operation({
        id: 'slot',
        kind: 'outer-groove',
        tool: 'groove-3',
        span: { from: 's', to: 'e' },
        cutting: { ...BY_HAND, feed: 0.1 },
        params: {},
      }),
      operation({
        id: 'behind',
        kind: 'outer-rough',
        tool: own.id,
        span: { from: 'c', to: 'c' },
        cutting: BY_HAND,
        params: { depth: 2, allowanceX: 0.4, allowanceZ: 0.1, undercuts: 'enter', along: 'x', ...params },
      }),
    ],
  });
};

const of = (d: Derived, id: string) => d.operations.find((o) => o.id === id);
const blocking = (d: Derived): string[] =>
  d.findings.filter((f) => f.severity === 'blocking').map((f) => `${f.operation} ${f.code}`);

describe('a slot behind a face', () => {
  // ⌀60, and from Z −22 to −75 a slot of ⌀44 before ⌀60 again
  const bar: Region = [...rectangle(-90, 0, -75, 30), ...rectangle(-75, 0, -22, 22), ...rectangle(-22, 0, 0, 30)];
  const one: Region = [
    [
      { x: 0, y: 0 },
      { x: 0, y: 30 },
      { x: -22, y: 30 },
      { x: -22, y: 22 },
      { x: -75, y: 22 },
      { x: -75, y: 30 },
      { x: -90, y: 30 },
      { x: -90, y: 0 },
    ],
  ];
  it('ends at the first wall that is higher than its floor', () => {
    expect(slotBehind(one, -12, 30)).toEqual({ wall: -75, floor: 22 });
    expect(slotBehind(bar, -12, 30)?.wall).toBe(-75);
  });
  it('ends with the work where there is no wall, and is none where the work stands as high all the way', () => {
    expect(slotBehind([...rectangle(-60, 0, -22, 22), ...rectangle(-22, 0, 0, 30)], -12, 30)?.wall).toBe(-60);
    expect(slotBehind(rectangle(-60, 0, 0, 30), -12, 30)).toBeNull();
    // what is only a little lower is no slot
    expect(slotBehind([...rectangle(-60, 0, -22, 29.8), ...rectangle(-22, 0, 0, 30)], -12, 30)).toBeNull();
  });
  it('with a floor that rises ends where it is lowest', () => {
    const rising: Region = [
      [
        { x: -22, y: 0 },
        { x: -22, y: 20 },
        { x: -60, y: 28 },
        { x: -60, y: 0 },
      ],
    ];
    expect(slotBehind(rising, -20, 30)?.floor).toBeCloseTo(20, 6);
    expect(slotBehind(rising, -20, 30)?.wall).toBeCloseTo(-22, 6);
  });
});

describe('roughing along X from behind a collar', () => {
  it('goes level by level toward the collar, worked by hand', () => {
    const d = derive(collared(shopTool('face-rough-80-left'), {}));
    expect(blocking(d)).toEqual([]);
    const behind = of(d, 'behind');
    const passes = movesOf(behind?.events ?? []).filter(
      (m) => m.event.kind === 'feed' && m.event.purpose === 'cut' && m.to.X < m.from.X - 3,
    );
    // 10 long, as deep as the nose comes beside the rim: five of 2 toward the axis, the last one 0.1 behind the face
    expect(passes.map((m) => Math.round(m.to.Z * 100) / 100)).toEqual([-20, -18, -16, -14, -12.1]);
    // the first ends at the neck with half the allowance on diameter; others where the insert's own flank meets the face
    expect(passes[0].to.X).toBeCloseTo(22.2, 4);
    for (const m of passes) expect(m.to.X).toBeGreaterThan(22.2 - 1e-6);
  });
  it('is refused without a slot, and where the tool has no room in it', () => {
    const solid = collared(shopTool('face-rough-80-left'), {});
    solid.order['1'] = solid.order['1'].filter((id) => id !== 'slot');
    delete solid.operations.slot;
    expect(blocking(derive(solid))).toEqual(['behind no-slot-behind']);
    const narrow = derive(collared(shopTool('face-rough-80-left'), {}, { ...USUAL, slot: 6 }));
    expect(blocking(narrow)).toEqual(['behind slot-too-narrow']);
    const missing = of(narrow, 'behind')?.findings[0];
    expect(missing && wordFinding(missing).remedy).toContain('Widen the slot');
    expect(of(narrow, 'behind')?.events).toEqual([]);
  });
  it('stops at a limit on diameter and at limits along Z', () => {
    const low = (d: Derived): number =>
      movesOf(of(d, 'behind')?.events ?? []).reduce((x, m) => Math.min(x, m.event.kind === 'feed' ? m.to.X : x), 99);
    const to = derive(collared(shopTool('face-rough-80-left'), { diameterLimit: 50 }));
    expect(blocking(to)).toEqual([]);
    expect(low(to)).toBeCloseTo(25, 6);
    const fore = derive(collared(shopTool('face-rough-80-left'), { frontLimit: -15 }));
    const most = movesOf(of(fore, 'behind')?.events ?? []).reduce(
      (z, m) => Math.max(z, m.event.kind === 'feed' ? m.to.Z : z),
      -99,
    );
    expect(most).toBeCloseTo(-15, 6);
  });
});

const CASES = Math.max(20, Math.round(Number(process.env.PROPERTY_CASES ?? 120) / 3));
const FIRST = Number(process.env.PROPERTY_SEED ?? 1 + Math.floor(Math.random() * 1e6));
const INSERTS = [
  ['CNMG120408', 95],
  ['DCMT11T304', 93],
  ['VBMT160404', 93],
  ['WNMG080408', 95],
  ['TNMG160404', 91],
  ['RCMT0803M0', 90],
  ['DCMT11T308', 107],
] as const;

/** Roughs one random collar from behind, and looks at it; tells whether anything was cut. */
const roughed = (seed: number): boolean => {
  const random = seeded(seed);
  const pick = <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)];
  const between = (low: number, high: number): number => Math.round((low + random() * (high - low)) * 100) / 100;
  const collar = between(40, 80);
  const neck = between(collar - 32, collar - 3);
  const sizes: Sizes = {
    collar,
    neck,
    front: between(3, 15),
    metal: between(0.5, 14),
    slot: between(8, 60),
    foot: pick([0, 0, between(0.3, Math.min(2, (collar - neck) / 3))]),
  };
  const [insert, approachAngle] = pick(INSERTS);
  const own = tool({ id: 'own', kind: 'turning', insert, approachAngle, hand: 'left', overhang: 60 });
  const params = {
    depth: between(0.5, 3),
    allowanceX: between(0, 1),
    allowanceZ: between(0, 0.3),
    undercuts: pick(['enter', 'bridge']),
    passes: pick(['equal', 'full', 'falling']),
    output: pick(['moves', 'cycle']),
  };
  const job = collared(own, params, sizes, pick(['fillet', 'chamfer']));
  job.machine = { ...job.machine, dialect: pick(['tarn-1', 'tarn-2', 'tarn-5']) };
  const d = derive(job);
  const what = JSON.stringify({ seed, sizes, insert, approachAngle, params });
  const found = d.findings.filter((f) => f.severity === 'blocking' && f.operation === 'behind').map((f) => f.code);
  // a tool that has no room in the slot, and metal that cannot be come to
  for (const code of found) expect(['slot-too-narrow', 'not-approachable'], what).toContain(code);
  if (found.length > 0 || (of(d, 'behind')?.events.length ?? 0) === 0 || blocking(d).length > 0) return false;
  const proof = proveJob(job, d, postJob(job, d, '').map(programText));
  expect(proof.agrees, what).toBe(true);
  if (seed % 8 !== 0) return true;
  const raw = rawStockOf(d).turnedOutline;
  expect(rasterOf(d.finalStock.turnedOutline, raw).difference(rasterStock(d)), what).toBeLessThan(0.2);
  return true;
};

describe('roughing along X from behind any collar', () => {
  // one over the other, the fins that a leaning edge leaves: the highest is not forgotten for the next
  it('comes down beside every fin that stands', () => {
    expect(roughed(944547)).toBe(true);
  });
  it(`meets no wall, takes only what it may, and is proved (${CASES} cases from seed ${FIRST})`, {
    timeout: 600_000,
  }, () => {
    const seeds = Array.from({ length: CASES }, (_, i) => FIRST + i);
    expect(seeds.filter(roughed).length).toBeGreaterThan(CASES / 4);
  });
});
