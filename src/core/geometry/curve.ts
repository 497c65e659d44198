import {
  add,
  cross,
  distance,
  dot,
  fromAngle,
  length,
  lerp,
  type Point,
  perpendicular,
  point,
  scale,
  subtract,
  unit,
} from './point';
import { TOLERANCE } from './tolerance';

/** A straight piece from one point to another. */
export interface Line {
  readonly kind: 'line';
  readonly from: Point;
  readonly to: Point;
}

/** A circular piece of less than a full turn about `centre`, seen with x to the right and y up. */
export interface Arc {
  readonly kind: 'arc';
  readonly from: Point;
  readonly to: Point;
  readonly centre: Point;
  readonly clockwise: boolean;
}

export type Curve = Line | Arc;

export const line = (from: Point, to: Point): Line => ({ kind: 'line', from, to });
export const arc = (from: Point, to: Point, centre: Point, clockwise: boolean): Arc => ({
  kind: 'arc',
  from,
  to,
  centre,
  clockwise,
});

export const arcRadius = (a: Arc): number => distance(a.from, a.centre);
const angleAt = (a: Arc, p: Point): number => Math.atan2(p.y - a.centre.y, p.x - a.centre.x);

/** Signed sweep in radians: positive counter-clockwise, in (−2π, 2π). Coincident ends give 0. */
export const arcSweep = (a: Arc): number => {
  if (distance(a.from, a.to) < TOLERANCE.samePoint) return 0;
  let sweep = angleAt(a, a.to) - angleAt(a, a.from);
  if (a.clockwise) {
    if (sweep > 0) sweep -= 2 * Math.PI;
  } else if (sweep < 0) sweep += 2 * Math.PI;
  return sweep;
};

export const curveLength = (c: Curve): number =>
  c.kind === 'line' ? distance(c.from, c.to) : Math.abs(arcSweep(c)) * arcRadius(c);

/** Point at parameter t in 0..1, proportional to length. */
export const pointAt = (c: Curve, t: number): Point => {
  if (c.kind === 'line') return lerp(c.from, c.to, t);
  if (t <= 0) return c.from;
  if (t >= 1) return c.to;
  return add(c.centre, fromAngle(angleAt(c, c.from) + arcSweep(c) * t, arcRadius(c)));
};

/** Unit tangent in the direction of travel at parameter t. */
export const tangentAt = (c: Curve, t: number): Point => {
  if (c.kind === 'line') return unit(subtract(c.to, c.from));
  const angle = angleAt(c, c.from) + arcSweep(c) * t;
  const ccw = fromAngle(angle + Math.PI / 2);
  return c.clockwise ? scale(ccw, -1) : ccw;
};

/** Unit normal on the left of travel at parameter t. */
export const leftNormalAt = (c: Curve, t: number): Point => perpendicular(tangentAt(c, t));

/** Parameter of the point of the arc's circle that lies in direction `p`; may fall outside 0..1. */
export const arcParameter = (a: Arc, p: Point): number => {
  const sweep = arcSweep(a);
  if (sweep === 0) return 0;
  let delta = angleAt(a, p) - angleAt(a, a.from);
  const turn = 2 * Math.PI;
  // choose the representative nearest to the arc's own middle
  delta -= turn * Math.round((delta - sweep / 2) / turn);
  return delta / sweep;
};

/** Parameter of the foot of `p` on the unbounded carrier of the curve. */
export const parameterOf = (c: Curve, p: Point): number => {
  if (c.kind === 'arc') return arcParameter(c, p);
  const d = subtract(c.to, c.from);
  const l2 = dot(d, d);
  return l2 === 0 ? 0 : dot(subtract(p, c.from), d) / l2;
};

/** The piece between parameters t0 < t1. */
export const trimCurve = (c: Curve, t0: number, t1: number): Curve => {
  const from = pointAt(c, t0);
  const to = pointAt(c, t1);
  return c.kind === 'line' ? line(from, to) : arc(from, to, c.centre, c.clockwise);
};

export const reverseCurve = (c: Curve): Curve =>
  c.kind === 'line' ? line(c.to, c.from) : arc(c.to, c.from, c.centre, !c.clockwise);
export const reverseChain = (chain: readonly Curve[]): Curve[] => chain.map(reverseCurve).reverse();

export const translateCurve = (c: Curve, by: Point): Curve =>
  c.kind === 'line'
    ? line(add(c.from, by), add(c.to, by))
    : arc(add(c.from, by), add(c.to, by), add(c.centre, by), c.clockwise);

/** Maps every point; `mirrors` says that the map turns the plane over, so that arcs change their sense. */
export const mapCurve = (c: Curve, map: (p: Point) => Point, mirrors: boolean): Curve =>
  c.kind === 'line'
    ? line(map(c.from), map(c.to))
    : arc(map(c.from), map(c.to), map(c.centre), c.clockwise !== mirrors);

/** Least distance from a point to the curve. */
export const distanceToCurve = (c: Curve, p: Point): number => {
  const t = parameterOf(c, p);
  if (t <= 0) return distance(p, c.from);
  if (t >= 1) return distance(p, c.to);
  if (c.kind === 'line') return Math.abs(cross(unit(subtract(c.to, c.from)), subtract(p, c.from)));
  return Math.abs(distance(p, c.centre) - arcRadius(c));
};

/** The angle over which a chord lies `chord` (mm) off a round at the most, radians. */
export const chordAngle = (radius: number, chord: number): number =>
  2 * Math.acos(Math.max(0, 1 - chord / Math.max(radius, chord)));

/** Points along the curve without the first, chords within `chordError` (mm) of the arc; vertices lie on the arc. */
export const flattenCurve = (c: Curve, chordError: number = TOLERANCE.chord): Point[] => {
  if (c.kind === 'line') return [c.to];
  const radius = arcRadius(c);
  const sweep = Math.abs(arcSweep(c));
  const count = Math.max(1, Math.ceil(sweep / chordAngle(radius, chordError)));
  const start = angleAt(c, c.from);
  const turn = arcSweep(c) / count;
  const points: Point[] = [];
  for (let i = 1; i < count; i++) points.push(add(c.centre, fromAngle(start + turn * i, radius)));
  points.push(c.to);
  return points;
};

/** The whole chain as points, first one included. Chain pieces must join end to start. */
export const flattenChain = (chain: readonly Curve[], chordError: number = TOLERANCE.chord): Point[] =>
  chain.length === 0 ? [] : [chain[0].from, ...chain.flatMap((c) => flattenCurve(c, chordError))];

/** Parameters (0..1, open ends) where the curve turns back in x or, with `axis` 'y', in y. Lines have none. */
export const turningParameters = (c: Curve, axis: 'x' | 'y' = 'x'): number[] => {
  if (c.kind === 'line') return [];
  const radius = arcRadius(c);
  const offsets = axis === 'x' ? [point(radius, 0), point(-radius, 0)] : [point(0, radius), point(0, -radius)];
  return offsets
    .map((o) => arcParameter(c, add(c.centre, o)))
    .filter((t) => t > 1e-9 && t < 1 - 1e-9)
    .sort((a, b) => a - b);
};

/** Splits at ascending parameters. */
export const splitCurve = (c: Curve, parameters: readonly number[]): Curve[] => {
  const cuts = [0, ...parameters, 1];
  const pieces: Curve[] = [];
  for (let i = 1; i < cuts.length; i++) if (cuts[i] > cuts[i - 1]) pieces.push(trimCurve(c, cuts[i - 1], cuts[i]));
  return pieces;
};

export interface Bounds {
  readonly minX: number;
  readonly maxX: number;
  readonly minY: number;
  readonly maxY: number;
}

export const boundsOfPoints = (points: Iterable<Point>): Bounds => {
  let minX = Infinity;
  let maxX = -Infinity;
  let minY = Infinity;
  let maxY = -Infinity;
  for (const p of points) {
    if (p.x < minX) minX = p.x;
    if (p.x > maxX) maxX = p.x;
    if (p.y < minY) minY = p.y;
    if (p.y > maxY) maxY = p.y;
  }
  return { minX, maxX, minY, maxY };
};

export const boundsOfCurves = (curves: readonly Curve[]): Bounds =>
  boundsOfPoints(
    curves.flatMap((c) => [
      c.from,
      c.to,
      ...turningParameters(c, 'x').map((t) => pointAt(c, t)),
      ...turningParameters(c, 'y').map((t) => pointAt(c, t)),
    ]),
  );

/** No point of a curve lies lower, or higher, than this: of an arc it is its whole circle's lowest or highest. */
export const notBelow = (c: Curve): number =>
  c.kind === 'arc' ? c.centre.y - arcRadius(c) : Math.min(c.from.y, c.to.y);
export const notAbove = (c: Curve): number =>
  c.kind === 'arc' ? c.centre.y + arcRadius(c) : Math.max(c.from.y, c.to.y);

/** True when the piece has no length worth keeping. */
export const isDegenerate = (c: Curve): boolean =>
  curveLength(c) < TOLERANCE.samePoint || length(subtract(c.to, c.from)) < TOLERANCE.samePoint;

/** Distance of many points from one chain: curves whose boxes lie further off than the nearest so far are not looked at. */
export class ChainDistance {
  private readonly boxes: readonly Bounds[];
  private last = 0;

  constructor(private readonly chain: readonly Curve[]) {
    this.boxes = chain.map((c) => boundsOfCurves([c]));
  }

  /** mm; Infinity for an empty chain. */
  from(p: Point): number {
    const { chain, boxes } = this;
    if (chain.length === 0) return Number.POSITIVE_INFINITY;
    // points come along a chain: the nearest curve is most often the last one again
    let best = distanceToCurve(chain[this.last], p);
    for (let i = 0; i < chain.length; i++) {
      const b = boxes[i];
      if (p.x < b.minX - best || p.x > b.maxX + best || p.y < b.minY - best || p.y > b.maxY + best) continue;
      const d = distanceToCurve(chain[i], p);
      if (d < best) {
        best = d;
        this.last = i;
      }
    }
    return best;
  }
}

/** The greatest distance of any place of a line of points from a chain, to within `near`, mm; 0 for no points. */
export const greatestDistance = (points: readonly Point[], chain: readonly Curve[], near: number): number => {
  const from = new ChainDistance(chain);
  let best = 0;
  const between = (a: Point, b: Point, da: number, db: number): void => {
    // nowhere between two places can it be greater than if the way led straight away from the chain
    if ((da + db + distance(a, b)) / 2 <= best + near) return;
    const m = lerp(a, b, 0.5);
    const dm = from.from(m);
    best = Math.max(best, dm);
    between(a, m, da, dm);
    between(m, b, dm, db);
  };
  const distances = points.map((p) => from.from(p));
  best = distances.reduce((most, d) => Math.max(most, d), 0);
  for (let i = 1; i < points.length; i++) between(points[i - 1], points[i], distances[i - 1], distances[i]);
  return best;
};
