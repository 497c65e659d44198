import {
  type Curve,
  flattenChain,
  insetShape,
  intersectCurves,
  line,
  notAbove,
  parameterOf,
  point,
  type RoundedPolygon,
  reverseChain,
  TOLERANCE,
  trimCurve,
} from '../geometry';
import { type Contact, firstInMetal, stretchesInMetal } from './engagement';
import { cutsWith, type Metal } from './metal';
import { Track } from './track';

/** The first part of the chain that lies below a height. */
export const below = (chain: readonly Curve[], ceiling: number): readonly Curve[] => {
  if (!Number.isFinite(ceiling) || chain.every((c) => notAbove(c) < ceiling - 1e-6)) return chain;
  const result: Curve[] = [];
  for (const c of chain) {
    if (notAbove(c) < ceiling - 1e-6) {
      result.push(c);
      continue;
    }
    const hits = intersectCurves(c, line(point(-1e5, ceiling), point(1e5, ceiling))).map((p) => parameterOf(c, p));
    const [t, next] = hits.filter((k) => k > 1e-9 && k < 1 - 1e-9).sort((a, b) => a - b);
    if (c.from.y > ceiling + 1e-9) {
      if (result.length > 0) return result;
      if (t === undefined) continue;
      result.push(trimCurve(c, t, next ?? 1));
      if (next !== undefined) return result;
    } else if (t !== undefined) {
      result.push(trimCurve(c, 0, t));
      return result;
    } else result.push(c);
  }
  return result;
};

/** What shapes meet of a metal. */
export const contactOf = (shapes: readonly RoundedPolygon[], metal: Metal): Contact => ({
  bite: (p) => metal.bite(shapes, p),
  clear: (path) => metal.clearsAlong(shapes, path, false),
  meets: (from, to) => metal.meetsFor(shapes, from, to),
});

/** The way of a tool that follows the floor, and what it meets there. */
const following = (
  floor: readonly Curve[],
  metal: Metal,
  cutting: readonly RoundedPolygon[],
  ceiling: number,
): [Track, Contact, number] => {
  const core = cutsWith(
    metal.frame,
    cutting.flatMap((s) => insetShape(s, TOLERANCE.touch) ?? []),
  );
  return [new Track(below(reverseChain(floor), ceiling)), contactOf(core, metal), 0];
};

/** Whether following the floor still meets metal. */
export const meetsMetal = (...way: Parameters<typeof following>): boolean =>
  firstInMetal(...following(...way)) !== null;

/** Lowest reference height at which following the floor still meets metal, or null when nothing is left. */
export const lowestContact = (...way: Parameters<typeof following>): number | null => {
  const points = [...stretchesInMetal(...following(...way))].flatMap((s) => flattenChain(s.pieces, 0.01));
  return points.length === 0 ? null : Math.min(...points.map((p) => p.y));
};
