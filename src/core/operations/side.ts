import { z } from 'zod';
import { type Finding, type FindingCode, type FindingNumbers, note } from '../findings';
import { type Curve, heightAt, line, lowerSideOn, point, tangentAt, translateCurve, VOID } from '../geometry';
import { typed } from '../units';
import { missingRoom } from './behind';
import { type ClearingJob, levelPasses, type Pass } from './clearing';
import { curveInto, type Frame, rightward } from './frame';
import { Lips } from './lips';
import { Metal } from './metal';
import { bedOf, floorOf, groundOf, type SpanRange, spanRange, type View, viewOf } from './turning';
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

export interface SideRequest {
  readonly id: string;
  readonly side: 'outer' | 'inner';
  readonly undercuts: 'bridge' | 'enter';
  readonly extendBehind: number | null;
  readonly frontLimit: number | null;
  readonly backLimit: number | null;
  readonly diameterLimit: number | null;
  /** Passes run across the axis, seen from the front. */
  readonly across?: boolean;
  /** Across the axis only the span is gone along: what lies further out stays as it is. */
  readonly spanOnly?: boolean;
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
  /** Deepest nose centres with the allowance asked for. */
  readonly floor: readonly Curve[];
  /** The same without allowance and with hollows bridged, as a cycle takes the contour. */
  readonly bareFloor: () => readonly Curve[];
  /** Deepest nose centres with so much more metal left all round, for passes that follow the contour. */
  readonly floorAbove: (more: number) => readonly Curve[];
  /** The same beside the span, where it is gone along alone. */
  readonly beside?: () => readonly Curve[];
  /** Surface from which levels go down. */
  readonly top: number;
  readonly clearLevel: number;
  /** Highest nose centre of a path: the axis in a bore, open outside. */
  readonly ceiling: number;
  /** u in front of all metal, where the tool comes in and goes out. */
  readonly gate: number;
  /** What was asked for and is not done. */
  readonly notes: readonly Finding[];
}

/** Nose centre goes this far past the axis, so that no pip stays on the bottom of a bore. */
const PAST_AXIS = 0.02;
/** A path runs on so far at both ends of its span, mm: a wall that stands right there is one of the span's elements. */
const WALL = 0.002;
/** A place that is just not the one beside it, mm, and one beyond all others. */
const HAIR = 1e-6;
const FAR = 1e4;
/** Metal on the axis before the bottom of a bore that a bar may still face away, mm. */
const SHALLOW = 1;
/** Room around a bar that travels in a bore, mm. */
const BAR_ROOM = 0.2;

const refuse = <C extends FindingCode>(
  id: string,
  code: C,
  severity: 'attention' | 'blocking',
  numbers: FindingNumbers[C],
): { planned: Planned } => ({ planned: nothing([note(severity, code, id, numbers)]) });

/** Nothing was cut: because nothing is left, or because nothing could be reached. */
export const nothingCut = (id: string, skipped: readonly unknown[]): Planned =>
  nothing([
    skipped.length > 0 ? note('blocking', 'not-approachable', id, {}) : note('attention', 'nothing-to-cut', id, {}),
  ]);

/** A bar runs on so far behind a bore that goes through, mm: whatever cuts the part off comes out into it. */
const THROUGH = 1;

/**
 * Room behind the part: asked for, or the cutoff blade and a margin; a bore only has to run out of the part, as far as its hole
 * is `open` behind it.
 */
const behindOf = (asked: number | null, seen: Seen, side: 'outer' | 'inner', open: number): number => {
  if (asked !== null) return asked;
  if (side === 'inner') return Math.max(0, Math.min(THROUGH, open));
  return seen.cutoffWidth > 0 ? seen.cutoffWidth + 1 : 0;
};

/** Metal that stands this much nearer to the axis than the narrowest place of a hole is its end, mm. */
const NARROWER = 0.2;

/** How far the hole goes on behind a place as wide as it is before it, mm; metal is seen from inside the bore. */
const openBehind = ({ metal }: Seen, back: number): number =>
  back - metal.firstAbove(metal.top(back + LEVEL, Number.POSITIVE_INFINITY) + NARROWER);

/** How far beside a span's end one looks whether the contour rises there, mm. */
const NEAR = 0.02;
/** A rise behind the span's end that is no rise, mm. */
const LEVEL = 1e-3;

/**
 * Where the nose centre stands, along the frame, when it touches the end of the span toward the chuck; null where the
 * contour rises behind it: there the tip comes up against a wall.
 */
const touchingEnd = (seen: Seen, frame: Frame, ground: readonly Curve[], noseRadius: number): number | null => {
  const pieces = rightward((seen.contour.span ?? []).map((e) => curveInto(frame, e.curve)));
  if (pieces.length === 0) return null;
  const chuckward = frame.name === 'outer-back' ? 1 : -1;
  const last = pieces.reduce((best, c) =>
    chuckward < 0 ? (c.from.x < best.from.x ? c : best) : c.to.x > best.to.x ? c : best,
  );
  const end = chuckward < 0 ? last.from : last.to;
  const behind = heightAt(ground, end.x + chuckward * NEAR);
  if (behind === null || behind > end.y + LEVEL) return null;
  // the normal over the piece at its end, away from the metal
  return end.x - tangentAt(last, chuckward < 0 ? 0 : 1).y * noseRadius;
};

/** Reference positions at a limit on diameter, as the frame sees it. */
const limited = (r: SideRequest, noseRadius: number, from: number, to: number): Curve[] => {
  if (r.diameterLimit === null) return [];
  const v = (r.side === 'outer' ? r.diameterLimit / 2 : -r.diameterLimit / 2) + noseRadius;
  return [line(point(from, v), point(to, v))];
};

/** Said of a tip that was asked to go behind the jaws. */
const behindJaws = (r: SideRequest, seen: Seen, tip: number, behind: number): Finding[] => {
  const asked = r.backLimit !== null || (r.extendBehind !== null && behind > 0);
  const jaws = seen.place.jawFront;
  return asked && tip < jaws ? [note('attention', 'behind-jaws', r.id, { asked: tip, jaws }, point(tip, 0))] : [];
};

/** Works out where a side can be cut, or why it cannot. */
export const settleSide = (r: SideRequest, seen: Seen): { setting: SideSetting } | { planned: Planned } => {
  if (r.across) return settleAcross(r, seen);
  const view = viewOf(seen);
  const { frame } = view;
  const safe = seen.place.safeDistance;
  const tipZ = seen.section.tip.x;
  const range = spanRange(seen, frame);
  if (!range)
    return r.side === 'inner' && !seen.contour.present
      ? refuse(r.id, 'no-bore', 'blocking', {})
      : refuse(r.id, 'span-lost', 'blocking', {});
  const mirrored = frame.name === 'outer-back';
  const spanBack = mirrored ? -range.maxU : range.minU;
  const spanFront = mirrored ? -range.minU : range.maxU;
  const metalFront = mirrored ? -seen.metal.left : seen.metal.right;
  const partFront = seen.contour.front;
  const behind =
    spanBack <= seen.contour.back + 1e-6 ? behindOf(r.extendBehind, seen, r.side, openBehind(seen, spanBack)) : 0;
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
  const floorWith = (allowanceU: number, allowanceV: number, undercuts: 'bridge' | 'enter', more = 0): Curve[] =>
    floorOf({
      ground,
      view,
      metal: seen.metal,
      fixtures: seen.fixtures,
      allowanceU,
      allowanceV,
      more,
      undercuts,
      from,
      to,
      bed:
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
  const floor = floorWith(r.allowanceZ, r.allowanceRadius, r.undercuts);
  const gate = mirrored ? -(metalFront + view.noseRadius + safe * 2) : metalFront + view.noseRadius + safe * 2;
  const notes = r.side === 'outer' ? behindJaws(r, seen, backTip, behind) : [];
  const common = {
    frame,
    view,
    range,
    behind,
    from,
    to,
    floor,
    gate,
    notes,
    bareFloor: () => floorWith(0, 0, 'bridge'),
    floorAbove: (more: number) => floorWith(r.allowanceZ, r.allowanceRadius, r.undercuts, more),
  };
  if (r.side === 'inner') {
    const way = wayIn(r, seen, view, floor, range);
    if ('planned' in way) return way;
    return { setting: { ...common, ...way, ceiling: PAST_AXIS } };
  }
  const top = seen.metal.top(from - view.noseRadius, to + view.noseRadius);
  if (top === VOID) return refuse(r.id, 'nothing-to-cut', 'attention', {});
  // the way to the gate lies over everything that stands between
  const over = seen.metal.top(Math.min(from, gate) - view.noseRadius, Math.max(to, gate) + view.noseRadius);
  const level = Math.max(top, over) + view.noseRadius + safe;
  const clearLevel = Math.max(level, overBodies(seen, view, Math.min(from, gate), Math.max(to, gate)));
  return { setting: { ...common, top, clearLevel, ceiling: Infinity } };
};

/** How far flank and holder keep from metal beside the span while they travel over it, mm. */
const BESIDE = 0.1;

/** The height at which the whole tool, not only its nose, passes over all metal on a level way. */
const overBodies = (seen: Seen, view: View, from: number, to: number): number => {
  const sides = [...view.cutting, ...view.holder].map((s) => lowerSideOn(s, point(from, 0), point(to, 0)));
  const rises = [seen.metal, ...(seen.lips ? [seen.lips] : [])].flatMap((m) => sides.map((side) => m.rise(side)));
  return Math.max(...rises) + BESIDE;
};

/** Heights of passes across the axis, programmed tips along v: the lowest that is cut, and the highest. */
const acrossLimits = (r: SideRequest, seen: Seen, range: SpanRange): { low: number; high: number; behind: number } => {
  if (seen.frame === 'face-back')
    return { low: -(r.frontLimit ?? -range.minV), high: -(r.backLimit ?? Number.NEGATIVE_INFINITY), behind: 0 };
  const open = range.minV - seen.metal.top(-0.05, 0.05);
  const behind = range.minV <= seen.contour.back + 1e-6 ? behindOf(r.extendBehind, seen, r.side, open) : 0;
  return { low: r.backLimit ?? range.minV - behind, high: r.frontLimit ?? Number.POSITIVE_INFINITY, behind };
};

/** What is worked out when it is first asked for. */
const onceHere = <T>(make: () => T): (() => T) => {
  let made: { readonly value: T } | null = null;
  return () => (made ??= { value: make() }).value;
};

/** Where passes across the axis begin and end, nose centres along u. */
const acrossEnds = (r: SideRequest, seen: Seen, range: SpanRange, noseRadius: number): { from: number; to: number } => {
  const limit = r.diameterLimit === null ? null : r.diameterLimit / 2;
  if (seen.slot) {
    // the tool comes in over everything, and goes down no further than the slot does, just over where its floor meets the wall
    const over = Math.max(seen.metal.right, seen.slot.wall.top(-FAR, FAR));
    const floor = Math.max(seen.slot.floor + 2 * LEVEL, range.minU + r.allowanceRadius) + HAIR;
    return { from: Math.max(floor, limit ?? 0) + noseRadius, to: over + noseRadius + seen.place.safeDistance * 3 };
  }
  // in a bore u falls toward the wall, and the nose does not go past the axis
  if (r.side === 'inner') {
    const wall = range.minU - noseRadius;
    return { from: limit === null ? wall : Math.max(wall, noseRadius - limit), to: PAST_AXIS };
  }
  // on the axis the nose goes past it; at a bore it only has to pass the edge
  const inner = range.minU < 0.05 ? -PAST_AXIS : Math.max(-PAST_AXIS, range.minU - noseRadius);
  return {
    from: limit === null ? inner : Math.max(inner, limit + noseRadius),
    to: Math.max(seen.metal.right, range.maxU) + noseRadius + seen.place.safeDistance * 3,
  };
};

/**
 * Where a span seen along the axis ends for the nose, along u: at a wall that rises beyond it the nose touches that, and goes
 * up it where it is of the span; elsewhere it goes on until it has passed the end.
 */
const endsOfSpan = (seen: Seen, frame: Frame, ground: readonly Curve[], range: SpanRange, noseRadius: number) => {
  const pieces = (seen.contour.span ?? []).map((e) => curveInto(frame, e.curve));
  const end = (at: number, out: 1 | -1): number => {
    const there = pieces.flatMap((c) => [c.from, c.to].filter((p) => Math.abs(p.x - at) < 1e-6).map((p) => p.y));
    const rises = (heightAt(ground, at + out * NEAR) ?? VOID) > Math.min(...there) + LEVEL;
    const stands = Math.max(...there) - Math.min(...there) > LEVEL;
    return at + out * ((rises ? -noseRadius : noseRadius) + (stands ? WALL : -HAIR));
  };
  return { from: end(range.minU, -1), to: end(range.maxU, 1) };
};

/**
 * The front seen along the axis: u is the radius, v is Z. Passes run toward the axis, or in a bore away from it, at levels that
 * go toward the chuck; what hides behind a larger diameter, or a narrower mouth, is not seen from here.
 */
const settleAcross = (r: SideRequest, seen: Seen): { setting: SideSetting } | { planned: Planned } => {
  const view = viewOf(seen);
  const { frame, noseRadius } = view;
  const safe = seen.place.safeDistance;
  const range = spanRange(seen, frame);
  if (!range) return refuse(r.id, 'span-lost', 'blocking', {});
  if (frame.name === 'face-back' && !seen.slot)
    return refuse(r.id, 'no-slot-behind', 'blocking', { face: -range.minV, rim: 2 * range.maxU });
  const { low: lowTip, high: highTip, behind } = acrossLimits(r, seen, range);
  const edge = seen.metal.right;
  const open = acrossEnds(r, seen, range, noseRadius);
  const ground = groundOf(seen, frame, 0);
  const own = r.spanOnly && !seen.slot ? endsOfSpan(seen, frame, ground, range, noseRadius) : null;
  // at the axis, and outside all metal, there is no end
  const inmost = r.side === 'outer' && range.minU < 0.05;
  const from = own && !inmost ? Math.max(open.from, own.from) : open.from;
  const rim = frame.name === 'face' ? ground[ground.length - 1]?.to.x : -0.05;
  const to = own && range.maxU < (rim ?? 0) - 1e-6 ? Math.min(open.to, own.to) : open.to;
  const bed = lowTip - frame.into(seen.section.tip).y;
  const floorWith = (
    allowanceU: number,
    allowanceV: number,
    undercuts: 'bridge' | 'enter',
    more = 0,
    ends: { readonly from: number; readonly to: number } = { from, to },
  ): Curve[] =>
    floorOf({
      ground,
      view,
      metal: seen.metal,
      fixtures: seen.fixtures,
      allowanceU,
      allowanceV,
      more,
      undercuts,
      ...ends,
      bed: [line(point(ends.from, bed), point(ends.to, bed))],
    });
  const floor = floorWith(r.allowanceRadius, r.allowanceZ, r.undercuts);
  const outermost = r.side === 'inner' ? to + noseRadius : edge;
  const top = Math.min(seen.metal.top(from - noseRadius, outermost), highTip);
  if (top === VOID || edge <= 0) return refuse(r.id, 'nothing-to-cut', 'attention', {});
  if (top - lowTip < 1e-3) return refuse(r.id, 'limits-empty', 'blocking', { front: highTip, back: lowTip });
  const gate = open.to;
  // both halves are alike
  const highest = seen.slot ? top : Math.max(seen.contour.front, seen.metal.top(-1e-3, edge));
  const clearLevel = Math.max(highest + noseRadius + safe, overBodies(seen, view, from, to));
  const missing = missingRoom(seen, clearLevel, from, to);
  if (missing > 0) return refuse(r.id, 'slot-too-narrow', 'blocking', { missing, tool: seen.tool.name });
  const notes = frame.name === 'face-back' ? [] : behindJaws(r, seen, lowTip, behind);
  return {
    setting: {
      frame,
      view,
      range,
      behind,
      from,
      to,
      floor,
      gate,
      notes,
      top,
      clearLevel,
      ceiling: Number.POSITIVE_INFINITY,
      bareFloor: () => floorWith(0, 0, 'bridge'),
      floorAbove: (more) => floorWith(r.allowanceRadius, r.allowanceZ, r.undercuts, more),
      ...(own ? { beside: onceHere(() => floorWith(r.allowanceRadius, r.allowanceZ, r.undercuts, 0, open)) } : {}),
    },
  };
};

/**
 * How a bar comes into a bore: as deep as the hole is wide enough for bar and nose on both walls. The surface from which
 * levels go down is the narrowest place on that way; what lies beyond it is taken from there.
 */
const wayIn = (
  r: SideRequest,
  seen: Seen,
  view: View,
  floor: readonly Curve[],
  range: SpanRange,
): { top: number; clearLevel: number } | { planned: Planned } => {
  const { metal } = seen;
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
