import {
  boundsOfCurves,
  bridgeHollows,
  type Curve,
  clipGraph,
  flattenChain,
  intersectRegions,
  line,
  mapRegion,
  overlapsMoreThan,
  type Point,
  point,
  type Region,
  type RoundedPolygon,
  rectangle,
  regionBounds,
  subtractRegion,
  sweepAlong,
  TOLERANCE,
  unionRegions,
  upperEnvelope,
} from '../geometry';
import type { Feed } from '../motion';
import { deepestPositions, withTrailingClearance } from '../tooling';
import type { Cut } from './clearing';
import { backThrough, type EventList } from './events';
import { curveThrough, FACE, type Frame, INNER, OUTER, regionThrough, rightward, shapeThrough } from './frame';
import type { Finding, PlanContext, Span } from './types';

/** Clearance kept between trailing edge and a falling contour, degrees. */
export const TRAILING_CLEARANCE = 3;

export const frameOf = (side: 'outer' | 'inner' | 'face'): Frame =>
  side === 'outer' ? OUTER : side === 'inner' ? INNER : FACE;

/** Everything of a turning operation seen in its frame. */
export interface View {
  readonly frame: Frame;
  readonly stock: Region;
  readonly obstacles: Region;
  readonly cutting: readonly RoundedPolygon[];
  readonly holder: readonly RoundedPolygon[];
  readonly noseRadius: number;
}

export const viewOf = (ctx: PlanContext, frame: Frame): View => {
  const both = (r: Region): Region =>
    frame.name === 'outer'
      ? r
      : unionRegions(
          r,
          mapRegion(r, (p) => point(p.x, -p.y), true),
        );
  return {
    frame,
    stock: regionThrough(frame, both(ctx.stock)),
    obstacles: regionThrough(frame, both(ctx.fixtures)),
    cutting: ctx.section.cutting.map((s) => shapeThrough(frame, s)),
    holder: ctx.section.holder.map((s) => shapeThrough(frame, s)),
    noseRadius: ctx.section.noseRadius,
  };
};

export interface SpanRange {
  /** Pieces of the span in the frame. */
  readonly minU: number;
  readonly maxU: number;
  readonly minV: number;
  readonly maxV: number;
}

/** Extent of the chosen elements in the frame; the whole side without a span. Null when the ids are gone. */
export const spanRange = (ctx: PlanContext, frame: Frame, side: 'outer' | 'inner', span: Span): SpanRange | null => {
  const elements = side === 'outer' ? ctx.part.outer : ctx.part.inner;
  let chosen = elements;
  if (span) {
    const a = elements.findIndex((e) => e.id === span.from);
    const b = elements.findIndex((e) => e.id === span.to);
    if (a < 0 || b < 0) return null;
    chosen = elements.slice(Math.min(a, b), Math.max(a, b) + 1);
  }
  if (chosen.length === 0) return null;
  const b = boundsOfCurves(chosen.map((e) => curveThrough(frame, e.curve)));
  return { minU: b.minX, maxU: b.maxX, minV: b.minY, maxV: b.maxY };
};

/**
 * The part as ground in the frame: its upper graph. With room behind, an edge that falls away at the very back (the
 * cutoff blade's work) is passed over level, and the ground is drawn on behind at that height.
 */
export const groundOf = (ctx: PlanContext, frame: Frame, behind: number): Curve[] => {
  const graph = upperEnvelope(ctx.part.boundary.map((c) => curveThrough(frame, c)));
  if (graph.length === 0 || behind <= 0) return graph;
  let crest = graph[0].from;
  for (const c of graph) {
    const top = c.to.y >= c.from.y ? c.to : c.from;
    if (top.y < crest.y - 1e-9) break;
    crest = top;
    if (Math.abs(c.to.y - c.from.y) < 1e-9 || c.to.y < c.from.y) break;
  }
  const back = graph[0].from.x - behind;
  const rest = clipGraph(graph, crest.x, graph[graph.length - 1].to.x);
  return crest.x - back > 1e-9 ? [line(point(back, crest.y), crest), ...rest] : rest;
};

export interface FloorRequest {
  readonly ground: readonly Curve[];
  readonly view: View;
  readonly allowanceU: number;
  readonly allowanceV: number;
  readonly undercuts: 'bridge' | 'enter';
  /** u range of the reference point. */
  readonly from: number;
  readonly to: number;
  /** Lowest surface that may be cut. */
  readonly bottom: number;
}

/** Deepest reference positions for a turning operation: part with allowance, fixtures, reach of insert and holder. */
export const floorOf = (r: FloorRequest): Curve[] => {
  let ground = [...r.ground];
  const wide = { from: r.from - 200, to: r.to + 200 };
  if (r.allowanceU > 0 || r.allowanceV > 0) {
    const same = Math.abs(r.allowanceU - r.allowanceV) < 1e-9;
    const shape: RoundedPolygon = same
      ? { points: [point(0, 0)], radius: r.allowanceU }
      : {
          points: [
            point(-r.allowanceU, -r.allowanceV),
            point(r.allowanceU, -r.allowanceV),
            point(r.allowanceU, r.allowanceV),
            point(-r.allowanceU, r.allowanceV),
          ],
          radius: 0,
        };
    const back = ground[0].from.x;
    ground = deepestPositions(ground, [shape], back, wide.to);
  }
  const insert = r.view.cutting.map((s) => withTrailingClearance(s, TRAILING_CLEARANCE));
  const holder = r.view.holder.map((s) => ({ points: s.points, radius: s.radius + 0.05 }));
  const fixtures = r.view.obstacles.flatMap((ring) => ring.map((p, i) => line(p, ring[(i + 1) % ring.length])));
  const fixed =
    fixtures.length > 0
      ? deepestPositions(
          rightward(fixtures),
          [...insert, ...holder].map((s) => ({ points: s.points, radius: s.radius + 0.5 })),
          r.from,
          r.to,
        )
      : [];
  const bedPositions = line(point(r.from, r.bottom + r.view.noseRadius), point(r.to, r.bottom + r.view.noseRadius));
  const positions = deepestPositions(ground, [...insert, ...holder], r.from, r.to);
  const floor = clipGraph(upperEnvelope([...positions, ...fixed, bedPositions]), r.from, r.to);
  return r.undercuts === 'bridge' ? clipGraph(bridgeHollows(floor), r.from, r.to) : floor;
};

/** Highest surface of a region between two u, or null when nothing is there. */
export const topOf = (region: Region, from: number, to: number): number | null => {
  const b = region.length > 0 ? regionBounds(region) : null;
  if (!b) return null;
  let best: number | null = null;
  for (const ring of region)
    for (let i = 0, j = ring.length - 1; i < ring.length; j = i++) {
      const p = ring[j];
      const q = ring[i];
      const low = Math.min(p.x, q.x);
      const high = Math.max(p.x, q.x);
      if (high < from || low > to) continue;
      const at = (x: number): number =>
        Math.abs(q.x - p.x) < 1e-12 ? Math.max(p.y, q.y) : p.y + ((q.y - p.y) * (x - p.x)) / (q.x - p.x);
      const y = Math.max(at(Math.max(low, from)), at(Math.min(high, to)));
      if (best === null || y > best) best = y;
    }
  return best;
};

export interface Tour {
  readonly frame: Frame;
  readonly cuts: readonly Cut[];
  readonly clearLevel: number;
  /** u of the place in front of the metal where the tool comes in and goes out. */
  readonly gate: number;
  readonly feed: (cut: Cut, index: number) => Feed;
  readonly view: View;
  readonly stock: Region;
}

/** Writes cuts as events with links: a straight way back where it is free, else over the clear level. */
export const tourCuts = (list: EventList, tour: Tour, wrap?: (cut: Cut, write: () => void) => void): void => {
  const { frame, clearLevel } = tour;
  const place = (p: Point): Point => frame.map(p);
  const all = [...tour.view.cutting, ...tour.view.holder];
  let stock = unionRegions(tour.stock, tour.view.obstacles);
  let at: Point | null = null;
  for (const [i, cut] of tour.cuts.entries()) {
    if (!at) {
      list.rapid(
        'approach',
        place(point(frame.name === 'outer' ? Math.max(tour.gate, cut.start.x) : tour.gate, clearLevel)),
      );
      list.rapid('approach', place(point(cut.start.x, clearLevel)));
    } else {
      const level: Point = point(cut.start.x, Math.max(at.y, cut.start.y));
      const free = (path: Point[]): boolean =>
        all.every(
          (s) =>
            !overlapsMoreThan(
              stock,
              sweepAlong({ points: s.points, radius: s.radius + 0.1 }, path),
              TOLERANCE.touch * 2,
            ),
        );
      if (level.y < clearLevel && cut.start.x >= at.x - 1e-9 && free([at, level, cut.start]))
        list.rapid('link', place(level));
      else {
        list.rapid('link', place(point(at.x, Math.max(clearLevel, at.y))));
        list.rapid('link', place(point(cut.start.x, Math.max(clearLevel, at.y))));
      }
    }
    list.rapid('approach', place(cut.start));
    const write = (): void => {
      list.feed('lead-in', backThrough(frame, cut.leadIn), tour.feed(cut, i));
      list.feed('cut', backThrough(frame, cut.pieces), tour.feed(cut, i));
    };
    if (wrap) wrap(cut, write);
    else write();
    list.feed('lead-out', backThrough(frame, cut.leadOut), tour.feed(cut, i));
    const path = flattenChain([...cut.leadIn, ...cut.pieces]);
    stock = subtractRegion(stock, unionRegions(...tour.view.cutting.map((s) => sweepAlong(s, path))));
    at = cut.leadOut.length > 0 ? cut.leadOut[cut.leadOut.length - 1].to : cut.pieces[cut.pieces.length - 1].to;
  }
  if (at) {
    if (at.y < clearLevel) list.rapid('retract', place(point(at.x, clearLevel)));
    list.rapid('retract', place(point(Math.max(tour.gate, at.x), Math.max(clearLevel, at.y))));
  }
};

export const note = (
  severity: Finding['severity'],
  code: string,
  operation: string | null,
  numbers: Finding['numbers'] = {},
  at: Point | null = null,
): Finding => ({
  severity,
  code,
  operation,
  numbers,
  at,
  event: null,
});

/** Metal of the bore on the tool's side of the axis, in the inner frame. */
const boreSide = (view: View): Region => {
  const b = regionBounds(view.stock);
  return intersectRegions(view.stock, rectangle(b.minX - 1, b.minY - 1, b.maxX + 1, 0));
};

/**
 * Surface from which the levels go down: outside the highest metal in range; in a bore the wall of the hole where the
 * floor lets the tool in. `solid` says that metal stands in the way of the bar there: the hole is missing or too shallow.
 */
export const startSurface = (
  view: View,
  floor: readonly Curve[],
  from: number,
  to: number,
  stockFront: number,
): { top: number | null; solid: boolean } => {
  if (view.frame.name !== 'inner')
    return { top: topOf(view.stock, from - view.noseRadius, Math.min(to, stockFront)), solid: false };
  const metal = boreSide(view);
  const mouth = topOf(metal, stockFront - 0.5, stockFront);
  if (mouth === null) return { top: null, solid: false };
  if (mouth > -0.05) return { top: mouth, solid: true };
  let reach = to;
  for (const c of [...floor].reverse()) {
    if (Math.min(c.from.y, c.to.y) > mouth + view.noseRadius) break;
    reach = c.from.y > mouth + view.noseRadius ? c.to.x : c.from.x;
  }
  const top = topOf(metal, Math.max(reach, from), Math.min(to, stockFront)) ?? mouth;
  return { top, solid: top > mouth + 0.5 };
};

/** Room in the bore for the bar: reference level at which the tool travels inside, or null with the gap that is missing. */
export const innerClearLevel = (
  view: View,
  boreSurface: number,
  safe: number,
): { level: number | null; missing: number } => {
  // frame: metal of the bore lies below −radius; the far wall lies above +radius
  const radius = -boreSurface;
  const bodyTop = Math.max(...view.holder.flatMap((s) => s.points.map((p) => p.y + s.radius)));
  const highest = radius - 0.2 - bodyTop;
  const wanted = boreSurface + view.noseRadius + Math.min(safe, 1);
  const least = boreSurface + view.noseRadius + 0.15;
  if (highest < least) return { level: null, missing: least - highest };
  return { level: Math.min(wanted, highest), missing: 0 };
};
