import { describe, expect, it } from 'vitest';
import { arcRadius, heightAt, line, point, regionArea, sweepAlong, unionRegions } from '../geometry';
import { decodeInsert } from './insert';
import { deepestPositions, withTrailingClearance } from './reach';
import { drillPointLength } from './section';
import { ToolSchema, toolSection } from './tool';
import { upgradedTool } from './upgrade';

const sectionOf = (tool: unknown) => {
  const made = toolSection(ToolSchema.parse(upgradedTool(tool)));
  if (!made.ok) throw new Error(made.code);
  return made.section;
};

describe('ISO 1832 designations', () => {
  it.each([
    ['CNMG120408', 80, 12.7 / Math.sin((80 * Math.PI) / 180), 0.8, 0],
    ['DCMT 11T304', 55, 9.525 / Math.sin((55 * Math.PI) / 180), 0.4, 7],
    ['VBMT160404', 35, 9.525 / Math.sin((35 * Math.PI) / 180), 0.4, 5],
    ['TNMG160404', 60, 9.525 * Math.sqrt(3), 0.4, 0],
    ['WNMG080408', 80, 12.7 * 0.684, 0.8, 0],
    ['SNMG120412', 90, 12.7, 1.2, 0],
  ])('%s', (code, corner, edge, nose, clearance) => {
    const d = decodeInsert(code);
    if (!d.ok) throw new Error(d.code);
    expect(d.insert.cornerAngle).toBe(corner);
    expect(d.insert.edgeLength).toBeCloseTo(edge, 6);
    expect(d.insert.noseRadius).toBeCloseTo(nose, 9);
    expect(d.insert.clearanceAngle).toBe(clearance);
  });
  it('takes a round insert as a nose of half its diameter', () => {
    const d = decodeInsert('RCMT0803M0');
    expect(d.ok && d.insert.noseRadius).toBe(4);
  });
  it.each([
    ['CNMG', 'insert-length'],
    ['XNMG120408', 'insert-shape'],
    ['CQMG120408', 'insert-clearance'],
    ['CNMGAB0408', 'insert-size'],
    ['CNMG129908', 'insert-thickness'],
    ['CNMG1204ZZ', 'insert-nose'],
  ])('names what is wrong with %s', (code, wrong) => {
    const d = decodeInsert(code);
    expect(d.ok ? '' : d.code).toBe(wrong);
  });
});

describe('sections', () => {
  it('programs the tip of an outside tool at nose radius left and below the centre', () => {
    const s = sectionOf({ id: 'a', name: 'a', kind: 'turning', insert: 'CNMG120408', approachAngle: 95 });
    expect(s.tipNumber).toBe(3);
    expect(s.tip.x).toBeCloseTo(-0.8, 9);
    expect(s.tip.y).toBeCloseTo(-0.8, 9);
  });
  it('gives a rhombic insert its full area less the rounded corners', () => {
    const s = sectionOf({ id: 'a', name: 'a', kind: 'turning', insert: 'CNMG120408', approachAngle: 95 });
    const l = 12.7 / Math.sin((80 * Math.PI) / 180);
    const area = regionArea(unionRegions(...s.cutting.map((c) => sweepAlong(c, [point(0, 0)]))));
    expect(area).toBeLessThan(l * l * Math.sin((80 * Math.PI) / 180));
    expect(area).toBeGreaterThan(l * l * Math.sin((80 * Math.PI) / 180) - 1);
  });
  it('gives a drill its point', () => {
    expect(drillPointLength(12, 140)).toBeCloseTo(2.18382, 5);
  });
  it('reports an insert that cannot be read', () => {
    expect(
      toolSection(
        ToolSchema.parse(upgradedTool({ id: 'a', name: 'a', kind: 'turning', insert: 'HELLO', approachAngle: 95 })),
      ).ok,
    ).toBe(false);
  });
});

describe('reach', () => {
  const outside = (insert: string, approachAngle: number) =>
    sectionOf({ id: 'a', name: 'a', kind: 'turning', insert, approachAngle }).cutting.map((c) =>
      withTrailingClearance(c, 3),
    );

  it('bridges a drop at the trailing angle less the clearance (κ 93°, ε 55°: 29°, 9.02024 long for 5 mm)', () => {
    const ground = [line(point(-40, 10), point(-10, 10)), line(point(-10, 15), point(0, 15))];
    const floor = deepestPositions(ground, outside('DCMT11T304', 93), -39, -0.1);
    const bridge = floor.find(
      (c) =>
        c.kind === 'line' &&
        Math.abs((c.to.y - c.from.y) / (c.to.x - c.from.x) - Math.tan((29 * Math.PI) / 180)) < 1e-6,
    );
    expect(bridge).toBeDefined();
    // along the bridge 5 mm of height take 9.02024 mm of Z
    const slope = bridge ? (bridge.to.y - bridge.from.y) / (bridge.to.x - bridge.from.x) : 0;
    expect(5 / slope).toBeCloseTo(9.02024, 5);
  });
  it('keeps arcs as arcs: convex grows, concave shrinks by the nose radius', () => {
    const convex = [
      { kind: 'arc' as const, from: point(-10, 0), to: point(0, 10), centre: point(0, 0), clockwise: true },
    ];
    const grown = deepestPositions(convex, [{ points: [point(0, 0)], radius: 0.8 }], -10, 0);
    expect(grown.some((c) => c.kind === 'arc' && Math.abs(arcRadius(c) - 10.8) < 1e-9)).toBe(true);
    const concave = [
      { kind: 'arc' as const, from: point(-10, 10), to: point(0, 0), centre: point(0, 10), clockwise: false },
    ];
    const shrunk = deepestPositions(concave, [{ points: [point(0, 0)], radius: 0.8 }], -9, 0);
    expect(shrunk.some((c) => c.kind === 'arc' && Math.abs(arcRadius(c) - 9.2) < 1e-9)).toBe(true);
  });
  it('climbs a square shoulder with κ 95° but leaves a wedge with κ 75°', () => {
    const ground = [line(point(-40, 20), point(-10, 20)), line(point(-10, 10), point(0, 10))];
    const square = deepestPositions(ground, outside('CNMG120408', 95), -39, -0.1);
    expect(heightAt(square, -9.19)).toBeCloseTo(10.8, 6);
    const wedge = deepestPositions(ground, outside('SNMG120408', 75), -39, -0.1);
    expect(heightAt(wedge, -9.19) ?? 0).toBeGreaterThan(11);
    expect(wedge.length).toBeGreaterThan(0);
  });
});
