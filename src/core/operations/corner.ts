import { type Curve, heightAt, point, tangentAt, VOID } from '../geometry';
import { curveInto, type Frame, rightward } from './frame';
import {
  BESIDE_SPAN,
  floorsOf,
  floorWhenAsked,
  LEVEL,
  NEAR,
  overBodies,
  refuse,
  type SideRequest,
  type SideSetting,
  WALL,
} from './sideRequest';
import { groundOf, spanRange, viewOf } from './turning';
import type { Planned, Seen } from './types';

/** Room over all metal for rapids aslant, whose slides run each at its own speed, mm. */
const ROOM = 3;

/** Where the nose centre touches an end of the span; at a wall that rises beyond it, it touches that too. */
const touchingEnds = (
  seen: Seen,
  frame: Frame,
  ground: readonly Curve[],
  noseRadius: number,
): { from: number; to: number } => {
  const pieces = rightward((seen.contour.span ?? []).map((e) => curveInto(frame, e.curve)));
  const first = pieces.reduce((a, b) => (b.from.x < a.from.x ? b : a));
  const last = pieces.reduce((a, b) => (b.to.x > a.to.x ? b : a));
  const beyond = (x: number, y: number, out: 1 | -1): boolean => (heightAt(ground, x + out * NEAR) ?? VOID) > y + LEVEL;
  const left = first.from.x - tangentAt(first, 0).y * noseRadius;
  const right = last.to.x - tangentAt(last, 1).y * noseRadius;
  // a corner that is sharp from outside is gone round as far as its own normal
  return {
    from: (beyond(first.from.x, first.from.y, -1) ? left : Math.min(left, first.from.x)) - WALL,
    to: (beyond(last.to.x, last.to.y, 1) ? right : Math.max(right, last.to.x)) + WALL,
  };
};

/**
 * A corner seen aslant: the shaft falls to the right, its shoulder to the left, and a relief that lies behind both is open
 * between them. Only the span is gone along, in one way: down the shaft's side and up the shoulder's.
 */
export const settleCorner = (r: SideRequest, seen: Seen): { setting: SideSetting } | { planned: Planned } => {
  const view = viewOf(seen);
  const { frame, noseRadius } = view;
  const range = spanRange(seen, frame);
  if (!range) return refuse(r.id, 'span-lost', 'blocking', {});
  if (frame.name === 'corner-back' && !seen.slot) return refuse(r.id, 'no-slot-behind', 'blocking', rimOf(seen));
  const ground = groundOf(seen, frame, 0);
  const { from, to } = touchingEnds(seen, frame, ground, noseRadius);
  const common = {
    seen,
    view,
    ground,
    undercuts: 'enter' as const,
    allowanceU: r.allowanceRadius,
    allowanceV: r.allowanceRadius,
    bed: () => [],
  };
  const top = seen.metal.top(from - noseRadius, to + noseRadius);
  if (top === VOID) return refuse(r.id, 'nothing-to-cut', 'attention', {});
  const clearLevel = Math.max(top + noseRadius + seen.place.safeDistance, overBodies(seen, view, from, to)) + ROOM;
  return {
    setting: {
      frame,
      view,
      range,
      behind: 0,
      from,
      to,
      ...floorsOf({ ...common, from, to }),
      beside: floorWhenAsked({ ...common, from: from - BESIDE_SPAN, to: to + BESIDE_SPAN }),
      top,
      clearLevel,
      ceiling: Number.POSITIVE_INFINITY,
      gate: to,
      over: Math.max(widest(seen, frame) + noseRadius + seen.place.safeDistance, seen.place.toolChange.diameter / 2),
      notes: [],
    },
  };
};

/** Where the shoulder of the span stands, and its greatest diameter there. */
const rimOf = (seen: Seen): { face: number; rim: number } => {
  const ends = (seen.contour.span ?? []).flatMap(({ curve: c }) => [c.from, c.to]);
  return { face: Math.max(...ends.map((p) => p.x)), rim: 2 * Math.max(...ends.map((p) => p.y)) };
};

/** Greatest distance from the axis of metal that is seen. */
const widest = ({ metal }: Seen, frame: Frame): number => {
  const { x, y } = metal.corners;
  return x.reduce((most, u, i) => (y[i] > VOID ? Math.max(most, frame.out(point(u, y[i])).y) : most), 0);
};
