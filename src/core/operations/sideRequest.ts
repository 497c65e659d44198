import { type Finding, type FindingCode, type FindingNumbers, note } from '../findings';
import { type Curve, lowerSideOn, point } from '../geometry';
import type { Frame } from './frame';
import type { SpanRange, View } from './turning';
import { nothing, type Planned, type Seen } from './types';

/** What is common to sides that are gone along the axis and across it. */

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
export const PAST_AXIS = 0.02;
/** A path runs on so far at both ends of its span, mm: a wall that stands right there is one of the span's elements. */
export const WALL = 0.002;
/** A place that is just not the one beside it, mm, and one beyond all others. */
export const HAIR = 1e-6;
export const FAR = 1e4;

export const refuse = <C extends FindingCode>(
  id: string,
  code: C,
  severity: 'attention' | 'blocking',
  numbers: FindingNumbers[C],
): { planned: Planned } => ({ planned: nothing([note(severity, code, id, numbers)]) });

/** A bar runs on so far behind a bore that goes through, mm: whatever cuts the part off comes out into it. */
const THROUGH = 1;

/**
 * Room behind the part: asked for, or the cutoff blade and a margin; a bore only has to run out of the part, as far as its hole
 * is `open` behind it.
 */
export const behindOf = (asked: number | null, seen: Seen, side: 'outer' | 'inner', open: number): number => {
  if (asked !== null) return asked;
  if (side === 'inner') return Math.max(0, Math.min(THROUGH, open));
  return seen.cutoffWidth > 0 ? seen.cutoffWidth + 1 : 0;
};

/** Metal that stands this much nearer to the axis than the narrowest place of a hole is its end, mm. */
const NARROWER = 0.2;

/** How far the hole goes on behind a place as wide as it is before it, mm; metal is seen from inside the bore. */
export const openBehind = ({ metal }: Seen, back: number): number =>
  back - metal.firstAbove(metal.top(back + LEVEL, Number.POSITIVE_INFINITY) + NARROWER);

/** How far beside a span's end one looks whether the contour rises there, mm. */
export const NEAR = 0.02;
/** A rise behind the span's end that is no rise, mm. */
export const LEVEL = 1e-3;

/** Said of a tip that was asked to go behind the jaws. */
export const behindJaws = (r: SideRequest, seen: Seen, tip: number, behind: number): Finding[] => {
  const asked = r.backLimit !== null || (r.extendBehind !== null && behind > 0);
  const jaws = seen.place.jawFront;
  return asked && tip < jaws ? [note('attention', 'behind-jaws', r.id, { asked: tip, jaws }, point(tip, 0))] : [];
};

/** How far flank and holder keep from metal beside the span while they travel over it, mm. */
const BESIDE = 0.1;

/** The height at which the whole tool, not only its nose, passes over all metal on a level way. */
export const overBodies = (seen: Seen, view: View, from: number, to: number): number => {
  const sides = [...view.cutting, ...view.holder].map((s) => lowerSideOn(s, point(from, 0), point(to, 0)));
  const rises = [seen.metal, ...(seen.lips ? [seen.lips] : [])].flatMap((m) => sides.map((side) => m.rise(side)));
  return Math.max(...rises) + BESIDE;
};
