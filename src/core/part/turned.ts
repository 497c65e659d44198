import { type Curve, mapCurve, mapRegion, onceFor, type Point, point, type Region, reverseCurve } from '../geometry';
import type { Element, Part, Side } from './contour';

/**
 * The way between a part as it is drawn and the same part turned round, its back face at the zero: its own inverse. Metal
 * that lies x behind the drawn back face stands x in front of the zero.
 */
export const turnAbout = (part: Part): ((p: Point) => Point) => {
  const back = backOf(part);
  return (p) => point(back - p.x, p.y);
};

/** Z of the part's foremost back, 0 for no part. */
const backOf = (part: Part): number =>
  part.boundary.reduce((least, c) => Math.min(least, c.from.x, c.to.x), part.boundary.length > 0 ? Infinity : 0);

export const turnRegion = (part: Part, region: Region): Region => mapRegion(region, turnAbout(part), true);

/** Curves of a part turned round with it, each with the metal on the same hand. */
export const turnCurves = (part: Part, curves: readonly Curve[]): Curve[] => {
  const about = turnAbout(part);
  return curves.map((c) => reverseCurve(mapCurve(c, about, true)));
};

/** Whether the bore goes through: only then it is the same bore from both sides. */
const goesThrough = (part: Part): boolean => {
  const end = part.inner.at(-1)?.curve.to;
  return end !== undefined && end.y > 1e-6 && part.back.length === 0;
};

/** What a side of the drawn part is called when the part is turned round, and the other way. */
export const turnedSide = (part: Part, side: Side): Side =>
  side === 'outer' || goesThrough(part) ? side : side === 'inner' ? 'back' : 'inner';

/** The part turned round: the same elements by the same names, in the order in which they are met from the new front. */
export const turnedRound = onceFor((part: Part): Part => {
  const map = turnAbout(part);
  const turn = (c: Curve): Curve => mapCurve(c, map, true);
  const through = goesThrough(part);
  const as = (side: Side, elements: readonly Element[]): Element[] =>
    elements.map((e) => ({ ...e, side, curve: turn(e.curve) }));
  const backward = (side: Side, elements: readonly Element[]): Element[] =>
    elements.map((e) => ({ ...e, side, curve: reverseCurve(turn(e.curve)) })).reverse();
  return {
    outer: backward('outer', part.outer),
    inner: through ? backward('inner', part.inner) : as('inner', part.back),
    back: through ? [] : as('back', part.inner),
    boundary: turnCurves(part, part.boundary).reverse(),
    region: turnRegion(part, part.region),
    volume: part.volume,
    problems: part.problems,
  };
});
