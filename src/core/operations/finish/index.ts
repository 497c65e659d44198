import { z } from 'zod';
import { type Curve, contourOfCentrePath, offsetChain, point, regionBounds } from '../../geometry';
import { clearByLevels } from '../clearing';
import { backThrough, blocksOf, closeOperation, EventList, openOperation, perRev } from '../events';
import type { Frame } from '../frame';
import { behindOf } from '../rough';
import { contourKeyOf, steadyContour } from '../rough/cycle';
import { floorOf, frameOf, groundOf, innerClearLevel, note, type SpanRange, spanRange, startSurface, tourCuts, type View, viewOf } from '../turning';
import { type Field, type Finding, operationBase, type PlanContext, type Planned } from '../types';

/** Mean thickness of a finishing cut, mm, above which the metal wants roughing first. */
const DEEPEST_FINISH = 1.5;

const params = z.object({
  undercuts: z.enum(['bridge', 'enter']).default('enter'),
  extendBehind: z.number().nullable().default(null),
  frontLimit: z.number().nullable().default(null),
  backLimit: z.number().nullable().default(null),
  /** Who shifts the nose: the path is computed for it, or the control does it by G41/G42. */
  compensation: z.enum(['computed', 'control']).default('computed'),
  output: z.enum(['moves', 'cycle']).default('moves'),
});

export const OuterFinishSchema = z.object({ ...operationBase, kind: z.literal('outer-finish'), params });
export const InnerFinishSchema = z.object({ ...operationBase, kind: z.literal('inner-finish'), params });
export type FinishOperation = z.infer<typeof OuterFinishSchema> | z.infer<typeof InnerFinishSchema>;

export const finishFields: Field[] = [
  {
    key: 'params.undercuts',
    label: 'Undercuts',
    group: 'Span ends',
    help: 'Enter follows hollows as far as the trailing edge allows; bridge passes over them.',
    input: {
      kind: 'choice',
      options: [
        { value: 'enter', label: 'enter' },
        { value: 'bridge', label: 'bridge' },
      ],
    },
  },
  {
    key: 'params.extendBehind',
    label: 'Run on behind',
    group: 'Span ends',
    help: 'How far the path goes on behind the span. Empty: the cutoff blade’s width and 1 mm outside, 1 mm in a bore.',
    input: { kind: 'length', optional: 'blade + 1' },
  },
  { key: 'params.frontLimit', label: 'Front limit Z', group: 'Span ends', help: 'The tip does not cut in front of this place.', input: { kind: 'length', optional: 'none' } },
  { key: 'params.backLimit', label: 'Back limit Z', group: 'Span ends', help: 'The tip does not go behind this place.', input: { kind: 'length', optional: 'none' } },
  {
    key: 'params.compensation',
    label: 'Nose radius',
    group: 'Output',
    help: 'Computed: the program names tip positions. By control: it names the contour with G41/G42, so that the operator can correct wear.',
    input: {
      kind: 'choice',
      options: [
        { value: 'computed', label: 'computed' },
        { value: 'control', label: 'G41 / G42' },
      ],
    },
  },
  {
    key: 'params.output',
    label: 'Posted as',
    group: 'Output',
    help: 'The finishing cycle follows the contour blocks of an earlier roughing cycle of the same span.',
    input: {
      kind: 'choice',
      options: [
        { value: 'moves', label: 'moves' },
        { value: 'cycle', label: 'cycle G70' },
      ],
    },
  },
];

export const planFinish = (op: FinishOperation, ctx: PlanContext): Planned => {
  const side = op.kind === 'outer-finish' ? 'outer' : 'inner';
  const frame = frameOf(side);
  const view = viewOf(ctx, frame);
  const safe = ctx.holding.safeDistance;
  const range = spanRange(ctx, frame, side, op.span);
  const nothing = (code: string, severity: 'attention' | 'blocking', numbers: Record<string, number> = {}): Planned => ({
    events: [],
    findings: [note(severity, code, op.id, numbers)],
    depth: 0,
    contourKey: null,
  });
  if (!range) return nothing(side === 'inner' && !ctx.part.inner.length ? 'no-bore' : 'span-lost', 'blocking');
  const bounds = regionBounds(ctx.part.region);
  const behind = range.minU <= bounds.minX + 1e-6 ? behindOf(op.params.extendBehind, ctx, side) : 0;
  // a hair further, so that a wall at the very end of the span is still climbed
  const from = (op.params.backLimit ?? range.minU - behind) - ctx.section.tip.x - (behind === 0 && op.params.backLimit === null ? 0.002 : 0);
  const stockFront = regionBounds(ctx.stock).maxX;
  const front = op.params.frontLimit ?? (range.maxU >= bounds.maxX - 1e-6 ? Infinity : range.maxU);
  const to = Math.min(Math.max(stockFront, bounds.maxX) + view.noseRadius + safe * 3, front - ctx.section.tip.x);
  if (to - from < 1e-3) return nothing('limits-empty', 'blocking', { front, back: from });
  const floor = floorOf({ ground: groundOf(ctx, frame, behind + 5), view, allowanceU: 0, allowanceV: 0, undercuts: op.params.undercuts, from, to, bottom: range.minV });
  const { top, solid } = startSurface(view, floor, from, to, stockFront);
  if (top === null) return nothing('nothing-to-cut', 'attention');
  if (solid) return nothing('bore-undrilled', 'blocking', { needed: -2 * range.minV });
  let clearLevel = top + view.noseRadius + safe;
  if (side === 'inner') {
    const room = innerClearLevel(view, top, safe);
    if (room.level === null) return nothing('bar-too-thick', 'blocking', { missing: room.missing, bore: -2 * top });
    clearLevel = room.level;
  }
  const findings: Finding[] = [];
  if (op.params.output === 'cycle') {
    const cycle = planFinishCycle(op, ctx, { frame, view, range, behind, top });
    if ('events' in cycle) return cycle;
    findings.push(note('info', 'cycle-not-possible', op.id, { reason: cycle.reason }));
  }
  const cleared = clearByLevels({
    floor,
    levels: [null],
    stock: view.stock,
    obstacles: view.obstacles,
    cutting: view.cutting,
    holder: view.holder,
    safe,
    clearLevel,
    leadLength: op.params.compensation === 'control' ? view.noseRadius * 1.2 : 0,
    noseRadius: view.noseRadius,
    retract: Math.min(0.5, safe),
  });
  if (cleared.cuts.length === 0) return nothing(cleared.skipped.length > 0 ? 'not-approachable' : 'nothing-to-cut', cleared.skipped.length > 0 ? 'blocking' : 'attention');
  const list = new EventList(op.id, ctx.section.tip);
  openOperation(list, ctx, op.cutting);
  const left = frame.mirrors; // the tool stands on the right of travel in the frame; a mirrored frame turns that over
  tourCuts(
    list,
    { frame, cuts: cleared.cuts, clearLevel, gate: stockFront + view.noseRadius + safe * 2, feed: () => perRev(op.cutting.feed), view, stock: view.stock },
    op.params.compensation === 'control'
      ? (cut, write) => {
          const straightIn = cut.leadIn.length === 1 && cut.leadIn[0].kind === 'line';
          const contour = straightIn ? compensable(cut.pieces, view.noseRadius) : null;
          if (!contour) {
            findings.push(note('info', 'compensation-not-possible', op.id, {}, frame.map(cut.pieces[0].from)));
            write();
            return;
          }
          const blocks = blocksOf(backThrough(frame, contour));
          const begin = frame.map(contour[0].from);
          list.add('cut', {
            kind: 'compensation',
            side: left ? 'left' : 'right',
            noseRadius: view.noseRadius,
            tipNumber: ctx.section.tipNumber,
            contour: [{ kind: 'line', X: begin.y, Z: begin.x }, ...blocks],
          });
          write();
          list.add('cut', { kind: 'compensation', side: 'off', noseRadius: view.noseRadius, tipNumber: ctx.section.tipNumber, contour: [] });
        }
      : undefined,
  );
  closeOperation(list, ctx);
  for (const p of cleared.skipped) findings.push(note('attention', 'not-approachable', op.id, {}, frame.map(p)));
  const depth = Math.max(0, ...cleared.cuts.map((c) => c.depth));
  if (depth > DEEPEST_FINISH) findings.push(note('attention', 'finish-too-deep', op.id, { depth, most: DEEPEST_FINISH }));
  return { events: list.events, findings, depth, contourKey: null };
};

/** Contour whose compensated path is the given centre path again (checked by offsetting it), or null. */
const compensable = (pieces: readonly Curve[], noseRadius: number): Curve[] | null => {
  const contour = contourOfCentrePath(pieces, -noseRadius);
  if (contour.kind !== 'chain' || contour.chain.length === 0) return null;
  const again = offsetChain(contour.chain, -noseRadius);
  if (again.kind !== 'chain' || again.chain.length === 0) return null;
  const close = (a: { x: number; y: number }, b: { x: number; y: number }): boolean => Math.hypot(a.x - b.x, a.y - b.y) < 2e-4;
  return close(again.chain[0].from, pieces[0].from) && close(again.chain[again.chain.length - 1].to, pieces[pieces.length - 1].to) ? contour.chain : null;
};

const planFinishCycle = (op: FinishOperation, ctx: PlanContext, s: { frame: Frame; view: View; range: SpanRange; behind: number; top: number }): Planned | { reason: string } => {
  const { frame, view } = s;
  const startU = Math.round((ctx.stockDocument.frontAllowance + ctx.holding.safeDistance + 1) * 1000) / 1000;
  const contour = steadyContour(ctx, s, startU);
  if ('reason' in contour) return { reason: contour.reason };
  const key = contourKeyOf(contour.chain);
  if (!ctx.cycleContours.some((c) => c.key === key)) return { reason: 'no earlier roughing cycle over the same contour' };
  const centre = offsetChain(contour.chain, -view.noseRadius);
  if (centre.kind !== 'chain') return { reason: 'the nose is larger than an inside round of the contour' };
  const list = new EventList(op.id, ctx.section.tip);
  openOperation(list, ctx, op.cutting);
  const tip = frame.map(ctx.section.tip);
  const startV = Math.round((s.top + (frame.name === 'inner' ? 0.5 : ctx.holding.safeDistance)) * 1000) / 1000;
  // the start is a tip position, the list wants nose centres
  const start = point(startU - tip.x, startV - tip.y);
  const place = (p: { x: number; y: number }) => frame.map(p);
  list.rapid('approach', place(start));
  const first = frame.map(contour.chain[0].from);
  const startTip = list.tipOf(place(start));
  list.add('cut', {
    kind: 'cycle',
    cycle: {
      kind: 'finish-contour',
      contour: [{ kind: 'line', X: first.y, Z: first.x }, ...blocksOf(backThrough(frame, contour.chain))],
      start: startTip,
      feed: op.cutting.feed,
      side: frame.mirrors ? 'left' : 'right',
      noseRadius: view.noseRadius,
    },
  });
  const chain = centre.chain;
  list.rapid('approach', place(chain[0].from));
  list.feed('cut', backThrough(frame, chain), perRev(op.cutting.feed));
  const last = chain[chain.length - 1].to;
  list.rapid('retract', place(point(last.x, start.y)));
  list.rapid('retract', place(start));
  list.add('cut', { kind: 'cycle-end' });
  if (frame.name === 'inner') list.rapid('retract', place(point(start.x + 1, start.y)));
  closeOperation(list, ctx);
  return { events: list.events, findings: [], depth: 0, contourKey: null };
};
