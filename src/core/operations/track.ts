import { type Curve, curveLength, flattenCurve, type Point, pointAt, trimCurve } from '../geometry';

/** Chords of arcs in questions of contact, mm: half a touch. */
const CONTACT_CHORD = 1e-3;

/** A chain that is asked for places and parts by the length along it. */
export class Track {
  private readonly ends: number[] = [];
  private readonly flat: (readonly Point[] | undefined)[] = [];
  readonly total: number;

  constructor(readonly chain: readonly Curve[]) {
    let sum = 0;
    for (const c of chain) {
      sum += curveLength(c);
      this.ends.push(sum);
    }
    this.total = sum;
  }

  private index(s: number): number {
    let a = 0;
    let b = this.ends.length - 1;
    while (a < b) {
      const m = (a + b) >> 1;
      if (this.ends[m] < s) a = m + 1;
      else b = m;
    }
    return a;
  }

  at(s: number): Point {
    const i = this.index(s);
    const start = i === 0 ? 0 : this.ends[i - 1];
    const size = this.ends[i] - start;
    return pointAt(this.chain[i], size < 1e-12 ? 0 : Math.min(1, (s - start) / size));
  }

  /** Points between two lengths along the chain; whole pieces are made into points once. */
  points(from: number, to: number): Point[] {
    const result: Point[] = [this.at(from)];
    for (let i = this.index(from); i < this.chain.length; i++) {
      const start = i === 0 ? 0 : this.ends[i - 1];
      if (start >= to) break;
      const piece = this.chain[i];
      const size = this.ends[i] - start;
      const a = Math.max(from, start);
      const b = Math.min(to, start + size);
      if (b - a <= 1e-9 || size <= 0) continue;
      if (piece.kind === 'line') result.push(b === start + size ? piece.to : pointAt(piece, (b - start) / size));
      else if (a === start && b === start + size) {
        this.flat[i] ??= flattenCurve(piece, CONTACT_CHORD);
        result.push(...(this.flat[i] as readonly Point[]));
      } else result.push(...flattenCurve(trimCurve(piece, (a - start) / size, (b - start) / size), CONTACT_CHORD));
    }
    return result;
  }

  /** The pieces between two lengths along the chain. */
  slice(from: number, to: number): Curve[] {
    const result: Curve[] = [];
    for (let i = this.index(from); i < this.chain.length; i++) {
      const start = i === 0 ? 0 : this.ends[i - 1];
      if (start >= to) break;
      const size = this.ends[i] - start;
      const a = Math.max(from, start);
      const b = Math.min(to, start + size);
      if (b - a <= 1e-9 || size <= 0) continue;
      const whole = a === start && b === start + size;
      result.push(whole ? this.chain[i] : trimCurve(this.chain[i], (a - start) / size, (b - start) / size));
    }
    return result;
  }
}

/** The part of a chain between two lengths along it. */
export const sliceChain = (chain: readonly Curve[], from: number, to: number): Curve[] =>
  new Track(chain).slice(from, to);
