import {
  boundsOfCurves,
  type Curve,
  distance,
  type Point,
  reverseChain,
  splitCurve,
  turningParameters,
} from '../geometry';

/** A half-section told into its contours; each chain is exact lines and arcs that join end to start. */
export interface HalfSection {
  /** From the front (greatest Z) over the outside to the back. */
  readonly outer: readonly Curve[];
  /** From the front into the part: through to the back, or to the axis. */
  readonly inner: readonly Curve[];
  /** A blind bore from the back: from the back face to the axis. */
  readonly back: readonly Curve[];
}

const AXIS = 1e-6;

/** Pieces that never turn back along Z, so that the walk below sees each reversal at an end. */
const monotone = (chain: readonly Curve[]): Curve[] => chain.flatMap((c) => splitCurve(c, turningParameters(c, 'x')));

/**
 * How many pieces of a walk from the bore (or the axis) toward an end face belong to the bore. The bore ends at the first
 * place that stands out toward the end face and is never undercut by a smaller radius later on: the inner edge of the
 * hub, or of the ring, whichever comes first.
 */
const borePieces = (walk: readonly Curve[], sign: 1 | -1): number => {
  const z = (p: Point): number => p.x * sign;
  // the front-most place of the whole walk ends the bore at the latest
  const ends = walk.map((c) => c.to);
  if (walk.length === 0) return 0;
  const start = walk[0].from;
  const all = [start, ...ends];
  for (let k = 0; k < all.length; k++) {
    const here = all[k];
    const next = all.slice(k + 1);
    const goesOut = next.findIndex((p) => z(p) > z(here) + AXIS);
    const goesBack = next.findIndex((p) => z(p) < z(here) - AXIS);
    const climbsBack = goesBack >= 0 && (goesOut < 0 || goesBack < goesOut);
    const last = goesOut < 0 && goesBack < 0;
    if (!climbsBack && !last && goesOut >= 0) continue;
    // a groove in a bore goes back too, but the contour comes down to the bore's radius again behind it
    if (next.some((p) => p.y < here.y - AXIS) && goesOut >= 0) continue;
    return k;
  }
  return walk.length;
};

/**
 * Tells a loop of the half-section into outer and inner contours. A closed loop has a bore through; an open chain must
 * begin and end on the axis.
 */
export const splitHalfSection = (loop: readonly Curve[]): HalfSection => {
  const exact = monotone(loop);
  const closed = distance(exact[0].from, exact[exact.length - 1].to) < 1e-4 && exact[0].from.y > 1e-4;
  let chain = exact;
  if (closed) {
    // begin at the narrowest place of the bore
    let narrow = 0;
    exact.forEach((c, i) => {
      const low = exact[narrow].from;
      if (c.from.y < low.y - AXIS || (Math.abs(c.from.y - low.y) <= AXIS && c.from.x > low.x)) narrow = i;
    });
    chain = [...exact.slice(narrow), ...exact.slice(0, narrow)];
    // toward the front first
    const frontMost = boundsOfCurves(chain).maxX;
    const backMost = boundsOfCurves(chain).minX;
    const toFront = chain.findIndex((c) => c.to.x > frontMost - AXIS);
    const toBack = chain.findIndex((c) => c.to.x < backMost + AXIS);
    if (toBack < toFront) chain = reverseChain(chain);
  } else if (chain[0].from.x < chain[chain.length - 1].to.x) chain = reverseChain(chain);
  const b = boundsOfCurves(chain);
  const frontEnd = chain.findIndex((c) => c.to.x > b.maxX - AXIS);
  const startsInFront = chain[0].from.x > b.maxX - AXIS;
  const front = startsInFront ? 0 : borePieces(chain.slice(0, frontEnd + 1), 1);
  const reversed = reverseChain(chain);
  const backEnd = reversed.findIndex((c) => c.to.x < b.minX + AXIS);
  const startsInBack = reversed[0].from.x < b.minX + AXIS;
  const back = startsInBack ? 0 : borePieces(reversed.slice(0, backEnd + 1), -1);
  const outer = mergeSplit(chain.slice(front, chain.length - back));
  const bore = reverseChain(chain.slice(0, front));
  const rear = chain.slice(chain.length - back);
  if (closed) return { outer, inner: mergeSplit([...bore, ...reverseChain(rear)]), back: [] };
  return { outer, inner: mergeSplit(bore), back: mergeSplit(rear) };
};

/** Undoes the splitting of arcs at their turning points, and joins straight pieces that run on. */
export const mergeSplit = (chain: readonly Curve[]): Curve[] => {
  const result: Curve[] = [];
  for (const c of chain) {
    const last = result[result.length - 1];
    if (
      last &&
      last.kind === 'arc' &&
      c.kind === 'arc' &&
      last.clockwise === c.clockwise &&
      distance(last.centre, c.centre) < 1e-6 &&
      distance(last.from, c.to) > 1e-6
    )
      result[result.length - 1] = { ...last, to: c.to };
    else if (last && last.kind === 'line' && c.kind === 'line' && runsOn(last.from, last.to, c.to))
      result[result.length - 1] = { ...last, to: c.to };
    else result.push(c);
  }
  return result;
};

const runsOn = (a: Point, b: Point, c: Point): boolean => {
  const l1 = distance(a, b);
  const l2 = distance(b, c);
  const sine = ((b.x - a.x) * (c.y - b.y) - (b.y - a.y) * (c.x - b.x)) / (l1 * l2);
  const cosine = ((b.x - a.x) * (c.x - b.x) + (b.y - a.y) * (c.y - b.y)) / (l1 * l2);
  return cosine > 0 && Math.abs(sine) * Math.min(l1, l2) < 1e-7;
};
