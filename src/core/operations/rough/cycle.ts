import {
  add,
  type Curve,
  clipGraph,
  distance,
  flattenChain,
  heightAt,
  intersectCurves,
  line,
  type Point,
  point,
  reverseChain,
  straightened,
  translateCurve,
  turningParameters,
} from '../../geometry';
import type { CycleSpec } from '../../motion';
import { toolFacts } from '../../tooling';
import { backThrough, blocksOf, closeOperation, EventList, openOperation, perRev } from '../events';
import type { Frame } from '../frame';
import { isLimited } from '../side';
import type { SideSetting } from '../sideRequest';
import { groundOf } from '../turning';
import type { Planned, Seen } from '../types';
import type { RoughOperation } from './index';

/** A side with its floor without allowance. */
export type CycleSetting = SideSetting;

export type CycleOutcome =
  | { readonly kind: 'planned'; readonly planned: Planned }
  | { readonly kind: 'impossible'; readonly reason: string; readonly at: Point | null };

/** Contour of the part over a span as one steady chain from the front (u falling, v never falling), or why it is none. */
export const steadyContour = (
  seen: Seen,
  s: Pick<CycleSetting, 'frame' | 'range' | 'behind' | 'top' | 'from' | 'ceiling'>,
  startU: number,
): { chain: Curve[] } | { reason: string; at: Point | null } => {
  if (s.frame.name === 'face-back') return { reason: 'the cycle faces from the front', at: null };
  if (s.frame.outward) return { reason: 'the tool cuts away from the chuck', at: null };
  // room behind the part lies along the feed, or below it where the passes run across
  const across = s.frame.alongAxis;
  const behind = across ? 0 : s.behind;
  const bottom = s.range.minV - (across ? s.behind : 0);
  const ground = clipGraph(groundOf(seen, s.frame, across ? 0 : behind + 5), s.range.minU - behind, startU);
  const chain = reverseChain(straightened(ground));
  if (chain.length === 0) return { reason: 'it is empty', at: null };
  const low = point(startU, bottom);
  const first = chain[0].from;
  const full: Curve[] = [];
  if (first.x < startU - 1e-9) {
    full.push(line(low, point(first.x, low.y)));
    if (first.y > low.y + 1e-9) full.push(line(point(first.x, low.y), first));
  }
  for (const c of chain) {
    if (c.to.y < bottom - 1e-9) return { reason: 'it goes below the span', at: c.to };
    const turns = turningParameters(c, 'y').length > 0 || turningParameters(c, 'x').length > 0;
    if (c.to.y < c.from.y - 1e-6 || turns) return { reason: 'it is not steady', at: c.from };
    full.push(c);
  }
  // leave the metal at the back square to the axis, so that the next tool's nose does not stand in a corner of raw stock;
  // where the contour itself ends in a wall (the bottom of a bore) it goes up along that
  // the tip goes on past the axis, or the nose would leave a pip
  const middle = full[full.length - 1].to;
  if (s.frame.name === 'face' && middle.x < 0.05)
    full.push(line(middle, point(-2 * seen.section.noseRadius, middle.y)));
  const end = full[full.length - 1].to;
  // across the axis the raw front tells how far: the same for roughing and for the finishing behind it
  const out = Math.min((across ? seen.place.stockFront : s.top) + 0.2, s.ceiling);
  if (out > end.y + 1e-6) full.push(line(end, point(end.x, out)));
  for (let i = 1; i < full.length; i++)
    if (distance(full[i - 1].to, full[i].from) > 1e-6) return { reason: 'it has a gap', at: full[i].from };
  return { chain: onGrid(straightened(full), seen.place.grid, across) };
};

/**
 * The contour as its words will say it: ends on the control's grid (X as a diameter; `across`, seen along the axis, it is what
 * runs along u), centres by their rounded I and K, which give way so that both ends stay on the circle. What the cycle makes
 * of the contour then follows from the same numbers.
 */
export const onGrid = (chain: readonly Curve[], grid: number, across = false): Curve[] => {
  const snap = (v: number, step: number): number => Math.round(v / step) * step;
  const [u, v] = across ? [grid / 2, grid] : [grid, grid / 2];
  const place = (p: Point): Point => point(snap(p.x, u), snap(p.y, v));
  return chain.flatMap((c): Curve[] => {
    const from = place(c.from);
    const to = place(c.to);
    const l2 = (to.x - from.x) ** 2 + (to.y - from.y) ** 2;
    if (l2 < 1e-12) return [];
    if (c.kind === 'line') return [line(from, to)];
    const centre = point(from.x + snap(c.centre.x - from.x, grid), from.y + snap(c.centre.y - from.y, grid));
    const t =
      ((centre.x - (from.x + to.x) / 2) * (to.x - from.x) + (centre.y - (from.y + to.y) / 2) * (to.y - from.y)) / l2;
    return [{ ...c, from, to, centre: point(centre.x - (to.x - from.x) * t, centre.y - (to.y - from.y) * t) }];
  });
};

/** What tells a contour from others; seen along the axis its start is a part of it, for its first block keeps X. */
export const contourKeyOf = (chain: readonly Curve[], frame: Frame): string => {
  const ends = chain.map((c) => `${c.kind} ${c.to.x.toFixed(4)} ${c.to.y.toFixed(4)}`);
  return [frame.name, ...(frame.alongAxis ? [chain[0].from.x.toFixed(4)] : []), ...ends].join('|');
};

/** Where a cycle starts along its passes: in front of all metal, outside it, or in the hole of a bore. */
export const cycleStartOf = (seen: Seen, s: Pick<CycleSetting, 'frame' | 'range' | 'behind'>): number | null =>
  s.frame.name === 'inner-across' ? startInHole(seen, s) : cycleStart(seen, s.frame.alongAxis);

/** Whether a bar that starts a cycle in a hole has room there. */
export const hasRoomToStart = (
  seen: Seen,
  s: Pick<CycleSetting, 'frame' | 'range' | 'behind' | 'view'>,
  startU: number,
): boolean => {
  if (s.frame.name !== 'inner-across') return true;
  const body = Math.max(...s.view.holder.flatMap((h) => h.points.map((p) => p.x + h.radius)));
  return startU - s.frame.into(seen.section.tip).x + body <= holeRadius(seen, s) - 0.1;
};

/**
 * Room in X between the start point of a cycle and the metal, mm: enough for a rapid along rough stock, never so much that
 * whole passes would be cut in air.
 */
export const cycleGap = (seen: Seen, depth: number): number =>
  seen.frame === 'inner'
    ? Math.min(seen.place.safeDistance, 0.5)
    : Math.min(seen.place.safeDistance, Math.max(0.3, depth / 2));

const toStep = (v: number, grid: number): number => Math.round(v / grid) * grid;

/** A contour that a roughing cycle may take, in the frame, with where the cycle starts. */
interface Begun {
  readonly contour: readonly Curve[];
  /** The same with the metal left on it. */
  readonly chain: readonly Curve[];
  readonly allowance: Point;
  readonly startU: number;
  readonly startV: number;
  readonly tip: Point;
}

/** What every roughing cycle begins with, or why there can be none; `open` wants no metal in front of its start. */
const begin = (
  op: RoughOperation,
  seen: Seen,
  s: CycleSetting,
  open: boolean,
): Begun | Extract<CycleOutcome, { kind: 'impossible' }> => {
  const { frame } = s;
  const impossible = (reason: string, at: Point | null = null) => ({ kind: 'impossible' as const, reason, at });
  if (isLimited(op.params)) return impossible('limits are set');
  if (!toolFacts(seen.tool).insert) return impossible('the tool has no nose');
  const across = frame.alongAxis;
  const startU = cycleStartOf(seen, s);
  if (startU === null) return impossible('there is no hole as deep as it, to start in');
  if (open && frame.name !== 'inner-across' && seen.metal.right > startU - 0.2)
    return impossible('metal stands in front of its start');
  const steady = steadyContour(seen, s, startU);
  if ('reason' in steady) return impossible(steady.reason, steady.at);
  const { grid } = seen.place;
  const left = point(toStep(op.params.allowanceZ, grid), toStep(op.params.allowanceX, grid) / 2);
  const allowance = across ? point(left.y, left.x) : left;
  const chain = steady.chain.map((c) => translateCurve(c, allowance));
  const tip = frame.into(seen.section.tip);
  const blockedAt = flattenChain(chain, 0.01).find(
    (p) =>
      p.x - tip.x >= s.from - 1e-6 && (heightAt(s.floor, p.x - tip.x) ?? Number.NEGATIVE_INFINITY) > p.y - tip.y + 2e-3,
  );
  if (blockedAt) return impossible('the tool does not reach all of it', blockedAt);
  const startV = Math.round((s.top + cycleGap(seen, op.params.depth)) * 1000) / 1000;
  return { contour: steady.chain, chain, allowance, startU, startV, tip };
};

/**
 * The roughing cycle as the control will run it (docs/formats/nc-tarn.md): the contour is taken by the programmed tip (nose
 * compensation between P and Q is for finishing only), moved by the allowances; passes along Z each `depth` below the one
 * before, every one to the moved contour or, above its end, as far as its end; a retract at 45°; then one pass along it.
 */
export const planRoughCycle = (op: RoughOperation, seen: Seen, s: CycleSetting): CycleOutcome => {
  const { frame } = s;
  const impossible = (reason: string, at: Point | null = null): CycleOutcome => ({ kind: 'impossible', reason, at });
  const across = frame.alongAxis;
  const begun = begin(op, seen, s, true);
  if ('kind' in begun) return begun;
  const { contour, chain, allowance, startU, startV, tip } = begun;
  const start = point(startU, startV);
  const bottom = contour[0].from.y + allowance.y;
  const count = Math.max(1, Math.ceil((startV - bottom) / op.params.depth - 1e-9));
  const depth = Math.ceil(((startV - bottom) / count) * 1000 - 1e-6) / 1000;
  const retract = seen.place.cycleRetract ?? Math.min(0.5, seen.place.safeDistance);
  if (frame.name === 'inner') {
    const room =
      -s.top - 0.1 - (startV - tip.y + Math.max(...s.view.holder.flatMap((h) => h.points.map((p) => p.y + h.radius))));
    if (room < 0) return impossible('the bar has no room at its start point');
    if (chain[chain.length - 1].to.y - tip.y > s.ceiling) return impossible('it goes past the axis');
  }

  if (!hasRoomToStart(seen, s, startU)) return impossible('the bar has no room at its start point');

  // all below is in tip positions: the list is told that the tip is the origin
  const list = new EventList(op.id, point(0, 0));
  openOperation(list, seen, op.cutting, point(0, 0));
  const place = (p: Point): Point => frame.out(p);
  const go = (purpose: 'approach' | 'link' | 'retract', p: Point): void => list.rapid(purpose, place(p));
  // in front of a bore something may stand out further
  if (frame.name === 'inner-across') go('approach', point(startU, s.clearLevel));
  go('approach', start);
  const blocks = blocksOf(backThrough(frame, contour));
  const first = place(point(startU, contour[0].from.y));
  const spec: CycleSpec = {
    kind: 'rough-levels',
    along: across ? 'x' : 'z',
    contour: [{ kind: 'line', X: first.y, Z: first.x }, ...blocks],
    depth,
    retract,
    allowanceX: place(allowance).y,
    allowanceZ: place(allowance).x,
    start: { X: place(start).y, Z: place(start).x },
    feed: op.cutting.feed,
  };
  list.add('cut', { kind: 'cycle', cycle: spec });
  const feed = perRev(op.cutting.feed);
  const end = chain[chain.length - 1].to;
  for (let k = 1; ; k++) {
    const v = startV - k * depth;
    if (v <= bottom + 1e-9) break;
    const u = meetingAt(chain, v, startU) ?? end.x;
    go('link', point(startU, v));
    list.feed('cut', backThrough(frame, [line(point(startU, v), point(u, v))]), feed);
    const up = add(point(u, v), point(retract, retract));
    list.feed('lead-out', backThrough(frame, [line(point(u, v), up)]), feed);
    go('link', point(startU, up.y));
  }
  const shiftedStart = point(startU, chain[0].from.y);
  go('link', shiftedStart);
  const run = chain[0].from.x > startU ? [line(shiftedStart, chain[0].to), ...chain.slice(1)] : chain;
  list.feed('cut', backThrough(frame, run), feed);
  go('retract', point(end.x, startV));
  go('retract', start);
  list.add('cut', { kind: 'cycle-end' });
  if (frame.name === 'inner') go('retract', point(startU + 1, startV));
  if (frame.name === 'inner-across') go('retract', point(startU, s.clearLevel));
  closeOperation(list, seen, point(0, 0));
  return {
    kind: 'planned',
    planned: { events: list.events, findings: [], depth, contourKey: contourKeyOf(contour, frame) },
  };
};

/** Radius of the hole that is there already, down to the lowest place of the span; infinite where nothing stands round it. */
const holeRadius = (seen: Seen, s: Pick<CycleSetting, 'range' | 'behind'>): number =>
  -seen.metal.upTo(0).firstAbove(s.range.minV - s.behind + 1e-6);

/** Room between the start point of a cycle that faces outward and the hole's wall, mm. */
const HOLE_GAP = 0.5;

/** Where a cycle that faces outward in a bore begins: beside the wall of the hole; null where there is none. */
const startInHole = (seen: Seen, s: Pick<CycleSetting, 'range' | 'behind'>): number | null => {
  const radius = holeRadius(seen, s);
  return radius > 2 * HOLE_GAP && Number.isFinite(radius) ? -Math.floor((radius - HOLE_GAP) * 1000) / 1000 : null;
};

/** Where a cycle begins, along its passes: in front of all metal, or outside it. */
const cycleStart = (seen: Seen, across: boolean): number => {
  const beyond = across ? seen.metal.right : seen.place.stockFront;
  return Math.round((beyond + seen.place.safeDistance + 1) * 1000) / 1000;
};

/**
 * Passes that repeat the contour, each nearer to it, as the control will run them (docs/formats/nc-tarn.md): the contour is
 * taken by the programmed tip and moved as a whole, the start point with it.
 */
export const planPatternCycle = (op: RoughOperation, seen: Seen, s: CycleSetting, thickness: number): CycleOutcome => {
  const { frame } = s;
  const impossible = (reason: string, at: Point | null = null): CycleOutcome => ({ kind: 'impossible', reason, at });
  if (frame.name === 'inner') return impossible('inside there is no room to repeat the contour');
  const begun = begin(op, seen, s, false);
  if ('kind' in begun) return begun;
  const { contour, allowance, startU, startV } = begun;
  const passes = Math.max(1, Math.ceil(thickness / op.params.depth - 1e-9));
  if (passes < 2) return impossible('one pass takes it all');
  const away = toStep((passes - 1) * op.params.depth, seen.place.grid);
  const start = point(startU, startV);
  const list = new EventList(op.id, point(0, 0));
  openOperation(list, seen, op.cutting, point(0, 0));
  const place = (p: Point): Point => frame.out(p);
  list.rapid('approach', place(start));
  const spec: CycleSpec = {
    kind: 'rough-pattern',
    contour: [{ kind: 'line', X: place(contour[0].from).y, Z: startU }, ...blocksOf(backThrough(frame, contour))],
    awayX: away,
    awayZ: away,
    passes,
    allowanceX: allowance.y,
    allowanceZ: allowance.x,
    start: { X: place(start).y, Z: place(start).x },
    feed: op.cutting.feed,
  };
  list.add('cut', { kind: 'cycle', cycle: spec });
  const feed = perRev(op.cutting.feed);
  for (let k = 0; k < passes; k++) {
    const share = (passes - 1 - k) / (passes - 1);
    const off = add(allowance, point(away * share, away * share));
    const from = add(start, off);
    const moved = contour.map((c) => translateCurve(c, off));
    list.rapid('link', place(from));
    list.rapid('link', place(point(from.x, moved[0].from.y)));
    list.feed('cut', backThrough(frame, moved), feed);
    list.rapid('retract', place(point(moved[moved.length - 1].to.x, from.y)));
    list.rapid('link', place(from));
  }
  list.rapid('retract', place(start));
  list.add('cut', { kind: 'cycle-end' });
  closeOperation(list, seen, point(0, 0));
  return {
    kind: 'planned',
    planned: { events: list.events, findings: [], depth: op.params.depth, contourKey: contourKeyOf(contour, frame) },
  };
};

/** u at which a level line coming from the front first meets a steady chain; null when it never does. */
const meetingAt = (chain: readonly Curve[], v: number, startU: number): number | null => {
  const left = chain[chain.length - 1].to.x;
  const level = line(point(startU + 1, v), point(left - 1, v));
  const hits = chain.flatMap((c) => intersectCurves(c, level)).map((p) => p.x);
  return hits.length > 0 ? Math.max(...hits) : null;
};
