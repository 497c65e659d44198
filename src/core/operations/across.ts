import { type Curve, heightAt, line, point, VOID } from '../geometry';
import { missingRoom } from './behind';
import { curveInto, type Frame, inwardOf, turnedRound } from './frame';
import {
  behindJaws,
  behindOf,
  FAR,
  floorsOf,
  floorWhenAsked,
  HAIR,
  LEVEL,
  NEAR,
  overBodies,
  PAST_AXIS,
  refuse,
  type SideRequest,
  type SideSetting,
  WALL,
} from './sideRequest';
import { groundOf, type SpanRange, spanRange, viewOf } from './turning';
import type { Planned, Seen } from './types';

/** Heights of passes across the axis, programmed tips along v: the lowest that is cut, and the highest. */
const acrossLimits = (r: SideRequest, seen: Seen, range: SpanRange): { low: number; high: number; behind: number } => {
  if (seen.frame === 'face-back')
    return { low: -(r.frontLimit ?? -range.minV), high: -(r.backLimit ?? Number.NEGATIVE_INFINITY), behind: 0 };
  const behind = behindOf(r, seen, range.minV, () => range.minV - seen.metal.top(-0.05, 0.05));
  return { low: r.backLimit ?? range.minV - behind, high: r.frontLimit ?? Number.POSITIVE_INFINITY, behind };
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
export const settleAcross = (r: SideRequest, seen: Seen): { setting: SideSetting } | { planned: Planned } => {
  const view = viewOf(seen);
  const { noseRadius } = view;
  // where passes go outward all is worked out as if they went inward, and turned round at last
  const frame = inwardOf(view.frame);
  const outward = frame !== view.frame;
  const safe = seen.place.safeDistance;
  const range = spanRange(seen, frame);
  if (!range) return refuse(r.id, 'span-lost', 'blocking', {});
  if (r.side === 'inner' && seen.section.feeds === 'from-chuck')
    return refuse(r.id, 'bar-cuts-outward', 'blocking', { tool: seen.tool.name });
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
  // on its way in an outward pass may come over the axis: there the other half is in its way
  const work = outward ? [...turnedRound(ground), ...ground] : ground;
  const gone = outward ? { from: -to, to: -from } : { from, to };
  const groundBetween = (ends: { readonly from: number; readonly to: number }) => ({
    seen,
    view,
    ground: work,
    undercuts: r.undercuts,
    allowanceU: r.allowanceRadius,
    allowanceV: r.allowanceZ,
    ...ends,
    bed: () => [line(point(ends.from, bed), point(ends.to, bed))],
  });
  const outermost = r.side === 'inner' ? to + noseRadius : edge;
  const top = Math.min(seen.metal.top(from - noseRadius, outermost), highTip);
  if (top === VOID || edge <= 0) return refuse(r.id, 'nothing-to-cut', 'attention', {});
  if (top - lowTip < 1e-3) return refuse(r.id, 'limits-empty', 'blocking', { front: highTip, back: lowTip });
  const gate = open.to;
  // both halves are alike
  const highest = seen.slot ? top : Math.max(seen.contour.front, seen.metal.top(-1e-3, edge));
  const clearLevel = Math.max(highest + noseRadius + safe, overBodies(seen, view, gone.from, gone.to));
  const missing = missingRoom(seen, clearLevel, from, to);
  if (missing > 0) return refuse(r.id, 'slot-too-narrow', 'blocking', { missing, tool: seen.tool.name });
  const notes = frame.name === 'face-back' ? [] : behindJaws(r, seen, lowTip, behind);
  return {
    setting: {
      frame: view.frame,
      view,
      range,
      behind,
      ...gone,
      ...floorsOf(groundBetween(gone)),
      gate: outward ? -gate : gate,
      notes,
      top,
      clearLevel,
      ceiling: Number.POSITIVE_INFINITY,
      ...(own ? { beside: floorWhenAsked(groundBetween(outward ? { from: -open.to, to: open.to } : open)) } : {}),
    },
  };
};
