import type { Curve, Point, RoundedPolygon } from '../geometry';
import type { Lips } from './lips';
import type { Metal } from './metal';

/** One engagement of the tool, in order of travel; all places are reference (nose centre) positions in the frame. */
export interface Cut {
  /** Where the rapid ends and the feed begins, outside all metal. */
  readonly start: Point;
  /** The way from the cut before: straight back and in, or over the clear level. */
  readonly link: 'direct' | 'over';
  readonly leadIn: readonly Curve[];
  readonly pieces: readonly Curve[];
  readonly leadOut: readonly Curve[];
  /** Thickest layer met, mm (for load and drawing). */
  readonly depth: number;
}

export interface Clearing {
  readonly cuts: readonly Cut[];
  /** Places that could not be approached without touching metal: they stay as leftover. */
  readonly skipped: readonly Point[];
}

/** Reference positions of one pass, a graph from left to right, with its level where it has one. */
export interface Pass {
  readonly graph: readonly Curve[];
  readonly level: number | null;
}

export interface ClearingJob {
  readonly passes: readonly Pass[];
  /** Metal as it stands; it is cut on the way. */
  readonly metal: Metal;
  /** Lips that the metal's top looks through; no rapid may meet them. */
  readonly lips: Lips | null;
  readonly cutting: readonly RoundedPolygon[];
  readonly holder: readonly RoundedPolygon[];
  readonly safe: number;
  /** Reference height at which the tool may travel freely along u. */
  readonly clearLevel: number;
  /** Lowest reference positions beside the passes too, where those go over a part of the contour only. */
  readonly beside?: () => readonly Curve[];
  /** Highest reference position of a path; in a bore the axis. */
  readonly ceiling: number;
  /** Length of the lead-in at the least (compensation needs room). */
  readonly leadLength: number;
  readonly retract: number;
  readonly noseRadius: number;
  /** The passes are gone along again where one left something that it could take by then. */
  readonly again?: boolean;
  /** The ways in and out that are tried first. */
  readonly lead?: Lead;
  readonly leadOut?: Lead;
}

/** A way in or out as it was asked for; a length of null is the safe distance. */
export interface Lead {
  readonly style: 'as-fits' | 'tangent' | 'square' | 'arc';
  readonly length: number | null;
}
