import {
  clipToSide,
  type LowerSide,
  lowerSideOn,
  type Point,
  point,
  type RoundedPolygon,
  type Stretch,
  Surface,
  sideHeight,
  TOLERANCE,
  upperSideOn,
} from '../geometry';

/** A straight way of a cutting shape, with the lower side of what it covers. */
export interface Way {
  readonly shape: RoundedPolygon;
  readonly a: Point;
  readonly b: Point;
  readonly lower: LowerSide;
  readonly from: number;
  readonly to: number;
  /** What reaches past the axis of a bore, on the other side: metal above it is not hidden, for there is none. */
  readonly beyond: boolean;
  /** The upper side, its heights with their sign turned; made when it is asked for. */
  upper: LowerSide | null;
}

/** A way of a shape from one place to another. */
export const wayOf = (shape: RoundedPolygon, a: Point, b: Point, beyond = false): Way => {
  const lower = lowerSideOn(shape, a, b);
  return { shape, a, b, lower, from: lower.x[0], to: lower.x[lower.x.length - 1], beyond, upper: null };
};

/** Those of some ways that cover any of a stretch. */
export const over = (ways: readonly Way[], { from, to }: Stretch): Way[] =>
  ways.filter((k) => k.from < to && k.to > from);

export const upperOf = (way: Way): LowerSide => (way.upper ??= upperSideOn(way.shape, way.a, way.b));

/** Stretches are halved no further than this, mm. */
const LEAST = 0.005;

/**
 * The parts of a stretch over which metal may be left between ways of the tool, rising. What a way covers lies between a line that bends only
 * upward and one that bends only downward: two ways that meet at both ends of a stretch meet all along it. Where ways that
 * hang together cannot be told so even on short stretches, metal counts as left.
 */
export const gapsBetween = (ways: readonly Way[], from: number, to: number): Stretch[] => {
  const places = Float64Array.from([from, to, ...ways.flatMap((k) => [k.from, k.to])]).sort();
  const waiting = [...ways].sort((a, b) => b.from - a.from);
  const gaps: { from: number; to: number }[] = [];
  let active: Way[] = [];
  let a = from;
  for (const b of places) {
    if (b > to || b - a < 1e-6) continue;
    while (waiting.length > 0 && waiting[waiting.length - 1].from < a + 1e-6) active.push(waiting.pop() as Way);
    active = active.filter((k) => k.to > b - 1e-6);
    if (active.length > 1 && gapWithin(active, a, b)) {
      const last = gaps[gaps.length - 1];
      if (last?.to === a) last.to = b;
      else gaps.push({ from: a, to: b });
    }
    a = b;
  }
  return gaps;
};

/** Where ways begin and end above a place, each in turn. */
interface Extents {
  readonly low: Float64Array;
  readonly high: Float64Array;
}

const extentsAt = (ways: readonly Way[], x: number): Extents => {
  const low = new Float64Array(ways.length);
  const high = new Float64Array(ways.length);
  for (let i = 0; i < ways.length; i++) {
    const way = ways[i];
    const at = Math.max(way.from, Math.min(way.to, x));
    low[i] = sideHeight(way.lower, at);
    high[i] = -sideHeight(upperOf(way), at);
  }
  return { low, high };
};

const meet = (e: Extents, p: number, q: number): boolean =>
  e.low[p] <= e.high[q] + TOLERANCE.gouge && e.low[q] <= e.high[p] + TOLERANCE.gouge;

/** Whether way `k` meets one of the first `count` of a list all along a stretch: the last of them is the likeliest. */
const meetsBefore = (list: readonly number[], count: number, k: number, a: Extents, b: Extents): boolean => {
  let j = count - 1;
  while (j >= 0 && !(meet(a, list[j], k) && meet(b, list[j], k))) j--;
  return j >= 0;
};

/** Ways that all cover a stretch: whether one of them may stand apart from those below it somewhere. */
const gapWithin = (
  ways: readonly Way[],
  a: number,
  b: number,
  atA = extentsAt(ways, a),
  atB = extentsAt(ways, b),
): boolean => {
  const upward = Array.from(ways.keys()).sort((p, q) => atA.low[p] - atA.low[q]);
  let apart = false;
  for (let i = 1; i < upward.length && !apart; i++) {
    apart = !meetsBefore(upward, i, upward[i], atA, atB);
  }
  if (!apart) return false;
  if (b - a < LEAST || apartAt(atA) || apartAt(atB)) return true;
  const m = (a + b) / 2;
  const atM = extentsAt(ways, m);
  return gapWithin(ways, a, m, atA, atM) || gapWithin(ways, m, b, atM, atB);
};

/** Whether one of some ways stands apart from those below it at a place. */
const apartAt = ({ low, high }: Extents): boolean => {
  const upward = Array.from(low.keys()).sort((p, q) => low[p] - low[q]);
  let reached = high[upward[0]];
  for (const k of upward) {
    if (low[k] > reached + TOLERANCE.gouge) return true;
    reached = Math.max(reached, high[k]);
  }
  return false;
};

/** Where a shape reaches up to a height, in x; null where it does nowhere. Its rounding counts upward only, so that the stretch is never too long. */
const reachingUpTo = ({ points, radius }: RoundedPolygon, height: number): Stretch | null => {
  const level = height - radius;
  let from = Number.POSITIVE_INFINITY;
  let to = Number.NEGATIVE_INFINITY;
  const put = (x: number): void => {
    if (x < from) from = x;
    if (x > to) to = x;
  };
  for (let i = 0, j = points.length - 1; i < points.length; j = i++) {
    const p = points[j];
    const q = points[i];
    if (q.y >= level) put(q.x);
    if (p.y >= level !== q.y >= level) put(p.x + ((q.x - p.x) * (level - p.y)) / (q.y - p.y));
  }
  return from > to ? null : { from, to };
};

/**
 * Stretches of what some ways cover over which none of them surely reaches above the metal that stood there before: only
 * there can something cut lie hidden below metal that still stands.
 */
export const underMetal = (ways: readonly Way[], before: Surface): Stretch[] => {
  const clear: Stretch[] = [];
  for (const { shape, a, b, from, to } of ways) {
    const over = reachingUpTo(shape, before.ceiling(from, to) - Math.min(a.y, b.y));
    if (over) clear.push({ from: Math.min(a.x, b.x) + over.from, to: Math.max(a.x, b.x) + over.to });
  }
  clear.sort((p, q) => p.from - q.from);
  const open: Stretch[] = [];
  let next = 0;
  let cleared = Number.NEGATIVE_INFINITY;
  let reached = Number.NEGATIVE_INFINITY;
  const put = (from: number, to: number): void => {
    if (to - from > 1e-9) open.push({ from, to });
  };
  // what is covered, from left to right, less what is clear
  for (const way of [...ways].sort((p, q) => p.from - q.from)) {
    let at = Math.max(way.from, reached);
    while (at < way.to) {
      while (next < clear.length && clear[next].from <= at) cleared = Math.max(cleared, clear[next++].to);
      if (cleared > at) {
        at = Math.min(cleared, way.to);
        continue;
      }
      const end = Math.min(way.to, clear[next]?.from ?? way.to);
      put(at, end);
      at = end;
    }
    reached = Math.max(reached, way.to);
  }
  return open;
};

/** Outline of what a convex shape covers on a straight way. */
export const outlineOf = (way: Way): Point[] => {
  const { lower } = way;
  const upper = upperOf(way);
  return [...lower.x.map((x, i) => point(x, lower.y[i])), ...upper.x.map((x, i) => point(x, -upper.y[i])).reverse()];
};

/** A convex ring between two places of x. */
export const clipToStrip = (ring: readonly Point[], from: number, to: number): Point[] =>
  clipToSide(clipToSide(ring, from, 1), to, -1);

/** Fewer ways than this are not worth drawing together. */
const FEW = 4;

/**
 * What ways cover between two places of x, as rings that together are the same as the outlines of all. Ways that hang together
 * all along are drawn as one, between the lowest and the highest lines that they reach.
 */
export const coverBetween = (ways: readonly Way[], from: number, to: number): Point[][] => {
  const ring = (way: Way): Point[] => clipToStrip(outlineOf(way), from, to);
  const through = ways.filter((k) => k.from <= from && k.to >= to);
  const rings = ways.filter((k) => !(k.from <= from && k.to >= to)).map(ring);
  const [atA, atB] = [extentsAt(through, from), extentsAt(through, to)];
  const upward = Array.from(through.keys()).sort((p, q) => atA.low[p] - atA.low[q]);
  let chain: number[] = [];
  const close = (): void => {
    const own = chain.map((i) => through[i]);
    rings.push(...(own.length < FEW ? own.map(ring) : [hull(own, from, to)]));
    chain = [];
  };
  for (const k of upward) {
    if (!meetsBefore(chain, chain.length, k, atA, atB)) close();
    chain.push(k);
  }
  close();
  return rings.filter((r) => r.length > 2);
};

/** The ring around ways that hang together all along a stretch. */
const hull = (ways: readonly Way[], from: number, to: number): Point[] => {
  const bottom = Surface.outermost(
    ways.map((w) => w.lower),
    from,
    to,
  ).corners;
  const top = Surface.outermost(ways.map(upperOf), from, to).corners;
  return [...bottom.x.map((x, i) => point(x, bottom.y[i])), ...top.x.map((x, i) => point(x, -top.y[i])).reverse()];
};
