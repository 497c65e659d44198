/** Every length tolerance of the core, in mm, with its reason. Angles in radians are said so. */
export const TOLERANCE = {
  /** Two points closer than this are one point: far below any machine's resolution, far above rounding noise. */
  samePoint: 1e-7,
  /** Chord error when an arc becomes a polygon for boolean work: paths must stay within 0.001. */
  chord: 2e-4,
  /** A cut deeper than this below the part's surface is a gouge. */
  gouge: 1e-3,
  /** Overlap of tool and stock thinner than this is a touch, not a cut. */
  touch: 2e-3,
  /** Overlap of a body with something solid that counts as a collision. */
  collision: 1e-2,
  /** Gap that a drawing import may close without asking. */
  drawingGap: 1e-2,
} as const;
