import {
  type Curve,
  clipGraph,
  graphHeight,
  grownBy,
  heightAt,
  joinGraph,
  point,
  type RoundedPolygon,
  TOLERANCE,
  translateCurve,
  upperEnvelope,
} from '../../geometry';
import { deepestPositions } from '../../tooling';
import { rightward } from '../frame';
import { groundOf, linesOf, type SpanRange, type View, viewOf } from '../turning';
import type { Seen } from '../types';

/** A groove in its frame: where the blade's first corner may stand, and how deep it may go there. */
export interface GrooveRoom {
  readonly view: View;
  /** Range of the first corner's centre along the frame. */
  readonly from: number;
  readonly to: number;
  /** Deepest places of that centre on walls and floor; with metal left for finishing, and without. */
  readonly floor: readonly Curve[];
  readonly finish: readonly Curve[];
  /** Range of the same when walls are finished: where a wall begins with a slope or a round, its very top is cut too. */
  readonly walls: { readonly from: number; readonly to: number };
  /** Level from which the blade goes down. */
  readonly top: number;
  /** Width of the blade's flat front, mm. */
  readonly flat: number;
  readonly rho: number;
  readonly width: number;
}

/** The ground with a skin of metal left on it. */
const withAllowance = (ground: readonly Curve[], by: number, from: number, to: number): Curve[] =>
  by > 0 ? deepestPositions(ground, [{ points: [point(0, 0)], radius: by }], from, to) : [...ground];

/** A groove that is wider than the blade by less than this is filled by it, mm. */
const FIT = 0.01;
const HAIR = 0.006;

/** Pieces that stand upright have no height in their middle. */
const upright = (c: Curve): boolean => Math.abs(c.to.x - c.from.x) < 1e-9;

const lowestOf = (curves: readonly Curve[]): number =>
  curves.reduce(
    (low, c) => Math.min(low, c.from.y, c.to.y, upright(c) ? c.to.y : graphHeight(c, (c.from.x + c.to.x) / 2)),
    Number.POSITIVE_INFINITY,
  );

/** Over this the beginning of a wall tells how it falls, mm. */
const BRINK = 1e-3;

/**
 * How much further out than over an upright wall a nose has to stand for the top of a wall that begins at `u`, in its own
 * radius: 1 − sin θ where it falls by θ. None where nothing falls.
 */
const outward = (ground: readonly Curve[], u: number, way: 1 | -1): number => {
  const at = (by: number): number | null => heightAt(ground, u + way * by);
  const [top, near, further] = [at(0), at(BRINK), at(50 * BRINK)];
  if (top === null || near === null || further === null || top - further < BRINK / 10) return 0;
  const fall = Math.max(0, top - near);
  return 1 - fall / Math.hypot(fall, BRINK);
};

export const grooveRoom = (
  seen: Seen,
  range: SpanRange,
  blade: { readonly width: number; readonly cornerRadius: number },
  allowance: number,
): GrooveRoom | null => {
  const view = viewOf(seen);
  const rho = blade.cornerRadius;
  const from = range.minU + rho;
  const to = range.maxU - (blade.width - rho);
  // a blade that is wider than the groove would cut into its walls
  if (to < from - TOLERANCE.gouge) return null;
  const ground = groundOf(seen, view.frame, 0);
  const [left, right] = [from - blade.width - 5, to + blade.width + 5];
  const holder = grownBy(view.holder, 0.05);
  const fixtures = seen.fixtures?.upperPoints(0, left - 300, right + 300) ?? [];
  const fixed = rightward(linesOf(fixtures));
  const grown = grownBy([...view.cutting, ...view.holder], 0.5);
  // a blade as wide as the groove fits in where its walls stand upright: its sides are taken a hair nearer, its front stays where it is
  const middle = (range.minV + range.maxV) / 2;
  const straight = [range.minU + FIT, range.maxU - FIT].every((u) => (heightAt(ground, u) ?? middle) < middle);
  const fills = to - from < FIT && straight;
  const blades = fills
    ? view.cutting.map((s): RoundedPolygon => ({ points: s.points, radius: s.radius - HAIR }))
    : view.cutting;
  const walls = {
    from: from - rho * outward(ground, range.minU, 1),
    to: Math.max(from, to) + rho * outward(ground, range.maxU, -1),
  };
  const deepest = (skin: number, start: number, end: number): Curve[] =>
    clipGraph(
      upperEnvelope([
        ...deepestPositions(withAllowance(ground, skin, left - 300, right + 300), [...blades, ...holder], left, right),
        ...(fixed.length > 0 ? deepestPositions(fixed, grown, left, right) : []),
      ]),
      start - (fills ? HAIR / 2 : 0),
      end + (fills ? HAIR / 2 : 1e-9),
    ).map((c) => (fills ? translateCurve(c, point(0, HAIR)) : c));
  return {
    view,
    from,
    to: Math.max(from, to),
    floor: deepest(allowance, from, Math.max(from, to)),
    finish: deepest(0, walls.from, walls.to),
    walls,
    top: seen.metal.top(range.minU, range.maxU),
    flat: blade.width - 2 * rho,
    rho,
    width: blade.width,
  };
};

/** The lowest place of a floor, and the stretch over which it is that low. */
export const bottomOf = (floor: readonly Curve[]): { level: number; from: number; to: number } => {
  const level = lowestOf(floor);
  const at = floor.flatMap((c) => [c.from, c.to]).filter((p) => p.y <= level + 1e-4);
  const inside = floor.flatMap((c) => {
    const x = (c.from.x + c.to.x) / 2;
    return !upright(c) && graphHeight(c, x) <= level + 1e-4 ? [x] : [];
  });
  const xs = [...at.map((p) => p.x), ...inside];
  return { level, from: Math.min(...xs), to: Math.max(...xs) };
};

/** A floor as one chain from left to right, its walls joined where they stand upright. */
export const chainOf = (floor: readonly Curve[], from: number, to: number): Curve[] =>
  joinGraph(clipGraph(floor, from, to));

/** Range over which the blade goes below the top of the metal on a floor; null where it does nowhere. */
export const deepRange = (
  room: GrooveRoom,
  floor: readonly Curve[],
  least: number,
): { from: number; to: number } | null => {
  const deep = (u: number): boolean => (heightAt(floor, u) ?? Number.POSITIVE_INFINITY) - room.rho < room.top - least;
  const steps = Math.max(1, Math.ceil((room.to - room.from) / 0.02));
  const at = (i: number): number => room.from + ((room.to - room.from) * i) / steps;
  const all = Array.from({ length: steps + 1 }, (_, i) => i).filter((i) => deep(at(i)));
  if (all.length === 0) return null;
  const edge = (inside: number, outside: number): number => {
    let [a, b] = [inside, outside];
    if (deep(b)) return b;
    for (let k = 0; k < 24; k++) {
      const m = (a + b) / 2;
      if (deep(m)) a = m;
      else b = m;
    }
    return a;
  };
  const [first, last] = [all[0], all[all.length - 1]];
  return {
    from: first === 0 ? at(0) : edge(at(first), at(first - 1)),
    to: last === steps ? at(steps) : edge(at(last), at(last + 1)),
  };
};
