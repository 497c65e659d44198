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
  offsetCurve,
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
const lowerChain = (shape: RoundedPolygon): Point[] => {
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
};

const upperHalf = (centre: Point, radius: number): Curve =>
  arc(point(centre.x - radius, centre.y), point(centre.x + radius, centre.y), centre, true);

/**
 * Lowest reference positions of a convex rounded shape above a ground given as a graph (left to right, closed downward):
 * the boundary of ground ⊕ (−shape). Every candidate is a touching position, so their upper envelope is the boundary:
 * parallels of the ground's pieces at the radius, half circles about its corners, and edges of the shape swung over them.
 */
const candidates = (ground: readonly Curve[], shape: RoundedPolygon): Curve[] => {
  const result: Curve[] = [];
  const chain = lowerChain(shape);
  const corners: Point[] = [];
  for (const c of ground) corners.push(c.from, c.to);
  for (const k of chain) {
    for (const c of ground) {
      if (Math.abs(c.to.x - c.from.x) < 1e-9) continue;
      const shifted = shape.radius > 0 ? offsetCurve(c, shape.radius) : c;
      if (shifted) result.push(move(shifted, k));
    }
    if (shape.radius > 0) for (const w of corners) result.push(upperHalf(subtract(w, k), shape.radius));
  }
  for (let i = 1; i < chain.length; i++) {
    const a = chain[i - 1];
    const b = chain[i];
    const direction = unit(subtract(b, a));
    const push = scale(perpendicular(direction), shape.radius);
    const swing = (w: Point): Curve => line(add(subtract(w, b), push), add(subtract(w, a), push));
    for (const w of corners) result.push(swing(w));
    // an arc of the ground can touch the edge with its inside where their directions agree
    for (const c of ground) {
      if (c.kind !== 'arc' || !c.clockwise) continue;
      const up = perpendicular(direction);
      const t = arcParameter(c, add(c.centre, up));
      if (t > 0 && t < 1 && Math.abs(cross(tangentAt(c, t), direction)) < 1e-6)
        result.push(swing(add(c.centre, scale(up, Math.hypot(c.from.x - c.centre.x, c.from.y - c.centre.y)))));
    }
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
    .flatMap((c) => splitCurve(c, turningParameters(c, 'x')))
    .map((c) => (c.to.x >= c.from.x ? c : reverseCurve(c)));

/**
 * The deepest allowed positions of a tool's reference point over a ground (graph, closed downward), for x in [from, to].
 * Exact lines and arcs; cost O(n log n) in candidates (pieces × corners of the shapes).
 */
export const deepestPositions = (
  ground: readonly Curve[],
  shapes: readonly RoundedPolygon[],
  from: number,
  to: number,
): Curve[] => {
  const graph = asGraph(ground);
  const all = shapes.flatMap((s) => candidates(graph, s));
  return clipGraph(upperEnvelope(all), from, to);
};
