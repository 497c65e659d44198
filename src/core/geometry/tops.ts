import { type LowerSide, sideHeight } from './outline';
import { VOID } from './polyline';

/** Width of a bin at the least, mm, and how many there are at the most. */
const WIDTH = 0.4;
const MOST = 4096;

/** A shape's lower side where it stands: its lowest corner, and the stretch of x in which it matters. */
export interface Placed {
  readonly side: LowerSide;
  readonly bottom: number;
  readonly dx: number;
  readonly dy: number;
  readonly a: number;
  readonly b: number;
}

/**
 * Greatest heights of a line over bins of one width. Where they already lie low enough the corners of the line need not be
 * looked at.
 */
export class Tops {
  private constructor(
    private readonly from: number,
    private readonly to: number,
    private readonly width: number,
    private readonly high: Float64Array,
  ) {}

  static of(xs: readonly number[], ys: readonly number[]): Tops {
    const span = xs[xs.length - 1] - xs[0];
    const count = Math.max(1, Math.min(MOST, Math.ceil(span / WIDTH)));
    const tops = new Tops(xs[0], xs[xs.length - 1], Math.max(span / count, 1e-6), new Float64Array(count).fill(VOID));
    tops.raise(xs, ys, 1, xs.length - 1);
    return tops;
  }

  clone(): Tops {
    return new Tops(this.from, this.to, this.width, this.high.slice());
  }

  /** The bin in which a place lies; the first or the last one for places beyond the line. */
  bin(x: number): number {
    const i = Math.floor((x - this.from) / this.width);
    return i < 0 ? 0 : i >= this.high.length ? this.high.length - 1 : i;
  }

  /** Where a bin begins; beyond the last one the end of the line itself, to the last digit: its corner is metal too. */
  left(bin: number): number {
    return bin >= this.high.length ? this.to : this.from + bin * this.width;
  }

  /** Raises the bins through which the edges between corners `first` − 1 and `last` pass. */
  private raise(xs: readonly number[], ys: readonly number[], first: number, last: number): void {
    const { high, width } = this;
    for (let i = first; i <= last; i++) {
      const x0 = xs[i - 1];
      const y0 = ys[i - 1];
      const y1 = ys[i];
      // a corner on the border of two bins stands in both
      const a = this.bin(x0 - 1e-9);
      const b = this.bin(xs[i] + 1e-9);
      const most = Math.max(y0, y1);
      const slope = a === b || xs[i] - x0 < 1e-9 ? 0 : (y1 - y0) / (xs[i] - x0);
      for (let k = a; k <= b; k++) {
        // the higher end of the edge within the bin
        const end = this.left(k) + (slope > 0 ? width : 0);
        const y = slope === 0 ? most : Math.min(most, y0 + slope * (end - x0) + 1e-9);
        if (y > high[k]) high[k] = y;
      }
    }
  }

  /** After the line has changed over [a, b]: the bins there are made anew. `lower` tells the first corner at or beyond a place. */
  changed(xs: readonly number[], ys: readonly number[], a: number, b: number, lower: (x: number) => number): void {
    const first = this.bin(a - 1e-9);
    const last = this.bin(b + 1e-9);
    this.high.fill(VOID, first, last + 1);
    this.raise(
      xs,
      ys,
      Math.max(1, lower(this.left(first) - 1e-9)),
      Math.min(xs.length - 1, lower(this.left(last + 1) + 1e-9)),
    );
  }

  /** The greatest height over some bins. */
  most(first: number, last: number): number {
    let most = VOID;
    for (let i = first; i <= last; i++) if (this.high[i] > most) most = this.high[i];
    return most;
  }

  /** The next bin from `k` on, no further than `last`, that stands higher than a side by more than `over`; −1 for none. */
  next(k: number, last: number, placed: Placed, over: number): number {
    for (let i = k; i <= last; i++) if (this.stands(i, placed, over)) return i;
    return -1;
  }

  /** The same toward smaller x, no further than `first`. */
  previous(k: number, first: number, placed: Placed, over: number): number {
    for (let i = k; i >= first; i--) if (this.stands(i, placed, over)) return i;
    return -1;
  }

  private stands(k: number, { side, bottom, dx, dy, a, b }: Placed, over: number): boolean {
    const top = this.high[k] - dy - over;
    if (top <= side.y[bottom]) return false;
    const left = Math.max(a, this.left(k) - 1e-9) - dx;
    const right = Math.min(b, this.left(k + 1) + 1e-9) - dx;
    const middle = side.x[bottom];
    if (right <= middle) return top > sideHeight(side, right);
    if (left >= middle) return top > sideHeight(side, left);
    return true;
  }
}

/** Index of the lowest point of a side, which falls to it and rises from it. */
export const bottomOf = (side: LowerSide): number => {
  let a = 0;
  let b = side.y.length - 1;
  while (a < b) {
    const m = (a + b) >> 1;
    if (side.y[m] > side.y[m + 1]) a = m + 1;
    else b = m;
  }
  return a;
};
