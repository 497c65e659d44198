import {
  type Arc,
  add,
  arc,
  boundsOfCurves,
  bridgeHollows,
  type Curve,
  clipGraph,
  distance,
  grownBy,
  joinGraph,
  line,
  type Point,
  point,
  type RoundedPolygon,
  type Surface,
  scale,
  subtract,
  unit,
  upperEnvelope,
} from '../geometry';
import type { Feed } from '../motion';
import type { Element } from '../part';
import { deepestPositions, withTrailingClearance } from '../tooling';
import type { Cut } from './clearingJob';
import { backThrough, type EventList, perRev } from './events';
import { curveInto, FRAMES, type Frame, inwardOf, rightward, shapeInto, turnedRound } from './frame';
import type { Seen } from './types';

/** Clearance kept between trailing edge and a falling contour, degrees. */
export const TRAILING_CLEARANCE = 3;
/** Longest edge along Z at the part's back that the cutoff blade breaks, mm. */
export const MOST_EDGE = 3;
/** Room between the tool and what holds the work, mm. */
const FIXTURE_ROOM = 0.5;
/** How deep a trailing edge may dip into metal that stands beside the path, mm. */
const DIP = 0.6;

/** The tool's shapes in the frame. */
export interface View {
  readonly frame: Frame;
  readonly cutting: readonly RoundedPolygon[];
  readonly holder: readonly RoundedPolygon[];
  readonly noseRadius: number;
}

export const viewOf = (seen: Seen): View => {
  const frame = FRAMES[seen.frame];
  return {
    frame,
    cutting: seen.section.cutting.map((s) => shapeInto(frame, s)),
    holder: seen.section.holder.map((s) => shapeInto(frame, s)),
    noseRadius: seen.section.noseRadius,
  };
};

export interface SpanRange {
  /** Extent of the span in the frame. */
  readonly minU: number;
  readonly maxU: number;
  readonly minV: number;
  readonly maxV: number;
}

/** Extent of elements in the frame. */
export const rangeOf = (elements: readonly Element[], frame: Frame): SpanRange => {
  const b = boundsOfCurves(elements.map((e) => curveInto(frame, e.curve)));
  return { minU: b.minX, maxU: b.maxX, minV: b.minY, maxV: b.maxY };
};

/** Extent of the chosen elements in the frame. Null when the ids are gone. */
export const spanRange = (seen: Seen, frame: Frame): SpanRange | null => {
  const { span } = seen.contour;
  return span && span.length > 0 ? rangeOf(span, frame) : null;
};

/**
 * The part as ground in the frame: its upper graph. With room behind, an edge that falls away at the very back (the
 * cutoff blade's work) is passed over level, and the ground is drawn on behind at that height.
 */
export const groundOf = (seen: Seen, frame: Frame, behind: number): Curve[] => {
  // what is behind is behind for a tool of either hand: it is drawn on toward the chuck, then mirrored
  const base = inwardOf(frame);
  const graph = upperEnvelope(seen.contour.boundary.map((c) => curveInto(base, c)));
  // a short edge at the back of the outside is the cutoff blade's work; a long fall, and one in a bore, is this tool's
  const edge = base.bore ? 0 : Math.min(MOST_EDGE, seen.cutoffWidth);
  const drawn = behind > 0 ? drawnOn(graph, behind, edge) : graph;
  return base === frame ? drawn : turnedRound(drawn);
};

const drawnOn = (graph: readonly Curve[], behind: number, edge: number): Curve[] => {
  if (graph.length === 0) return [];
  let crest = graph[0].from;
  for (const c of graph) {
    const top = c.to.y >= c.from.y ? c.to : c.from;
    if (top.y < crest.y - 1e-9) break;
    crest = top;
    if (Math.abs(c.to.y - c.from.y) < 1e-9 || c.to.y < c.from.y) break;
  }
  // where the fall begins: the first place as high as the crest
  const brink = graph.find((c) => c.from.y >= crest.y - 1e-9)?.from.x ?? crest.x;
  if (brink - graph[0].from.x > edge + 1e-9) crest = graph[0].from;
  const back = graph[0].from.x - behind;
  const rest = clipGraph(graph, crest.x, graph[graph.length - 1].to.x);
  // a wall that stands right at the crest is lost by the clipping and comes back by the joining
  return joinGraph(crest.x - back > 1e-9 ? [line(point(back, crest.y), crest), ...rest] : rest);
};

/** A first element that falls less than this for each mm is no slope to come in along. */
const LEAST_SLOPE = 0.05;

/**
 * The lowest reference positions over a span that begins with a round: the nose goes down along it until it has touched its
 * end, which may stand upright. Null where it ends level, hollow, or hanging over.
 */
const roundBed = (round: Arc, noseRadius: number, low: number, from: number, to: number): Curve[] | null => {
  const radius = distance(round.centre, round.to);
  const out = scale(subtract(round.to, round.centre), 1 / radius);
  const touching = add(round.to, scale(out, noseRadius));
  if (!round.clockwise || out.y < -1e-9 || touching.y > low - 1e-6) return null;
  const { centre } = round;
  const foot = centre.x + Math.sqrt(Math.max(0, (radius + noseRadius) ** 2 - (low - centre.y) ** 2));
  if (foot <= from || touching.x > to + 1e-6) return null;
  const down = [line(point(from, low), point(foot, low)), arc(point(foot, low), touching, centre, true)];
  return touching.x < to - 1e-6 ? [...down, line(touching, point(to, touching.y))] : down;
};

/**
 * The lowest reference positions over a span: level with its lowest place, and where it begins with a slope (a chamfer) the
 * slope drawn on to the front, so that a pass comes in along it and not level with its foot.
 */
export const bedOf = (
  seen: Seen,
  frame: Frame,
  range: SpanRange,
  noseRadius: number,
  from: number,
  to: number,
): Curve[] => {
  const low = range.minV + noseRadius;
  const level = [line(point(from, low), point(to, low))];
  const first = rightward((seen.contour.span ?? []).map((e) => curveInto(frame, e.curve))).reduce<Curve | null>(
    (best, c) => (!best || c.to.x > best.to.x ? c : best),
    null,
  );
  if (!first || first.to.y > range.minV + 1e-6) return level;
  if (first.kind === 'arc') return roundBed(first, noseRadius, low, from, to) ?? level;
  const run = first.to.x - first.from.x;
  const fall = (first.from.y - first.to.y) / run;
  if (!(fall > LEAST_SLOPE)) return level;
  const along = unit(subtract(first.to, first.from));
  const touching = add(first.to, scale(point(-along.y, along.x), noseRadius));
  // where the slope, as the nose follows it, comes down to the level
  const foot = touching.x - (low - touching.y) / fall;
  const end = touching.x + along.x * (2 * noseRadius + 1);
  if (foot <= from || foot >= to) return level;
  // beside a wall nothing of the span lies
  if (run < 1e-9) return [line(point(from, low), point(foot, low))];
  const heightOf = (x: number): number => touching.y - (x - touching.x) * fall;
  const reach = Math.min(end, to);
  const slope = [line(point(from, low), point(foot, low)), line(point(foot, low), point(reach, heightOf(reach)))];
  return reach < to ? [...slope, line(point(reach, heightOf(reach)), point(to, heightOf(reach)))] : slope;
};

export interface FloorRequest {
  /** What stays of the part, with its allowance. */
  readonly kept: readonly Curve[];
  readonly view: View;
  readonly metal: Surface;
  readonly fixtures: Surface | null;
  readonly undercuts: 'bridge' | 'enter';
  /** u range of the reference point. */
  readonly from: number;
  readonly to: number;
  /** Reference positions below which nothing of the span lies, with so much more left all round. */
  readonly bed: (more: number) => readonly Curve[];
  /** Reference positions that were set as a limit. */
  readonly limit?: readonly Curve[];
}

/** Points joined by lines, one after another. */
export const linesOf = (points: readonly Point[]): Curve[] => points.slice(1).map((p, i) => line(points[i], p));

/** A ground with allowances along u and v on it, as far as `until`. */
export const withAllowance = (
  ground: readonly Curve[],
  allowanceU: number,
  allowanceV: number,
  until: number,
): readonly Curve[] => {
  if (ground.length === 0 || (allowanceU <= 0 && allowanceV <= 0)) return ground;
  const shape: RoundedPolygon =
    Math.abs(allowanceU - allowanceV) < 1e-9
      ? { points: [point(0, 0)], radius: allowanceU }
      : {
          points: [
            point(-allowanceU, -allowanceV),
            point(allowanceU, -allowanceV),
            point(allowanceU, allowanceV),
            point(-allowanceU, allowanceV),
          ],
          radius: 0,
        };
  return deepestPositions(ground, [shape], ground[0].from.x, until);
};

/**
 * Deepest reference positions for a turning operation, with so much more left all round (mm): part with allowance, fixtures,
 * reach of insert and holder.
 */
export const floorsFor = (r: FloorRequest): ((more: number) => Curve[]) => {
  const insert = r.view.cutting.map((s) => withTrailingClearance(s, TRAILING_CLEARANCE));
  const all = [...insert, ...grownBy(r.view.holder, 0.05)];
  const fixed = linesOf(r.fixtures?.upperPoints(0, r.from - 300, r.to + 300) ?? []);
  // metal that stays standing beside the range is a wall for the trailing edge; across a bore that is the far wall, which
  // turns with the near one and is looked at as it stands at each cut
  const standing =
    r.view.frame.name === 'inner-across' ? [] : r.metal.upperPoints(0.05, r.to + r.view.noseRadius, r.to + 300);
  const beside = linesOf(standing).map((c) => line(point(c.from.x, c.from.y - DIP), point(c.to.x, c.to.y - DIP)));
  const round = [
    ...deepestPositions(rightward(fixed), grownBy(all, FIXTURE_ROOM), r.from, r.to),
    ...deepestPositions(rightward(beside), all, r.from, r.to),
  ];
  const on = touchingFor(r.kept, all, r.from, r.to);
  return (more) => {
    const floor = clipGraph(upperEnvelope([...on(more), ...round, ...r.bed(more), ...(r.limit ?? [])]), r.from, r.to);
    return r.undercuts === 'bridge' ? clipGraph(bridgeHollows(floor), r.from, r.to) : floor;
  };
};

/**
 * Deepest positions over a ground with so much more left all round. Metal left round the part is room left round the tool,
 * and room round the tool is as much room round all the places that it touches from: those are worked out once.
 */
const touchingFor = (
  ground: readonly Curve[],
  shapes: readonly RoundedPolygon[],
  from: number,
  to: number,
): ((more: number) => readonly Curve[]) => {
  const touching = (a: number, b: number): Curve[] => deepestPositions(ground, shapes, a, b);
  const own = touching(from, to);
  let reached = 0;
  let wide = own;
  return (more) => {
    if (more <= 0) return own;
    if (more > reached) {
      reached = 2 * more;
      wide = joinGraph([...touching(from - reached, from), ...own, ...touching(to, to + reached)]);
    }
    return deepestPositions(wide, [{ points: [point(0, 0)], radius: more }], from, to);
  };
};

/** Feed of a way in and out that is aslant and cuts nothing. */
const ASLANT: Feed = perRev(0.5);

export interface Tour {
  readonly frame: Frame;
  readonly cuts: readonly Cut[];
  readonly clearLevel: number;
  /** u of the place in front of the metal where the tool comes in and goes out. */
  readonly gate: number;
  /** Radius above all metal, where ways in and out are aslant. */
  readonly over?: number | undefined;
  readonly feed: (cut: Cut, index: number) => Feed;
  /** Feed of each piece of a cut, where they differ. */
  readonly feedsOf?: (pieces: readonly Curve[]) => readonly Feed[];
  /** Speed of each piece, where they differ, and how another one is set. */
  readonly speedsOf?: (pieces: readonly Curve[]) => readonly number[];
  readonly setSpeed?: (value: number) => void;
}

const sameFeed = (a: Feed | undefined, b: Feed | undefined): boolean => a?.mode === b?.mode && a?.value === b?.value;

/** Writes cuts as events with links: a straight way back where it is free, else over the clear level. */
export const tourCuts = (list: EventList, tour: Tour, wrap?: (cut: Cut, write: () => void) => void): void => {
  const { frame, clearLevel } = tour;
  const place = (p: Point): Point => frame.out(p);
  let at: Point | null = null;
  let speed: number | null = null;
  const runAt = (value: number | undefined): void => {
    if (value === undefined || value === speed) return;
    speed = value;
    tour.setSpeed?.(value);
  };
  const over = tour.over ?? 0;
  // a rapid aslant would bend: the slides run each at its own speed
  const outAslant = (from: Point): void => {
    const above = place(point(from.x, clearLevel));
    list.feed('lead-out', [line(place(from), above)], ASLANT);
    list.rapid('retract', point(above.x, over));
  };
  for (const [i, cut] of tour.cuts.entries()) {
    if (frame.slanted) {
      if (at) outAslant(at);
      const above = place(point(cut.start.x, clearLevel));
      list.rapid('approach', point(above.x, over));
      list.rapid('approach', above);
      list.feed('lead-in', [line(above, place(cut.start))], ASLANT);
    } else if (!at) {
      list.rapid('approach', place(point(tour.gate, clearLevel)));
      list.rapid('approach', place(point(cut.start.x, clearLevel)));
    } else if (cut.link === 'direct') {
      // one axis after the other: slides that run at their own speeds would cut the corner
      const level = Math.max(at.y, cut.start.y);
      if (level > at.y) list.rapid('link', place(point(at.x, level)));
      list.rapid('link', place(point(cut.start.x, level)));
    } else {
      list.rapid('link', place(point(at.x, Math.max(clearLevel, at.y))));
      list.rapid('link', place(point(cut.start.x, Math.max(clearLevel, at.y))));
    }
    if (!frame.slanted) list.rapid('approach', place(cut.start));
    const speeds = tour.speedsOf?.(cut.pieces);
    runAt(speeds?.[0]);
    const write = (): void => {
      list.feed('lead-in', backThrough(frame, cut.leadIn), tour.feed(cut, i));
      const feeds = tour.feedsOf?.(cut.pieces);
      if (feeds || speeds)
        for (let k = 0, end = 0; k < cut.pieces.length; k = end) {
          // as far as neither changes
          for (end = k + 1; end < cut.pieces.length; end++)
            if (speeds?.[end] !== speeds?.[k] || !sameFeed(feeds?.[end], feeds?.[k])) break;
          runAt(speeds?.[k]);
          list.feed('cut', backThrough(frame, cut.pieces.slice(k, end)), feeds?.[k] ?? tour.feed(cut, i));
        }
      else list.feed('cut', backThrough(frame, cut.pieces), tour.feed(cut, i));
    };
    if (wrap) wrap(cut, write);
    else write();
    list.feed('lead-out', backThrough(frame, cut.leadOut), tour.feed(cut, i));
    at = cut.leadOut.length > 0 ? cut.leadOut[cut.leadOut.length - 1].to : cut.pieces[cut.pieces.length - 1].to;
  }
  if (at && frame.slanted) outAslant(at);
  else if (at) {
    if (at.y < clearLevel) list.rapid('retract', place(point(at.x, clearLevel)));
    const out = frame.outward ? Math.min(tour.gate, at.x) : Math.max(tour.gate, at.x);
    list.rapid('retract', place(point(out, Math.max(clearLevel, at.y))));
  }
};
