import { z } from 'zod';
import { passDepths } from '../../cutting';
import { regionBounds } from '../../geometry';
import { clearByLevels, levelsBetween, lowestContact } from '../clearing';
import { closeOperation, EventList, openOperation, perRev } from '../events';
import { floorOf, frameOf, groundOf, innerClearLevel, note, spanRange, startSurface, tourCuts, viewOf } from '../turning';
import { type Field, operationBase, type PlanContext, type Planned } from '../types';
import { planRoughCycle } from './cycle';

const params = z.object({
  /** mm per side. */
  depth: z.number(),
  passes: z.enum(['equal', 'full']).default('equal'),
  /** On diameter, mm. */
  allowanceX: z.number().default(0.4),
  allowanceZ: z.number().default(0.1),
  undercuts: z.enum(['bridge', 'enter']).default('bridge'),
  /** How far the path runs on behind the span; null = room for the cutoff blade and 1 mm. */
  extendBehind: z.number().nullable().default(null),
  /** Limits of the programmed tip; null = from the span. */
  frontLimit: z.number().nullable().default(null),
  backLimit: z.number().nullable().default(null),
  output: z.enum(['moves', 'cycle']).default('moves'),
});

export const OuterRoughSchema = z.object({ ...operationBase, kind: z.literal('outer-rough'), params });
export const InnerRoughSchema = z.object({ ...operationBase, kind: z.literal('inner-rough'), params });
export type RoughOperation = z.infer<typeof OuterRoughSchema> | z.infer<typeof InnerRoughSchema>;

export const roughFields: Field[] = [
  { key: 'params.depth', label: 'Depth per pass', group: 'Cut', help: 'Greatest depth of one pass, per side.', input: { kind: 'length', per: 'side' } },
  {
    key: 'params.passes',
    label: 'Passes',
    group: 'Cut',
    help: 'Equal passes share the depth evenly; full ones leave the remainder to the last.',
    input: {
      kind: 'choice',
      options: [
        { value: 'equal', label: 'equal' },
        { value: 'full', label: 'full, last less' },
      ],
    },
  },
  { key: 'params.allowanceX', label: 'Allowance X', group: 'Cut', help: 'Metal left for finishing, on diameter.', input: { kind: 'length', per: 'diameter' } },
  { key: 'params.allowanceZ', label: 'Allowance Z', group: 'Cut', help: 'Metal left for finishing on faces.', input: { kind: 'length' } },
  {
    key: 'params.undercuts',
    label: 'Undercuts',
    group: 'Span ends',
    help: 'Bridge passes over hollows and leaves them to a later tool; enter goes in as far as the trailing edge allows.',
    input: {
      kind: 'choice',
      options: [
        { value: 'bridge', label: 'bridge' },
        { value: 'enter', label: 'enter' },
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
    key: 'params.output',
    label: 'Posted as',
    group: 'Output',
    help: 'A roughing cycle is shorter in the program; separate moves follow the stock as it is.',
    input: {
      kind: 'choice',
      options: [
        { value: 'moves', label: 'moves' },
        { value: 'cycle', label: 'cycle G71' },
      ],
    },
  },
];

/** Room behind the part: asked for, or the cutoff blade and a margin; a bore only has to run out of the part. */
export const behindOf = (asked: number | null, ctx: PlanContext, side: 'outer' | 'inner'): number =>
  asked ?? (ctx.cutoffWidth <= 0 ? 0 : side === 'outer' ? ctx.cutoffWidth + 1 : 1);

export const planRough = (op: RoughOperation, ctx: PlanContext): Planned => {
  const side = op.kind === 'outer-rough' ? 'outer' : 'inner';
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
  const partBack = regionBounds(ctx.part.region).minX;
  const behind = range.minU <= partBack + 1e-6 ? behindOf(op.params.extendBehind, ctx, side) : 0;
  const backTip = op.params.backLimit ?? range.minU - behind;
  // a hair further, so that a wall at the very end of the span is still climbed
  const from = backTip - ctx.section.tip.x - (behind === 0 && op.params.backLimit === null ? 0.002 : 0);
  const stockFront = regionBounds(ctx.stock).maxX;
  const cutsToFront = range.maxU >= regionBounds(ctx.part.region).maxX - 1e-6;
  const front = op.params.frontLimit ?? (cutsToFront ? Infinity : range.maxU);
  const to = Math.min(stockFront + view.noseRadius + safe * 3, front - ctx.section.tip.x);
  if (to - from < 1e-3) return nothing('limits-empty', 'blocking', { front, back: backTip });
  const ground = groundOf(ctx, frame, behind + 5);
  const allowanceV = op.params.allowanceX / 2;
  const floor = floorOf({ ground, view, allowanceU: op.params.allowanceZ, allowanceV, undercuts: op.params.undercuts, from, to, bottom: range.minV + allowanceV });
  const { top, solid } = startSurface(view, floor, from, to, stockFront);
  if (top === null) return nothing('nothing-to-cut', 'attention');
  if (solid) return nothing('bore-undrilled', 'blocking', { needed: -2 * range.minV });
  const contact = lowestContact({ floor, stock: view.stock, cutting: view.cutting });
  if (contact === null || top - (contact - view.noseRadius) < 1e-3) return nothing('nothing-to-cut', 'attention');
  const lowest = contact - view.noseRadius;
  let clearLevel = top + view.noseRadius + safe;
  if (side === 'inner') {
    const room = innerClearLevel(view, top, safe);
    if (room.level === null) return nothing('bar-too-thick', 'blocking', { missing: room.missing, bore: -2 * top });
    clearLevel = room.level;
  }
  const depths = passDepths(top - lowest, op.params.depth, op.params.passes);
  const findings = [];
  if (op.params.output === 'cycle') {
    const bare = floorOf({ ground, view, allowanceU: 0, allowanceV: 0, undercuts: 'bridge', from, to, bottom: range.minV });
    const cycle = planRoughCycle(op, ctx, { frame, view, range, from, top, clearLevel, behind, floor: bare });
    if (cycle.kind === 'planned') return cycle.planned;
    findings.push(note('info', 'cycle-not-possible', op.id, { reason: cycle.reason }, cycle.at ? frame.map(cycle.at) : null));
  }
  const cleared = clearByLevels({
    floor,
    levels: levelsBetween(top, depths, view.noseRadius),
    stock: view.stock,
    obstacles: view.obstacles,
    cutting: view.cutting,
    holder: view.holder,
    safe,
    clearLevel,
    leadLength: 0,
    noseRadius: view.noseRadius,
    retract: Math.min(0.5, safe),
  });
  if (cleared.cuts.length === 0) return nothing(cleared.skipped.length > 0 ? 'not-approachable' : 'nothing-to-cut', cleared.skipped.length > 0 ? 'blocking' : 'attention');
  const list = new EventList(op.id, ctx.section.tip);
  openOperation(list, ctx, op.cutting);
  tourCuts(list, { frame, cuts: cleared.cuts, clearLevel, gate: stockFront + view.noseRadius + safe * 2, feed: () => perRev(op.cutting.feed), view, stock: view.stock });
  closeOperation(list, ctx);
  for (const p of cleared.skipped) findings.push(note('attention', 'not-approachable', op.id, {}, frame.map(p)));
  if (depths[0] < view.noseRadius - 1e-9 && ctx.tool.kind === 'turning' && depths.length > 1)
    findings.push(note('info', 'pass-below-nose', op.id, { depth: depths[0], nose: view.noseRadius }));
  return { events: list.events, findings, depth: depths[0], contourKey: null };
};
