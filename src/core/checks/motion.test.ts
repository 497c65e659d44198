import { describe, expect, it } from 'vitest';
import { demoJob, shopTool } from '../../../tests/fixtures/jobs';
import { reachBetween } from '../../../tests/fixtures/machines';
import { intersectRegions, rectangle, regionArea, regionBounds, regionVolume, subtractRegion } from '../geometry';
import type { MotionEvent } from '../motion';
import { stockAfter, turnedBody } from '../stock';
import { ToolSchema, toolSection, upgradedTool } from '../tooling';
import { checkMotion, compareWithPart, type MotionCheckInput } from './motion';

const made = toolSection(
  ToolSchema.parse(
    upgradedTool({ id: 't', name: 't', kind: 'turning', insert: 'CNMG120408', approachAngle: 95, overhang: 44 }),
  ),
);
if (!made.ok) throw new Error(made.code);
const section = made.section;
const job = demoJob('LM-101');

const base: Omit<MotionCheckInput, 'events'> = {
  op: 'a',
  section,
  frame: 'outer',
  stock: turnedBody(rectangle(-60, 0, 0, 30)),
  part: rectangle(-20, 0, 0, 25),
  jaws: rectangle(-80, 30, -45, 60),
  chuck: [],
  support: [],
  machine: job.machine,
  reach: reachBetween(job.machine, 'upper', 'main'),
  zeroFromFace: 150,
};
const rapid = (X: number, Z: number): MotionEvent => ({ op: 'a', purpose: 'approach', kind: 'rapid', to: { X, Z } });
const feed = (X: number, Z: number): MotionEvent => ({
  op: 'a',
  purpose: 'cut',
  kind: 'feed',
  to: { X, Z },
  feed: { mode: 'perRev', value: 0.2 },
});
const check = (events: MotionEvent[], change: Partial<MotionCheckInput> = {}) =>
  checkMotion({ ...base, ...change, events });
const codes = (events: MotionEvent[], change: Partial<MotionCheckInput> = {}): string[] =>
  check(events, change).findings.map((f) => f.code);

describe('following the motion', () => {
  it('finds nothing in a clean cut and takes its metal: π(R² − r²)·L and the corner of the nose', () => {
    const events = [rapid(40, 5), rapid(28, 5), feed(28, -20), feed(33, -20), rapid(40, -20)];
    const r = check(events);
    expect(r.findings).toEqual([]);
    // the nose leaves its round in the corner: an area of ρ²(1 − π/4) whose centre lies (1 − 0.7766)ρ from the wall
    const corner = 2 * Math.PI * (28 + 0.8 * 0.2234) * 0.8 ** 2 * (1 - Math.PI / 4);
    expect(regionVolume(base.stock.turnedOutline) - regionVolume(r.stock.turnedOutline)).toBeCloseTo(
      Math.PI * (30 * 30 - 28 * 28) * 20 - corner,
      0,
    );
  });
  it('keeps what hangs over an edge that leans and ends above the bar: as the polygons do', () => {
    // two runs, so that what each leaves hanging lies side by side
    const runs = [-19.5, -20].flatMap((z) => [rapid(40, 5), rapid(22, 5), feed(22, z), feed(22, 5)]);
    const events = [...runs, rapid(40, 5)];
    const exact = stockAfter(base.stock, events, section);
    // an edge at 95° leans 5°, tangent to the nose: −20 + ρ + (8 − ρ) tan 5° − ρ / cos 5°
    expect(regionBounds(intersectRegions(exact.turnedOutline, rectangle(-21, 29.99, -10, 30))).maxX).toBeCloseTo(
      -19.373,
      2,
    );
    const left = check(events).stock;
    expect(regionArea(subtractRegion(left.turnedOutline, exact.turnedOutline))).toBeLessThan(1e-3);
    expect(regionArea(subtractRegion(exact.turnedOutline, left.turnedOutline))).toBeLessThan(1e-3);
  });
  it('keeps the cone that a bar leaves round the axis of a bottom, though its body reaches over the axis', () => {
    const bar = toolSection(shopTool('bore-8'));
    if (!bar.ok) throw new Error(bar.code);
    // a bore of ⌀40, 20 deep; the bar goes half a millimetre into its bottom beside the axis, on both sides of which it cuts
    const bored = turnedBody(subtractRegion(rectangle(-60, 0, 0, 30), rectangle(-19.5, 0, 0, 20)));
    const within: Partial<MotionCheckInput> = { section: bar.section, frame: 'inner', stock: bored, part: [] };
    for (const at of [0.6, 1, 1.6]) {
      const events = [rapid(at, 5), rapid(at, -19), feed(at, -20), feed(at - 0.3, -19.6), rapid(at - 0.3, 5)];
      const exact = stockAfter(bored, events, bar.section).turnedOutline;
      const left = check(events, within).stock.turnedOutline;
      expect(regionArea(subtractRegion(left, exact)), `${at}`).toBeLessThan(1e-4);
      expect(regionArea(subtractRegion(exact, left)), `${at}`).toBeLessThan(1e-4);
      // it leans 5°: the cone on the axis stands about as high as its radius times tan 5°, the nose's round less
      const height = regionBounds(intersectRegions(exact, rectangle(-25, 0, -10, 0.001))).maxX + 20;
      expect(height).toBeGreaterThan(0.3 * at * Math.tan((5 * Math.PI) / 180));
      expect(height).toBeLessThan(at * Math.tan((5 * Math.PI) / 180) + 0.002);
    }
  });
  it('tells a gouge with its depth', () => {
    const r = check([rapid(40, 5), rapid(24.5, 5), feed(24.5, -10), feed(40, -10)]);
    expect(r.findings.map((f) => f.code)).toEqual(['gouge']);
    expect(Number((r.findings[0].numbers as Record<string, unknown>).depth)).toBeCloseTo(0.5, 2);
  });
  it('does not call half a micrometre a gouge', () => {
    expect(codes([rapid(40, 5), rapid(24.9995, 5), feed(24.9995, -10), feed(40, -10)])).toEqual([]);
  });
  it('tells a threading insert that runs into what stands beside the thread', () => {
    const insert = toolSection(shopTool('thread-60-fine'));
    if (!insert.ok) throw new Error(insert.code);
    // ⌀40, and from −15 on the bar of ⌀44 that nothing has turned yet
    const bar = turnedBody([...rectangle(-60, 0, -15, 22), ...rectangle(-15, 0, 0, 20)]);
    const within: Partial<MotionCheckInput> = { section: insert.section, stock: bar, part: rectangle(-15, 0, 0, 20) };
    const crest: [{ X: number; Z: number }, { X: number; Z: number }] = [
      { X: 20, Z: 3 },
      { X: 20, Z: -18 },
    ];
    const pass = (Z: number): MotionEvent[] => [
      rapid(30, 3),
      rapid(19.2, 3),
      { op: 'a', purpose: 'cut', kind: 'thread', to: { X: 19.2, Z }, lead: 1.5, startAngle: 0, crest },
    ];
    // the insert is 2 wide: its edge comes to −14
    expect(codes(pass(-13), within)).toEqual([]);
    expect(codes(pass(-17), within)).toContain('thread-in-stock');
    // metal as high as the crest is the thread's own
    const level = turnedBody(rectangle(-60, 0, 0, 20));
    expect(codes(pass(-17), { ...within, stock: level })).toEqual([]);
  });
  it('tells a rapid through stock, also on the bend of two axes', () => {
    expect(codes([rapid(40, 5), rapid(20, -10)])).toContain('rapid-in-stock');
    // straight it would pass in front of the corner; each axis at its own speed it does not
    const bent = [rapid(34, 9), rapid(26, 0.9)];
    expect(codes(bent, { machine: { ...job.machine, rapidPath: 'bent' } })).toEqual([]);
    const across = [rapid(20, 3), rapid(32.5, -14)];
    expect(codes(across, { machine: { ...job.machine, rapidPath: 'straight' } })).toContain('rapid-in-stock');
  });
  it('tells the tool in the jaws and the turret over them', () => {
    expect(codes([rapid(70, 5), rapid(70, -50), feed(40, -50)])).toContain('tool-meets-jaws');
    expect(codes([rapid(62, 5), rapid(62, -60)], { jaws: rectangle(-80, 30, -45, 120) })).toContain(
      'turret-meets-jaws',
    );
  });
  it('tells how far the turret reaches in: by as much the jaws would have to stand back', () => {
    const path = [rapid(62, 5), rapid(62, -60)];
    const jaws = (back: number) => ({ jaws: rectangle(-200, 30, -45 - back, 120) });
    const found = check(path, jaws(0)).findings.find((f) => f.code === 'turret-meets-jaws');
    const along = Number((found?.numbers as Record<string, unknown> | undefined)?.along);
    expect(along).toBeGreaterThan(1);
    expect(codes(path, jaws(along - 0.2))).toContain('turret-meets-jaws');
    expect(codes(path, jaws(along + 0.01))).not.toContain('turret-meets-jaws');
  });
  it('tells travel with the amount', () => {
    const r = check([rapid(400, 5)]);
    expect(r.findings[0].code).toBe('travel-x');
    expect(Number((r.findings[0].numbers as Record<string, unknown>).over)).toBeCloseTo(400 + section.gauge.y - 260, 6);
    expect(codes([rapid(40, 600)])).toContain('travel-z');
  });
  it('compares stock with the part', () => {
    const c = compareWithPart([...rectangle(-20, 0, 0.5, 25)], rectangle(-20, 0, 0, 25));
    expect(regionVolume(c.leftover)).toBeCloseTo(Math.PI * 625 * 0.498, -1);
    expect(c.gouge).toEqual([]);
    expect(compareWithPart(rectangle(-20, 0, 0, 24), rectangle(-20, 0, 0, 25)).gouge.length).toBeGreaterThan(0);
  });
});
