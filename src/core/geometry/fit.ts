import { type Arc, arc, arcRadius, type Curve, distanceToCurve, line } from './curve';
import { add, distance, dot, lerp, type Point, perpendicular, scale, subtract, unit } from './point';

/**
 * The circle through the first and last point that lies nearest to those between (least squares in the curvature, which
 * stays well behaved up to a straight line). Null when the ends coincide or the points are straight.
 */
export const arcThroughEnds = (points: readonly Point[]): Arc | null => {
  const from = points[0];
  const to = points[points.length - 1];
  const half = distance(from, to) / 2;
  if (points.length < 3 || half < 1e-9) return null;
  const along = unit(subtract(to, from));
  const left = perpendicular(along);
  const middle = lerp(from, to, 0.5);
  // in the frame of the chord every circle through its ends is y = k (x² + y² − half²)
  let top = 0;
  let bottom = 0;
  for (let i = 1; i < points.length - 1; i++) {
    const d = subtract(points[i], middle);
    const x = dot(d, along);
    const y = dot(d, left);
    const w = x * x + y * y - half * half;
    top += y * w;
    bottom += w * w;
  }
  if (bottom === 0) return null;
  const k = top / bottom;
  if (Math.abs(k) * half < 1e-9) return null;
  const centre = add(middle, scale(left, 1 / (2 * k)));
  const probe = points[points.length >> 1];
  const turn = (to.x - from.x) * (probe.y - from.y) - (to.y - from.y) * (probe.x - from.x);
  return arc(from, to, centre, turn > 0);
};

const deviation = (c: Curve, points: readonly Point[], polyline: boolean): number => {
  let worst = 0;
  for (let i = 1; i < points.length; i++) {
    if (i < points.length - 1) worst = Math.max(worst, distanceToCurve(c, points[i]));
    if (polyline) worst = Math.max(worst, distanceToCurve(c, lerp(points[i - 1], points[i], 0.5)));
  }
  return worst;
};

export interface FitOptions {
  /** Greatest distance of any point from the fitted curve, mm. */
  readonly tolerance: number;
  /** The straight pieces between the points count too (a polygon or mesh, not samples of a smooth curve). */
  readonly polyline?: boolean;
}

const bestOf = (points: readonly Point[], o: FitOptions): Curve | null => {
  const straight = line(points[0], points[points.length - 1]);
  if (points.length === 2 || deviation(straight, points, false) <= o.tolerance) return straight;
  if (points.length < 4) return null;
  const round = arcThroughEnds(points);
  if (!round || arcRadius(round) > 1e6) return null;
  return deviation(round, points, o.polyline ?? false) <= o.tolerance ? round : null;
};

/**
 * Lines and arcs along a row of points, each as long as the tolerance lets it be; pieces begin and end on given points.
 * Samples of one line or one circle come back as that line or circle.
 */
export const fitCurves = (points: readonly Point[], options: FitOptions): Curve[] => {
  const result: Curve[] = [];
  let at = 0;
  const last = points.length - 1;
  while (at < last) {
    let good = at + 1;
    let best: Curve = line(points[at], points[at + 1]);
    // the whole rest first: most edges are one curve
    const whole = bestOf(points.slice(at), options);
    if (whole) {
      result.push(whole);
      break;
    }
    let step = 2;
    let bad = last;
    for (;;) {
      const to = Math.min(at + step, last);
      const c: Curve | null = to > good ? bestOf(points.slice(at, to + 1), options) : best;
      // three points of a bend fit neither: an arc begins to show with the fourth
      if (c === null && to - at >= 3) {
        bad = to;
        break;
      }
      if (c) {
        good = to;
        best = c;
      }
      if (to === last) {
        bad = last;
        break;
      }
      step = to - at < 4 ? step + 1 : step * 2;
    }
    while (bad - good > 1) {
      const to = (good + bad) >> 1;
      const c = bestOf(points.slice(at, to + 1), options);
      if (c) {
        good = to;
        best = c;
      } else bad = to;
    }
    result.push(best);
    at = good;
  }
  return result;
};

/** Samples after which a curve that still does not fit is taken as it is. */
const MOST_SAMPLES = 2048;

/** Greatest distance of points from curves that run in the same order. */
const greatestDistance = (points: readonly Point[], curves: readonly Curve[]): number => {
  let worst = 0;
  let j = 0;
  for (const p of points) {
    let d = distanceToCurve(curves[j], p);
    while (j + 1 < curves.length) {
      const next = distanceToCurve(curves[j + 1], p);
      if (next > d) break;
      d = next;
      j++;
    }
    if (d > worst) worst = d;
  }
  return worst;
};

/** Fits a smooth curve given by a function on 0..1, sampled ever more densely until the fit holds between the samples too. */
export const fitFunction = (at: (t: number) => Point, tolerance: number): Curve[] => {
  for (let n = 32; ; n *= 2) {
    const points = Array.from({ length: n + 1 }, (_, i) => at(i / n));
    // an exact line or circle is found first, so that its numbers come back exactly
    const exact = fitCurves(points, { tolerance: 2e-8 });
    if (exact.length === 1) return exact;
    const curves = fitCurves(points, { tolerance: tolerance * 0.8 });
    const between = Array.from({ length: n }, (_, i) => at((i + 0.5) / n));
    if (n >= MOST_SAMPLES || greatestDistance(between, curves) <= tolerance) return curves;
  }
};
