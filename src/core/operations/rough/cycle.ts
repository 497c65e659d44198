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
  translateCurve,
  turningParameters,
} from '../../geometry';
import type { CycleSpec } from '../../motion';
import { backThrough, blocksOf, closeOperation, EventList, openOperation, perRev } from '../events';
import type { SideSetting } from '../side';
import { groundOf } from '../turning';
import type { PlanContext, Planned } from '../types';
import type { RoughOperation } from './index';

/** A side with its floor without allowance. */
export type CycleSetting = SideSetting;

export type CycleOutcome =
  | { readonly kind: 'planned'; readonly planned: Planned }
  | { readonly kind: 'impossible'; readonly reason: string; readonly at: Point | null };

/** Contour of the part over a span as one steady chain from the front (u falling, v never falling), or why it is none. */
export const steadyContour = (
  ctx: PlanContext,
  s: Pick<CycleSetting, 'frame' | 'range' | 'behind' | 'top'>,
  startU: number,
): { chain: Curve[] } | { reason: string; at: Point | null } => {
  const ground = clipGraph(groundOf(ctx, s.frame, s.behind + 5), s.range.minU - s.behind, startU);
  const chain = reverseChain(mergeLines(ground));
  if (chain.length === 0) return { reason: 'empty', at: null };
  const low = point(startU, s.range.minV);
  const first = chain[0].from;
  const full: Curve[] = [];
  if (first.x < startU - 1e-9) {
    full.push(line(low, point(first.x, low.y)));
    if (first.y > low.y + 1e-9) full.push(line(point(first.x, low.y), first));
  }
  for (const c of chain) {
    if (c.to.y < s.range.minV - 1e-9) return { reason: 'below', at: c.to };
    if (c.to.y < c.from.y - 1e-6 || turningParameters(c, 'y').length > 0 || turningParameters(c, 'x').length > 0)
      return { reason: 'not steady', at: c.from };
    full.push(c);
  }
  // leave the metal at the back square to the axis, so that the next tool's nose does not stand in a corner of raw stock
  const end = full[full.length - 1].to;
  if (s.top + 0.2 > end.y + 1e-6) full.push(line(end, point(end.x, s.top + 0.2)));
  return { chain: mergeLines(full) };
};

/** Joins neighbours on one straight line. */
const mergeLines = (chain: readonly Curve[]): Curve[] => {
  const result: Curve[] = [];
  for (const c of chain) {
    const last = result.at(-1);
    if (last && last.kind === 'line' && c.kind === 'line') {
      const cross = (last.to.x - last.from.x) * (c.to.y - c.from.y) - (last.to.y - last.from.y) * (c.to.x - c.from.x);
      if (Math.abs(cross) < 1e-9 * Math.max(1, distance(last.from, last.to) * distance(c.from, c.to))) {
        result[result.length - 1] = line(last.from, c.to);
        continue;
      }
    }
    result.push(c);
  }
  return result;
};

export const contourKeyOf = (chain: readonly Curve[]): string =>
  chain.map((c) => `${c.kind} ${c.to.x.toFixed(4)} ${c.to.y.toFixed(4)}`).join('|');

/**
 * The roughing cycle as the control will run it: the contour is taken by the programmed tip (nose compensation between
 * P and Q is for finishing only), moved by the allowances; equal passes along Z with a 45° retract, then one pass along it.
 */
export const planRoughCycle = (op: RoughOperation, ctx: PlanContext, s: CycleSetting): CycleOutcome => {
  const { frame } = s;
  const startU = Math.round((ctx.stockDocument.frontAllowance + ctx.holding.safeDistance + 1) * 1000) / 1000;
  const contour = steadyContour(ctx, s, startU);
  if ('reason' in contour) return { kind: 'impossible', ...contour };
  if (op.params.frontLimit !== null || op.params.backLimit !== null)
    return { kind: 'impossible', reason: 'limits are set', at: null };
  if (ctx.tool.kind !== 'turning' && ctx.tool.kind !== 'boring')
    return { kind: 'impossible', reason: 'the tool has no nose', at: null };
  const allowance = point(op.params.allowanceZ, op.params.allowanceX / 2);
  const chain = contour.chain.map((c) => translateCurve(c, allowance));
  const tip = frame.map(ctx.section.tip);
  const blockedAt = flattenChain(chain, 0.01).find(
    (p) => (heightAt(s.floor, p.x - tip.x) ?? -Infinity) > p.y - tip.y + 2e-3,
  );
  if (blockedAt) return { kind: 'impossible', reason: 'the tool does not reach all of it', at: blockedAt };
  const gap = op.kind === 'outer-rough' ? ctx.holding.safeDistance : Math.min(ctx.holding.safeDistance, 0.5);
  const startV = Math.round((s.top + gap) * 1000) / 1000;
  const start = point(startU, startV);
  const bottom = contour.chain[0].from.y + allowance.y;
  const count = Math.max(1, Math.ceil((startV - bottom) / op.params.depth - 1e-9));
  const depth = Math.ceil(((startV - bottom) / count) * 1000 - 1e-6) / 1000;
  const retract = Math.min(0.5, ctx.holding.safeDistance);

  // all below is in tip positions: the list is told that the tip is the origin
  const list = new EventList(op.id, point(0, 0));
  openOperation(list, { ...ctx, section: { ...ctx.section, tip: point(0, 0) } }, op.cutting);
  const place = (p: Point): Point => frame.map(p);
  const go = (purpose: 'approach' | 'link' | 'retract', p: Point): void => list.rapid(purpose, place(p));
  go('approach', frame.name === 'outer' ? start : point(startU, startV));
  const blocks = blocksOf(backThrough(frame, contour.chain));
  const spec: CycleSpec = {
    kind: 'rough-along-z',
    contour: [{ kind: 'line', X: place(contour.chain[0].from).y, Z: startU }, ...blocks],
    depth,
    retract,
    allowanceX: frame.name === 'inner' ? -allowance.y : allowance.y,
    allowanceZ: allowance.x,
    inside: frame.name === 'inner',
    start: { X: place(start).y, Z: startU },
    feed: op.cutting.feed,
  };
  list.add('cut', { kind: 'cycle', cycle: spec });
  const feed = perRev(op.cutting.feed);
  for (let k = 1; ; k++) {
    const v = startV - k * depth;
    if (v <= bottom + 1e-9) break;
    const end = meetingAt(chain, v, startU);
    if (end === null) break;
    go('link', point(startU, v));
    list.feed('cut', backThrough(frame, [line(point(startU, v), point(end, v))]), feed);
    const up = add(point(end, v), point(retract, retract));
    list.feed('lead-out', backThrough(frame, [line(point(end, v), up)]), feed);
    go('link', point(startU, up.y));
  }
  const shiftedStart = point(startU, chain[0].from.y);
  go('link', shiftedStart);
  const run = chain[0].from.x > startU ? [line(shiftedStart, chain[0].to), ...chain.slice(1)] : chain;
  list.feed('cut', backThrough(frame, run), feed);
  const last = chain[chain.length - 1].to;
  go('retract', point(last.x, startV));
  go('retract', start);
  list.add('cut', { kind: 'cycle-end' });
  if (frame.name === 'inner') go('retract', point(startU + 1, startV));
  closeOperation(list, { ...ctx, section: { ...ctx.section, tip: point(0, 0) } });
  return {
    kind: 'planned',
    planned: { events: list.events, findings: [], depth, contourKey: contourKeyOf(contour.chain) },
  };
};

/** u at which a level line coming from the front first meets a steady chain; null when it never does. */
const meetingAt = (chain: readonly Curve[], v: number, startU: number): number | null => {
  const left = chain[chain.length - 1].to.x;
  const level = line(point(startU + 1, v), point(left - 1, v));
  const hits = chain.flatMap((c) => intersectCurves(c, level)).map((p) => p.x);
  return hits.length > 0 ? Math.max(...hits) : null;
};
