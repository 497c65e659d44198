import {
  type Arc,
  arc,
  arcRadius,
  arcSweep,
  type Curve,
  isDegenerate,
  leftNormalAt,
  line,
  parameterOf,
  tangentAt,
  trimCurve,
} from './curve';
import { intersectCarriers } from './intersect';
import { add, cross, distance, type Point, scale } from './point';

/** The parallel of one piece at `left` mm on the left of travel; null when an arc shrinks to nothing. */
export const offsetCurve = (c: Curve, left: number): Curve | null => {
  const from = add(c.from, scale(leftNormalAt(c, 0), left));
  const to = add(c.to, scale(leftNormalAt(c, 1), left));
  if (c.kind === 'line') return line(from, to);
  const radius = arcRadius(c) + (c.clockwise ? left : -left);
  if (radius < 1e-6) return null;
  return arc(from, to, c.centre, c.clockwise);
};

export type ChainOffset =
  | { readonly kind: 'chain'; readonly chain: Curve[] }
  | { readonly kind: 'failed'; readonly at: Point; readonly reason: 'no-meeting' | 'swallowed' };

const nearest = (points: readonly Point[], to: Point): Point =>
  points.reduce((best, p) => (distance(p, to) < distance(best, to) ? p : best));

const withEnd = (c: Curve, to: Point): Curve => (c.kind === 'line' ? line(c.from, to) : { ...c, to });
const withStart = (c: Curve, from: Point): Curve => (c.kind === 'line' ? line(from, c.to) : { ...c, from });

/**
 * The parallel chain at `left` mm on the left of travel, as a tool centre path is made from a programmed contour:
 * outside corners are joined by an arc about the corner, inside corners by the meeting of the two parallels.
 * Pieces that turn round (are swallowed by the offset) fail with their place instead of being guessed away.
 */
export const offsetChain = (chain: readonly Curve[], left: number): ChainOffset => {
  const result: Curve[] = [];
  let previousSource: Curve | null = null;
  for (const source of chain) {
    const shifted = offsetCurve(source, left);
    if (!shifted) return { kind: 'failed', at: source.from, reason: 'swallowed' };
    const last = result.at(-1);
    if (last && previousSource) {
      const gap = distance(last.to, shifted.from);
      if (gap > 1e-7) {
        const turn = cross(tangentAt(previousSource, 1), tangentAt(source, 0));
        if (turn * left < 0) {
          result.push(arc(last.to, shifted.from, source.from, left > 0));
          result.push(shifted);
        } else {
          const meeting = intersectCarriers(last, shifted);
          if (meeting.kind !== 'points' || meeting.points.length === 0) {
            if (gap < 1e-4) result.push(withStart(shifted, last.to));
            else return { kind: 'failed', at: source.from, reason: 'no-meeting' };
          } else {
            const p = nearest(meeting.points, source.from);
            const tLast = parameterOf(last, p);
            const tNext = parameterOf(shifted, p);
            if (tLast < -1e-9 || tNext > 1 + 1e-9) return { kind: 'failed', at: source.from, reason: 'swallowed' };
            result[result.length - 1] = withEnd(last, p);
            result.push(withStart(shifted, p));
          }
        }
        previousSource = source;
        continue;
      }
    }
    result.push(shifted);
    previousSource = source;
  }
  return { kind: 'chain', chain: result.filter((c) => !isDegenerate(c)) };
};

/**
 * The contour whose parallel at `left` is the given centre path: pieces move back by the same amount; arcs of exactly
 * that radius about a corner shrink to the corner; ends of neighbours are drawn out until they meet.
 */
export const contourOfCentrePath = (centrePath: readonly Curve[], left: number): ChainOffset => {
  const shifted: Curve[] = [];
  for (const c of centrePath) {
    if (c.kind === 'arc') {
      const radius = arcRadius(c) + (c.clockwise ? -left : left);
      if (Math.abs(radius) < 1e-6) continue; // a roll round a corner
      if (radius < 0) return { kind: 'failed', at: c.from, reason: 'swallowed' };
    }
    const back = offsetCurve(c, -left);
    if (!back) return { kind: 'failed', at: c.from, reason: 'swallowed' };
    shifted.push(back);
  }
  const result: Curve[] = [];
  for (const next of shifted) {
    const last = result.at(-1);
    if (last && distance(last.to, next.from) > 1e-7) {
      const meeting = intersectCarriers(last, next);
      const points = meeting.kind === 'points' ? meeting.points : [];
      const near = add(scale(last.to, 0.5), scale(next.from, 0.5));
      if (points.length === 0) {
        if (distance(last.to, next.from) > 1e-4) return { kind: 'failed', at: next.from, reason: 'no-meeting' };
        result.push(withStart(next, last.to));
        continue;
      }
      const p = nearest(points, near);
      result[result.length - 1] = withEnd(last, p);
      result.push(withStart(next, p));
    } else result.push(next);
  }
  return { kind: 'chain', chain: result.filter((c) => !isDegenerate(c)) };
};

/** Arc that rounds the corner between two joined pieces, with both pieces trimmed to it; null when it does not fit. */
export const filletCorner = (a: Curve, b: Curve, radius: number): { a: Curve; fillet: Arc; b: Curve } | null => {
  const turn = cross(tangentAt(a, 1), tangentAt(b, 0));
  if (Math.abs(turn) < 1e-9 || radius <= 0) return null;
  const side = turn > 0 ? radius : -radius;
  const pa = offsetCurve(a, side);
  const pb = offsetCurve(b, side);
  if (!pa || !pb) return null;
  const meeting = intersectCarriers(pa, pb);
  if (meeting.kind !== 'points' || meeting.points.length === 0) return null;
  const fits = (t: number): boolean => t >= -1e-9 && t <= 1 + 1e-9;
  const candidates = meeting.points.filter((p) => fits(parameterOf(pa, p)) && fits(parameterOf(pb, p)));
  if (candidates.length === 0) return null;
  const centre = nearest(candidates, a.to);
  const ta = parameterOf(a, centre);
  const tb = parameterOf(b, centre);
  const trimmedA = trimCurve(a, 0, Math.min(1, ta));
  const trimmedB = trimCurve(b, Math.max(0, tb), 1);
  return { a: trimmedA, fillet: arc(trimmedA.to, trimmedB.from, centre, turn < 0), b: trimmedB };
};

/** Straight cut across the corner, `size` along each piece (45° on a right angle); null when it does not fit. */
export const chamferCorner = (a: Curve, b: Curve, size: number): { a: Curve; chamfer: Curve; b: Curve } | null => {
  const cutEnd = (c: Curve, fromStart: boolean): Curve | null => {
    if (c.kind === 'line') {
      const l = distance(c.from, c.to);
      if (size > l + 1e-9 || size <= 0) return null;
      return fromStart ? trimCurve(c, size / l, 1) : trimCurve(c, 0, 1 - size / l);
    }
    const t = (2 * Math.asin(Math.min(1, size / (2 * arcRadius(c))))) / Math.max(1e-12, Math.abs(arcSweep(c)));
    if (t > 1) return null;
    return fromStart ? trimCurve(c, t, 1) : trimCurve(c, 0, 1 - t);
  };
  const ta = cutEnd(a, false);
  const tb = cutEnd(b, true);
  return ta && tb ? { a: ta, chamfer: line(ta.to, tb.from), b: tb } : null;
};
