import {
  add,
  arcRadius,
  boundsOfPoints,
  type Curve,
  clipGraph,
  curveLength,
  flattenChain,
  flattenCurve,
  graphPoints,
  inflateRegion,
  intersectRegions,
  line,
  overlapPositions,
  overlapsMoreThan,
  type Point,
  point,
  type Region,
  type RoundedPolygon,
  rectangle,
  regionArea,
  reverseChain,
  scale,
  simplifyRegion,
  subtractRegion,
  sweepAlong,
  TOLERANCE,
  tangentAt,
  unionRegions,
  upperEnvelope,
} from '../geometry';
import { sliceChain, stretchesInside } from './engagement';

/** One engagement of the tool, in order of travel; all places are reference (nose centre) positions in the frame. */
export interface Cut {
  /** Where the rapid ends and the feed begins, outside all metal. */
  readonly start: Point;
  readonly leadIn: readonly Curve[];
  readonly pieces: readonly Curve[];
  readonly leadOut: readonly Curve[];
  /** Thickest layer met, mm (for load and drawing). */
  readonly depth: number;
}

export interface Clearing {
  readonly cuts: readonly Cut[];
  readonly stock: Region;
  /** Places that could not be approached without touching metal: they stay as leftover. */
  readonly skipped: readonly Point[];
}

export interface ClearingJob {
  /** Deepest allowed reference positions, a graph from left to right. */
  readonly floor: readonly Curve[];
  /** Levels of the reference point from the top down; null = follow the floor itself. */
  readonly levels: readonly (number | null)[];
  readonly stock: Region;
  /** Jaws and other things that must not be met. */
  readonly obstacles: Region;
  readonly cutting: readonly RoundedPolygon[];
  readonly holder: readonly RoundedPolygon[];
  readonly safe: number;
  /** Reference height at which the tool may travel freely along u. */
  readonly clearLevel: number;
  /** Length of the lead-in at the least (compensation needs room). */
  readonly leadLength: number;
  readonly retract: number;
  readonly noseRadius: number;
}

const lift = (p: Point, to: number): Point => point(p.x, to);

/**
 * Removes stock level by level: at each level the path is the upper envelope of level and floor; only stretches that
 * still meet stock are cut, each begun and ended outside the metal as it then is.
 */
export const clearByLevels = (job: ClearingJob): Clearing => {
  let stock = job.stock;
  const cuts: Cut[] = [];
  const skipped: Point[] = [];
  if (job.floor.length === 0) return { cuts, stock, skipped };
  const left = job.floor[0].from.x;
  const right = job.floor[job.floor.length - 1].to.x;
  let previous = Infinity;
  for (const level of job.levels) {
    const graph =
      level === null
        ? job.floor
        : clipGraph(upperEnvelope([...job.floor, line(point(left, level), point(right, level))]), left, right);
    const result = clearAlong(job, graph, stock, previous);
    cuts.push(...result.cuts);
    skipped.push(...result.skipped);
    stock = result.stock;
    if (level !== null) previous = level;
  }
  return { cuts, stock, skipped };
};

const bodyReach = (shapes: readonly RoundedPolygon[]): number =>
  Math.max(...shapes.flatMap((s) => s.points.map((p) => Math.hypot(p.x, p.y) + s.radius)));

const clearAlong = (job: ClearingJob, graph: readonly Curve[], before: Region, previousLevel: number): Clearing => {
  const cuts: Cut[] = [];
  const skipped: Point[] = [];
  let stock = before;
  const safeGraph = avoidWithHolder(job, graph, stock);
  const chain = reverseChain(safeGraph);
  const total = chain.reduce((s, c) => s + curveLength(c), 0);
  // one stretch at a time: a cut and its leads change what the next one meets
  let done = 0;
  let meeting = positionsInMetal(job, chain, stock);
  while (done < total) {
    const stretch = stretchesInside(sliceChain(chain, done, total), meeting, job.safe)[0];
    if (!stretch) break;
    const offset = done;
    done += stretch.to + 1e-6;
    const { pieces, skippedLength } = withoutRolls(stretch.pieces, job.noseRadius, meeting, job.safe);
    const cut = engage(job, chain, offset + stretch.from + skippedLength, pieces, stock, previousLevel);
    if (!cut) {
      skipped.push(stretch.pieces[0].from);
      continue;
    }
    cuts.push(cut.cut);
    stock = cut.stock;
    if (done < total - 0.05) meeting = positionsInMetal(job, sliceChain(chain, done, total), stock);
  }
  return { cuts, stock, skipped };
};

/** Reference positions near a chain at which the cutting shapes stand in metal by more than a touch. */
const positionsInMetal = (job: Pick<ClearingJob, 'cutting'>, chain: readonly Curve[], stock: Region): Region => {
  const points = flattenChain(chain, 0.01);
  if (points.length === 0) return [];
  const reach = bodyReach(job.cutting);
  const b = boundsOfPoints(points);
  const near = intersectRegions(stock, rectangle(b.minX - reach, b.minY - reach, b.maxX + reach, b.maxY + reach));
  return inflateRegion(unionRegions(...job.cutting.map((s) => overlapPositions(near, s))), -TOLERANCE.touch);
};

/**
 * A stretch that begins or ends in a roll of the nose round a corner begins or ends at the corner's own piece instead:
 * the straight lead takes the same metal, and compensation by the control needs a contour there.
 */
const withoutRolls = (
  pieces: readonly Curve[],
  noseRadius: number,
  meeting: Region,
  bridge: number,
): { pieces: readonly Curve[]; skippedLength: number } => {
  const isRoll = (c: Curve): boolean =>
    c.kind === 'arc' && !c.clockwise && noseRadius > 0 && Math.abs(arcRadius(c) - noseRadius) < 1e-6;
  let first = 0;
  let last = pieces.length;
  while (first < last - 1 && isRoll(pieces[first])) first++;
  while (last > first + 1 && isRoll(pieces[last - 1])) last--;
  if (first === 0 && last === pieces.length) return { pieces, skippedLength: 0 };
  // what remains may meet metal only further on: begin and end there
  const rest = pieces.slice(first, last);
  const contact = stretchesInside(rest, meeting, bridge);
  if (contact.length === 0) return { pieces, skippedLength: 0 };
  const from = contact[0].from;
  return {
    pieces: sliceChain(rest, from, contact[contact.length - 1].to),
    skippedLength: from + pieces.slice(0, first).reduce((s, c) => s + curveLength(c), 0),
  };
};

/** Lifts the path where the holder would meet stock that the insert has not yet taken. */
const avoidWithHolder = (job: ClearingJob, graph: readonly Curve[], stock: Region): readonly Curve[] => {
  if (job.holder.length === 0 || stock.length === 0 || graph.length === 0) return graph;
  const left = graph[0].from.x;
  const right = graph[graph.length - 1].to.x;
  const path = graphPoints(graph, 0.01);
  const swept = unionRegions(...job.cutting.map((s) => sweepAlong(s, path)));
  const remaining = subtractRegion(stock, swept);
  const hit = job.holder.some((h) => overlapsMoreThan(remaining, sweepAlong(h, path), TOLERANCE.collision));
  if (!hit) return graph;
  const blocked = unionRegions(
    ...job.holder.map((h) => overlapPositions(remaining, { points: h.points, radius: h.radius + 0.1 })),
  );
  const sides = blocked.flatMap((ring) => ring.map((p, i) => line(p, ring[(i + 1) % ring.length])));
  return clipGraph(upperEnvelope([...graph, ...sides]), left, right);
};

const engage = (
  job: ClearingJob,
  chain: readonly Curve[],
  from: number,
  pieces: readonly Curve[],
  stock: Region,
  previousLevel: number,
): { cut: Cut; stock: Region } | null => {
  const first = pieces[0].from;
  const last = pieces[pieces.length - 1].to;
  const all = [...job.cutting, ...job.holder];
  const metal = job.obstacles.length > 0 ? unionRegions(stock, job.obstacles) : stock;
  const isClear = (path: readonly Point[], within: Region, margin: number): boolean =>
    all.every(
      (s) =>
        !overlapsMoreThan(
          within,
          sweepAlong({ points: s.points, radius: s.radius + margin }, path),
          TOLERANCE.touch * 2,
        ),
    );
  const drop = (q: Point): boolean => q.y >= job.clearLevel || isClear([lift(q, job.clearLevel), q], metal, 0);

  const back = scale(tangentAt(pieces[0], 0), -1);
  const length = Math.max(job.safe, job.leadLength);
  const behind = sliceChain(chain, Math.max(0, from - length), from);
  const straight = (direction: Point, size: number): Curve[] => [line(add(first, scale(direction, size)), first)];
  const candidates: Curve[][] = [
    straight(back, length),
    ...(behind.reduce((s, c) => s + curveLength(c), 0) > 0.6 * length ? [behind] : []),
    straight(point(1, 0), length),
    straight(point(Math.SQRT1_2, Math.SQRT1_2), length),
    straight(back, length / 2),
  ];
  let leadIn: readonly Curve[] | null = null;
  for (const candidate of candidates) {
    const path = flattenChain(candidate, 0.01);
    if (isClear(path, metal, 0) && isClear([path[0]], metal, Math.min(0.2, job.safe / 5)) && drop(path[0])) {
      leadIn = candidate;
      break;
    }
  }
  if (!leadIn) {
    // plunge from above: feed straight down from outside the metal
    const top = plungeTop(first, all, metal, job);
    if (top === null) return null;
    leadIn = [line(point(first.x, top), first)];
    // what the plunge itself removes must lie above the floor: it does, the floor is a graph closed downward
  }
  const path = [...flattenChain(leadIn), ...pieces.flatMap((c) => flattenCurve(c))];
  const removed = unionRegions(...job.cutting.map((s) => sweepAlong(s, path)));
  const after = simplifyRegion(subtractRegion(stock, removed));
  const metalAfter = job.obstacles.length > 0 ? unionRegions(after, job.obstacles) : after;
  const r = job.retract;
  const outs: Curve[][] = [
    [line(last, add(last, point(r * Math.SQRT1_2, r * Math.SQRT1_2)))],
    [line(last, add(last, point(0, r)))],
    [line(last, add(last, scale(tangentAt(pieces[pieces.length - 1], 1), r)))],
  ];
  const rise = (q: Point): boolean => q.y >= job.clearLevel || isClear([q, lift(q, job.clearLevel)], metalAfter, 0);
  let leadOut = outs.find((o) => isClear([o[0].from, o[0].to], metalAfter, 0) && rise(o[0].to));
  if (!leadOut) {
    // go back the way it came, which is now free, to the place of the approach
    const home = [...reverseChain(pieces), ...reverseChain([...leadIn])];
    leadOut = home;
  }
  const low = Math.min(...path.map((p) => p.y));
  const depth = Number.isFinite(previousLevel)
    ? Math.max(0, previousLevel - low)
    : thicknessAlong(stock, removed, pieces);
  return { cut: { start: leadIn[0].from, leadIn, pieces, leadOut, depth }, stock: after };
};

/** Lowest height above `p` from which a straight feed down begins outside all metal, plus the safe distance. */
const plungeTop = (p: Point, shapes: readonly RoundedPolygon[], metal: Region, job: ClearingJob): number | null => {
  const column = (y: number, margin: number): boolean =>
    shapes.every(
      (s) =>
        !overlapsMoreThan(
          metal,
          sweepAlong({ points: s.points, radius: s.radius + margin }, [point(p.x, y)]),
          TOLERANCE.touch * 2,
        ),
    );
  for (let y = p.y; y <= job.clearLevel + 1e-9; y += Math.max(0.05, (job.clearLevel - p.y) / 60))
    if (column(y, 0)) {
      const top = Math.min(job.clearLevel, y + job.safe * 0.9);
      // the holder must not be the part that is in the way further up
      const free = shapes.every(
        (s) =>
          !overlapsMoreThan(metal, sweepAlong(s, [point(p.x, top), point(p.x, job.clearLevel)]), TOLERANCE.touch * 2),
      );
      const holderFree = job.holder.every(
        (s) => !overlapsMoreThan(metal, sweepAlong(s, [point(p.x, top), p]), TOLERANCE.collision),
      );
      return free && holderFree ? top : null;
    }
  return null;
};

/** Mean thickness of what a path takes off: area of the chip over the length of the path. */
const thicknessAlong = (stock: Region, removed: Region, pieces: readonly Curve[]): number => {
  const size = pieces.reduce((s, c) => s + curveLength(c), 0);
  return size < 1e-9 ? 0 : regionArea(intersectRegions(stock, removed)) / size;
};

/** Lowest reference height at which following the floor still meets stock, or null when nothing is left. */
export const lowestContact = (job: Pick<ClearingJob, 'floor' | 'stock' | 'cutting'>): number | null => {
  const chain = reverseChain(job.floor);
  const points = stretchesInside(chain, positionsInMetal(job, chain, job.stock), 0).flatMap((s) =>
    flattenChain(s.pieces, 0.01),
  );
  return points.length === 0 ? null : Math.min(...points.map((p) => p.y));
};

/** Depths of the reference point for a total from `top` surface to `bottom` surface. */
export const levelsBetween = (top: number, depths: readonly number[], noseRadius: number): number[] => {
  let v = top;
  return depths.map((d) => {
    v -= d;
    return v + noseRadius;
  });
};
