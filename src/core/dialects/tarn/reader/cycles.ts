import { type Arc, arc, type Curve, distance, line, type Point, point } from '../../../geometry';

/** Piece of a contour between P and Q with the line that wrote it and the feed in force there, if the contour names one. */
export interface ContourStep {
  readonly curve: Curve;
  readonly line: number;
  readonly feed: number | null;
}

/** More passes or pecks than this are a mistake in a number. */
export const MOST_PASSES = 3000;

const shifted = (c: Curve, w: number, u: number): Curve => {
  const move = (p: Point): Point => point(p.x + w, p.y + u);
  return c.kind === 'line'
    ? line(move(c.from), move(c.to))
    : arc(move(c.from), move(c.to), move(c.centre), c.clockwise);
};

/** The contour moved by (u, w), both as lengths (u is a radius). */
export const movedContour = (steps: readonly ContourStep[], w: number, u: number): ContourStep[] =>
  steps.map((s) => ({ ...s, curve: shifted(s.curve, w, u) }));

/** Half a step of the words, mm: rounding of an arc's end and centre may turn it back by less. */
const STEADY = 5e-4;

/** First piece at which X or Z turns back, or null for a steady contour. `sign` is 1 outside, −1 in a bore. */
export const unsteadyAt = (steps: readonly ContourStep[], sign: 1 | -1): ContourStep | null => {
  let lowest = Number.POSITIVE_INFINITY;
  let highest = Number.NEGATIVE_INFINITY;
  for (const s of steps) {
    const { curve } = s;
    lowest = Math.min(lowest, curve.from.x);
    highest = Math.max(highest, sign * curve.from.y);
    const samples = curve.kind === 'line' ? [curve.from, curve.to] : arcSamples(curve);
    for (let i = 1; i < samples.length; i++) {
      if (samples[i].x - lowest > STEADY || sign * samples[i].y < highest - STEADY) return s;
      lowest = Math.min(lowest, samples[i].x);
      highest = Math.max(highest, sign * samples[i].y);
    }
  }
  return null;
};

const arcSamples = (a: Arc): Point[] => {
  const r = distance(a.from, a.centre);
  const start = Math.atan2(a.from.y - a.centre.y, a.from.x - a.centre.x);
  let turn = Math.atan2(a.to.y - a.centre.y, a.to.x - a.centre.x) - start;
  if (a.clockwise && turn > 0) turn -= 2 * Math.PI;
  if (!a.clockwise && turn < 0) turn += 2 * Math.PI;
  return Array.from({ length: 33 }, (_, i) => {
    const angle = start + (turn * i) / 32;
    return i === 0
      ? a.from
      : i === 32
        ? a.to
        : point(a.centre.x + r * Math.cos(angle), a.centre.y + r * Math.sin(angle));
  });
};

/** Z at which a level cut that comes from the front meets a steady contour; null when the level lies above its end. */
export const levelMeets = (steps: readonly ContourStep[], x: number, sign: 1 | -1): number | null => {
  for (const { curve } of steps) {
    const a = sign * (curve.from.y - x);
    const b = sign * (curve.to.y - x);
    if (a > 1e-9 || b < -1e-9 || b - a <= 1e-12) continue;
    if (curve.kind === 'line')
      return curve.from.x + ((curve.to.x - curve.from.x) * (x - curve.from.y)) / (curve.to.y - curve.from.y);
    const r = distance(curve.from, curve.centre);
    const half = Math.sqrt(Math.max(0, r * r - (x - curve.centre.y) ** 2));
    // an arc that ends upright may bulge past its ends by what a steady contour may turn back
    const low = Math.min(curve.from.x, curve.to.x) - STEADY;
    const high = Math.max(curve.from.x, curve.to.x) + STEADY;
    const found = [curve.centre.x + half, curve.centre.x - half].find((z) => z >= low && z <= high);
    if (found !== undefined) return found;
  }
  return null;
};
