import { z } from 'zod';
import { type Curve, regionBounds } from '../geometry';
import type { ClearingJob } from './clearing';
import type { Frame } from './frame';
import {
  floorOf,
  frameOf,
  groundOf,
  innerClearLevel,
  note,
  type SpanRange,
  spanRange,
  startSurface,
  type View,
  viewOf,
} from './turning';
import type { Field, PlanContext, Planned, Span } from './types';

/** What roughing and finishing along a side have in common: where the path may run. */
export const sideParams = {
  undercuts: z.enum(['bridge', 'enter']),
  /** How far the path runs on behind the span; null = room for the cutoff blade and 1 mm. */
  extendBehind: z.number().nullable().default(null),
  /** Limits of the programmed tip; null = from the span. */
  frontLimit: z.number().nullable().default(null),
  backLimit: z.number().nullable().default(null),
  output: z.enum(['moves', 'cycle']).default('moves'),
};

export interface SideRequest {
  readonly id: string;
  readonly side: 'outer' | 'inner';
  readonly span: Span;
  readonly undercuts: 'bridge' | 'enter';
  readonly extendBehind: number | null;
  readonly frontLimit: number | null;
  readonly backLimit: number | null;
  /** Metal to leave: along Z and in radius. */
  readonly allowanceZ: number;
  readonly allowanceRadius: number;
}

/** A side seen in its frame, ready to be cut. */
export interface SideSetting {
  readonly frame: Frame;
  readonly view: View;
  readonly range: SpanRange;
  readonly behind: number;
  /** Range of the nose centre along u. */
  readonly from: number;
  readonly to: number;
  readonly stockFront: number;
  /** Deepest nose centres with the allowance asked for. */
  readonly floor: readonly Curve[];
  /** The same without allowance and with hollows bridged, as a cycle takes the contour. */
  readonly bareFloor: () => readonly Curve[];
  /** Surface from which levels go down. */
  readonly top: number;
  readonly clearLevel: number;
  /** u in front of all metal, where the tool comes in and goes out. */
  readonly gate: number;
}

/** Nothing is planned, for one reason. */
export const nothingPlanned = (
  id: string,
  code: string,
  severity: 'attention' | 'blocking',
  numbers: Record<string, number> = {},
): Planned => ({
  events: [],
  findings: [note(severity, code, id, numbers)],
  depth: 0,
  contourKey: null,
});

/** Nothing was cut: because nothing is left, or because nothing could be reached. */
export const nothingCut = (id: string, skipped: readonly unknown[]): Planned =>
  skipped.length > 0
    ? nothingPlanned(id, 'not-approachable', 'blocking')
    : nothingPlanned(id, 'nothing-to-cut', 'attention');

/** Room behind the part: asked for, or the cutoff blade and a margin; a bore only has to run out of the part. */
const behindOf = (asked: number | null, ctx: PlanContext, side: 'outer' | 'inner'): number =>
  asked ?? (ctx.cutoffWidth <= 0 ? 0 : side === 'outer' ? ctx.cutoffWidth + 1 : 1);

/** Works out where a side can be cut, or why it cannot. */
export const settleSide = (r: SideRequest, ctx: PlanContext): { setting: SideSetting } | { planned: Planned } => {
  const refuse = (code: string, severity: 'attention' | 'blocking', numbers: Record<string, number> = {}) => ({
    planned: nothingPlanned(r.id, code, severity, numbers),
  });
  const frame = frameOf(r.side);
  const view = viewOf(ctx, frame);
  const safe = ctx.holding.safeDistance;
  const tipX = ctx.section.tip.x;
  const range = spanRange(ctx, frame, r.side, r.span);
  if (!range) return refuse(r.side === 'inner' && ctx.part.inner.length === 0 ? 'no-bore' : 'span-lost', 'blocking');
  const part = regionBounds(ctx.part.region);
  const stockFront = regionBounds(ctx.stock).maxX;
  const behind = range.minU <= part.minX + 1e-6 ? behindOf(r.extendBehind, ctx, r.side) : 0;
  const backTip = r.backLimit ?? range.minU - behind;
  // a hair further, so that a wall at the very end of the span is still climbed
  const from = backTip - tipX - (behind === 0 && r.backLimit === null ? 0.002 : 0);
  const front = r.frontLimit ?? (range.maxU >= part.maxX - 1e-6 ? Infinity : range.maxU);
  const to = Math.min(Math.max(stockFront, part.maxX) + view.noseRadius + safe * 3, front - tipX);
  if (to - from < 1e-3) return refuse('limits-empty', 'blocking', { front, back: backTip });
  const ground = groundOf(ctx, frame, behind + 5);
  const floorWith = (allowanceU: number, allowanceV: number, undercuts: 'bridge' | 'enter'): Curve[] =>
    floorOf({ ground, view, allowanceU, allowanceV, undercuts, from, to, bottom: range.minV + allowanceV });
  const floor = floorWith(r.allowanceZ, r.allowanceRadius, r.undercuts);
  const { top, solid } = startSurface(view, floor, from, to, stockFront);
  if (top === null) return refuse('nothing-to-cut', 'attention');
  if (solid) return refuse('bore-undrilled', 'blocking', { needed: -2 * range.minV });
  let clearLevel = top + view.noseRadius + safe;
  if (r.side === 'inner') {
    const room = innerClearLevel(view, top, safe);
    if (room.level === null) return refuse('bar-too-thick', 'blocking', { missing: room.missing, bore: -2 * top });
    clearLevel = room.level;
  }
  return {
    setting: {
      frame,
      view,
      range,
      behind,
      from,
      to,
      stockFront,
      floor,
      bareFloor: () => floorWith(0, 0, 'bridge'),
      top,
      clearLevel,
      gate: stockFront + view.noseRadius + safe * 2,
    },
  };
};

/** The clearing job of a side; levels and lead are the operation's own. */
export const clearingOf = (
  s: SideSetting,
  ctx: PlanContext,
  levels: ClearingJob['levels'],
  leadLength: number,
): ClearingJob => ({
  floor: s.floor,
  levels,
  stock: s.view.stock,
  obstacles: s.view.obstacles,
  cutting: s.view.cutting,
  holder: s.view.holder,
  safe: ctx.holding.safeDistance,
  clearLevel: s.clearLevel,
  leadLength,
  noseRadius: s.view.noseRadius,
  retract: Math.min(0.5, ctx.holding.safeDistance),
});

export const undercutsField = (help: string): Field => ({
  key: 'params.undercuts',
  label: 'Undercuts',
  group: 'Span ends',
  help,
  input: {
    kind: 'choice',
    options: [
      { value: 'bridge', label: 'bridge' },
      { value: 'enter', label: 'enter' },
    ],
  },
});

export const spanEndFields: readonly Field[] = [
  {
    key: 'params.extendBehind',
    label: 'Run on behind',
    group: 'Span ends',
    help: 'How far the path goes on behind the span. Empty: the cutoff blade’s width and 1 mm outside, 1 mm in a bore.',
    input: { kind: 'length', optional: 'blade + 1' },
  },
  {
    key: 'params.frontLimit',
    label: 'Front limit Z',
    group: 'Span ends',
    help: 'The tip does not cut in front of this place.',
    input: { kind: 'length', optional: 'none' },
  },
  {
    key: 'params.backLimit',
    label: 'Back limit Z',
    group: 'Span ends',
    help: 'The tip does not go behind this place.',
    input: { kind: 'length', optional: 'none' },
  },
];

export const outputField = (cycle: string, help: string): Field => ({
  key: 'params.output',
  label: 'Posted as',
  group: 'Output',
  help,
  input: {
    kind: 'choice',
    options: [
      { value: 'moves', label: 'moves' },
      { value: 'cycle', label: `cycle ${cycle}` },
    ],
  },
});
