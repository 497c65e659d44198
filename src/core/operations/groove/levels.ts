import { passDepths } from '../../cutting';
import {
  arc,
  type Curve,
  clipGraph,
  distance,
  intersectCurves,
  joinGraph,
  line,
  offsetCurve,
  type Point,
  parameterOf,
  point,
  pointAt,
  reverseChain,
  splitCurve,
  upperEnvelope,
} from '../../geometry';
import { deepestPositions } from '../../tooling';
import type { GrooveRoom } from './room';

/**
 * Turning a groove level by level: the blade goes down a wall, along the level, up the other wall to the level before, and the
 * next pass comes back the same way. Walls that lean keep no steps, since every pass follows them between two levels. With
 * rolls, a round blade comes down and goes up in arcs in place of corners: the layer under it is nowhere thicker than a pass.
 */
export interface LevelPass {
  /** From one wall to the other. */
  readonly chain: readonly Curve[];
  /** The pass before ends where this one can begin, by going back along it. */
  readonly follows: boolean;
}

/** Pieces that end where the next one begins within this, mm. */
const JOINED = 1e-6;

/** The stretches of a chain that lie below a height. */
export const stretchesBelow = (chain: readonly Curve[], height: number): Curve[][] => {
  const level = line(point(-1e5, height), point(1e5, height));
  const runs: Curve[][] = [];
  let last: Point | null = null;
  for (const c of chain) {
    const at = intersectCurves(c, level)
      .map((p) => parameterOf(c, p))
      .sort((a, b) => a - b);
    for (const piece of splitCurve(c, at)) {
      if (pointAt(piece, 0.5).y > height - 1e-9) continue;
      const run = runs[runs.length - 1];
      if (run && last && distance(last, piece.from) < JOINED) run.push(piece);
      else runs.push([piece]);
      last = piece.to;
    }
  }
  return runs;
};

/** A graph as a circle rests in it from above: hollow corners become arcs of its radius, the rest stays. */
export const rolledOver = (graph: readonly Curve[], radius: number, from: number, to: number): Curve[] => {
  const centres = joinGraph(deepestPositions(graph, [{ points: [point(0, 0)], radius }], from, to));
  const result: Curve[] = [];
  for (const [i, c] of centres.entries()) {
    // the ground is on the right of travel; an arc about one of its corners shrinks to that corner
    const own = offsetCurve(c, -radius);
    const before = result[result.length - 1];
    const begins = own?.from ?? null;
    if (i > 0 && before && begins && distance(before.to, begins) > JOINED)
      result.push(arc(before.to, begins, c.from, false));
    if (own && distance(own.from, own.to) > JOINED / 10) result.push(own);
  }
  return result;
};

/** The floor under a level with its walls drawn up at the ends of the groove. */
const bedAt = (room: GrooveRoom, level: number, high: number, beside: number): Curve[] => {
  const inside = clipGraph(
    upperEnvelope([...room.floor, line(point(room.from, level), point(room.to, level))]),
    room.from,
    room.to,
  );
  return joinGraph([
    line(point(room.from - beside, high), point(room.from, high)),
    ...inside,
    line(point(room.to, high), point(room.to + beside, high)),
  ]);
};

/** Passes from the top of the metal down to the lowest place of the floor, the first one from the side that is said. */
export const levelPassesOf = (
  room: GrooveRoom,
  bottom: number,
  { depth, rolls, first }: { readonly depth: number; readonly rolls: boolean; readonly first: 'left' | 'right' },
): LevelPass[] => {
  const top = room.top + room.rho;
  const depths = passDepths(top - bottom, depth, 'equal');
  const one = depths[0] ?? 0;
  const radius = rolls ? one : 0;
  const high = top + 2 * one + 1;
  let level = top;
  let turnBack = first === 'right';
  let alone = false;
  return depths.flatMap((d): LevelPass[] => {
    level -= d;
    const bed = bedAt(room, level, high, 4 * radius + 1);
    const path = rolls ? rolledOver(bed, radius, room.from - 3 * radius, room.to + 3 * radius) : bed;
    const runs = stretchesBelow(path, Math.min(top, level + one + radius));
    const follows = alone && runs.length === 1;
    alone = runs.length === 1;
    const made = runs.map((run): LevelPass => ({ chain: turnBack ? reverseChain(run) : run, follows }));
    if (turnBack) made.reverse();
    turnBack = !turnBack;
    return made;
  });
};

/** The way back along a chain from its end to the place nearest to where the next one begins. */
export const backTo = (chain: readonly Curve[], start: Point): Curve[] => {
  const back = reverseChain(chain);
  const way: Curve[] = [];
  for (const c of back) {
    const t = parameterOf(c, start);
    if (t >= -1e-9 && t <= 1 + 1e-9 && distance(pointAt(c, Math.max(0, Math.min(1, t))), start) < JOINED * 10) {
      if (t > 1e-9) way.push(splitCurve(c, t < 1 - 1e-9 ? [t] : [])[0]);
      return way;
    }
    way.push(c);
    if (distance(c.to, start) < JOINED * 10) return way;
  }
  return [];
};
