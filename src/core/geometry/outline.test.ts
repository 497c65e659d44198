import { describe, expect, it } from 'vitest';
import { seeded } from '../../../tests/fixtures/random';
import { carriedShape, depthWithin, insetShape, lowerSide, lowerSideOn, sideHeight, upperSideOn } from './outline';
import { distance, type Point, point } from './point';
import { containsPoint, convexHull, inflateRegion, type RoundedPolygon, regionArea, sweepAlong } from './region';

const square: RoundedPolygon = { points: [point(-2, -1), point(2, -1), point(2, 1), point(-2, 1)], radius: 0 };
const nose: RoundedPolygon = { points: [point(0, 0)], radius: 0.8 };

const anyShape = (random: () => number): RoundedPolygon => {
  const points = convexHull(
    Array.from({ length: 3 + Math.floor(random() * 5) }, () => point(random() * 6 - 3, random() * 6 - 3)),
  );
  return { points, radius: random() < 0.4 ? 0 : random() * 1.2 };
};
/** The lowest height of a shape on a way at x, by trying all places of the way. */
const lowestAt = (s: RoundedPolygon, a: Point, b: Point, x: number): number => {
  let low = Number.POSITIVE_INFINITY;
  for (let i = 0; i <= 400; i++) {
    const t = i / 400;
    const side = lowerSide({
      points: s.points.map((p) => point(p.x + a.x + (b.x - a.x) * t, p.y + a.y + (b.y - a.y) * t)),
      radius: s.radius,
    });
    if (x < side.x[0] || x > side.x[side.x.length - 1]) continue;
    low = Math.min(low, sideHeight(side, x));
  }
  return low;
};

describe('the lower side', () => {
  it('of a nose is the lower half of its circle', () => {
    const side = lowerSide(nose);
    expect(side.x[0]).toBeCloseTo(-0.8, 9);
    expect(side.x[side.x.length - 1]).toBeCloseTo(0.8, 9);
    for (let i = 0; i < side.x.length; i++) expect(Math.hypot(side.x[i], side.y[i])).toBeCloseTo(0.8, 9);
    expect(sideHeight(side, 0)).toBeGreaterThanOrEqual(-0.8);
    expect(sideHeight(side, 0)).toBeLessThan(-0.8 + 3e-4);
  });
  it('of a square on a slope is its left corner below and the way of its right one', () => {
    const side = lowerSideOn(square, point(0, 0), point(10, 5));
    // rising: the lower corners are those of the beginning, then the right one's way
    expect(sideHeight(side, -1)).toBeCloseTo(-1, 9);
    expect(sideHeight(side, 1)).toBeCloseTo(-1, 9);
    expect(sideHeight(side, 12)).toBeCloseTo(4, 9);
    expect(sideHeight(side, 7)).toBeCloseTo(-1 + 2.5, 9);
  });
  it('is the same both ways', () => {
    const random = seeded(2);
    for (let k = 0; k < 40; k++) {
      const s = anyShape(random);
      const a = point(random() * 8, random() * 8);
      const b = point(random() * 8, random() * 8);
      const { x, y } = lowerSideOn(s, b, a);
      expect(lowerSideOn(s, a, b)).toMatchObject({ x, y });
    }
  });
  it('is fresh all over on a way that is upright but for its last digits and goes down', () => {
    const nose = { points: [point(0, 0)], radius: 0.4 };
    for (const to of [1e-11, 0, -1e-11]) {
      const { x, fresh } = lowerSideOn(nose, point(0, 5), point(to, 1));
      expect(fresh).toEqual({ from: x[0], to: x[x.length - 1] });
    }
  });
  it('is the lowest of all places on the way, and never lies outside', () => {
    const random = seeded(3);
    for (let k = 0; k < 30; k++) {
      const s = anyShape(random);
      const a = point(random() * 6, random() * 6);
      const b = point(random() * 6, random() * 6);
      const side = lowerSideOn(s, a, b);
      const upper = upperSideOn(s, a, b);
      const area = regionArea(sweepAlong(s, [a, b]));
      let between = 0;
      const n = 2000;
      const from = side.x[0];
      const to = side.x[side.x.length - 1];
      for (let i = 0; i < n; i++) {
        const x = from + ((to - from) * (i + 0.5)) / n;
        between += ((-sideHeight(upper, x) - sideHeight(side, x)) * (to - from)) / n;
      }
      expect(Math.abs(between - area)).toBeLessThan(0.02);
      for (let i = 1; i < 8; i++) {
        const x = from + ((to - from) * i) / 8;
        const want = lowestAt(s, a, b, x);
        expect(sideHeight(side, x)).toBeLessThan(want + 1e-3);
        expect(sideHeight(side, x)).toBeGreaterThan(want - 0.12);
      }
    }
  });
});

describe('a shape', () => {
  it('less a skin is smaller by it all round, and nothing when the skin is thicker than it', () => {
    const small = insetShape(square, 0.25) as RoundedPolygon;
    expect(regionArea([small.points])).toBeCloseTo(3.5 * 1.5, 9);
    expect(insetShape(square, 1.01)).toBeNull();
    expect(insetShape(nose, 0.3)).toEqual({ points: nose.points, radius: 0.5 });
    expect(insetShape(nose, 0.9)).toBeNull();
    expect(insetShape(nose, -0.2)?.radius).toBeCloseTo(1, 12);
    const random = seeded(6);
    for (let k = 0; k < 60; k++) {
      const s = anyShape(random);
      if (s.points.length < 3) continue;
      const by = random() * 0.6;
      const inset = insetShape(s, by);
      const grown = inflateRegion([s.points], s.radius);
      const want = inflateRegion(grown, -by);
      if (!inset) {
        expect(regionArea(want)).toBeLessThan(0.02);
        continue;
      }
      const found = inflateRegion([inset.points], inset.radius);
      expect(Math.abs(regionArea(found) - regionArea(want))).toBeLessThan(0.02);
    }
  });
  it('carried on a way covers what the polygon library sweeps', () => {
    const random = seeded(7);
    for (let k = 0; k < 40; k++) {
      const s = anyShape(random);
      const a = point(random() * 8, random() * 8);
      const b = point(random() * 8, random() * 8);
      const carried = carriedShape(s, a, b);
      const area = regionArea(inflateRegion([carried.points], carried.radius));
      expect(Math.abs(area - regionArea(sweepAlong(s, [a, b])))).toBeLessThan(0.02);
    }
  });
  it('knows how deep a place lies in it: no nearer edge is less far', () => {
    expect(depthWithin(square, point(0, 0), point(0, 0))).toBeCloseTo(1, 12);
    expect(depthWithin(square, point(10, 10), point(11.5, 10))).toBeCloseTo(0.5, 12);
    expect(depthWithin(square, point(0, 0), point(2.5, 0))).toBe(0);
    expect(depthWithin(nose, point(1, 1), point(1.3, 1))).toBeCloseTo(0.5, 12);
    const random = seeded(8);
    for (let k = 0; k < 200; k++) {
      const s = anyShape(random);
      if (s.points.length < 3) continue;
      const p = point(random() * 8 - 4, random() * 8 - 4);
      const depth = depthWithin(s, point(0, 0), p);
      const ring = inflateRegion([s.points], s.radius + 1e-6);
      if (depth > 1e-3) expect(containsPoint(ring, p)).toBe(true);
      // a move shorter than the depth stays within, whichever way it goes
      for (let i = 0; i < 8 && depth > 1e-3; i++) {
        const a = (i * Math.PI) / 4;
        const q = point(p.x + Math.cos(a) * depth * 0.99, p.y + Math.sin(a) * depth * 0.99);
        expect(containsPoint(ring, q)).toBe(true);
        expect(distance(p, q)).toBeLessThan(depth);
      }
    }
  });
});
