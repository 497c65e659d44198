import { describe, expect, it } from 'vitest';
import { seeded } from '../../../tests/fixtures/random';
import {
  point,
  type RoundedPolygon,
  rectangle,
  regionArea,
  subtractRegion,
  sweepAlong,
  TOLERANCE,
  unionRegions,
} from '../geometry';
import { clipToStrip, coverBetween, gapsBetween, outlineOf, type Way, wayOf as way } from './ways';

const leavesGaps = (ways: readonly Way[], from: number, to: number): boolean => gapsBetween(ways, from, to).length > 0;
const square = (half: number): RoundedPolygon => ({
  points: [point(-half, -half), point(half, -half), point(half, half), point(-half, half)],
  radius: 0,
});
const diamond: RoundedPolygon = { points: [point(0, -1), point(1, 0), point(0, 1), point(-1, 0)], radius: 0.1 };

/** Whether a column at x is left between ways, by the polygon library. */
const gapAt = (ways: readonly Way[], x: number): boolean => {
  const strip = rectangle(x - 1e-3, -100, x + 1e-3, 100);
  const pieces = ways.map((w) => clipToStrip(outlineOf(w), x - 1e-3, x + 1e-3)).filter((r) => r.length > 2);
  return regionArea(strip) > 0 && pieces.length > 1 && unionRegions(pieces).length > 1;
};

describe('ways of a tool', () => {
  it('have the outline that the polygon library sweeps', () => {
    const random = seeded(8);
    for (let k = 0; k < 60; k++) {
      const a = point(random() * 10, random() * 10);
      const b = point(random() * 10, random() * 10);
      const w = way(k % 2 === 0 ? diamond : square(0.7), a, b);
      const swept = sweepAlong(w.shape, [a, b]);
      expect(Math.abs(regionArea([outlineOf(w)]) - regionArea(swept))).toBeLessThan(0.01);
    }
  });
  it('between two places cover what all their outlines do, drawn as one where they hang together', () => {
    const random = seeded(31);
    let fewer = 0;
    for (let k = 0; k < 400; k++) {
      // passes one over the other, some steep, some that end inside, with and without room between
      const step = 0.4 + random() * 1.8;
      const ways = Array.from({ length: 3 + Math.floor(random() * 40) }, (_, i) => {
        const y = i * step + random() * 0.3;
        const tilt = (random() - 0.5) * (k % 3 === 0 ? 12 : 0.8);
        const end = random() < 0.15 ? random() * 6 : 10;
        return way(k % 2 === 0 ? diamond : square(0.7), point(0, y), point(end, y + tilt));
      });
      const from = 1 + random() * 4;
      const to = from + 0.05 + random() * 3;
      const plain = ways.map((w) => clipToStrip(outlineOf(w), from, to)).filter((r) => r.length > 2);
      const drawn = coverBetween(ways, from, to);
      const [all, made] = [unionRegions(plain), unionRegions(drawn)];
      expect(regionArea(subtractRegion(all, made))).toBeLessThan(1e-3);
      // what is nearer than a gouge counts as joined
      expect(regionArea(subtractRegion(made, all))).toBeLessThan(TOLERANCE.gouge * (to - from) + 1e-3);
      if (drawn.length < plain.length) fewer++;
    }
    expect(fewer).toBeGreaterThan(100);
  });
  it('one above the other with room between leave a gap, and none where they meet', () => {
    const low = way(square(1), point(0, 0), point(10, 0));
    const near = way(square(1), point(0, 2), point(10, 2));
    const high = way(square(1), point(0, 2.2), point(10, 2.2));
    expect(leavesGaps([low, near], 0, 10)).toBe(false);
    expect(leavesGaps([low, high], 0, 10)).toBe(true);
    // side by side they do not cover one another: nothing is between
    expect(leavesGaps([low, way(square(1), point(20, 5), point(25, 5))], 0, 25)).toBe(false);
    // a third one closes the gap
    expect(leavesGaps([low, high, way(square(0.4), point(-1, 1.1), point(11, 1.1))], 0, 10)).toBe(false);
  });
  it('part where one climbs away: only the stretch beyond leaves a gap', () => {
    const flat = way(square(1), point(0, 0), point(20, 0));
    const ramp = way(square(1), point(0, 1), point(20, 8));
    expect(leavesGaps([flat, ramp], -1, 2)).toBe(false);
    expect(leavesGaps([flat, ramp], 4, 18)).toBe(true);
  });
  it('see a gap narrower than any step between two places', () => {
    // two slopes over a flat way meet in a roof: a hollow of 0.02 stands open under the ridge, nowhere else
    const flat = way({ points: [point(0, 0)], radius: 0.5 }, point(0, 0), point(10, 0));
    const rise = way({ points: [point(0, 0)], radius: 0.5 }, point(0, 0.5), point(5.001, 1.03));
    const fall = way({ points: [point(0, 0)], radius: 0.5 }, point(4.999, 1.03), point(10, 0.5));
    expect(leavesGaps([flat, rise, fall], 0.5, 9.5)).toBe(true);
    const lower = [
      way({ points: [point(0, 0)], radius: 0.5 }, point(0, 0.5), point(5.001, 0.98)),
      way({ points: [point(0, 0)], radius: 0.5 }, point(4.999, 0.98), point(10, 0.5)),
    ];
    expect(leavesGaps([flat, ...lower], 0.5, 9.5)).toBe(false);
  });
  it('never leave a gap unsaid that the polygon library sees', () => {
    const random = seeded(21);
    let gaps = 0;
    let none = 0;
    for (let k = 0; k < 150; k++) {
      const n = 2 + Math.floor(random() * 5);
      const ways = Array.from({ length: n }, () => {
        const a = point(random() * 6, random() * 3.5);
        return way(random() < 0.5 ? diamond : square(0.8), a, point(a.x + 4 + random() * 8, a.y + random() - 0.5));
      });
      const from = Math.max(...ways.map((w) => w.from));
      const to = Math.min(...ways.map((w) => w.to));
      if (to - from < 0.5) continue;
      const said = leavesGaps(ways, from, to);
      let seen = false;
      for (let i = 1; i < 60 && !seen; i++) seen = gapAt(ways, from + ((to - from) * i) / 60);
      if (seen) expect(said).toBe(true);
      if (said) gaps++;
      else none++;
    }
    expect(gaps).toBeGreaterThan(10);
    expect(none).toBeGreaterThan(10);
  });
});

describe('a ring in a strip', () => {
  it('is cut at both sides, kept whole within and gone outside', () => {
    const ring = [point(0, 0), point(4, 0), point(4, 2), point(0, 2)];
    expect(regionArea([clipToStrip(ring, 1, 3)])).toBeCloseTo(4, 9);
    expect(regionArea([clipToStrip(ring, -1, 9)])).toBeCloseTo(8, 9);
    expect(clipToStrip(ring, 5, 6)).toEqual([]);
    expect(regionArea([clipToStrip([point(0, 0), point(4, 0), point(2, 4)], 2, 4)])).toBeCloseTo(4, 9);
  });
});
