import { describe, expect, it } from 'vitest';
import { seeded } from '../../../../../tests/fixtures/random';
import { arc, type Curve, distance, flattenCurve, line, type Point, point } from '../../../geometry';
import { compensate } from './compensation';
import { type ContourStep, levelMeets, movedContour, unsteadyAt } from './cycles';

const steps = (curves: readonly Curve[]): ContourStep[] =>
  curves.map((curve, i) => ({ curve, line: i + 1, feed: null }));
const ways = (...points: Point[]): Curve[] => points.slice(1).map((p, i) => line(points[i], p));
const path = (r: ReturnType<typeof compensate>): Curve[] => {
  if (!r.ok) throw new Error(r.message);
  return r.path;
};
const toContour = (p: Point, contour: readonly Curve[]): number =>
  Math.min(
    ...contour.flatMap((c) => {
      const points = [c.from, ...flattenCurve(c, 1e-4)];
      return points.slice(1).map((b, i) => {
        const a = points[i];
        const l2 = (b.x - a.x) ** 2 + (b.y - a.y) ** 2;
        const t = l2 === 0 ? 0 : Math.max(0, Math.min(1, ((p.x - a.x) * (b.x - a.x) + (p.y - a.y) * (b.y - a.y)) / l2));
        return Math.hypot(p.x - a.x - t * (b.x - a.x), p.y - a.y - t * (b.y - a.y));
      });
    }),
  );

describe('compensation as a control does it', () => {
  // outside work runs toward −x with the tool above: on the right of travel (G42, −1)
  it('runs beside a straight at the nose radius', () => {
    const [c] = path(compensate(ways(point(0, 10), point(-20, 10)), 0.8, -1));
    expect(c.from.y).toBeCloseTo(10.8, 12);
    expect(c.to).toEqual(point(-20, 10.8));
    const [left] = path(compensate(ways(point(0, 10), point(-20, 10)), 0.8, 1));
    expect(left.from.y).toBeCloseTo(9.2, 12);
  });
  it('rounds an outside corner about it', () => {
    // along the front outward, then back along the cylinder: the corner ⌀20 stands out
    const made = path(compensate(ways(point(0, 0), point(0, 10), point(-20, 10)), 0.8, -1));
    expect(made).toHaveLength(3);
    expect(made[1]).toMatchObject({ kind: 'arc', centre: point(0, 10) });
    expect(distance(made[1].from, point(0.8, 10))).toBeLessThan(1e-12);
    expect(distance(made[1].to, point(0, 10.8))).toBeLessThan(1e-12);
  });
  it('goes into an inside corner no further than both sides let it', () => {
    const made = path(compensate(ways(point(0, 10), point(-20, 10), point(-20, 16)), 0.8, -1));
    expect(made).toHaveLength(2);
    expect(distance(made[0].to, point(-19.2, 10.8))).toBeLessThan(1e-12);
  });
  it('makes arcs larger outside and smaller inside, and none of what the nose just fills', () => {
    const ball = [arc(point(0, 0), point(-10, 10), point(-10, 0), false)];
    const [grown] = path(compensate(ball, 0.8, -1));
    expect(grown.kind === 'arc' && distance(grown.from, grown.centre)).toBeCloseTo(10.8, 9);
    const hollow = [
      ...ways(point(0, 10), point(-5, 10)),
      arc(point(-5, 10), point(-7, 12), point(-5, 12), true),
      ...ways(point(-7, 12), point(-7, 20)),
    ];
    const made = path(compensate(hollow, 0.8, -1));
    expect(made[1].kind === 'arc' && distance(made[1].from, (made[1] as { centre: Point }).centre)).toBeCloseTo(1.2, 9);
    // the same radius as the nose: the arc is gone, its neighbours meet in its centre
    expect(path(compensate(hollow, 2, -1))).toHaveLength(2);
    expect(compensate(hollow, 2.1, -1)).toMatchObject({ ok: false, index: 1 });
  });
  it('refuses a groove narrower than the nose and names the place', () => {
    const groove = ways(point(0, 10), point(-10, 10), point(-10, 8), point(-11, 8), point(-11, 10), point(-20, 10));
    expect(compensate(groove, 0.4, -1).ok).toBe(true);
    const refused = compensate(groove, 0.8, -1);
    expect(refused).toMatchObject({ ok: false, message: expect.stringContaining('wider than the hollow') });
    expect(refused.ok || [1, 2, 3]).toContain(refused.ok ? -1 : refused.index);
  });
  it('keeps the distance everywhere on random steady contours, and hangs together', () => {
    const random = seeded(17);
    let long = 0;
    for (let k = 0; k < 150; k++) {
      let z = 0;
      let r = 5;
      const points = [point(z, r)];
      for (let i = 0; i < 7; i++) {
        if (random() < 0.5) z -= 2 + random() * 5;
        if (random() < 0.6) {
          z -= random() < 0.5 ? 0 : 2;
          r += 2 + random() * 3;
        } else z -= 3;
        points.push(point(z, r));
      }
      const contour = ways(...points);
      const made = compensate(contour, 0.8, -1);
      if (!made.ok) continue;
      long++;
      for (let i = 1; i < made.path.length; i++)
        expect(distance(made.path[i - 1].to, made.path[i].from)).toBeLessThan(1e-9);
      expect(made.sources).toHaveLength(made.path.length);
      for (let i = 1; i < made.sources.length; i++) expect(made.sources[i]).toBeGreaterThanOrEqual(made.sources[i - 1]);
      for (const c of made.path)
        for (const p of flattenCurve(c, 1e-4)) expect(Math.abs(toContour(p, contour) - 0.8)).toBeLessThan(2e-3);
    }
    expect(long).toBeGreaterThan(100);
  });
});

describe('contours of the roughing cycle', () => {
  const steady = steps([
    ...ways(point(2, 10), point(-10, 10), point(-15, 15)),
    arc(point(-15, 15), point(-20, 20), point(-20, 15), false),
    ...ways(point(-20, 20), point(-30, 20)),
  ]);
  it('that only fall back and rise are steady, others name the piece', () => {
    expect(unsteadyAt(steady, 1)).toBeNull();
    const hollow = steps(ways(point(2, 10), point(-10, 10), point(-14, 8), point(-20, 8)));
    expect(unsteadyAt(hollow, 1)?.line).toBe(2);
    const forward = steps(ways(point(2, 10), point(-10, 10), point(-8, 12)));
    expect(unsteadyAt(forward, 1)?.line).toBe(2);
    // a bore falls toward the axis
    const bore = steps(ways(point(2, 20), point(-10, 20), point(-10, 15), point(-20, 15)));
    expect(unsteadyAt(bore, -1)).toBeNull();
    expect(unsteadyAt(bore, 1)?.line).toBe(2);
    // the end of an arc may lie past its crest by what rounding leaves, and no more
    const crest = (past: number): ContourStep[] =>
      steps([
        arc(point(0, 10), point(-2 - past, 12 - (past * past) / 4), point(-2, 10), false),
        line(point(-2 - past, 12 - (past * past) / 4), point(-9, 12)),
      ]);
    expect(unsteadyAt(crest(0.02), 1)).toBeNull();
    expect(unsteadyAt(crest(0.1), 1)?.line).toBe(1);
    // many small turns back are a large one
    const stairs = steps(
      ways(point(0, 10), ...Array.from({ length: 10 }, (_, i) => point(-1 - i, 10 - 3e-4 * (i + 1)))),
    );
    expect(unsteadyAt(stairs, 1)?.line).toBe(2);
    // the ends of an arc may be steady while it bulges
    const bulge = steps([arc(point(0, 10), point(-10, 10.5), point(-5, 8), true)]);
    expect(unsteadyAt(bulge, 1)).not.toBeNull();
  });
  it('meet a level where it runs into them', () => {
    expect(levelMeets(steady, 12, 1)).toBeCloseTo(-12, 9);
    expect(levelMeets(steady, 15, 1)).toBeCloseTo(-15, 9);
    // on the round: (z + 20)² + (x − 15)² = 25
    expect(levelMeets(steady, 18, 1)).toBeCloseTo(-20 + Math.sqrt(25 - 9), 9);
    // a level above everything, or below its beginning, meets nothing
    expect(levelMeets(steady, 25, 1)).toBeNull();
    expect(levelMeets(steady, 8, 1)).toBeNull();
    const bore = steps(ways(point(2, 20), point(-10, 20), point(-10, 15), point(-20, 15)));
    expect(levelMeets(bore, 17, -1)).toBeCloseTo(-10, 9);
    // an arc that stands nearly upright bulges past both its ends, by 0.06 µm: (x − 3.353)² + (z + 16.412)² = 9.015² + 0.032²
    const upright = steps([
      line(point(12.368, -20), point(12.368, -16.444)),
      arc(point(12.368, -16.444), point(12.365, -16.177), point(3.353, -16.412), false),
    ]);
    expect(unsteadyAt(upright, 1)).toBeNull();
    const across = 3.353 + Math.sqrt(9.015 ** 2 + 0.032 ** 2 - 0.018 ** 2);
    expect(across).toBeGreaterThan(12.36803);
    expect(levelMeets(upright, -16.43, 1)).toBeCloseTo(across, 9);
  });
  it('moved by the allowances keep their shape', () => {
    const moved = movedContour(steady, 0.1, 0.2);
    moved.forEach((s, i) => {
      expect(s.curve.from.x - steady[i].curve.from.x).toBeCloseTo(0.1, 12);
      expect(s.curve.from.y - steady[i].curve.from.y).toBeCloseTo(0.2, 12);
      expect(s.curve.kind).toBe(steady[i].curve.kind);
    });
    expect(levelMeets(moved, 12.2, 1)).toBeCloseTo(-11.9, 9);
  });
});
