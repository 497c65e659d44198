import {
  arcRadius,
  type Curve,
  flattenChain,
  insetShape,
  intersectCurves,
  line,
  parameterOf,
  point,
  type RoundedPolygon,
  reverseChain,
  TOLERANCE,
  trimCurve,
} from '../geometry';
import { type Contact, type Stretch, stretchesInMetal } from './engagement';
import { cutsWith, type Metal } from './metal';
import { Track } from './track';

/** Whether a piece lies under a height all along. */
const liesBelow = (c: Curve, ceiling: number): boolean =>
  Math.max(c.from.y, c.to.y) < ceiling - 1e-6 && (c.kind === 'line' || c.centre.y + arcRadius(c) < ceiling - 1e-6);

/** The first part of the chain that lies below a height. */
export const below = (chain: readonly Curve[], ceiling: number): readonly Curve[] => {
  if (!Number.isFinite(ceiling) || chain.every((c) => liesBelow(c, ceiling))) return chain;
  const result: Curve[] = [];
  for (const c of chain) {
    if (liesBelow(c, ceiling)) {
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

/** The stretches in metal of a tool that follows the floor. */
const followedInMetal = (
  floor: readonly Curve[],
  metal: Metal,
  cutting: readonly RoundedPolygon[],
  ceiling: number,
): Iterable<Stretch> => {
  const core = cutsWith(
    metal.frame,
    cutting.flatMap((s) => insetShape(s, TOLERANCE.touch) ?? []),
  );
  const contact: Contact = {
    bite: (p) => metal.bite(core, p),
    clear: (path) => metal.clearsAlong(core, path, false),
    meets: (from, to) => metal.meetsFor(core, from, to),
  };
  return stretchesInMetal(new Track(below(reverseChain(floor), ceiling)), contact, 0);
};

/** Whether following the floor still meets metal. */
export const meetsMetal = (...following: Parameters<typeof followedInMetal>): boolean => {
  for (const _ of followedInMetal(...following)) return true;
  return false;
};

/** Lowest reference height at which following the floor still meets metal, or null when nothing is left. */
export const lowestContact = (...following: Parameters<typeof followedInMetal>): number | null => {
  const points = [...followedInMetal(...following)].flatMap((s) => flattenChain(s.pieces, 0.01));
  return points.length === 0 ? null : Math.min(...points.map((p) => p.y));
};
