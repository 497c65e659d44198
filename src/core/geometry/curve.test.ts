import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  type Arc,
  arc,
  arcRadius,
  arcSweep,
  boundsOfCurves,
  type Curve,
  curveLength,
  distanceToCurve,
  flattenCurve,
  greatestDistance,
  leftNormalAt,
  line,
  parameterOf,
  pointAt,
  reverseChain,
  reverseCurve,
  tangentAt,
  translateCurve,
  trimCurve,
} from './curve';
import { intersectCarriers, intersectCurves } from './intersect';
import { joinCurves } from './join';
import { chainArea, chainVolume } from './measure';
import { add, distance, dot, fromAngle, lerp, type Point, point, scale } from './point';

const coordinate = fc.integer({ min: -5000, max: 5000 }).map((v) => v / 100);
const place = fc.tuple(coordinate, coordinate).map(([x, y]) => point(x, y));
const anyArc = fc
  .record({
    centre: place,
    r: fc.integer({ min: 20, max: 4000 }).map((v) => v / 100),
    a: fc.integer({ min: -314, max: 314 }).map((v) => v / 100),
    sweep: fc.integer({ min: 5, max: 600 }).map((v) => v / 100),
    clockwise: fc.boolean(),
  })
  .map(({ centre, r, a, sweep, clockwise }): Arc => {
    const end = a + (clockwise ? -sweep : sweep);
    return arc(add(centre, fromAngle(a, r)), add(centre, fromAngle(end, r)), centre, clockwise);
  });
const anyLine = fc
  .tuple(place, place)
  .filter(([a, b]) => distance(a, b) > 0.05)
  .map(([a, b]): Curve => line(a, b));
const anyCurve: fc.Arbitrary<Curve> = fc.oneof(anyLine, anyArc);

describe('a piece', () => {
  it('turned round is as long, ends where it began and turns back into itself', () => {
    fc.assert(
      fc.property(anyCurve, (c) => {
        const back = reverseCurve(c);
        expect(curveLength(back)).toBeCloseTo(curveLength(c), 9);
        expect(back.from).toEqual(c.to);
        expect(distance(pointAt(back, 0.3), pointAt(c, 0.7))).toBeLessThan(1e-6);
        expect(reverseCurve(back)).toEqual(c);
      }),
    );
  });
  it('is as long as its parts, and its parameter counts its length', () => {
    fc.assert(
      fc.property(anyCurve, fc.double({ min: 0.05, max: 0.95, noNaN: true }), (c, t) => {
        const first = trimCurve(c, 0, t);
        const second = trimCurve(c, t, 1);
        expect(curveLength(first)).toBeCloseTo(curveLength(c) * t, 6);
        expect(curveLength(first) + curveLength(second)).toBeCloseTo(curveLength(c), 6);
        expect(distance(first.to, second.from)).toBeLessThan(1e-9);
        expect(parameterOf(c, first.to)).toBeCloseTo(t, 6);
      }),
    );
  });
  it('runs along its tangent, with its normal on the left', () => {
    fc.assert(
      fc.property(anyCurve, fc.double({ min: 0.01, max: 0.98, noNaN: true }), (c, t) => {
        const step = Math.min(0.01, 1e-4 / curveLength(c));
        const a = pointAt(c, t);
        const b = pointAt(c, t + step);
        const tangent = tangentAt(c, t);
        const way = scale(point(b.x - a.x, b.y - a.y), 1 / distance(a, b));
        expect(dot(way, tangent)).toBeGreaterThan(0.999);
        const n = leftNormalAt(c, t);
        expect(dot(n, tangent)).toBeCloseTo(0, 9);
        expect(tangent.x * n.y - tangent.y * n.x).toBeCloseTo(1, 9);
      }),
    );
  });
  it('lies within its bounds and touches each of them', () => {
    fc.assert(
      fc.property(anyCurve, (c) => {
        const b = boundsOfCurves([c]);
        const points = Array.from({ length: 2001 }, (_, i) => pointAt(c, i / 2000));
        const slack = (curveLength(c) / 2000) ** 2 + 1e-6;
        const xs = points.map((p) => p.x);
        const ys = points.map((p) => p.y);
        for (const [least, most, from, to] of [
          [Math.min(...xs), Math.max(...xs), b.minX, b.maxX],
          [Math.min(...ys), Math.max(...ys), b.minY, b.maxY],
        ]) {
          expect(least - from).toBeGreaterThan(-1e-6);
          expect(to - most).toBeGreaterThan(-1e-6);
          expect(least - from).toBeLessThan(slack);
          expect(to - most).toBeLessThan(slack);
        }
      }),
      { numRuns: 40 },
    );
  });
  it('flattened stays within the chord error and ends at its end', () => {
    fc.assert(
      fc.property(anyArc, fc.constantFrom(1e-4, 1e-3, 0.01, 0.1), (c, chord) => {
        const points = [c.from, ...flattenCurve(c, chord)];
        expect(points[points.length - 1]).toEqual(c.to);
        const r = arcRadius(c);
        for (let i = 1; i < points.length; i++) {
          const middle = scale(add(points[i - 1], points[i]), 0.5);
          expect(r - distance(middle, c.centre)).toBeLessThan(chord + 1e-9);
        }
        // and has no more points than are needed, within a factor of two
        const needed = Math.abs(arcSweep(c)) / (2 * Math.acos(Math.max(0, 1 - chord / r)));
        expect(points.length - 1).toBeLessThanOrEqual(Math.max(3, 2 * needed + 2));
      }),
    );
  });
  it('moved keeps its length and moves every point alike', () => {
    fc.assert(
      fc.property(anyCurve, place, (c, by) => {
        const moved = translateCurve(c, by);
        expect(curveLength(moved)).toBeCloseTo(curveLength(c), 6);
        expect(distance(pointAt(moved, 0.4), add(pointAt(c, 0.4), by))).toBeLessThan(1e-6);
      }),
    );
  });
});

describe('two pieces', () => {
  it('meet in points that lie on both', () => {
    fc.assert(
      fc.property(anyCurve, anyCurve, (a, b) => {
        for (const p of intersectCurves(a, b))
          for (const c of [a, b]) {
            const t = parameterOf(c, p);
            expect(t).toBeGreaterThanOrEqual(-1e-6);
            expect(t).toBeLessThanOrEqual(1 + 1e-6);
            expect(distance(pointAt(c, Math.max(0, Math.min(1, t))), p)).toBeLessThan(1e-4);
          }
        expect(intersectCurves(a, b).length).toBe(intersectCurves(b, a).length);
      }),
    );
  });
  it('made to cross do cross: a diameter and its circle, a chord at 3 of 5, two circles 6 apart', () => {
    const circle = arc(point(5, 0), point(-5, 0), point(0, 0), false);
    expect(intersectCurves(circle, line(point(-9, 3), point(9, 3))).map((p) => Math.abs(p.x))).toEqual([4, 4]);
    // only the upper half is there
    expect(intersectCurves(circle, line(point(-9, -3), point(9, -3)))).toEqual([]);
    const other = arc(point(11, 0), point(1, 0), point(6, 0), false);
    const [p] = intersectCurves(circle, other);
    expect(p.x).toBeCloseTo(3, 9);
    expect(p.y).toBeCloseTo(4, 9);
  });
  it('that only touch meet once, and not when they are a hair apart', () => {
    const circle = arc(point(5, 0), point(-5, 0), point(0, 0), false);
    expect(intersectCarriers(circle, line(point(-9, 5), point(9, 5)))).toMatchObject({ kind: 'points' });
    expect(intersectCurves(circle, line(point(-9, 5), point(9, 5)))).toHaveLength(1);
    expect(intersectCarriers(circle, line(point(-9, 5.0001), point(9, 5.0001))).kind).toBe('none');
    expect(intersectCarriers(line(point(0, 0), point(4, 2)), line(point(2, 1), point(6, 3))).kind).toBe('coincident');
    expect(intersectCarriers(line(point(0, 0), point(4, 2)), line(point(0, 1), point(4, 3))).kind).toBe('parallel');
  });
});

describe('loose pieces', () => {
  /** A closed ring of straights and a round, 30 by 20. */
  const ring: Curve[] = [
    line(point(0, 0), point(30, 0)),
    line(point(30, 0), point(30, 15)),
    arc(point(30, 15), point(25, 20), point(25, 15), false),
    line(point(25, 20), point(0, 20)),
    line(point(0, 20), point(0, 0)),
  ];
  it('in any order and direction come together as the ring they are', () => {
    fc.assert(
      fc.property(
        fc.shuffledSubarray([0, 1, 2, 3, 4], { minLength: 5 }),
        fc.array(fc.boolean(), { minLength: 5, maxLength: 5 }),
        (order, turned) => {
          const { chains, branches } = joinCurves(
            order.map((k) => (turned[k] ? reverseCurve(ring[k]) : ring[k])),
            1e-3,
          );
          expect(branches).toEqual([]);
          expect(chains).toHaveLength(1);
          expect(Math.abs(chainArea(chains[0]))).toBeCloseTo(30 * 20 - 25 + (Math.PI * 25) / 4, 6);
        },
      ),
    );
  });
  it('with an end out by less than the gap close it, with more stay open', () => {
    const open = [...ring.slice(0, 4), line(point(0, 20), point(0, 0.004))];
    expect(joinCurves(open, 0.01).chains).toHaveLength(1);
    const [chain] = joinCurves(open, 0.01).chains;
    for (let i = 1; i < chain.length; i++) expect(distance(chain[i - 1].to, chain[i].from)).toBe(0);
    const parts = joinCurves([ring[0], translateCurve(ring[1], point(0.5, 0))], 0.01).chains;
    expect(parts).toHaveLength(2);
  });
  it('three at one place are a branch', () => {
    const { branches } = joinCurves([ring[0], ring[1], line(point(30, 0), point(40, -5))], 1e-3);
    expect(branches).toEqual([point(30, 0)]);
  });
});

describe('area and volume', () => {
  const closed = (points: readonly Point[]): Curve[] => points.map((p, i) => line(p, points[(i + 1) % points.length]));
  it('of simple bodies are those of the schoolbook', () => {
    // cylinder r 10, l 40; cone r 6, h 9; ring of a rectangle 2 × 3 at mean radius 11.5
    expect(chainVolume(closed([point(0, 0), point(40, 0), point(40, 10), point(0, 10)]))).toBeCloseTo(
      Math.PI * 4000,
      6,
    );
    expect(chainVolume(closed([point(0, 0), point(9, 0), point(0, 6)]))).toBeCloseTo((Math.PI * 36 * 9) / 3, 6);
    expect(chainVolume(closed([point(0, 10), point(2, 10), point(2, 13), point(0, 13)]))).toBeCloseTo(
      2 * Math.PI * 11.5 * 6,
      6,
    );
    // ball r 7
    const ball = [arc(point(7, 0), point(-7, 0), point(0, 0), false), line(point(-7, 0), point(7, 0))];
    expect(chainVolume(ball)).toBeCloseTo((4 / 3) * Math.PI * 343, 6);
    expect(chainArea(ball)).toBeCloseTo((Math.PI * 49) / 2, 9);
    // torus: round of r 2 about a circle of 9
    const torus = [
      arc(point(2, 9), point(-2, 9), point(0, 9), false),
      arc(point(-2, 9), point(2, 9), point(0, 9), false),
    ];
    expect(chainVolume(torus)).toBeCloseTo(2 * Math.PI * Math.PI * 9 * 4, 6);
  });
  it('change their sign with the direction of travel', () => {
    fc.assert(
      fc.property(fc.array(place, { minLength: 3, maxLength: 8 }), (points) => {
        const chain = closed(points);
        expect(chainArea(reverseChain(chain))).toBeCloseTo(-chainArea(chain), 6);
        const up = chain.map((c) => translateCurve(c, point(0, 60)));
        expect(chainVolume(reverseChain(up)) + chainVolume(up)).toBeCloseTo(0, 3);
      }),
    );
  });
});

describe('the greatest distance of a line of points from a chain', () => {
  it('lies between two corners where those are nearer to it than what is between them', () => {
    // from the middle of the line the ends of two posts, 3 below it, are 5 away
    const posts = [line(point(-4, -9), point(-4, -3)), line(point(4, -3), point(4, -9))];
    expect(greatestDistance([point(-4, 0), point(4, 0)], posts, 1e-4)).toBeCloseTo(5, 3);
    expect(greatestDistance([point(0, 2), point(0, 3)], [line(point(-9, 0), point(9, 0))], 1e-4)).toBe(3);
    expect(greatestDistance([], posts, 1e-4)).toBe(0);
  });
  it('is what a thousand places of the line tell, to within what was asked', () => {
    fc.assert(
      fc.property(
        fc.array(place, { minLength: 2, maxLength: 5 }),
        fc.array(place, { minLength: 2, maxLength: 6 }),
        (points, corners) => {
          const chain = corners
            .slice(1)
            .flatMap((p, i) => (distance(corners[i], p) > 0.1 ? [line(corners[i], p)] : []));
          fc.pre(chain.length > 0);
          const seen = points
            .slice(1)
            .flatMap((p, i) => Array.from({ length: 1001 }, (_, k) => lerp(points[i], p, k / 1000)))
            .map((p) => Math.min(...chain.map((c) => distanceToCurve(c, p))));
          const most = greatestDistance(points, chain, 0.05);
          expect(most).toBeGreaterThan(Math.max(...seen) - 0.051);
          // a thousandth of the longest line is what the places may miss
          expect(most).toBeLessThan(Math.max(...seen) + 0.08);
        },
      ),
    );
  });
});
