import {
  add,
  arc,
  arcParameter,
  type Curve,
  clipGraph,
  convexHull,
  cross,
  fromAngle,
  line,
  notAbove,
  notBelow,
  offsetCurve,
  onceFor,
  type Point,
  perpendicular,
  point,
  type RoundedPolygon,
  radians,
  reverseCurve,
  scale,
  splitCurve,
  subtract,
  tangentAt,
  turningParameters,
  unit,
  upperEnvelope,
} from '../geometry';

/**
 * Steepest path a trailing edge can follow: its own angle less a clearance. The extra wedge is only for reach, it never
 * removes metal. `degrees` is taken off the angle between the trailing edge and the feed direction.
 */
export const withTrailingClearance = (insert: RoundedPolygon, degrees: number): RoundedPolygon => {
  const tail = insert.points.reduce<Point | null>((best, p) => {
    if (p.x <= 1e-9 || p.y < -1e-9) return best;
    return !best || Math.atan2(p.y, p.x) < Math.atan2(best.y, best.x) ? p : best;
  }, null);
  if (!tail) return insert;
  const angle = Math.max(0, Math.atan2(tail.y, tail.x) - radians(degrees));
  return {
    points: convexHull([...insert.points, fromAngle(angle, Math.hypot(tail.x, tail.y))]),
    radius: insert.radius,
  };
};

/** Corners of a convex polygon that can touch something below it, left to right. */
const lowerChain = onceFor((shape: RoundedPolygon): readonly Point[] => {
  const hull = convexHull(shape.points);
  if (hull.length < 2) return [...shape.points.slice(0, 1)];
  const chain: Point[] = [];
  // a counter-clockwise hull runs its lower side toward +x
  for (let i = 0; i < hull.length; i++) {
    const a = hull[i];
    const b = hull[(i + 1) % hull.length];
    if (b.x - a.x > 1e-12) {
      if (chain.length === 0) chain.push(a);
      chain.push(b);
    }
  }
  const first = chain.reduce((best, p, i) => (p.x < chain[best].x ? i : best), 0);
  return chain.length === 0
    ? [hull.reduce((low, p) => (p.y < low.y ? p : low))]
    : [...chain.slice(first), ...chain.slice(0, first)].filter((p, i, all) => i === 0 || p.x > all[i - 1].x);
});

/**
 * A corner of the ground at which something above it can touch: its place, and the outermost directions, away from the
 * metal, in which that then lies. A hollow corner has none.
 */
interface Corner {
  readonly at: Point;
  readonly left: Point;
  readonly right: Point;
}

/** Ends of pieces that lie no further apart are one corner, mm. */
const SAME = 1e-9;
/** A corner that is hollow by no more than this is none, radians: both pieces are one straight there. */
const FLUSH = 1e-6;
const LEFT = point(-1, 0);
const RIGHT = point(1, 0);

/** What one corner of the shape's lower side touches: parallels of the ground's pieces and rounds about its corners. */
const cornerPositions = (
  ground: readonly Curve[],
  corners: readonly Corner[],
  corner: Point,
  radius: number,
): Curve[] => {
  const result: Curve[] = [];
  for (const c of ground) {
    if (Math.abs(c.to.x - c.from.x) < 1e-9) continue;
    const shifted = radius > 0 ? offsetCurve(c, radius) : c;
    if (shifted) result.push(move(shifted, corner));
  }
  if (radius > 0)
    for (const { at, left, right } of corners) {
      if (right.x - left.x < 1e-12) continue;
      const centre = subtract(at, corner);
      result.push(arc(add(centre, scale(left, radius)), add(centre, scale(right, radius)), centre, true));
    }
  return result;
};

/** What one edge of the shape's lower side touches: the edge swung over the ground's corners and its arcs. */
const edgePositions = (
  ground: readonly Curve[],
  corners: readonly Corner[],
  a: Point,
  b: Point,
  radius: number,
): Curve[] => {
  const result: Curve[] = [];
  const direction = unit(subtract(b, a));
  const up = perpendicular(direction);
  const push = scale(up, radius);
  const swing = (w: Point): Curve => line(add(subtract(w, b), push), add(subtract(w, a), push));
  for (const { at, left, right } of corners)
    if (cross(left, up) < FLUSH && cross(up, right) < FLUSH) result.push(swing(at));
  // an arc of the ground can touch the edge with its inside where their directions agree
  for (const c of ground) {
    if (c.kind !== 'arc' || !c.clockwise) continue;
    const t = arcParameter(c, add(c.centre, up));
    if (t > 0 && t < 1 && Math.abs(cross(tangentAt(c, t), direction)) < 1e-6)
      result.push(swing(add(c.centre, scale(up, Math.hypot(c.from.x - c.centre.x, c.from.y - c.centre.y)))));
  }
  return result;
};

const move = (c: Curve, by: Point): Curve =>
  c.kind === 'line'
    ? line(subtract(c.from, by), subtract(c.to, by))
    : arc(subtract(c.from, by), subtract(c.to, by), subtract(c.centre, by), c.clockwise);

/** Graph pieces toward +x, arcs split where they turn back. */
const asGraph = (ground: readonly Curve[]): Curve[] =>
  ground
    .flatMap((c) => (c.kind === 'line' ? [c] : splitCurve(c, turningParameters(c, 'x'))))
    .map((c) => (c.to.x >= c.from.x ? c : reverseCurve(c)));

const touches = (p: Point, q: Point): boolean => Math.abs(p.x - q.x) < SAME && Math.abs(p.y - q.y) < SAME;

/** Corners of a graph; where a piece does not go on in the next one it ends in the open. */
const cornersOf = (graph: readonly Curve[]): Corner[] => {
  const corners: Corner[] = [];
  const pieces = graph.filter((c) => !touches(c.from, c.to));
  pieces.forEach((c, i) => {
    const before = pieces[i - 1];
    const joins = before !== undefined && touches(before.to, c.from);
    const ahead = tangentAt(c, 0);
    const right = perpendicular(ahead);
    if (joins) {
      const behind = tangentAt(before, 1);
      // a turn to the left is a hollow
      if (cross(behind, ahead) < FLUSH) corners.push({ at: c.from, left: perpendicular(behind), right });
    } else corners.push({ at: c.from, left: LEFT, right });
    const after = pieces[i + 1];
    if (!after || !touches(c.to, after.from))
      corners.push({ at: c.to, left: perpendicular(tangentAt(c, 1)), right: RIGHT });
  });
  return corners;
};

/** Box of a curve that may be larger than the curve by an arc's bulge, never smaller. */
const roughBox = (c: Curve): { x0: number; x1: number; top: number } => {
  const x0 = Math.min(c.from.x, c.to.x);
  const x1 = Math.max(c.from.x, c.to.x);
  return { x0, x1, top: notAbove(c) };
};

/** Least height of a graph over an interval, or −∞ where it has gaps. */
const lowestOver = (graph: readonly Curve[]): ((from: number, to: number) => number) => {
  const pieces = graph.filter((c) => c.to.x - c.from.x > 1e-9);
  const low = pieces.map((c) => (c.kind === 'arc' && c.clockwise ? Math.min(c.from.y, c.to.y) : notBelow(c)));
  return (from, to) => {
    let a = 0;
    let b = pieces.length;
    while (a < b) {
      const m = (a + b) >> 1;
      if (pieces[m].to.x <= from) a = m + 1;
      else b = m;
    }
    let least = Infinity;
    let reached = from;
    for (let i = a; i < pieces.length && pieces[i].from.x < to; i++) {
      if (pieces[i].from.x > reached + 1e-6) return -Infinity;
      if (low[i] < least) least = low[i];
      reached = pieces[i].to.x;
    }
    return reached < to - 1e-6 ? -Infinity : least;
  };
};

/**
 * The deepest allowed positions of a tool's reference point over a ground (graph, closed downward), for x in [from, to]:
 * the boundary of ground ⊕ (−shape). Every candidate is a touching position, so their upper envelope is the boundary.
 * Exact lines and arcs. The lowest corner of the first shape usually rules: what lies wholly below its positions is left out
 * before the envelope is made.
 */
export const deepestPositions = (
  ground: readonly Curve[],
  shapes: readonly RoundedPolygon[],
  from: number,
  to: number,
): Curve[] => {
  const graph = asGraph(ground);
  const corners = cornersOf(graph);
  const inRange = (c: Curve): boolean => Math.max(c.from.x, c.to.x) > from && Math.min(c.from.x, c.to.x) < to;
  const lowest = (chain: readonly Point[]): number => chain.reduce((best, p, i) => (p.y < chain[best].y ? i : best), 0);
  const chains = shapes.map(lowerChain);
  if (shapes.length === 0) return [];
  const ruling = lowest(chains[0]);
  const first = cornerPositions(graph, corners, chains[0][ruling], shapes[0].radius).filter(inRange);
  const envelope = upperEnvelope(first);
  const least = lowestOver(envelope);
  const rest: Curve[] = [];
  const take = (candidates: readonly Curve[]): void => {
    for (const c of candidates) {
      if (!inRange(c)) continue;
      const b = roughBox(c);
      if (b.top > least(Math.max(b.x0, from), Math.min(b.x1, to)) - 1e-9) rest.push(c);
    }
  };
  shapes.forEach((shape, k) => {
    const chain = chains[k];
    chain.forEach((corner, i) => {
      if (k > 0 || i !== ruling) take(cornerPositions(graph, corners, corner, shape.radius));
    });
    for (let i = 1; i < chain.length; i++) take(edgePositions(graph, corners, chain[i - 1], chain[i], shape.radius));
  });
  return clipGraph(rest.length > 0 ? upperEnvelope([...envelope, ...rest]) : envelope, from, to);
};
