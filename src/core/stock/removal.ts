import {
  type Arc,
  flattenCurve,
  foldAboutAxis,
  type Point,
  point,
  type Region,
  regionBounds,
  ringArea,
  simplifyRegion,
  subtractRegion,
  sweepAlong,
  unionRegions,
} from '../geometry';
import { isMove, type MotionEvent } from '../motion';
import type { ToolSection } from '../tooling';

/** A run of feed moves without a rapid between, as nose-centre points, with the indices of its first and last event. */
export interface FeedRun {
  readonly first: number;
  readonly last: number;
  readonly path: readonly Point[];
}

/** Points of one move, without its start, as nose centres. */
export const movePoints = (e: MotionEvent, from: Point, tip: Point): Point[] => {
  if (!isMove(e)) return [];
  const to = point((e.to.Z ?? from.x + tip.x) - tip.x, (e.to.X ?? from.y + tip.y) - tip.y);
  if (e.kind !== 'arc') return [to];
  const a: Arc = {
    kind: 'arc',
    from,
    to,
    centre: point((e.centre.Z ?? 0) - tip.x, (e.centre.X ?? 0) - tip.y),
    clockwise: e.clockwise,
  };
  return flattenCurve(a);
};

/** Feed runs of an operation's events; `start` is the nose centre before the first event. */
export const feedRuns = (events: readonly MotionEvent[], section: ToolSection, start: Point | null): FeedRun[] => {
  const runs: FeedRun[] = [];
  let at = start;
  let open: { first: number; last: number; path: Point[] } | null = null;
  events.forEach((e, i) => {
    if (!isMove(e)) return;
    const from = at ?? point((e.to.Z ?? 0) - section.tip.x, (e.to.X ?? 0) - section.tip.y);
    const points = movePoints(e, from, section.tip);
    if (e.kind === 'rapid') {
      if (open) runs.push(open);
      open = null;
    } else {
      open ??= { first: i, last: i, path: [from] };
      open.path.push(...points);
      open.last = i;
    }
    at = points[points.length - 1];
  });
  if (open) runs.push(open);
  return runs;
};

/** Ground swept by the cutting shapes along a path of nose centres, turned up about the axis. */
export const sweptCut = (section: ToolSection, path: readonly Point[]): Region =>
  foldAboutAxis(unionRegions(...section.cutting.map((s) => sweepAlong(s, path))));

export const cutStock = (stock: Region, section: ToolSection, path: readonly Point[]): Region =>
  simplifyRegion(subtractRegion(stock, sweptCut(section, path)));

/** Stock after all feed moves of an operation. */
export const stockAfter = (stock: Region, events: readonly MotionEvent[], section: ToolSection): Region =>
  feedRuns(events, section, null).reduce((s, run) => cutStock(s, section, run.path), stock);

export interface Separated {
  /** What stays in the chuck. */
  readonly held: Region;
  /** What came off, if anything did. */
  readonly off: Region;
}

/** Tells the piece that reaches the chuck from pieces that a cutoff has freed; crumbs below 1e-3 mm² are dropped. */
export const separate = (stock: Region, heldZ: number): Separated => {
  const outers = stock.filter((ring) => ringArea(ring) > 1e-3);
  const holes = stock.filter((ring) => ringArea(ring) < -1e-9);
  const reaches = (ring: readonly Point[]): boolean => ring.some((p) => p.x < heldZ);
  const inside = (hole: readonly Point[], ring: readonly Point[]): boolean => {
    const b = regionBounds([ring]);
    return hole[0].x >= b.minX && hole[0].x <= b.maxX && hole[0].y >= b.minY && hole[0].y <= b.maxY;
  };
  const pick = (keep: (ring: readonly Point[]) => boolean): Region => {
    const rings = outers.filter(keep);
    return [...rings, ...holes.filter((h) => rings.some((r) => inside(h, r)))];
  };
  return { held: pick(reaches), off: pick((r) => !reaches(r)) };
};
