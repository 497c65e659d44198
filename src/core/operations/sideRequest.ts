import { type Finding, type FindingCode, type FindingNumbers, note } from '../findings';
import { type Curve, lowerSideOn, point } from '../geometry';
import type { Frame } from './frame';
import { floorsFor, type SpanRange, type View, withAllowance } from './turning';
import { nothing, type Planned, type Seen } from './types';

/** What is asked of a side, along the axis or across it. */
export interface SideRequest {
  readonly id: string;
  readonly side: 'outer' | 'inner';
  readonly undercuts: 'bridge' | 'enter';
  readonly extendBehind: number | null;
  readonly frontLimit: number | null;
  readonly backLimit: number | null;
  readonly diameterLimit: number | null;
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
  /** The same beside the span too, where that is a part of the contour. */
  readonly beside?: () => readonly Curve[];
  /** Surface from which levels go down. */
  readonly top: number;
  readonly clearLevel: number;
  /** Highest nose centre of a path: the axis in a bore, open outside. */
  readonly ceiling: number;
  /** u in front of all metal, where the tool comes in and goes out. */
  readonly gate: number;
  /** Radius for the nose centre above all metal, where ways in are aslant. */
  readonly over?: number;
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
/** The part's allowance is drawn so far beyond the place where a tool stands furthest out, mm: none reaches as far. */
const BEYOND = 200;

export const refuse = <C extends FindingCode>(
  id: string,
  code: C,
  severity: 'attention' | 'blocking',
  numbers: FindingNumbers[C],
): { planned: Planned } => ({ planned: nothing([note(severity, code, id, numbers)]) });

/** A bar runs on so far behind a bore that goes through, mm: whatever cuts the part off comes out into it. */
const THROUGH = 1;

/** Room behind the part where none is asked for: the cutoff blade and a margin; a bore only has to run out of it. */
export const usualBehind = (side: SideRequest['side'], cutoffWidth: number): number =>
  side === 'inner' ? THROUGH : cutoffWidth > 0 ? cutoffWidth + 1 : 0;

/**
 * Room behind a span that ends at the part's back: asked for, or the cutoff blade and a margin; a bore only has to run out of the
 * part, as far as its hole is `open` behind it. None behind a span that ends in front of that.
 */
export const behindOf = (r: SideRequest, seen: Seen, back: number, open: () => number): number => {
  if (back > seen.contour.back + 1e-6) return 0;
  if (r.extendBehind !== null) return r.extendBehind;
  const usual = usualBehind(r.side, seen.cutoffWidth);
  return r.side === 'inner' ? Math.max(0, Math.min(usual, open())) : usual;
};

/** A span in its frame; `bed` tells the lowest reference positions for an allowance along u and v, and more all round. */
interface Ground {
  readonly seen: Seen;
  readonly view: View;
  readonly ground: readonly Curve[];
  readonly undercuts: 'bridge' | 'enter';
  readonly allowanceU: number;
  readonly allowanceV: number;
  readonly from: number;
  readonly to: number;
  readonly bed: (allowanceU: number, allowanceV: number, more: number) => readonly Curve[];
  readonly limit?: readonly Curve[];
}

/** The floors of a side: as asked, bare, and with more metal left all round. */
export const floorsOf = (g: Ground): Pick<SideSetting, 'floor' | 'bareFloor' | 'floorAbove'> => {
  const { seen, view, ground, from, to, limit } = g;
  const common = { view, metal: seen.metal, fixtures: seen.fixtures, from, to, limit };
  const above = floorsFor({
    ...common,
    kept: withAllowance(ground, g.allowanceU, g.allowanceV, to + BEYOND),
    undercuts: g.undercuts,
    bed: (more) => g.bed(g.allowanceU, g.allowanceV, more),
  });
  const floor = above(0);
  return {
    floor,
    bareFloor: () => floorsFor({ ...common, kept: ground, undercuts: 'bridge', bed: () => g.bed(0, 0, 0) })(0),
    floorAbove: (more) => (more > 0 ? above(more) : floor),
  };
};

/** The floor of a ground, made when it is asked for. */
export const floorWhenAsked = (g: Ground): (() => readonly Curve[]) => {
  let made: readonly Curve[] | null = null;
  return () => (made ??= floorsOf(g).floor);
};

/** So far beside its ends a span's way in is held against the contour, mm. */
export const BESIDE_SPAN = 60;

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
