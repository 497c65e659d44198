import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  arcRadius,
  type Curve,
  distance,
  distanceToCurve,
  fitCurves,
  fitFunction,
  joinCurves,
  line,
  point,
  pointAt,
  reverseCurve,
} from '.';

describe('fitting', () => {
  it('samples of a circle give the circle, samples of a line the line', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0.2, max: 500, noNaN: true }),
        fc.double({ min: 0, max: 6, noNaN: true }),
        fc.double({ min: 0.3, max: 4, noNaN: true }),
        (r, start, sweep) => {
          const at = (t: number) => point(3 + r * Math.cos(start + sweep * t), -2 + r * Math.sin(start + sweep * t));
          const [c, ...more] = fitFunction(at, 1e-3);
          expect(more).toEqual([]);
          expect(c.kind === 'arc' ? arcRadius(c) / r : 0).toBeCloseTo(1, 7);
        },
      ),
    );
    expect(fitFunction((t) => point(t * 7, t * 3), 1e-3)).toEqual([line(point(0, 0), point(7, 3))]);
  });
  it('a free curve stays within the tolerance between the samples too', () => {
    const at = (t: number) => point(60 * t, 10 + 6 * Math.sin(5 * t) + 2 * t * t);
    const curves = fitFunction(at, 9e-4);
    expect(curves.length).toBeGreaterThan(3);
    expect(curves.length).toBeLessThan(40);
    for (let t = 0; t < 1; t += 0.00137)
      expect(Math.min(...curves.map((c) => distanceToCurve(c, at(t))))).toBeLessThan(1e-3);
    curves.slice(1).forEach((c, i) => {
      expect(distance(curves[i].to, c.from)).toBe(0);
    });
  });
  it('a polygon of a round keeps its straight neighbours straight', () => {
    const round = Array.from({ length: 25 }, (_, i) =>
      point(10 + 5 * Math.sin((i / 24) * (Math.PI / 2)), 5 - 5 * Math.cos((i / 24) * (Math.PI / 2))),
    );
    const curves = fitCurves([point(0, 0), ...round, point(15, 20)], { tolerance: 0.01, polyline: true });
    expect(curves.map((c) => c.kind)).toEqual(['line', 'arc', 'line']);
    expect(curves[1].kind === 'arc' && arcRadius(curves[1])).toBeCloseTo(5, 2);
  });
});

describe('joining', () => {
  it('puts pieces in any order and direction back into one chain', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 2, max: 40 }),
        fc.array(fc.tuple(fc.nat(), fc.boolean()), { minLength: 40, maxLength: 40 }),
        (n, dice) => {
          const points = Array.from({ length: n + 1 }, (_, i) => point(i, Math.sin(i) * 3));
          const pieces: Curve[] = points.slice(1).map((p, i) => line(points[i], p));
          const shuffled = pieces
            .map((p, i) => ({ p: dice[i][1] ? reverseCurve(p) : p, key: dice[i][0] }))
            .sort((a, b) => a.key - b.key);
          const { chains, branches } = joinCurves(
            shuffled.map((s) => s.p),
            1e-3,
          );
          expect(branches).toEqual([]);
          expect(chains).toHaveLength(1);
          expect(chains[0]).toHaveLength(n);
          chains[0].slice(1).forEach((c, i) => {
            expect(distance(chains[0][i].to, c.from)).toBeLessThan(1e-9);
          });
        },
      ),
    );
  });
  it('closes small gaps only and names branches', () => {
    const a = line(point(0, 0), point(5, 0));
    const b = line(point(5.004, 0), point(9, 3));
    expect(joinCurves([a, b], 0.01).chains).toHaveLength(1);
    expect(joinCurves([a, b], 0.001).chains).toHaveLength(2);
    expect(
      joinCurves([a, line(point(5, 0), point(9, 3)), line(point(5, 0), point(9, -3))], 0.01).branches,
    ).toHaveLength(1);
    expect(pointAt(a, 0.5)).toEqual(point(2.5, 0));
  });
});
