import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  arc,
  arcRadius,
  arcSweep,
  bridgeHollows,
  type Curve,
  chainArea,
  chainVolume,
  chamferCorner,
  containsPoint,
  contourOfCentrePath,
  curveLength,
  distance,
  distanceToCurve,
  filletCorner,
  flattenChain,
  flattenCurve,
  foldAboutAxis,
  graphHeight,
  heightAt,
  inflateRegion,
  intersectCarriers,
  intersectCurves,
  line,
  offsetChain,
  orientation,
  overlapPositions,
  overlapsMoreThan,
  parameterOf,
  point,
  pointAt,
  rectangle,
  regionArea,
  regionVolume,
  reverseChain,
  segmentsCross,
  subtractRegion,
  sweepAlong,
  upperEnvelope,
} from './index';

const coordinate = fc.double({ min: -50, max: 50, noNaN: true });
const anyPoint = fc.record({ x: coordinate, y: coordinate });
const anyLine = fc
  .tuple(anyPoint, anyPoint)
  .filter(([a, b]) => distance(a, b) > 0.5)
  .map(([a, b]) => line(a, b));
const anyArc = fc
  .record({
    c: anyPoint,
    r: fc.double({ min: 0.5, max: 30, noNaN: true }),
    a: fc.double({ min: 0, max: 6.28, noNaN: true }),
    s: fc.double({ min: 0.1, max: 3, noNaN: true }),
    cw: fc.boolean(),
  })
  .map(({ c, r, a, s, cw }) => {
    const b = cw ? a - s : a + s;
    return arc(
      point(c.x + r * Math.cos(a), c.y + r * Math.sin(a)),
      point(c.x + r * Math.cos(b), c.y + r * Math.sin(b)),
      c,
      cw,
    );
  });
const anyCurve: fc.Arbitrary<Curve> = fc.oneof(anyLine, anyArc);

describe('orientation', () => {
  it('is positive counter-clockwise with y up', () => {
    expect(orientation(point(0, 0), point(1, 0), point(0, 1))).toBe(1);
    expect(orientation(point(0, 0), point(0, 1), point(1, 0))).toBe(-1);
    expect(orientation(point(0, 0), point(1, 1), point(2, 2))).toBe(0);
  });
  it('finds crossings of open segments only', () => {
    expect(segmentsCross(point(0, 0), point(2, 2), point(0, 2), point(2, 0))).toBe(true);
    expect(segmentsCross(point(0, 0), point(1, 1), point(1, 1), point(2, 0))).toBe(false);
  });
});

describe('curves', () => {
  it('measures a quarter circle', () => {
    const q = arc(point(10, 0), point(0, 10), point(0, 0), false);
    expect(curveLength(q)).toBeCloseTo(5 * Math.PI, 12);
    expect(pointAt(q, 0.5).x).toBeCloseTo(10 * Math.SQRT1_2, 12);
    expect(arcSweep(arc(point(10, 0), point(0, 10), point(0, 0), true))).toBeCloseTo(-1.5 * Math.PI, 12);
  });
  it('gives every point of a curve back as its parameter', () => {
    fc.assert(
      fc.property(anyCurve, fc.double({ min: 0.01, max: 0.99, noNaN: true }), (c, t) => {
        expect(parameterOf(c, pointAt(c, t))).toBeCloseTo(t, 6);
        expect(distanceToCurve(c, pointAt(c, t))).toBeLessThan(1e-7);
      }),
    );
  });
  it('flattens arcs within the chord error, with vertices on the circle', () => {
    fc.assert(
      fc.property(anyArc, (a) => {
        const points = [a.from, ...flattenCurve(a, 0.001)];
        for (let i = 1; i < points.length; i++) {
          expect(Math.abs(distance(points[i], a.centre) - arcRadius(a))).toBeLessThan(1e-9);
          const middle = point((points[i].x + points[i - 1].x) / 2, (points[i].y + points[i - 1].y) / 2);
          expect(arcRadius(a) - distance(middle, a.centre)).toBeLessThan(0.00101);
        }
      }),
    );
  });
});

describe('intersections', () => {
  it('tells parallel, coincident and none apart', () => {
    const a = line(point(0, 0), point(10, 0));
    expect(intersectCarriers(a, line(point(0, 1), point(5, 1))).kind).toBe('parallel');
    expect(intersectCarriers(a, line(point(20, 0), point(30, 0))).kind).toBe('coincident');
    expect(intersectCarriers(a, arc(point(1, 5), point(-1, 5), point(0, 5), false)).kind).toBe('none');
  });
  it('gives points that lie on both curves', () => {
    fc.assert(
      fc.property(anyCurve, anyCurve, (a, b) => {
        for (const p of intersectCurves(a, b)) {
          expect(distanceToCurve(a, p)).toBeLessThan(1e-5);
          expect(distanceToCurve(b, p)).toBeLessThan(1e-5);
        }
      }),
    );
  });
});

describe('area and volume', () => {
  it('agrees with closed forms', () => {
    const ball = [arc(point(5, 0), point(-5, 0), point(0, 0), false), line(point(-5, 0), point(5, 0))];
    expect(chainArea(ball)).toBeCloseTo((Math.PI * 25) / 2, 9);
    expect(chainVolume(ball)).toBeCloseTo((4 / 3) * Math.PI * 125, 8);
    const cone = [line(point(0, 0), point(10, 0)), line(point(10, 0), point(0, 6)), line(point(0, 6), point(0, 0))];
    expect(chainVolume(cone)).toBeCloseTo((Math.PI * 36 * 10) / 3, 9);
    expect(regionVolume(rectangle(0, 2, 10, 5))).toBeCloseTo(Math.PI * (25 - 4) * 10, 9);
  });
  it('agrees with the polygon of the same contour', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 2, max: 20, noNaN: true }),
        fc.double({ min: 0.3, max: 1.9, noNaN: true }),
        (r, up) => {
          const chain = [
            arc(point(r, up * r), point(-r, up * r), point(0, up * r), false),
            line(point(-r, up * r), point(-r, 0)),
            line(point(-r, 0), point(r, 0)),
            line(point(r, 0), point(r, up * r)),
          ];
          expect(regionVolume([flattenChain(chain).slice(1)]) / chainVolume(chain)).toBeCloseTo(1, 3);
        },
      ),
    );
  });
});

describe('offsets and corners', () => {
  it('keeps the distance everywhere and comes back', () => {
    const chain = [
      line(point(0, 0), point(-10, 0)),
      line(point(-10, 0), point(-10, 8)),
      arc(point(-10, 8), point(-16, 14), point(-16, 8), false),
      line(point(-16, 14), point(-30, 14)),
    ];
    const out = offsetChain(chain, -0.8);
    if (out.kind !== 'chain') throw new Error(out.reason);
    for (const c of out.chain)
      for (const t of [0, 0.3, 0.7, 1])
        expect(Math.min(...chain.map((k) => distanceToCurve(k, pointAt(c, t))))).toBeCloseTo(0.8, 9);
    const back = contourOfCentrePath(out.chain, -0.8);
    if (back.kind !== 'chain') throw new Error(back.reason);
    expect(back.chain.length).toBe(chain.length);
    back.chain.forEach((c, i) => {
      expect(distance(c.from, chain[i].from)).toBeLessThan(1e-6);
      expect(distance(c.to, chain[i].to)).toBeLessThan(1e-6);
    });
  });
  it('names the place where the nose swallows an inside arc', () => {
    const chain = [
      line(point(0, 0), point(-10, 0)),
      arc(point(-10, 0), point(-10.5, 0.5), point(-10, 0.5), true),
      line(point(-10.5, 0.5), point(-10.5, 9)),
    ];
    expect(offsetChain(chain, -0.8).kind).toBe('failed');
  });
  it('fillets and chamfers a right angle', () => {
    const a = line(point(0, 0), point(-10, 0));
    const b = line(point(-10, 0), point(-10, 10));
    const f = filletCorner(a, b, 2);
    expect(f && arcRadius(f.fillet)).toBeCloseTo(2, 9);
    expect(f?.a.to.x).toBeCloseTo(-8, 9);
    const c = chamferCorner(a, b, 1);
    expect(c?.chamfer.from.x).toBeCloseTo(-9, 9);
    expect(c?.chamfer.to.y).toBeCloseTo(1, 9);
    expect(filletCorner(a, b, 12)).toBeNull();
    expect(chamferCorner(a, b, 11)).toBeNull();
  });
});

describe('upper envelope', () => {
  it('is nowhere below any of its curves and touches one everywhere', () => {
    fc.assert(
      // vertical pieces carry no width by definition
      fc.property(
        fc.array(
          anyCurve.filter((c) => c.kind === 'arc' || Math.abs(c.to.x - c.from.x) > 0.05),
          { minLength: 2, maxLength: 12 },
        ),
        (curves) => {
          const envelope = upperEnvelope(curves);
          for (const c of curves)
            for (const t of [0.03, 0.21, 0.52, 0.77, 0.97]) {
              const p = pointAt(c, t);
              const h = heightAt(envelope, p.x);
              if (h === null) expect(Math.abs(c.to.x - c.from.x)).toBeLessThan(1e-6);
              else expect(h).toBeGreaterThan(p.y - 1e-5);
            }
          for (const e of envelope) {
            if (Math.abs(e.to.x - e.from.x) < 1e-6) continue;
            const x = (e.from.x + e.to.x) / 2;
            const p = point(x, graphHeight(e, x));
            expect(Math.min(...curves.map((c) => distanceToCurve(c, p)))).toBeLessThan(1e-5);
          }
        },
      ),
    );
  });
  it('has no needle where rounding has parted two pieces, and keeps a dip that is one', () => {
    const parted = (width: number) => {
      const right = line(point(-5 + width, 8), point(0, 8));
      return upperEnvelope([line(point(-10, 8), point(-5, 8)), right, line(point(-20, 2), point(0, 2))]);
    };
    const lowest = (width: number): number =>
      Math.min(...parted(width).flatMap((c) => [c.from, c.to].flatMap((p) => (p.x > -9 ? [p.y] : []))));
    expect(lowest(1.5e-7)).toBe(8);
    expect(lowest(1e-4)).toBe(2);
  });
  it('is one line where a circle only touches it from below', () => {
    const touching = upperEnvelope([
      line(point(-10, 8), point(0, 8)),
      line(point(0, 8), point(10, 8)),
      arc(point(-5, 3), point(5, 3), point(0, 3), true),
    ]);
    expect(touching.map((c) => [c.kind, c.from.x, c.to.x])).toEqual([
      ['line', -10, 0],
      ['line', 0, 10],
    ]);
  });
  it('bridges hollows toward −x', () => {
    const graph = [
      line(point(-20, 2), point(-15, 2)),
      line(point(-15, 2), point(-10, 8)),
      line(point(-10, 8), point(0, 5)),
    ];
    const bridged = bridgeHollows(graph);
    expect(heightAt(bridged, -18)).toBeCloseTo(8, 9);
    expect(heightAt(bridged, -2)).toBeCloseTo(5.6, 9);
  });
});

describe('regions', () => {
  it('subtracts, inflates and contains', () => {
    const ring = subtractRegion(rectangle(0, 0, 10, 10), rectangle(2, 2, 8, 8));
    expect(regionArea(ring)).toBeCloseTo(64, 6);
    expect(containsPoint(ring, point(1, 1))).toBe(true);
    expect(containsPoint(ring, point(5, 5))).toBe(false);
    expect(regionArea(inflateRegion(rectangle(0, 0, 10, 10), 1))).toBeCloseTo(100 + 40 + Math.PI, 2);
  });
  it('sweeps and reflects alike: a position overlaps exactly if it lies in the overlap positions', () => {
    const block = rectangle(0, 0, 4, 3);
    const shape = { points: [point(0, 0), point(1, 2), point(-1, 2)], radius: 0.4 };
    const positions = overlapPositions(block, shape);
    fc.assert(
      fc.property(fc.double({ min: -4, max: 8, noNaN: true }), fc.double({ min: -5, max: 6, noNaN: true }), (x, y) => {
        const overlaps = overlapsMoreThan(block, sweepAlong(shape, [point(x, y)]), 0);
        const inside = containsPoint(positions, point(x, y));
        const nearEdge =
          overlapsMoreThan(block, sweepAlong({ ...shape, radius: 0.41 }, [point(x, y)]), 0) !==
          overlapsMoreThan(block, sweepAlong({ ...shape, radius: 0.39 }, [point(x, y)]), 0);
        if (!nearEdge) expect(inside).toBe(overlaps);
      }),
    );
  });
  it('folds what lies below the axis upward', () => {
    expect(regionArea(foldAboutAxis(rectangle(0, -2, 5, 1)))).toBeCloseTo(10, 4);
  });
  it('reverses chains', () => {
    const chain = [line(point(0, 0), point(1, 0)), arc(point(1, 0), point(2, 1), point(1, 1), false)];
    expect(chainArea(reverseChain(chain))).toBeCloseTo(-chainArea(chain), 12);
  });
});
