import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  foldAboutAxis,
  greatestHalfThickness,
  intersectRegions,
  type Point,
  point,
  type Region,
  rectangle,
  regionArea,
  regionVolume,
  subtractRegion,
  sweepAlong,
  unionRegions,
} from '../geometry';
import { type Tool, ToolSchema, toolSection, upgradedTool } from '../tooling';
import { turnedBody } from './body';
import { cutStock, sweptCut } from './removal';

/** What stock has to keep to, whichever way it is kept: taking metal away is subtraction of what the tool sweeps. */

const section = (t: Record<string, unknown>) => {
  const made = toolSection(ToolSchema.parse(upgradedTool({ id: 't', name: 't', ...t })) as Tool);
  if (!made.ok) throw new Error(made.code);
  return made.section;
};
const TOOLS = {
  'turning tool': section({ kind: 'turning', insert: 'CNMG120408', approachAngle: 95, overhang: 44 }),
  'round insert': section({ kind: 'turning', insert: 'RCMT0803M0', approachAngle: 90, overhang: 44 }),
  'boring bar': section({
    kind: 'boring',
    insert: 'CCMT060204',
    approachAngle: 95,
    barDiameter: 8,
    noseToAxis: 5,
    overhang: 36,
  }),
  drill: section({ kind: 'drill', diameter: 11, fluteLength: 55, overhang: 68 }),
  'cutoff blade': section({ kind: 'cutoff', width: 3, reach: 34, overhang: 60 }),
};
const BAR = rectangle(-60, 0, 0, 30);
const at = (x: number, y: number): Point => point(x / 100, y / 100);
const way = fc
  .array(fc.tuple(fc.integer({ min: -5500, max: 500 }), fc.integer({ min: 100, max: 3300 })), {
    minLength: 2,
    maxLength: 5,
  })
  .map((list) => list.map(([x, y]) => at(x, y)));
const apart = (a: Region, b: Region): number =>
  greatestHalfThickness(unionRegions(subtractRegion(a, b), subtractRegion(b, a))) * 2;
const RUNS = { numRuns: 25 };
/** Rounds are chords within 0.2 µm, laid out anew for each sweep: two sweeps may differ by two of them. */
const CHORDS = 4.1e-4;
/** Two chords along the longest outline that such a cut has, mm². */
const ALONG = 0.05;

describe.each(Object.entries(TOOLS))('stock cut by a %s', (_name, tool) => {
  it('loses what was swept of it and nothing else', () => {
    fc.assert(
      fc.property(way, (path) => {
        const after = cutStock(turnedBody(BAR), tool, path);
        const swept = sweptCut(tool, path);
        expect(regionArea(intersectRegions(after.turnedOutline, swept))).toBeLessThan(ALONG);
        const lost = regionArea(BAR) - regionArea(after.turnedOutline);
        expect(Math.abs(lost - regionArea(intersectRegions(BAR, swept)))).toBeLessThan(ALONG);
        expect(regionArea(subtractRegion(after.turnedOutline, BAR))).toBeLessThan(ALONG);
      }),
      RUNS,
    );
  });
  it('is the same in whatever order it is cut', () => {
    fc.assert(
      fc.property(way, way, (a, b) => {
        const one = cutStock(cutStock(turnedBody(BAR), tool, a), tool, b);
        const other = cutStock(cutStock(turnedBody(BAR), tool, b), tool, a);
        expect(apart(one.turnedOutline, other.turnedOutline)).toBeLessThan(CHORDS);
      }),
      RUNS,
    );
  });
  it('is the same when it is cut twice, and when a way is cut in two halves', () => {
    fc.assert(
      fc.property(way, (path) => {
        const once = cutStock(turnedBody(BAR), tool, path);
        expect(apart(once.turnedOutline, cutStock(once, tool, path).turnedOutline)).toBeLessThan(CHORDS);
        const middle = Math.ceil(path.length / 2);
        const halves = cutStock(cutStock(turnedBody(BAR), tool, path.slice(0, middle)), tool, path.slice(middle - 1));
        expect(apart(once.turnedOutline, halves.turnedOutline)).toBeLessThan(CHORDS);
      }),
      RUNS,
    );
  });
  it('turns: what reaches past the axis cuts on the other side too', () => {
    fc.assert(
      fc.property(way, (path) => {
        const low = path.map((p) => point(p.x, p.y - 15));
        const swept = unionRegions(...tool.cutting.map((s) => sweepAlong(s, low)));
        const after = cutStock(turnedBody(BAR), tool, low);
        expect(apart(after.turnedOutline, subtractRegion(BAR, foldAboutAxis(swept)))).toBeLessThan(CHORDS);
        expect(regionVolume(after.turnedOutline)).toBeLessThanOrEqual(regionVolume(BAR) + 1e-6);
      }),
      RUNS,
    );
  });
});
