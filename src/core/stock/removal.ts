import {
  flattenCurve,
  foldAboutAxis,
  intersectRegions,
  type Point,
  type Region,
  regionArea,
  regionBounds,
  ringArea,
  subtract,
  sweepAlong,
  unionRegions,
} from '../geometry';
import { type MotionEvent, type Move, movesOf, sectionPoint } from '../motion';
import type { ToolSection } from '../tooling';
import type { Body } from './body';

/** A run of feed moves without a rapid between, as nose-centre points, with the indices of its first and last event. */
export interface FeedRun {
  readonly first: number;
  readonly last: number;
  readonly path: readonly Point[];
}

/** Nose centres along a move, its start first. */
export const centrePoints = (m: Move, tip: Point): Point[] =>
  [sectionPoint(m.from), ...flattenCurve(m.curve)].map((p) => subtract(p, tip));

/** Feed runs of moves that follow one another. */
export const feedRuns = (moves: readonly Move[], section: ToolSection): FeedRun[] => {
  const runs: FeedRun[] = [];
  let open: { first: number; last: number; path: Point[] } | null = null;
  for (const m of moves) {
    // a thread leaves its crest where it was: in the section it is a form on the surface
    if (m.event.kind === 'rapid' || m.event.kind === 'thread') {
      if (open) runs.push(open);
      open = null;
      continue;
    }
    const points = centrePoints(m, section.tip);
    open ??= { first: m.index, last: m.index, path: [points[0]] };
    open.path.push(...points.slice(1));
    open.last = m.index;
  }
  if (open) runs.push(open);
  return runs;
};

/** Ground swept by the cutting shapes along a path of nose centres, turned up about the axis. */
export const sweptCut = (section: ToolSection, path: readonly Point[]): Region =>
  foldAboutAxis(unionRegions(...section.cutting.map((s) => sweepAlong(s, path))));

export const cutStock = (stock: Body, section: ToolSection, path: readonly Point[]): Body =>
  stock.cutTurned(sweptCut(section, path));

/** Stock after all feed moves of an operation, by exact polygons run after run. */
export const stockAfter = (stock: Body, events: readonly MotionEvent[], section: ToolSection): Body =>
  feedRuns(movesOf(events), section).reduce((s, run) => cutStock(s, section, run.path), stock);

/**
 * The stock without pieces that hang on nothing and hold nothing of the part: a pip that a facing tool's trailing edge
 * leaves before the centre falls off as soon as it is cut free.
 */
export const withoutLoose = (stock: Body, part: Region): Body => {
  const outline = stock.turnedOutline;
  const outers = outline.filter((ring) => ringArea(ring) > 0);
  if (outers.length < 2 || part.length === 0) return stock;
  const largest = outers.reduce((best, r) => (ringArea(r) > ringArea(best) ? r : best));
  const loose = outers.filter((r) => r !== largest && !(regionArea(intersectRegions([r], part)) > 1e-6));
  return loose.length === 0 ? stock : stock.turnedDownTo(outline.filter((r) => !loose.includes(r)));
};

export interface Separated {
  /** What stays in the chuck. */
  readonly held: Body;
  /** What came off, if anything did. */
  readonly off: Body;
}

/** Tells the piece that reaches the chuck from pieces that a cutoff has freed; crumbs below 1e-3 mm² are dropped. */
export const separate = (stock: Body, heldZ: number): Separated => {
  const outline = stock.turnedOutline;
  const outers = outline.filter((ring) => ringArea(ring) > 1e-3);
  const holes = outline.filter((ring) => ringArea(ring) < -1e-9);
  const reaches = (ring: readonly Point[]): boolean => ring.some((p) => p.x < heldZ);
  const inside = (hole: readonly Point[], ring: readonly Point[]): boolean => {
    const b = regionBounds([ring]);
    return hole[0].x >= b.minX && hole[0].x <= b.maxX && hole[0].y >= b.minY && hole[0].y <= b.maxY;
  };
  const pick = (keep: (ring: readonly Point[]) => boolean): Body => {
    const rings = outers.filter(keep);
    return stock.turnedDownTo([...rings, ...holes.filter((h) => rings.some((r) => inside(h, r)))]);
  };
  return { held: pick(reaches), off: pick((r) => !reaches(r)) };
};
