import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import {
  convexHull,
  distance,
  type Point,
  type RoundedPolygon,
  regionArea,
  sweepAlong,
  unionRegions,
} from '../geometry';
import { decodeInsert } from './insert';
import type { ToolField } from './kind';
import { type Tool, ToolSchema, toolFacts, toolKind, toolSection } from './tool';
import { upgradedTool } from './upgrade';

/** What every kind of tool has to keep to. A new kind is tested by standing in the registry and in the demo library. */

const LIBRARY: Tool[] = (JSON.parse(readFileSync('demo/tools/tools.json', 'utf8')) as unknown[]).map((t) =>
  ToolSchema.parse(t),
);
const KINDS = ToolSchema.options.map((o) => o.shape.kind.value);
const read = (value: unknown, path: string): unknown =>
  path.split('.').reduce<unknown>((v, k) => (v as Record<string, unknown> | undefined)?.[k], value);
const section = (t: Tool, wayUp: 'usual' | 'turned' = 'usual') => {
  const made = toolSection(t, wayUp);
  if (!made.ok) throw new Error(`${t.id}: ${made.code}`);
  return made.section;
};
const isConvex = (s: RoundedPolygon): boolean => {
  const hull = convexHull(s.points);
  return hull.length === s.points.length || s.points.length < 3;
};
const areaOf = (shapes: readonly RoundedPolygon[]): number =>
  regionArea(unionRegions(...shapes.map((s) => sweepAlong(s, [{ x: 0, y: 0 }]))));
const lowest = (s: RoundedPolygon): number => Math.min(...s.points.map((p) => p.y)) - s.radius;

describe.each(KINDS.map((k) => [k]))('tools of the kind %s', (kind) => {
  const tools = LIBRARY.filter((t) => t.kind === kind);
  it('stand in the library, with a name for sentences', () => {
    expect(tools.length).toBeGreaterThan(0);
    expect(toolKind({ kind }).name).toMatch(/^an? /);
    expect(toolKind({ kind }).waysUp.length).toBeGreaterThan(0);
  });
  it('have a field for every number and choice of cutter and holder', () => {
    for (const t of tools) {
      const described = new Set(toolKind(t).fields.map((f: ToolField) => f.key));
      for (const f of toolKind(t).fields) {
        expect(read(t, f.key), f.key).not.toBeUndefined();
        expect(f.help.length, f.key).toBeGreaterThan(10);
        if (typeof f.input === 'object') expect(f.input.options).toContain(read(t, f.key));
      }
      const numbers = Object.entries(t.cutter).filter(([, v]) => typeof v === 'number');
      for (const [name] of numbers) expect([...described], name).toContain(`cutter.${name}`);
    }
  });
});

describe.each(LIBRARY.map((t) => [t.id, t] as const))('%s', (_id, tool) => {
  it('is described shortly and survives a file', () => {
    expect(toolKind(tool).describe(tool).length).toBeGreaterThan(3);
    expect(toolKind(tool).describe(tool).length).toBeLessThan(32);
    expect(ToolSchema.parse(JSON.parse(JSON.stringify(tool)))).toEqual(tool);
    expect(upgradedTool(tool)).toEqual(tool);
  });
  it.each(toolKind(tool).waysUp)('has a section of convex pieces when its way up is %s', (wayUp) => {
    const s = section(tool, wayUp);
    for (const shape of [...s.cutting, ...s.holder, ...s.turret]) {
      expect(isConvex(shape)).toBe(true);
      for (const p of shape.points) expect(Number.isFinite(p.x + p.y)).toBe(true);
      expect(areaOf([shape])).toBeGreaterThan(0.1);
    }
    expect(s.corners[0].number).toBe(s.tipNumber);
    expect(s.corners[0].at).toEqual(s.tip);
    // the programmed tip lies on the box of the cutting edges, nose radii beyond the centre of its nose
    expect(Math.abs(s.tip.x)).toBeLessThanOrEqual(s.noseRadius + 1e-9);
    expect(Math.abs(s.tip.y)).toBeLessThanOrEqual(s.noseRadius + 1e-9);
  });
  it('touches with its edges before its holder does', () => {
    const s = section(tool);
    const facts = toolFacts(tool);
    const foremost = (shapes: readonly RoundedPolygon[]): number =>
      facts.stands === 'across'
        ? Math.min(...shapes.map(lowest))
        : Math.min(...shapes.flatMap((k) => k.points.map((p) => p.x - k.radius)));
    // a bar that cuts out of a bore has its end in front of its insert, and touches with the edge outward
    const reaches = (shapes: readonly RoundedPolygon[]): number =>
      Math.max(...shapes.flatMap((k) => k.points.map((p) => p.y + k.radius)));
    if (s.feeds === 'from-chuck' && facts.stands === 'along')
      expect(reaches(s.cutting)).toBeGreaterThan(reaches(s.holder) + 1);
    else if (s.holder.length > 0) expect(foremost(s.cutting)).toBeLessThan(foremost(s.holder));
    expect(foremost(s.holder.length > 0 ? s.holder : s.cutting)).toBeLessThan(foremost(s.turret));
  });
  it('has facts that agree with its section', () => {
    const s = section(tool);
    const facts = toolFacts(tool);
    if (facts.insert) expect(s.noseRadius).toBeCloseTo(facts.insert.noseRadius, 9);
    if (facts.onCentre) expect(s.tipNumber).toBe(7);
    if (facts.bladeWidth > 0) {
      const xs = s.cutting.flatMap((k) => k.points.flatMap((p) => [p.x - k.radius, p.x + k.radius]));
      expect(Math.max(...xs) - Math.min(...xs)).toBeCloseTo(facts.bladeWidth, 9);
    }
    expect(facts.approachAngle).toBeGreaterThan(0);
    // what stands across stands out at least as far as its own cutter and body
    if (facts.stands === 'across') expect(tool.stickOut).toBeGreaterThanOrEqual(s.gauge.y + s.tip.y - 1e-6);
  });
});

describe('hands and ways up', () => {
  const turning = LIBRARY.filter(
    (t) => t.kind === 'turning' && t.holder.hand === 'right' && decodeInsert(t.cutter.designation).ok,
  );
  it('a left hand, and a right one turned over, are the mirror image along Z', () => {
    for (const t of turning) {
      if (t.kind !== 'turning') continue;
      const right = section(t);
      const left = section({ ...t, holder: { ...t.holder, hand: 'left' } });
      const over = section(t, 'turned');
      const near = (points: readonly Point[], p: Point): number => Math.min(...points.map((k) => distance(k, p)));
      for (const other of [left, over])
        right.cutting.forEach((shape, i) => {
          for (const p of shape.points) expect(near(other.cutting[i].points, { x: -p.x, y: p.y })).toBeLessThan(1e-9);
        });
      if (right.feeds === 'both') continue;
      expect([right.feeds, left.feeds, over.feeds]).toEqual(['toward-chuck', 'from-chuck', 'from-chuck']);
      expect([right.spindle, left.spindle, over.spindle]).toEqual(['forward', 'forward', 'reverse']);
      expect([right.tipNumber, left.tipNumber, over.tipNumber]).toEqual([3, 4, 4]);
    }
  });
  it('a left hand turned over stands like a right one and turns the spindle the other way', () => {
    for (const t of turning) {
      if (t.kind !== 'turning') continue;
      const usual = section(t);
      const both = section({ ...t, holder: { ...t.holder, hand: 'left' } }, 'turned');
      expect(both.cutting).toEqual(usual.cutting);
      expect(both.feeds).toBe(usual.feeds);
      expect(both.spindle).toBe('reverse');
    }
  });
  it('insert edges stand at the approach angle and the corner angle', () => {
    for (const t of turning) {
      if (t.kind !== 'turning') continue;
      const insert = decodeInsert(t.cutter.designation);
      if (!insert.ok || insert.insert.cornerAngle === 0) continue;
      const [shape] = section(t).cutting;
      const from = shape.points.reduce((best, p) => (Math.hypot(p.x, p.y) < Math.hypot(best.x, best.y) ? p : best));
      const angles = shape.points
        .filter((p) => distance(p, from) > 1e-9)
        .map((p) => (Math.atan2(p.y - from.y, p.x - from.x) * 180) / Math.PI);
      // seen from the nose the edges are the outermost directions: κ from −Z, and the corner angle further
      expect(180 - Math.max(...angles)).toBeCloseTo(t.holder.approachAngle, 6);
      expect(Math.max(...angles) - Math.min(...angles)).toBeCloseTo(insert.insert.cornerAngle, 6);
    }
  });
});
