import {
  type Curve,
  containsPoint,
  counterClockwise,
  distance,
  distanceToCurve,
  flattenChain,
  intersectCarriers,
  lerp,
  line,
  type Point,
  parameterOf,
  type Region,
  ringArea,
  tangentAt,
  trimCurve,
  unionRegions,
} from '../geometry';

/** Polygons leave the exact curve by at most this; well under the 1 µm that a silhouette promises. */
const CHORD = 1e-4;
/** The polygon library's grid and a chord. */
const NEAR = CHORD + 3e-5;

/** A loop of a half-section as a ring, closed along the axis where it is open. */
export const loopRing = (loop: readonly Curve[]): Point[] => {
  const points = flattenChain(loop, CHORD);
  const closed = distance(points[0], points[points.length - 1]) < 1e-4;
  return [...counterClockwise(closed ? points.slice(0, -1) : points)];
};

/** Union of cuts at several angles; loops inside loops (cavities that no tool reaches) count as filled. */
export const unionOfLoops = (loops: readonly (readonly Curve[])[]): Region =>
  unionRegions(...loops.map((l) => [loopRing(l)]));

/**
 * Exact lines and arcs of a region's boundary, from the curves that its polygons were made of: each stretch of polygon is
 * given back to the curve it lies on, and the stretches meet where those curves meet.
 */
export const recogniseBoundary = (region: Region, carriers: readonly Curve[]): Curve[][] =>
  region
    .filter((ring) => ringArea(ring) > 1e-6)
    .map((ring) => recogniseRing(ring, carriers))
    .filter((chain) => chain.length > 0);

const recogniseRing = (raw: readonly Point[], carriers: readonly Curve[]): Curve[] => {
  const ring = raw.filter((p, i) => distance(p, raw[(i + 1) % raw.length]) > 2e-5);
  const n = ring.length;
  if (n < 3) return [];
  const onAxis = ring.map((p, i) => p.y < 2e-5 && ring[(i + 1) % n].y < 2e-5);
  const fits = ring.map((a, i) => {
    if (onAxis[i]) return [];
    const b = ring[(i + 1) % n];
    const m = lerp(a, b, 0.5);
    const found: number[] = [];
    carriers.forEach((c, k) => {
      if (distanceToCurve(c, m) < NEAR && distanceToCurve(c, a) < NEAR && distanceToCurve(c, b) < NEAR) found.push(k);
    });
    return found;
  });
  // begin where a stretch certainly begins: behind the axis, else where the curve changes
  let start = onAxis.findIndex((on, i) => on && !onAxis[(i + 1) % n]);
  start =
    start >= 0
      ? (start + 1) % n
      : Math.max(
          0,
          fits.findIndex((f, i) => f.length > 0 && !f.some((k) => fits[(i + n - 1) % n].includes(k))),
        );
  const runs: { curve: Curve; from: Point; to: Point }[] = [];
  for (let i = 0; i < n; ) {
    const at = (start + i) % n;
    if (onAxis[at]) {
      i++;
      continue;
    }
    // the curve that stays with the polygon longest
    let alive = fits[at];
    let best = alive;
    let count = 1;
    while (i + count < n) {
      const next = (start + i + count) % n;
      const both = alive.filter((k) => fits[next].includes(k));
      if (both.length === 0) break;
      alive = both;
      best = both;
      count++;
    }
    const from = ring[at];
    const to = ring[(start + i + count) % n];
    runs.push({ curve: best.length > 0 ? carriers[best[0]] : line(from, to), from, to });
    i += count;
  }
  return runs.map((run, i) => {
    const before = runs[(i + runs.length - 1) % runs.length];
    const after = runs[(i + 1) % runs.length];
    const from =
      distance(before.to, run.from) < 1e-4 && before !== run
        ? meet(before.curve, run.curve, run.from)
        : onto(run.curve, run.from);
    const to =
      distance(after.from, run.to) < 1e-4 && after !== run
        ? meet(run.curve, after.curve, run.to)
        : onto(run.curve, run.to);
    if (run.curve.kind === 'line') return line(from, to);
    const t0 = parameterOf(run.curve, from);
    const t1 = parameterOf(run.curve, to);
    return { ...run.curve, from, to, clockwise: t1 >= t0 ? run.curve.clockwise : !run.curve.clockwise };
  });
};

/** Where two curves meet near a polygon's corner; the corner itself where they only touch. */
const meet = (a: Curve, b: Curve, near: Point): Point => {
  // ends of the given curves are exact: a corner that was one of them stays so
  const known = [a.from, a.to].filter(
    (p) => distance(p, near) < 5e-4 && Math.min(distance(p, b.from), distance(p, b.to)) < 1e-6,
  );
  if (known.length > 0) return known.reduce((best, p) => (distance(p, near) < distance(best, near) ? p : best));
  const direction = (c: Curve): Point => tangentAt(c, Math.min(1, Math.max(0, parameterOf(c, near))));
  const [ta, tb] = [direction(a), direction(b)];
  // curves that nearly run on cross anywhere: the polygon knows the place better
  if (Math.abs(ta.x * tb.y - ta.y * tb.x) < 0.03) return near;
  const m = intersectCarriers(a, b);
  if (m.kind !== 'points') return near;
  const p = m.points.reduce((best, k) => (distance(k, near) < distance(best, near) ? k : best));
  return distance(p, near) < 2e-3 ? p : near;
};

const onto = (c: Curve, p: Point): Point => {
  const end = [c.from, c.to].find((e) => distance(e, p) < 1e-4);
  if (end) return end;
  const t = parameterOf(c, p);
  return t > 0 && t < 1 ? trimCurve(c, 0, t).to : p;
};

/** Distance by which a point lies outside a region; 0 inside. */
export const outsideBy = (region: Region, p: Point): number => {
  if (p.y < 1e-6 || containsPoint(region, p)) return 0;
  let least = Infinity;
  for (const ring of region)
    for (let i = 0; i < ring.length; i++) {
      const a = ring[i];
      const b = ring[(i + 1) % ring.length];
      if (Math.min(a.x, b.x) - p.x > least || p.x - Math.max(a.x, b.x) > least) continue;
      least = Math.min(least, distanceToCurve(line(a, b), p));
    }
  return least;
};
