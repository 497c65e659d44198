import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { carriedSide } from '../../../tests/fixtures/sides';
import { arc, flattenChain } from './curve';
import { throughLips } from './lips';
import { carriedShape, insetShape, lowerSide, lowerSideOn, lowerSideOnArc, sideHeight, upperSideOn } from './outline';
import { type Point, point } from './point';
import {
  convexHull,
  type Region,
  type RoundedPolygon,
  rectangle,
  regionArea,
  subtractRegion,
  sweepAlong,
  unionRegions,
} from './region';
import { Surface, VOID } from './surface';

const coordinate = (min: number, max: number) => fc.integer({ min: min * 100, max: max * 100 }).map((v) => v / 100);

/** A random shape: insert-like polygon with a round. */
const shape = fc
  .record({
    points: fc.array(fc.tuple(coordinate(-3, 3), coordinate(0, 8)), { minLength: 1, maxLength: 5 }),
    radius: fc.constantFrom(0, 0.2, 0.8),
  })
  .map(({ points, radius }): RoundedPolygon => ({ points: convexHull(points.map(([x, y]) => point(x, y))), radius }))
  .filter((s) => s.points.length > 0 && (s.radius > 0 || s.points.length > 2));

/** Steps of metal with walls, slopes and a hidden hollow. */
const metal = fc
  .array(fc.tuple(coordinate(1, 4), coordinate(2, 12)), { minLength: 2, maxLength: 9 })
  .map((steps): Region => {
    let x = -10;
    const top = steps.flatMap(([w, h], i) => {
      const from = x;
      x += w;
      return i % 2 === 0 ? [point(from, h), point(x, h)] : [point(from, h + 1), point(x, h - 1)];
    });
    const block: Region = [[point(-10, 0), point(x, 0), ...top.reverse()]];
    return subtractRegion(block, rectangle(-8, 0.5, -6, 1));
  });

/** The same metal less all that a shape covers while it is lifted out, by the polygon library alone. */
const byPolygons = (region: Region, s: RoundedPolygon): Region =>
  subtractRegion(region, sweepAlong(s, [point(0, 0), point(0, 60)]));

describe('the top of metal', () => {
  it('is the greatest height, walls and overhangs included', () => {
    const s = Surface.of(unionRegions(rectangle(0, 0, 10, 5), rectangle(4, 5, 6, 9), rectangle(6, 7, 9, 9)));
    expect(s.heightAt(2)).toBe(5);
    expect(s.heightAt(8)).toBe(9);
    expect(s.heightAt(4, -1)).toBe(5);
    expect(s.heightAt(4, 1)).toBe(9);
    expect(s.top(9, 12)).toBe(5);
    expect(s.top(0, 10)).toBe(9);
    expect(s.heightAt(11)).toBe(VOID);
  });
  it('lies lower after a cut by just what the polygon library takes off', () => {
    fc.assert(
      fc.property(
        metal,
        fc.array(fc.tuple(shape, coordinate(-12, 12), coordinate(1, 12), coordinate(-4, 4)), {
          minLength: 1,
          maxLength: 6,
        }),
        (region, cuts) => {
          const surface = Surface.of(region);
          let slow = region;
          for (const [s, x, y, run] of cuts) {
            const [a, b] = [point(x, y), point(x + run, y + run / 3)];
            const carried = carriedShape(s, a, b);
            const clear = surface.clears(lowerSideOn(s, a, b));
            const before = regionArea(slow);
            slow = byPolygons(slow, carried);
            const took = before - regionArea(slow);
            if (clear) expect(took).toBeLessThan(1e-3);
            if (took > 1e-3) expect(clear).toBe(false);
            surface.cut(lowerSideOn(s, a, b));
          }
          const fast = subtractRegion(region, surface.takenAway(60));
          expect(regionArea(fast)).toBeCloseTo(regionArea(slow), 3);
          // the surface of what is left is the surface as cut, save where a hidden hollow has come to light
          const again = Surface.of(fast);
          for (let x = -9.95; x < 20; x += 0.37)
            if (x < -8.1 || x > -5.9)
              expect(Math.abs(Math.max(0, again.heightAt(x)) - Math.max(0, surface.heightAt(x)))).toBeLessThan(2e-3);
        },
      ),
    );
  });
  it('is taken back with what was taken off it', () => {
    const s = Surface.of(rectangle(0, 0, 10, 5));
    const cutter = lowerSide({ points: [point(0, 0)], radius: 1 });
    s.cut(carriedSide(cutter, 3, 5));
    const { removed } = s;
    expect(removed).toBeCloseTo(Math.PI / 2, 2);
    const before = s.fresh();
    s.cut(carriedSide(cutter, 7, 5));
    expect(s.removed).toBeCloseTo(2 * removed, 9);
    s.putBack(before);
    expect(s.removed).toBe(removed);
    expect(s.heightAt(7)).toBe(5);
  });
  it('looks through a lip with air beside it, and not through a wall with a gap on its other side', () => {
    const step = unionRegions(rectangle(-10, 0, 0, 10), rectangle(0, 0, 10, 5));
    const lip = throughLips(unionRegions(step, rectangle(-1, 9, 0.3, 10)), 0.8);
    expect(lip.top.heightAt(0.15)).toBe(5);
    expect(lip.lips.heightAt(0.15)).toBe(10);
    // the same under the other end, and at the very end of the metal
    const left = throughLips(
      unionRegions(rectangle(0, 0, 10, 10), rectangle(-0.3, 9, 1, 10), rectangle(-0.3, 0, 0, 1)),
      0.8,
    );
    expect(left.top.heightAt(-0.15)).toBe(1);
    const wall = throughLips(subtractRegion(rectangle(-10, 0, 10, 20), rectangle(0, 5, 0.1, 6)), 0.8);
    expect(wall.top.heightAt(0.05)).toBe(20);
    expect(wall.lips.isEmpty).toBe(true);
  });
  it('stands in the way with its very last corner, also on a line of many corners', () => {
    const comb = Array.from({ length: 30 }, (_, i) => rectangle(-10 + i * 0.27, 0, -10 + i * 0.27 + 0.1, 2));
    for (const end of [-1.82, -1.73, -1.37]) {
      const surface = Surface.of(unionRegions(...comb, rectangle(end - 0.03, 0, end, 5.43)));
      const falling = { x: [end - 0.3, end + 0.7], y: [5.43 + 0.9, 5.43 - 2.1] };
      expect(surface.rise(falling)).toBeCloseTo(0, 6);
      expect(surface.rise(falling, 0, -0.1)).toBeCloseTo(0.1, 6);
      expect(surface.clears(falling, 0, -0.1)).toBe(false);
    }
  });
  it('rises to where the shape just clears', () => {
    fc.assert(
      fc.property(metal, shape, coordinate(-12, 10), (region, s, x) => {
        const surface = Surface.of(region);
        const side = lowerSide(s);
        const up = surface.rise(side, x, 0);
        if (up === -Infinity) return;
        expect(surface.clears(side, x, up + 1e-6)).toBe(true);
        expect(surface.clears(side, x, up - 1e-3)).toBe(false);
      }),
    );
  });
});

describe('what is plain about a top of metal', () => {
  const place = fc.tuple(coordinate(-12, 20), coordinate(0, 12)).map(([x, y]) => point(x, y));
  it('stands over a way as far as it says, and over all of one that runs below it', () => {
    fc.assert(
      fc.property(metal, place, place, (region, a, b) => {
        const top = Surface.of(region);
        const share = top.standsOver(a, b, 0.003);
        for (let k = 1; share > 0 && k < 200; k++) {
          const t = (share * k) / 200;
          const [x, y] = [a.x + (b.x - a.x) * t, a.y + (b.y - a.y) * t];
          if (top.heightAt(x, 1) < y + 0.003 - 1e-9) return false;
        }
        return true;
      }),
    );
    const step = Surface.of([[point(0, 0), point(10, 0), point(10, 4), point(6, 4), point(6, 2), point(0, 2)]]);
    expect(step.standsOver(point(9, 1), point(1, 1), 0.003)).toBe(1);
    expect(step.standsOver(point(1, 1), point(9, 1), 0.003)).toBe(1);
    // as far as the wall, from both sides
    expect(step.standsOver(point(9, 3), point(1, 3), 0.003)).toBeCloseTo(3 / 8, 9);
    expect(step.standsOver(point(1, 3), point(9, 3), 0.003)).toBe(0);
    // a way that rises through the top ends at the last corner that is plain
    expect(step.standsOver(point(9, 3), point(7, 5), 0.003)).toBe(0);
    expect(step.standsOver(point(3, 1), point(3, 1.9), 0.003)).toBe(1);
    expect(step.standsOver(point(3, 1), point(3, 2.1), 0.003)).toBe(0);
  });
  it('is cut the same on a way that goes on, whether what was cut up to its start is looked at again or not', () => {
    fc.assert(
      fc.property(
        metal,
        shape,
        fc.array(place, { minLength: 3, maxLength: 8 }),
        fc.boolean(),
        (region, s, way, fine) => {
          // steps as short as those along a round, too
          const path = fine ? way.map((p) => point(way[0].x + (p.x - way[0].x) / 40, p.y / 40 + way[0].y)) : way;
          const [whole, fresh] = [Surface.of(region), Surface.of(region)];
          for (let i = 1; i < path.length; i++) {
            const side = lowerSideOn(s, path[i - 1], path[i]);
            whole.cut(side);
            fresh.cut(side, i > 1 ? side.fresh : undefined);
          }
          const { x, y } = whole.corners;
          for (let i = 1; i < x.length; i++) {
            if (x[i] - x[i - 1] < 1e-6) continue;
            for (const t of [0.1, 0.5, 0.9]) {
              const at = x[i - 1] + (x[i] - x[i - 1]) * t;
              const want = y[i - 1] + (y[i] - y[i - 1]) * t;
              if (want > VOID && Math.abs(fresh.heightAt(at) - want) > 1e-6) return false;
            }
          }
          return Math.abs(whole.removed - fresh.removed) < 1e-6;
        },
      ),
      { numRuns: 400 },
    );
  });
  it('is cut along an arc at once as in many small steps', () => {
    const turn = fc.integer({ min: 0, max: 1000 }).map((k) => k / 1000);
    const nose = shape.filter((s) => s.radius > 0);
    const round = fc.record({
      centre: place,
      radius: coordinate(0, 6),
      hollow: fc.boolean(),
      turns: fc.tuple(turn, turn),
      left: fc.boolean(),
    });
    let rolled = 0;
    fc.assert(
      fc.property(nose, round, (s, { centre, radius, hollow, turns, left }) => {
        const low = (hollow ? Math.PI : 0) + Math.PI * turns[0];
        const high = (hollow ? Math.PI : 0) + Math.PI * Math.min(1, turns[0] + 0.02 + turns[1] / 8);
        const at = (w: number): Point => point(centre.x + radius * Math.cos(w), centre.y + radius * Math.sin(w));
        // over a crest from right to left it is counter-clockwise, in a hollow clockwise
        const anticlockwise = hollow !== left;
        const way = arc(at(anticlockwise ? low : high), at(anticlockwise ? high : low), centre, !anticlockwise);
        const side = high - low < 1e-3 || radius < 0.01 ? null : lowerSideOnArc(s, way);
        if (!side) return true;
        rolled++;
        const steps = flattenChain([way], 1e-5);
        const sides = steps.slice(1).map((p, i) => lowerSideOn(s, steps[i], p, 1e-5));
        const [from, to] = [side.x[0], side.x[side.x.length - 1]];
        const truth = Surface.outermost(sides, from - 1, to + 1);
        const start = lowerSideOn(s, way.from, way.from);
        for (let k = 1; k < 100; k++) {
          const x = from + ((to - from) * k) / 100;
          const y = sideHeight(side, x);
          // chords lie within, seen square to the line
          const around = [-6e-4, 0, 6e-4].map((d) => truth.heightAt(x + d));
          if (y < Math.min(...around) - 5e-5 || y > Math.max(...around) + 6e-4) return false;
          if ((x < side.fresh.from || x > side.fresh.to) && Math.abs(y - sideHeight(start, x)) > 1e-9) return false;
        }
        return true;
      }),
      { numRuns: 2000 },
    );
    expect(rolled).toBeGreaterThan(200);
  });
  it('reaches over an upper side only where it says', () => {
    let outside = 0;
    fc.assert(
      fc.property(metal, shape, place, place, fc.boolean(), (region, s, a, b, many) => {
        const top = Surface.of(region);
        // a line with many corners has its bins
        if (many) for (let k = 0; k < 40; k++) top.cut(carriedSide(lowerSide(s), -9 + k / 2, 11 - (k % 5) / 10));
        const side = upperSideOn(s, a, b);
        const over = top.overhang(side);
        const [from, to] = [side.x[0], side.x[side.x.length - 1]];
        for (let k = 1; k < 200; k++) {
          const x = from + ((to - from) * k) / 200;
          if (over && x >= over.from && x <= over.to) continue;
          outside++;
          if (top.heightAt(x, 1) > -sideHeight(side, x) + 1e-9) return false;
        }
        return true;
      }),
      { numRuns: 300 },
    );
    expect(outside).toBeGreaterThan(100);
  });
});

describe('outlines', () => {
  it('reach the lowest and the outermost points of the shape, also where an upright side leans by its last digit', () => {
    const ulp = fc.integer({ min: -4, max: 4 }).map((k) => k * 1.1e-16);
    fc.assert(
      fc.property(coordinate(1, 8), coordinate(0, 3), fc.tuple(ulp, ulp, ulp, ulp), (r, rise, e) => {
        const s: RoundedPolygon = {
          points: [
            point(0, 0),
            point(r * (1 + e[0]), rise),
            point(r * (1 + e[1]), 40),
            point(-r * (1 + e[2]), 40),
            point(-r * (1 + e[3]), rise),
          ],
          radius: 0,
        };
        const side = lowerSide(s);
        expect(Math.min(...side.y)).toBeCloseTo(0, 9);
        expect(side.x[0]).toBeCloseTo(-r, 9);
        expect(side.x[side.x.length - 1]).toBeCloseTo(r, 9);
        expect(side.y[0]).toBeCloseTo(rise, 9);
      }),
    );
  });
  it('of a nose lie on its circle and never outside', () => {
    const side = lowerSide({ points: [point(0, 0), point(2, 9), point(-2, 9)], radius: 0.8 });
    side.x.forEach((x, i) => {
      if (Math.abs(x) < 0.3) expect(Math.hypot(x, side.y[i])).toBeCloseTo(0.8, 9);
    });
    expect(Math.min(...side.y)).toBeCloseTo(-0.8, 3);
  });
  it('inset by a skin are what the polygon library leaves', () => {
    fc.assert(
      fc.property(shape, fc.constantFrom(0.002, 0.1, 0.5), (s, by) => {
        const inset = insetShape(s, by);
        const full = sweepAlong(s, [point(0, 0)]);
        const area = inset ? regionArea(sweepAlong(inset, [point(0, 0)])) : 0;
        expect(area).toBeLessThanOrEqual(regionArea(full) + 1e-6);
        if (inset) for (const p of inset.points) expect(Number.isFinite(p.x + p.y)).toBe(true);
      }),
    );
  });
});
