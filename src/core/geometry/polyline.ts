import type { Region } from './region';

/** Height where nothing stands. */
export const VOID = -1e6;

/** A change of height smaller than this is no change (mm). */
export const FLAT = 1e-7;

export interface Side {
  readonly x0: number;
  readonly y0: number;
  readonly x1: number;
  readonly y1: number;
}

/** Points with rising x; two with the same x make a wall. Points on one straight are merged. */
export class Polyline {
  readonly xs: number[] = [];
  readonly ys: number[] = [];
  /** How many of the points count. */
  length = 0;

  /** Begins anew in the same room. */
  clear(): void {
    this.length = 0;
  }

  put(x: number, y: number): void {
    const { xs, ys } = this;
    const n = this.length;
    if (n > 0 && Math.abs(xs[n - 1] - x) < 1e-9 && Math.abs(ys[n - 1] - y) < FLAT) return;
    if (n > 1) {
      const ax = xs[n - 2];
      const ay = ys[n - 2];
      const bx = xs[n - 1];
      const by = ys[n - 1];
      if (x - ax > 1e-9 && bx - ax > 1e-9 && x - bx > 1e-9) {
        const off = by - (ay + ((y - ay) * (bx - ax)) / (x - ax));
        if (Math.abs(off) < FLAT) {
          xs[n - 1] = x;
          ys[n - 1] = y;
          return;
        }
      } else if (Math.abs(x - ax) < 1e-9 && Math.abs(bx - ax) < 1e-9 && (by - ay) * (y - by) >= 0) {
        ys[n - 1] = y;
        return;
      }
    }
    xs[n] = x;
    ys[n] = y;
    this.length = n + 1;
  }
}

/** Puts the points of a line in the place of some corners of another, given as its two lists. */
export const splicePolyline = (xs: number[], ys: number[], from: number, until: number, line: Polyline): void => {
  const n = xs.length;
  const by = line.length - (until - from);
  if (by > 0) {
    // made longer from its end, so that the lists never have a hole
    for (let i = 0; i < by; i++) {
      xs.push(0);
      ys.push(0);
    }
    for (let i = n - 1; i >= until; i--) {
      xs[i + by] = xs[i];
      ys[i + by] = ys[i];
    }
  } else if (by < 0) {
    for (let i = until; i < n; i++) {
      xs[i + by] = xs[i];
      ys[i + by] = ys[i];
    }
    xs.length = n + by;
    ys.length = n + by;
  }
  for (let i = 0; i < line.length; i++) {
    xs[from + i] = line.xs[i];
    ys[from + i] = line.ys[i];
  }
};

/** Upper envelope of straight sides by a sweep over x; where nothing stands the line drops to VOID. */
export const upperLine = (sides: readonly Side[]): Polyline => {
  const line = new Polyline();
  if (sides.length === 0) return line;
  const sorted = [...sides].sort((a, b) => a.x0 - b.x0);
  const stops = new Float64Array(2 * sorted.length);
  sorted.forEach((s, i) => {
    stops[2 * i] = s.x0;
    stops[2 * i + 1] = s.x1;
  });
  stops.sort();
  let next = 0;
  let active: Side[] = [];
  const at = (s: Side, x: number): number => s.y0 + ((s.y1 - s.y0) * (x - s.x0)) / (s.x1 - s.x0);
  for (let i = 1; i < stops.length; i++) {
    const a = stops[i - 1];
    const b = stops[i];
    if (b - a < 1e-9) continue;
    const middle = (a + b) / 2;
    while (next < sorted.length && sorted[next].x0 <= middle) active.push(sorted[next++]);
    active = active.filter((s) => s.x1 > middle);
    if (active.length === 0) {
      line.put(a, VOID);
      line.put(b, VOID);
      continue;
    }
    let x = a;
    for (let guard = 0; guard < 200 && x < b - 1e-12; guard++) {
      // the highest just right of x, then where another one overtakes it
      let best = active[0];
      for (const s of active) {
        const d = at(s, x) - at(best, x);
        if (d > 1e-9 || (d > -1e-9 && at(s, b) > at(best, b))) best = s;
      }
      let until = b;
      const slope = (best.y1 - best.y0) / (best.x1 - best.x0);
      for (const s of active) {
        const other = (s.y1 - s.y0) / (s.x1 - s.x0);
        if (other <= slope + 1e-12) continue;
        const cross = x + (at(best, x) - at(s, x)) / (other - slope);
        if (cross > x + 1e-9 && cross < until) until = cross;
      }
      line.put(x, at(best, x));
      line.put(until, at(best, until));
      x = until;
    }
  }
  return line;
};

/** Sides of a region that metal lies under. */
export const topSides = (region: Region): Side[] => {
  const sides: Side[] = [];
  for (const ring of region)
    for (let i = 0, j = ring.length - 1; i < ring.length; j = i++) {
      // metal lies on the left of every side: a top runs toward −x
      if (ring[j].x - ring[i].x > 1e-9) sides.push({ x0: ring[i].x, y0: ring[i].y, x1: ring[j].x, y1: ring[j].y });
    }
  return sides;
};
