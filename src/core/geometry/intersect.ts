import { type Arc, arcRadius, type Curve, type Line, parameterOf } from './curve';
import { add, cross, distance, dot, type Point, perpendicular, scale, subtract, unit } from './point';

/** Carriers (unbounded lines, full circles) meet in points, run together, or not at all. */
export type CarrierMeeting =
  | { readonly kind: 'points'; readonly points: readonly Point[] }
  | { readonly kind: 'coincident' }
  | { readonly kind: 'parallel' }
  | { readonly kind: 'none' };

const EPS = 1e-12;

const intersectLineLine = (a: Line, b: Line): CarrierMeeting => {
  const da = subtract(a.to, a.from);
  const db = subtract(b.to, b.from);
  const denominator = cross(da, db);
  const offset = subtract(b.from, a.from);
  if (Math.abs(denominator) <= EPS * Math.hypot(da.x, da.y) * Math.hypot(db.x, db.y) + Number.MIN_VALUE) {
    return Math.abs(cross(unit(da), offset)) < 1e-9 ? { kind: 'coincident' } : { kind: 'parallel' };
  }
  return { kind: 'points', points: [add(a.from, scale(da, cross(offset, db) / denominator))] };
};

const intersectLineArc = (l: Line, a: Arc): CarrierMeeting => {
  const direction = unit(subtract(l.to, l.from));
  const foot = add(l.from, scale(direction, dot(subtract(a.centre, l.from), direction)));
  const gap = distance(foot, a.centre);
  const radius = arcRadius(a);
  const h2 = radius * radius - gap * gap;
  // a tangent line misses or crosses by rounding: accept it as touching
  if (h2 < -1e-9 * Math.max(1, radius)) return { kind: 'none' };
  const h = Math.sqrt(Math.max(0, h2));
  if (h < 1e-9) return { kind: 'points', points: [foot] };
  return { kind: 'points', points: [add(foot, scale(direction, -h)), add(foot, scale(direction, h))] };
};

const intersectArcArc = (a: Arc, b: Arc): CarrierMeeting => {
  const ra = arcRadius(a);
  const rb = arcRadius(b);
  const between = subtract(b.centre, a.centre);
  const d = Math.hypot(between.x, between.y);
  if (d < 1e-9) return Math.abs(ra - rb) < 1e-9 ? { kind: 'coincident' } : { kind: 'none' };
  const along = (d * d + ra * ra - rb * rb) / (2 * d);
  const h2 = ra * ra - along * along;
  if (h2 < -1e-9 * Math.max(1, ra)) return { kind: 'none' };
  const direction = scale(between, 1 / d);
  const base = add(a.centre, scale(direction, along));
  const h = Math.sqrt(Math.max(0, h2));
  if (h < 1e-9) return { kind: 'points', points: [base] };
  const side = perpendicular(direction);
  return { kind: 'points', points: [add(base, scale(side, -h)), add(base, scale(side, h))] };
};

export const intersectCarriers = (a: Curve, b: Curve): CarrierMeeting => {
  if (a.kind === 'line') return b.kind === 'line' ? intersectLineLine(a, b) : intersectLineArc(a, b);
  return b.kind === 'line' ? intersectLineArc(b, a) : intersectArcArc(a, b);
};

/** Points that lie on both bounded curves, ends included within `slack` of the parameter range. */
export const intersectCurves = (a: Curve, b: Curve, slack = 1e-9): Point[] => {
  const meeting = intersectCarriers(a, b);
  if (meeting.kind !== 'points') return [];
  const within = (c: Curve, p: Point): boolean => {
    const t = parameterOf(c, p);
    return t >= -slack && t <= 1 + slack;
  };
  return meeting.points.filter((p) => within(a, p) && within(b, p));
};
