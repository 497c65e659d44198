import { z } from 'zod';
import { note } from '../findings';
import { type Curve, heightAt, line, point, type Surface, tangentAt, translateCurve, VOID } from '../geometry';
import type { ToolSection } from '../tooling';
import { typed } from '../units';
import { settleAcross } from './across';
import { levelPasses } from './clearing';
import type { ClearingJob, Pass } from './clearingJob';
import { settleCorner } from './corner';
import {
  CORNER,
  CORNER_BACK,
  curveInto,
  FACE,
  FACE_BACK,
  FACE_OUT,
  type Frame,
  INNER,
  INNER_ACROSS,
  INNER_BACK,
  OUTER,
  OUTER_BACK,
  rightward,
  turnedRound,
} from './frame';
import { Lips } from './lips';
import { Metal } from './metal';
import {
  BESIDE_SPAN,
  behindJaws,
  behindOf,
  floorsOf,
  floorWhenAsked,
  LEVEL,
  NEAR,
  overBodies,
  PAST_AXIS,
  refuse,
  type SideRequest,
  type SideSetting,
  WALL,
} from './sideRequest';
import { bedOf, groundOf, type SpanRange, spanRange, type View, viewOf } from './turning';
import { type Field, nothing, type Planned, type Seen } from './types';

/** What roughing and finishing along a side have in common: where the path may run. */
export const sideParams = {
  undercuts: z.enum(['bridge', 'enter']),
  /** How far the path runs on behind the span; null = room for the cutoff blade and 1 mm. */
  extendBehind: typed().nullable().default(null),
  /** Limits of the programmed tip; null = from the span. */
  frontLimit: typed().nullable().default(null),
  backLimit: typed().nullable().default(null),
  /** Diameter that the programmed tip does not pass: toward the axis outside, away from it in a bore; null = none. */
  diameterLimit: typed().nullable().default(null),
  output: z.enum(['moves', 'cycle']).default('moves'),
};

/** Whether a limit was set: the control's cycles know none. */
export const isLimited = (p: {
  readonly frontLimit: number | null;
  readonly backLimit: number | null;
  readonly diameterLimit: number | null;
}): boolean => p.frontLimit !== null || p.backLimit !== null || p.diameterLimit !== null;

type Feeding = Pick<ToolSection, 'feeds'>;
/** Which way passes go: as the tool is made for, else toward the chuck or the axis, or away from it. */
export type Direction = 'tool' | 'toward' | 'away';

const goesAway = ({ feeds }: Feeding, direction: Direction): boolean =>
  direction === 'tool' ? feeds === 'from-chuck' : direction === 'away';

/** How a side is seen: along X from the front, or from behind by a tool that cuts away from the chuck, else along Z. */
export const outerFrame = (tool: Feeding, along: string, direction: Direction = 'tool'): Frame => {
  if (along === 'corner') return tool.feeds === 'from-chuck' ? CORNER_BACK : CORNER;
  if (along !== 'x') return goesAway(tool, direction) ? OUTER_BACK : OUTER;
  return tool.feeds === 'from-chuck' ? FACE_BACK : direction === 'away' ? FACE_OUT : FACE;
};
export const innerFrame = (tool: Feeding, along: string, direction: Direction = 'tool'): Frame => {
  if (along === 'x') return INNER_ACROSS;
  return goesAway(tool, direction) ? INNER_BACK : INNER;
};

/** Metal on the axis before the bottom of a bore that a bar may still face away, mm. */
const SHALLOW = 1;
/** Room around a bar that travels in a bore, mm. */
const BAR_ROOM = 0.2;

/** Nothing was cut: because nothing is left, or because nothing could be reached. */
export const nothingCut = (id: string, skipped: readonly unknown[]): Planned =>
  nothing([
    skipped.length > 0 ? note('blocking', 'not-approachable', id, {}) : note('attention', 'nothing-to-cut', id, {}),
  ]);

/**
 * Where the nose centre stands, along the frame, when it touches the end of the span toward the chuck; null where the
 * contour rises behind it: there the tip comes up against a wall.
 */
const touchingEnd = (seen: Seen, frame: Frame, ground: readonly Curve[], noseRadius: number): number | null => {
  const pieces = rightward((seen.contour.span ?? []).map((e) => curveInto(frame, e.curve)));
  if (pieces.length === 0) return null;
  const chuckward = frame.outward ? 1 : -1;
  const last = pieces.reduce((best, c) =>
    chuckward < 0 ? (c.from.x < best.from.x ? c : best) : c.to.x > best.to.x ? c : best,
  );
  const end = chuckward < 0 ? last.from : last.to;
  const behind = heightAt(ground, end.x + chuckward * NEAR);
  if (behind === null || behind > end.y + LEVEL) return null;
  // the normal over the piece at its end, away from the metal
  return end.x - tangentAt(last, chuckward < 0 ? 0 : 1).y * noseRadius;
};

/** Metal that stands this much nearer to the axis than the narrowest place of a hole is its end, mm. */
const NARROWER = 0.2;

/** How far the hole goes on behind a place as wide as it is before it, mm; metal is seen from inside the bore. */
const openBehind = (metal: Surface, back: number): number =>
  back - metal.firstAbove(metal.top(back + LEVEL, Number.POSITIVE_INFINITY) + NARROWER);

/** Reference positions at a limit on diameter, as the frame sees it. */
const limited = (r: SideRequest, noseRadius: number, from: number, to: number): Curve[] => {
  if (r.diameterLimit === null) return [];
  const v = (r.side === 'outer' ? r.diameterLimit / 2 : -r.diameterLimit / 2) + noseRadius;
  return [line(point(from, v), point(to, v))];
};

/** How far a bar stands out toward the chuck from its nose's centre, mm: a back boring bar has its end there. */
const aheadOf = ({ frame, cutting, holder, noseRadius }: View): number => {
  const chuckward = frame.outward ? 1 : -1;
  const ends = [...cutting, ...holder].flatMap((s) => s.points.map((p) => chuckward * p.x + s.radius));
  return Math.max(noseRadius, ...ends);
};

/** Works out where a side can be cut, or why it cannot. */
export const settleSide = (r: SideRequest, seen: Seen): { setting: SideSetting } | { planned: Planned } => {
  const view = viewOf(seen);
  const { frame } = view;
  if (frame.alongAxis) return settleAcross(r, seen);
  if (frame.slanted) return settleCorner(r, seen);
  const safe = seen.place.safeDistance;
  const tipZ = seen.section.tip.x;
  const range = spanRange(seen, frame);
  if (!range)
    return r.side === 'inner' && !seen.contour.present
      ? refuse(r.id, 'no-bore', 'blocking', {})
      : refuse(r.id, 'span-lost', 'blocking', {});
  const mirrored = frame.outward;
  // the work as it is seen with its front where u is greatest
  const work = mirrored ? seen.metal.turnedRound() : seen.metal;
  const spanBack = mirrored ? -range.maxU : range.minU;
  const spanFront = mirrored ? -range.minU : range.maxU;
  const metalFront = work.right;
  const partFront = seen.contour.front;
  const behind = behindOf(r, seen, spanBack, () => openBehind(work, spanBack));
  const backTip = r.backLimit ?? spanBack - behind;
  const hair = behind === 0 && r.backLimit === null ? WALL : 0;
  const frontTip = r.frontLimit ?? (spanFront >= partFront - 1e-6 ? Infinity : spanFront);
  const open = Math.max(metalFront, partFront) + view.noseRadius + safe * 3;
  const zBack = backTip - tipZ - hair;
  const frontHair = r.frontLimit === null ? WALL : 0;
  const zFront = Math.min(open, frontTip - tipZ + frontHair);
  if (zFront - zBack < 1e-3)
    return refuse(r.id, 'limits-empty', 'blocking', { front: Math.min(frontTip, open), back: backTip });
  const ground = groundOf(seen, frame, behind + 5);
  const [low, high] = mirrored ? [-zFront, -zBack] : [zBack, zFront];
  // the nose touches the span's end beside the tip: where nothing rises there it goes on until it has
  const touches = r.backLimit === null && behind === 0 ? touchingEnd(seen, frame, ground, view.noseRadius) : null;
  const from = touches === null || mirrored ? low : Math.min(low, touches);
  const to = touches === null || !mirrored ? high : Math.max(high, touches);
  const common = {
    seen,
    view,
    ground,
    undercuts: r.undercuts,
    allowanceU: r.allowanceZ,
    allowanceV: r.allowanceRadius,
  };
  const floors = floorsOf({
    ...common,
    from,
    to,
    bed: (allowanceU, allowanceV, more) =>
      allowanceU + allowanceV + more > 0
        ? [
            line(
              point(from, range.minV + allowanceV + more + view.noseRadius),
              point(to, range.minV + allowanceV + more + view.noseRadius),
            ),
          ]
        : bedOf(seen, frame, range, view.noseRadius, from, to),
    limit: limited(r, view.noseRadius, from, to),
  });
  const inFront = metalFront + (r.side === 'inner' ? aheadOf(view) : view.noseRadius) + safe * 2;
  const gate = mirrored ? -inFront : inFront;
  const notes = r.side === 'outer' ? behindJaws(r, seen, backTip, behind) : [];
  const setting = {
    frame,
    view,
    range,
    behind,
    from,
    to,
    ...floors,
    gate,
    notes,
    beside: floorWhenAsked({ ...common, from: from - BESIDE_SPAN, to: to + BESIDE_SPAN, bed: () => [] }),
  };
  if (r.side === 'inner') {
    const way = wayIn(r, seen, view, work, mirrored ? turnedRound(floors.floor) : floors.floor, range);
    if ('planned' in way) return way;
    return { setting: { ...setting, ...way, ceiling: PAST_AXIS } };
  }
  const top = seen.metal.top(from - view.noseRadius, to + view.noseRadius);
  if (top === VOID) return refuse(r.id, 'nothing-to-cut', 'attention', {});
  // the way to the gate lies over everything that stands between
  const over = seen.metal.top(Math.min(from, gate) - view.noseRadius, Math.max(to, gate) + view.noseRadius);
  const level = Math.max(top, over) + view.noseRadius + safe;
  const clearLevel = Math.max(level, overBodies(seen, view, Math.min(from, gate), Math.max(to, gate)));
  return { setting: { ...setting, top, clearLevel, ceiling: Infinity } };
};

/**
 * How a bar comes into a bore: as deep as the hole is wide enough for bar and nose on both walls. The surface from which
 * levels go down is the narrowest place on that way; what lies beyond it is taken from there. Metal and floor with the front where
 * u is greatest.
 */
const wayIn = (
  r: SideRequest,
  seen: Seen,
  view: View,
  metal: Surface,
  floor: readonly Curve[],
  range: SpanRange,
): { top: number; clearLevel: number } | { planned: Planned } => {
  const front = metal.right;
  const mouth = metal.top(front - 0.5, front);
  if (mouth === VOID) return refuse(r.id, 'nothing-to-cut', 'attention', {});
  if (mouth > -0.05) return refuse(r.id, 'bore-undrilled', 'blocking', { needed: -2 * range.minV });
  // frame: metal of the bore lies below −radius, the far wall above +radius
  const body = Math.max(...view.holder.flatMap((s) => s.points.map((p) => p.y + s.radius)));
  const widest = -(body + view.noseRadius + BAR_ROOM * 2 + 0.1) / 2;
  const reach = metal.firstAbove(widest);
  if (reach >= front - 0.5)
    return refuse(r.id, 'bar-too-thick', 'blocking', { missing: 2 * (mouth - widest), bore: -2 * mouth });
  const solid = metal.firstAbove(-0.05);
  const deepest = floor.find((c) => c.to.y < -PAST_AXIS);
  if (deepest) {
    const bottom = deepest.from.x - view.noseRadius;
    if (solid - bottom > SHALLOW + 1e-6) return refuse(r.id, 'bore-shallow', 'blocking', { missing: solid - bottom });
  }
  const top = metal.top(Math.max(reach, (floor[0]?.from.x ?? reach) - view.noseRadius), front);
  const highest = -top - BAR_ROOM - body;
  const wanted = top + view.noseRadius + Math.min(seen.place.safeDistance, 1);
  return { top, clearLevel: Math.min(wanted, Math.max(highest, top + view.noseRadius + 0.15)) };
};

/**
 * Passes of a side: levels over the floor, or the floor itself. Where a bore has a bottom, metal thicker than a pass on it
 * is faced away in steps first.
 */
export const passesOf = (s: SideSetting, seen: Seen, levels: readonly number[] | null, depth: number): Pass[] => {
  const passes: Pass[] = levels ? levelPasses(s.floor, levels) : [{ graph: s.floor, level: null }];
  if (s.frame.name !== 'inner' || levels === null || levels.length === 0 || s.floor.length === 0) return passes;
  const bottom = s.floor.find((c) => c.to.y < -PAST_AXIS);
  if (!bottom || bottom === s.floor[0]) return passes;
  const hole = seen.metal.firstAbove(s.top + 1e-6);
  const thick = hole - (bottom.from.x - s.view.noseRadius);
  const steps = Math.min(60, Math.ceil(thick / depth) - 1);
  const right = s.floor[s.floor.length - 1].to.x;
  const facing: Pass[] = [];
  for (let k = steps; k >= 1; k--) {
    const moved = s.floor.map((c) => translateCurve(c, point((k * thick) / (steps + 1), 0)));
    const graph = levelPasses([...moved, ...(levelPasses(s.floor, [levels[0]])[0]?.graph ?? [])], [levels[0]])[0];
    if (graph) facing.push({ graph: graph.graph.filter((c) => c.to.x <= right + 1e-9), level: null });
  }
  return [...facing, ...passes];
};

/** The clearing job of a side; passes and lead are the operation's own. */
export const clearingOf = (s: SideSetting, seen: Seen, passes: readonly Pass[], leadLength: number): ClearingJob => ({
  passes,
  metal: new Metal(s.frame, seen.metal.clone(), seen.fixtures, seen.slot?.wall),
  lips: seen.lips && new Lips(s.frame, seen.lips),
  cutting: s.view.cutting,
  holder: s.view.holder,
  safe: seen.place.safeDistance,
  clearLevel: s.clearLevel,
  ...(s.beside ? { beside: s.beside } : {}),
  ceiling: s.ceiling,
  leadLength,
  noseRadius: s.view.noseRadius,
  retract: Math.min(0.5, seen.place.safeDistance),
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
    help: 'The tip does not cut in front of this place. An element’s end ties it, with or without a distance: o4_front + 2.',
    input: { kind: 'length', optional: 'none' },
  },
  {
    key: 'params.backLimit',
    label: 'Back limit Z',
    group: 'Span ends',
    help: 'The tip does not go behind this place. An element’s end ties it, with or without a distance: o4_back − 2.',
    input: { kind: 'length', optional: 'none' },
  },
  {
    key: 'params.diameterLimit',
    label: 'Limit ⌀',
    group: 'Span ends',
    help: 'The tip does not pass this diameter: toward the axis outside, away from it in a bore. A diameter of an element ties it: o4_back_dia + 1.',
    input: { kind: 'length', per: 'diameter', optional: 'none' },
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
