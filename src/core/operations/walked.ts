import { arcRadius, type Curve, curveLength, type Point, parameterOf } from '../geometry';

/** Curves that lie no further apart are one, mm. */
const SAME = 1e-9;

interface Span {
  readonly from: number;
  readonly to: number;
}

/** Stretches of a chain, by length along it, that a tool has gone along before: metal only ever falls, so they are clear. */
export class Walked {
  constructor(private readonly spans: readonly Span[]) {}

  private at(s: number): Span | undefined {
    return this.spans.find((k) => k.to > s + 1e-9);
  }

  /** The end of the stretch in which a place lies, else the place itself. */
  past(s: number): number {
    const span = this.at(s);
    return span && span.from <= s + 1e-9 ? span.to : s;
  }

  /** Where the next stretch beyond a place begins; infinite where none does. */
  next(s: number): number {
    return this.at(s)?.from ?? Number.POSITIVE_INFINITY;
  }

  /** What of a part of the chain lies between the stretches. */
  gaps(from: number, to: number): Span[] {
    const result: Span[] = [];
    let at = from;
    for (const k of this.spans) {
      if (k.from - at > 1e-6) result.push({ from: at, to: k.from });
      at = Math.max(at, k.to);
    }
    if (to - at > 1e-6) result.push({ from: at, to });
    return result;
  }
}

export const NOTHING_WALKED = new Walked([]);

const samePlace = (a: Point, b: Point): boolean => a.x === b.x && a.y === b.y;

/** Two pieces on one straight or one circle. */
const onOne = (a: Curve, b: Curve): boolean => {
  if (a.kind === 'arc')
    return (
      b.kind === 'arc' &&
      Math.abs(a.centre.x - b.centre.x) < SAME &&
      Math.abs(a.centre.y - b.centre.y) < SAME &&
      Math.abs(arcRadius(a) - arcRadius(b)) < SAME
    );
  if (b.kind === 'arc') return false;
  const dx = a.to.x - a.from.x;
  const dy = a.to.y - a.from.y;
  const l = Math.sqrt(dx * dx + dy * dy);
  const off = (x: number, y: number): number => Math.abs(dx * (y - a.from.y) - dy * (x - a.from.x)) / l;
  return l > SAME && off(b.from.x, b.from.y) < SAME && off(b.to.x, b.to.y) < SAME;
};

/**
 * Where a chain lies on pieces that were walked before. Both run toward smaller x and never back, each piece of an arc
 * within one half turn.
 */
export const walkedAlong = (chain: readonly Curve[], before: readonly Curve[]): Walked => {
  const spans: { from: number; to: number }[] = [];
  let length = 0;
  let k = 0;
  for (const c of chain) {
    const size = curveLength(c);
    while (k < before.length && before[k].to.x > c.from.x + SAME) k++;
    for (let i = k; size > 0 && i < before.length && before[i].from.x >= c.to.x - SAME; i++) {
      const b = before[i];
      if (!onOne(c, b)) continue;
      const t0 = samePlace(c.from, b.from) ? 0 : Math.max(0, Math.min(1, parameterOf(c, b.from)));
      const t1 = samePlace(c.to, b.to) ? 1 : Math.max(0, Math.min(1, parameterOf(c, b.to)));
      if ((t1 - t0) * size < 1e-6) continue;
      const from = length + t0 * size;
      const last = spans[spans.length - 1];
      if (last && from <= last.to + 1e-9) last.to = Math.max(last.to, length + t1 * size);
      else spans.push({ from, to: length + t1 * size });
    }
    length += size;
  }
  return new Walked(spans);
};
