import { type Arc, arcRadius, arcSweep, type Bounds, chordAngle, pointAt } from './curve';
import { onceFor, onceForEach } from './once';
import { type Point, point } from './point';
import { convexHull, type RoundedPolygon, regionBounds } from './region';
import { TOLERANCE } from './tolerance';

/** Places along x, mm. */
export interface Stretch {
  readonly from: number;
  readonly to: number;
}

/** Lower side of a convex shape from its left to its right extreme, as points with rising x; nothing of it lies outside. */
export interface LowerSide {
  readonly x: readonly number[];
  readonly y: readonly number[];
}

/** The lower side of what a shape covers on a way. Beside `fresh` lies only what the shape covers where the way begins. */
export interface WaySide extends LowerSide {
  readonly fresh: Stretch;
}

/** A side that leans no more than this is upright, corners no further apart are one, mm. */
const UPRIGHT = 1e-9;

/** Direction of the normal below an edge that runs toward +x: between π and 2π. */
const normalBelow = (dx: number, dy: number): number => Math.atan2(-dx, dy) + 2 * Math.PI;

/** Directions in steps of one size, with their cosines and sines: rounds take their points from here. */
interface Rose {
  readonly step: number;
  readonly cos: Float64Array;
  readonly sin: Float64Array;
}

const roses = new Map<number, Rose>();

const roseFor = (radius: number, chord: number): Rose => {
  const count = Math.max(8, Math.ceil(Math.PI / chordAngle(radius, chord)));
  let rose = roses.get(count);
  if (!rose) {
    const step = Math.PI / count;
    const angles = Array.from({ length: count + 1 }, (_, i) => Math.PI + i * step);
    rose = { step, cos: Float64Array.from(angles, Math.cos), sin: Float64Array.from(angles, Math.sin) };
    roses.set(count, rose);
  }
  return rose;
};

/**
 * The lower side of a shape that stands at the origin: its points with the direction of the normal below each, radians, and
 * where the points of each corner begin. Two more places are left at the end, for what a way adds.
 */
interface Standing {
  readonly x: readonly number[];
  readonly y: readonly number[];
  readonly angle: readonly number[];
  readonly first: readonly number[];
  readonly corners: readonly Point[];
  /** Direction of the normal below the edge behind each corner. */
  readonly normals: readonly number[];
}

const standingOf = onceForEach(
  (shape: RoundedPolygon, chord: number): Standing => {
    const corners = lowerCorners(shape.points.length > 2 ? convexHull(shape.points) : shape.points);
    const normals = corners.slice(1).map((p, i) => normalBelow(p.x - corners[i].x, p.y - corners[i].y));
    const x: number[] = [];
    const y: number[] = [];
    const angle: number[] = [];
    const first: number[] = [];
    const put = (px: number, py: number, at: number): void => {
      x.push(px);
      y.push(py);
      angle.push(at);
    };
    const r = shape.radius;
    for (const [i, p] of corners.entries()) {
      first.push(x.length);
      const from = i === 0 ? Math.PI : normals[i - 1];
      const until = i < normals.length ? normals[i] : 2 * Math.PI;
      if (r <= 0) {
        put(p.x, p.y, until);
        continue;
      }
      const { step, cos, sin } = roseFor(r, chord);
      put(p.x + r * Math.cos(from), p.y + r * Math.sin(from), from);
      for (
        let k = Math.floor((from - Math.PI) / step + 1e-9) + 1;
        k < cos.length && Math.PI + k * step < until - 1e-9;
        k++
      )
        put(p.x + r * cos[k], p.y + r * sin[k], Math.PI + k * step);
      put(p.x + r * Math.cos(until), p.y + r * Math.sin(until), until);
    }
    first.push(x.length);
    return { x: [...x, 0, 0], y: [...y, 0, 0], angle, first, corners, normals };
  },
  (chord) => chord,
);

/** Writes a place of a side as its `n`th, or lowers the one before where that stands at the same x; tells how many there are. */
const put = (x: number[], y: number[], n: number, px: number, py: number): number => {
  if (n > 0 && px - x[n - 1] < 1e-12) {
    if (py < y[n - 1]) y[n - 1] = py;
    return n;
  }
  x[n] = px;
  y[n] = py;
  return n + 1;
};

/** What of a side the way itself makes, from its corner `begin` or up to its corner `until`; there may be none that far. */
const freshOf = (x: readonly number[], rightward: boolean, begin: number, until: number): Stretch => {
  const last = x.length - 1;
  return rightward ? { from: x[Math.max(0, begin)], to: x[last] } : { from: x[0], to: x[Math.min(until, last)] };
};

/**
 * The lower side of what a convex rounded polygon covers on a straight way: its own edges with the way among them in the
 * order of their slopes. Rounds become chords within `chord` whose ends lie on the round, so the outline never lies outside
 * the true shape.
 */
export const lowerSideOn = (
  shape: RoundedPolygon,
  from: Point,
  to: Point,
  chord: number = TOLERANCE.chord,
): WaySide => {
  const side = standingOf(shape, chord);
  const { angle, first, normals } = side;
  const forward = to.x >= from.x;
  const a = forward ? from : to;
  const b = forward ? to : from;
  const dx = b.x - a.x;
  const dy = b.y - a.y;
  const x = side.x.slice();
  const y = side.y.slice();
  const count = angle.length;
  let n = 0;
  let k = 0;
  // straight down or up: the lower of the two ends has the lower side
  let { x: ox, y: oy } = dx < 1e-12 ? { x: a.x, y: Math.min(a.y, b.y) } : a;
  // corners of the side round the edge that the way itself is of it
  let begin = 0;
  let end = to.y < from.y ? count : 0;
  if (dx >= 1e-12) {
    const way = normalBelow(dx, dy);
    let i = 0;
    while (i < normals.length && way > normals[i]) i++;
    const round = shape.radius > 0;
    const last = first[i + 1];
    // what stands before the way's own direction is where the way begins, all else where it ends
    const before = round ? way - 1e-9 : Number.POSITIVE_INFINITY;
    for (; k < last && (k < first[i] || angle[k] < before); k++) n = put(x, y, n, side.x[k] + ox, side.y[k] + oy);
    ox = b.x;
    oy = b.y;
    begin = n - 1;
    if (round) {
      const far = shape.radius / Math.sqrt(dx * dx + dy * dy);
      const px = side.corners[i].x + dy * far;
      const py = side.corners[i].y - dx * far;
      n = put(x, y, n, px + a.x, py + a.y);
      n = put(x, y, n, px + ox, py + oy);
      while (k < last && angle[k] <= way + 1e-9) k++;
    } else k = last - 1;
    end = n;
  }
  for (; k < count; k++) n = put(x, y, n, side.x[k] + ox, side.y[k] + oy);
  x.length = n;
  y.length = n;
  return { x, y, fresh: freshOf(x, dx >= 1e-12 && forward, begin, end) };
};

/**
 * The lower side of what a convex rounded polygon covers on the way along an arc that runs one way in x, where one of its
 * corners rolls along all of it: the parallel arc, with its own edges before and behind. Null where another corner touches too,
 * or the arc is tighter than the corner.
 */
export const lowerSideOnArc = (shape: RoundedPolygon, way: Arc, chord: number = TOLERANCE.chord): WaySide | null => {
  const r = shape.radius;
  const [a, b] = way.to.x >= way.from.x ? [way.from, way.to] : [way.to, way.from];
  if (r <= 0 || b.x - a.x < UPRIGHT) return null;
  const side = standingOf(shape, chord);
  const { angle, first, normals } = side;
  const { centre } = way;
  // a hollow arc lies below its centre, a crest above
  const hollow = pointAt(way, 0.5).y < centre.y;
  const sign = hollow ? 1 : -1;
  if (sign * (a.y - centre.y) > 0 || sign * (b.y - centre.y) > 0) return null;
  const radius = arcRadius(way) + sign * r;
  const below = (p: Point): number => Math.atan2(-Math.abs(p.y - centre.y), sign * (p.x - centre.x)) + 2 * Math.PI;
  const [before, behind] = [below(a), below(b)];
  const [least, most] = hollow ? [before, behind] : [behind, before];
  let i = 0;
  while (i < normals.length && least > normals[i] - 1e-9) i++;
  if (radius < 0 || (i < normals.length && most > normals[i] + 1e-9)) return null;
  const x: number[] = [];
  const y: number[] = [];
  let n = 0;
  let k = 0;
  for (; k < first[i + 1] && (k < first[i] || angle[k] < before - 1e-9); k++)
    n = put(x, y, n, side.x[k] + a.x, side.y[k] + a.y);
  const begin = n - 1;
  const corner = side.corners[i];
  const steps = Math.max(1, Math.ceil(Math.abs(arcSweep(way)) / chordAngle(radius, chord)));
  const each = (behind - before) / steps;
  const roll = (at: number, far: number): void => {
    const px = centre.x + corner.x + sign * far * Math.cos(at);
    n = put(x, y, n, px, centre.y + corner.y + sign * far * Math.sin(at));
  };
  roll(before, radius);
  // chords of a crest would lie outside the shape: there it is tangents
  if (hollow) for (let j = 1; j < steps; j++) roll(before + each * j, radius);
  else for (let j = 0; j < steps; j++) roll(before + each * (j + 0.5), radius / Math.cos(each / 2));
  roll(behind, radius);
  // over a crest what stands behind the arc overlaps what stands before it
  k = first[i];
  while (k < first[i + 1] && angle[k] <= behind + 1e-9) k++;
  const until = n;
  for (; k < angle.length; k++) n = put(x, y, n, side.x[k] + b.x, side.y[k] + b.y);
  return { x, y, fresh: freshOf(x, way.to.x >= way.from.x, begin, until) };
};

const ORIGIN: Point = { x: 0, y: 0 };

/** The lower side of a convex rounded polygon where it stands. */
export const lowerSide = (shape: RoundedPolygon, chord: number = TOLERANCE.chord): LowerSide =>
  lowerSideOn(shape, ORIGIN, ORIGIN, chord);

/** Corners of a convex ring (counter-clockwise, or one or two points) from the leftmost down and on to the rightmost. */
const lowerCorners = (hull: readonly Point[]): Point[] => {
  if (hull.length <= 1) return [...hull];
  if (hull.length === 2) {
    const [a, b] = hull[0].x <= hull[1].x ? hull : [hull[1], hull[0]];
    if (b.x - a.x < 1e-12) return [a.y <= b.y ? a : b];
    return [a, b];
  }
  // a side that stands upright may lean by the last digit of its corners: the lowest of the leftmost begins
  const left = hull.reduce((least, p) => Math.min(least, p.x), Number.POSITIVE_INFINITY) + UPRIGHT;
  let start = -1;
  for (let i = 0; i < hull.length; i++) if (hull[i].x <= left && (start < 0 || hull[i].y < hull[start].y)) start = i;
  const chain: Point[] = [hull[start]];
  for (let k = 1; k < hull.length; k++) {
    const p = hull[(start + k) % hull.length];
    if (p.x - chain[chain.length - 1].x <= UPRIGHT) break;
    chain.push(p);
  }
  return chain;
};

/** The convex shape that a convex shape covers on a straight way. */
export const carriedShape = (shape: RoundedPolygon, from: Point, to: Point): RoundedPolygon => {
  const moved: Point[] = [];
  for (const p of shape.points) moved.push({ x: p.x + from.x, y: p.y + from.y });
  if (from.x !== to.x || from.y !== to.y) for (const p of shape.points) moved.push({ x: p.x + to.x, y: p.y + to.y });
  return { points: moved.length > 2 ? convexHull(moved) : moved, radius: shape.radius };
};

/** How deep a place lies within a shape that stands at a point: its distance from the outline, 0 outside, mm. */
export const depthWithin = (shape: RoundedPolygon, at: Point, p: Point): number => {
  const hull = shape.points;
  const x = p.x - at.x;
  const y = p.y - at.y;
  const n = hull.length;
  // nearest of all sides: within the corners it is the depth, beyond them the way to the round
  let inside = n > 2;
  let least = Number.POSITIVE_INFINITY;
  for (let i = 0, j = n - 1; i < n; j = i++) {
    const a = hull[j];
    const dx = hull[i].x - a.x;
    const dy = hull[i].y - a.y;
    const l2 = dx * dx + dy * dy;
    const t = l2 < UPRIGHT * UPRIGHT ? 0 : Math.max(0, Math.min(1, ((x - a.x) * dx + (y - a.y) * dy) / l2));
    const far = (x - a.x - t * dx) ** 2 + (y - a.y - t * dy) ** 2;
    if (far < least) least = far;
    if (dx * (y - a.y) - dy * (x - a.x) < 0) inside = false;
  }
  const distance = Math.sqrt(least);
  return inside ? distance + shape.radius : Math.max(0, shape.radius - distance);
};

/** A convex ring on one side of a place of x: at higher ones, or with −1 at lower ones. */
export const clipToSide = (ring: readonly Point[], limit: number, sign: 1 | -1): Point[] => {
  const result: Point[] = [];
  for (let i = 0, j = ring.length - 1; i < ring.length; j = i++) {
    const a = ring[j];
    const b = ring[i];
    const ina = sign * (a.x - limit) >= 0;
    const inb = sign * (b.x - limit) >= 0;
    if (ina !== inb) result.push(point(limit, a.y + ((b.y - a.y) * (limit - a.x)) / (b.x - a.x)));
    if (inb) result.push(b);
  }
  return result;
};

/** Extent of rounded shapes. */
export const boundsOfShapes = (shapes: readonly RoundedPolygon[]): Bounds => {
  const b = regionBounds(shapes.map((s) => s.points));
  const most = Math.max(0, ...shapes.map((s) => s.radius));
  return { minX: b.minX - most, maxX: b.maxX + most, minY: b.minY - most, maxY: b.maxY + most };
};

/** Shapes with so much room all round. */
export const grownBy = (shapes: readonly RoundedPolygon[], by: number): readonly RoundedPolygon[] =>
  by > 0 ? shapes.map((s) => ({ points: s.points, radius: s.radius + by })) : shapes;

/** The shape less a skin of `by` mm all round; null when nothing is left. */
export const insetShape = (shape: RoundedPolygon, by: number): RoundedPolygon | null => {
  if (by <= shape.radius) return { points: shape.points, radius: shape.radius - by };
  // what is left of the corners' own shape: it is cut along each of its sides, moved inward
  let rest: readonly Point[] = convexHull(shape.points);
  const sides = rest.map((a, i) => ({ a, b: rest[(i + 1) % rest.length] }));
  if (sides.length < 3) return null;
  for (const { a, b } of sides) {
    const l = Math.hypot(b.x - a.x, b.y - a.y);
    if (l > UPRIGHT) rest = leftOf(rest, a, { x: (b.x - a.x) / l, y: (b.y - a.y) / l }, by - shape.radius);
  }
  return rest.length < 3 ? null : { points: rest, radius: 0 };
};

/** The part of a convex ring that lies further than `by` mm to the left of a line through a point. */
const leftOf = (ring: readonly Point[], a: Point, way: Point, by: number): Point[] => {
  const result: Point[] = [];
  const height = (p: Point): number => way.x * (p.y - a.y) - way.y * (p.x - a.x) - by;
  for (let i = 0, j = ring.length - 1; i < ring.length; j = i++) {
    const p = ring[j];
    const q = ring[i];
    const hp = height(p);
    const hq = height(q);
    if (hp > 0 !== hq > 0) {
      const t = hp / (hp - hq);
      result.push({ x: p.x + (q.x - p.x) * t, y: p.y + (q.y - p.y) * t });
    }
    if (hq > 0) result.push(q);
  }
  return result;
};

/** The shape upside down. */
const turned = onceFor(
  (shape: RoundedPolygon): RoundedPolygon => ({
    points: shape.points.map((p) => ({ x: p.x, y: -p.y })).reverse(),
    radius: shape.radius,
  }),
);

/** The upper side of what a convex shape covers on a straight way, its heights with their sign turned: points with rising x. */
export const upperSideOn = (shape: RoundedPolygon, from: Point, to: Point, chord: number = TOLERANCE.chord): WaySide =>
  lowerSideOn(turned(shape), { x: from.x, y: -from.y }, { x: to.x, y: -to.y }, chord);

/** Height of a side at x between its ends. */
export const sideHeight = (side: LowerSide, x: number): number => {
  let a = 0;
  let b = side.x.length - 1;
  while (b - a > 1) {
    const m = (a + b) >> 1;
    if (side.x[m] <= x) a = m;
    else b = m;
  }
  if (b === a) return side.y[a];
  return side.y[a] + ((side.y[b] - side.y[a]) * (x - side.x[a])) / (side.x[b] - side.x[a]);
};
