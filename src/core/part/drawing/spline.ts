import { type Point, point } from '../../geometry';

/** A non-uniform rational B-spline in the plane; weights of 1 where none are given. */
export interface Spline {
  readonly degree: number;
  readonly knots: readonly number[];
  readonly points: readonly Point[];
  readonly weights: readonly number[];
}

/** Point of a spline at a knot value (de Boor, in homogeneous coordinates). */
export const splineAt = (s: Spline, u: number): Point => {
  const p = s.degree;
  const n = s.points.length - 1;
  let k = p;
  while (k < n && u >= s.knots[k + 1]) k++;
  const d = Array.from({ length: p + 1 }, (_, j) => {
    const i = k - p + j;
    const w = s.weights[i];
    return [s.points[i].x * w, s.points[i].y * w, w];
  });
  for (let r = 1; r <= p; r++)
    for (let j = p; j >= r; j--) {
      const i = k - p + j;
      const span = s.knots[i + p - r + 1] - s.knots[i];
      const a = span === 0 ? 0 : (u - s.knots[i]) / span;
      d[j] = d[j].map((v, c) => (1 - a) * d[j - 1][c] + a * v);
    }
  return point(d[p][0] / d[p][2], d[p][1] / d[p][2]);
};

/** Knot values between which the spline is one smooth polynomial. */
export const splineSpans = (s: Spline): [number, number][] => {
  const spans: [number, number][] = [];
  for (let i = s.degree; i < s.points.length; i++)
    if (s.knots[i + 1] - s.knots[i] > 1e-12) spans.push([s.knots[i], s.knots[i + 1]]);
  return spans;
};

/** A spline through points (cubic, chord length, natural ends), for drawings that give fit points only. */
export const splineThrough = (points: readonly Point[]): ((t: number) => Point) => {
  const n = points.length;
  const t = [0];
  for (let i = 1; i < n; i++)
    t.push(t[i - 1] + Math.hypot(points[i].x - points[i - 1].x, points[i].y - points[i - 1].y));
  const second = (v: readonly number[]): number[] => {
    // natural cubic: tridiagonal system for the second derivatives
    const m = new Array<number>(n).fill(0);
    const c = new Array<number>(n).fill(0);
    const d = new Array<number>(n).fill(0);
    for (let i = 1; i < n - 1; i++) {
      const h0 = t[i] - t[i - 1];
      const h1 = t[i + 1] - t[i];
      const a = h0 / 6;
      const b = (h0 + h1) / 3;
      const right = (v[i + 1] - v[i]) / h1 - (v[i] - v[i - 1]) / h0;
      const w = b - a * c[i - 1];
      c[i] = h1 / 6 / w;
      d[i] = (right - a * d[i - 1]) / w;
    }
    for (let i = n - 2; i >= 1; i--) m[i] = d[i] - c[i] * m[i + 1];
    return m;
  };
  const mx = second(points.map((p) => p.x));
  const my = second(points.map((p) => p.y));
  return (s) => {
    const at = s * t[n - 1];
    let i = 1;
    while (i < n - 1 && at > t[i]) i++;
    const h = t[i] - t[i - 1];
    const a = (t[i] - at) / h;
    const b = (at - t[i - 1]) / h;
    const f = (v0: number, v1: number, m0: number, m1: number): number =>
      a * v0 + b * v1 + ((a ** 3 - a) * m0 + (b ** 3 - b) * m1) * ((h * h) / 6);
    return point(f(points[i - 1].x, points[i].x, mx[i - 1], mx[i]), f(points[i - 1].y, points[i].y, my[i - 1], my[i]));
  };
};
