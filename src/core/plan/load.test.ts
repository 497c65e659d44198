import { describe, expect, it } from 'vitest';
import { oneGroove } from '../../../tests/fixtures/grooves';
import { holdingOf } from '../../../tests/fixtures/holding';
import { demoJob } from '../../../tests/fixtures/jobs';
import { type Region, rectangle, unionRegions } from '../geometry';
import type { MotionEvent } from '../motion';
import { type CuttingOperation, isCutting, OperationSchema } from '../operations';
import { coverageOf } from './coverage';
import { derive, rawStockOf } from './derive';
import type { Job } from './document';
import { loadFindings, loadOf, roughnessFinding } from './load';
import { resolveOperation } from './references';

const job = demoJob('LM-101');
const source = Object.values(job.operations).find(
  (o): o is CuttingOperation => isCutting(o) && o.kind === 'outer-rough',
);
if (!source) throw new Error('LM-101 is roughed');

const withSpeed = (speed: object, feed = 0.25): CuttingOperation =>
  OperationSchema.parse({ ...source, cutting: { speed, feed, coolant: true } }) as CuttingOperation;

const resolved = (op: CuttingOperation, of: Job = job) => {
  const r = resolveOperation(of, op, op.channel, derive(of).holdings[0]);
  if (!r.resolved) throw new Error(r.findings.map((f) => f.code).join());
  return r.resolved;
};
/** A cut along ⌀40 and one along ⌀20. */
const events: MotionEvent[] = [40, 20].flatMap((d): MotionEvent[] => [
  { op: 'a', purpose: 'approach', kind: 'rapid', to: { X: d / 2, Z: 2 } },
  { op: 'a', purpose: 'cut', kind: 'feed', to: { X: d / 2, Z: -20 }, feed: { mode: 'perRev', value: 0.25 } },
]);
const load = (op: CuttingOperation, depth: number, of: Job = job) => {
  const at = resolved(op, of);
  return loadOf(of, op, events, depth, at.tool, at.place);
};

describe('the load of a cut', () => {
  it('has the speeds of its largest and smallest diameter', () => {
    const l = load(withSpeed({ mode: 'surface', value: 200, clamp: null }), 2);
    expect(l?.diameterMax).toBe(40);
    expect(l?.diameterMin).toBe(20);
    expect(l?.speedMin).toBeCloseTo(200_000 / (Math.PI * 40), 6);
    expect(l?.speedMax).toBeCloseTo(
      Math.min(200_000 / (Math.PI * 20), holdingOf(job).maxSpeed, job.machine.spindles[0].maxSpeed),
      6,
    );
    const fixed = load(withSpeed({ mode: 'fixed', value: 1500 }), 2);
    expect(fixed?.speedMin).toBe(1500);
    expect(fixed?.speedMax).toBe(1500);
    expect(fixed?.clampedBelow).toBe(0);
  });
  it('is F = kc · a · f with kc = kc1.1 · h^−mc, and P = F · v / 60 over the efficiency', () => {
    const op = withSpeed({ mode: 'surface', value: 200, clamp: null });
    const at = resolved(op);
    const kappa = (at.tool as { holder: { approachAngle: number } }).holder.approachAngle;
    const h = 0.25 * Math.sin((kappa * Math.PI) / 180);
    const { kc11, mc } = job.material;
    const force = kc11 * h ** -mc * 2 * 0.25;
    const l = load(op, 2);
    expect(l?.chip).toBeCloseTo(h, 9);
    expect(l?.force).toBeCloseTo(force, 3);
    expect(l?.power).toBeCloseTo((force * 200) / 60_000 / job.machine.spindles[0].efficiency, 6);
    expect(l?.torque).toBeCloseTo((force * 0.04) / 2, 4);
  });
  it('grows with depth and is none where nothing is cut', () => {
    const op = withSpeed({ mode: 'surface', value: 200, clamp: null });
    expect(load(op, 4)?.force).toBeCloseTo(2 * (load(op, 2)?.force ?? 0), 6);
    const at = resolved(op);
    expect(loadOf(job, op, events.slice(0, 1), 2, at.tool, at.place)).toBeNull();
    expect(loadOf(job, op, [], 2, at.tool, at.place)).toBeNull();
  });
  it('over the spindle’s power is told with both numbers; within it is not', () => {
    const weak: Job = {
      ...job,
      machine: { ...job.machine, spindles: job.machine.spindles.map((s) => ({ ...s, power: 1 })) },
    };
    const op = withSpeed({ mode: 'surface', value: 200, clamp: null });
    const l = load(op, 3, weak);
    const told = loadFindings(op, l, resolved(op, weak).tool, weak.material).find((f) => f.code === 'power-over');
    expect(told?.numbers).toEqual({ power: l?.power, available: 1 });
    expect(loadFindings(op, load(op, 0.2), resolved(op).tool, job.material).map((f) => f.code)).not.toContain(
      'power-over',
    );
  });
  it('of a clamped speed says below which diameter, and what is reached there', () => {
    const op = withSpeed({ mode: 'surface', value: 200, clamp: 2000 });
    const told = loadFindings(op, load(op, 1), resolved(op).tool, job.material).find((f) => f.code === 'speed-clamp');
    // 200 m/min at 2000 rev/min: ⌀31.83; at ⌀20 only 125.7 m/min are left
    expect(told?.numbers).toMatchObject({ clamp: 2000 });
    const { diameter, reached } = (told as NonNullable<typeof told>).numbers as { diameter: number; reached: number };
    expect(diameter).toBeCloseTo(31.83, 2);
    expect(reached).toBeCloseTo(125.66, 2);
  });
});

describe('roughness against what is asked', () => {
  const finish = Object.values(job.operations).find(
    (o): o is CuttingOperation => isCutting(o) && o.kind === 'outer-finish',
  );
  if (!finish) throw new Error('LM-101 is finished');
  const tool = resolved(finish).tool;
  it('is told with a feed that reaches it, and the feed cures it', () => {
    const rough = { ...finish, cutting: { ...finish.cutting, feed: 0.3 } } as CuttingOperation;
    const [told] = roughnessFinding(rough, tool, 1.6);
    expect(told.code).toBe('too-rough');
    const { made, feed } = told.numbers as { made: number; feed: number };
    const nose = (tool as unknown as { cutter: { designation: string } }).cutter.designation.endsWith('04') ? 0.4 : 0.8;
    expect(made).toBeCloseTo((0.2566 * 1000 * 0.09) / (8 * nose), 3);
    const cured = { ...finish, cutting: { ...finish.cutting, feed } } as CuttingOperation;
    expect(roughnessFinding(cured, tool, 1.6)).toEqual([]);
    expect(
      roughnessFinding({ ...cured, cutting: { ...cured.cutting, feed: feed + 0.002 } } as CuttingOperation, tool, 1.6),
    ).toHaveLength(1);
  });
  it('is not asked of roughing, nor where nothing is asked', () => {
    expect(roughnessFinding(finish, tool, null)).toEqual([]);
    expect(
      roughnessFinding({ ...source, cutting: { ...source.cutting, feed: 0.5 } } as CuttingOperation, tool, 0.4),
    ).toEqual([]);
  });
});

describe('coverage', () => {
  const d = derive(job);
  it('of the raw bar is raw everywhere, of the finished part finished everywhere', () => {
    const raw = coverageOf(d.part, rawStockOf(d).turnedOutline, rawStockOf(d).turnedOutline, []);
    expect(raw.map((c) => c.element).sort()).toEqual(
      [...d.part.outer, ...d.part.inner, ...d.part.back].map((e) => e.id).sort(),
    );
    expect(new Set(raw.filter((c) => c.left > 1.5).map((c) => c.state))).toEqual(new Set(['raw']));
    const done = coverageOf(d.part, d.part.region, rawStockOf(d).turnedOutline, ['outer', 'inner']);
    for (const c of done) expect(c, c.element).toMatchObject({ state: 'finished', left: 0 });
  });
  it('tells what is left along the normal, and calls it roughed before finishing and leftover after', () => {
    const side = d.part.outer.find(
      (e) => e.curve.kind === 'line' && e.curve.from.y === e.curve.to.y && e.curve.from.y > 5,
    );
    if (!side) throw new Error('LM-101 has a cylinder');
    const grown = d.part.region.map((ring) => ring.map((p) => ({ x: p.x, y: p.y > 0.5 ? p.y + 0.3 : p.y })));
    const left = (finished: string[]) =>
      coverageOf(d.part, grown, rawStockOf(d).turnedOutline, finished).find((c) => c.element === side.id);
    expect(left([])).toMatchObject({ state: 'roughed' });
    expect(left([])?.left).toBeCloseTo(0.3, 2);
    expect(left(['outer'])).toMatchObject({ state: 'leftover' });
  });
  it('of a wall reaches as far as the part’s next wall, and no further than air', () => {
    const grooved = derive(oneGroove(3));
    const { part } = grooved;
    const wall = (stock: Region) =>
      coverageOf(part, stock, rawStockOf(grooved).turnedOutline, ['outer']).find((c) => c.element === 'c')?.left;
    // the groove is 3 wide; 0.4 of it stand on one wall, then 0.4 and, beyond air, as much on the other
    expect(wall(rawStockOf(grooved).turnedOutline)).toBeCloseTo(3, 6);
    const skin = unionRegions(part.region, rectangle(-8.4, 13, -8, 15));
    expect(wall(skin)).toBeCloseTo(0.4, 6);
    expect(wall(unionRegions(skin, rectangle(-11, 13, -10.6, 15)))).toBeCloseTo(0.4, 6);
  });
  it('of no part is nothing', () => {
    expect(coverageOf({ ...d.part, region: [] }, rawStockOf(d).turnedOutline, rawStockOf(d).turnedOutline, [])).toEqual(
      [],
    );
  });
});
