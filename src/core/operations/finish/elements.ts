import { feedForRoughness } from '../../cutting';
import { arcRadius, type Curve, distanceToCurve, type Point, pointAt } from '../../geometry';
import type { Element } from '../../part';
import { curveInto } from '../frame';
import type { View } from '../turning';
import type { Cutting, Seen } from '../types';

/** What one element is cut with, where that is another feed or speed than the operation's. */
export interface OwnCutting {
  readonly feed: number | null;
  readonly speed: number | null;
}

export type OwnCuttings = Readonly<Record<string, OwnCutting>>;

export type AlongPath = (pieces: readonly Curve[]) => readonly number[];

/** Elements of all spans that an operation works on. */
export const elementsOf = (seen: Seen): readonly Element[] => [
  ...(seen.contour.span ?? []),
  ...seen.contour.alike.flat(),
];

/** A number for each piece of a path of nose centres, by the element beside it; a roll round a corner goes with what follows it. */
const byElement = (seen: Seen, view: View, valueOn: (e: Element) => number, usual: number): AlongPath => {
  const elements = elementsOf(seen).map((e) => ({ curve: curveInto(view.frame, e.curve), value: valueOn(e) }));
  const near = (p: Point): number => {
    let [best, found] = [Number.POSITIVE_INFINITY, usual];
    for (const e of elements) {
      const d = distanceToCurve(e.curve, p);
      if (d < best - 1e-9) [best, found] = [d, e.value];
    }
    return found;
  };
  return (pieces) => {
    const values: number[] = [];
    for (let i = pieces.length - 1; i >= 0; i--) {
      const c = pieces[i];
      const roll = c.kind === 'arc' && Math.abs(arcRadius(c) - view.noseRadius) < 1e-6 && i < pieces.length - 1;
      values[i] = roll ? values[i + 1] : near(pointAt(c, 0.5));
    }
    return values;
  };
};

/**
 * Feeds along a path: the element's own; else, by roughness, the one at which the nose leaves what is asked for, at most the
 * operation's. Null where it is one feed all along.
 */
export const feedsAlong = (
  cutting: Cutting,
  seen: Seen,
  view: View,
  own: OwnCuttings,
  byRoughness: boolean,
): AlongPath | null => {
  const { feed } = cutting;
  if (!byRoughness && !elementsOf(seen).some((e) => own[e.id]?.feed)) return null;
  const nose = view.noseRadius;
  return byElement(
    seen,
    view,
    (e) => {
      const typed = own[e.id]?.feed;
      if (typed) return typed;
      const ra = byRoughness ? seen.asked[e.id] : undefined;
      const most = ra === undefined || nose <= 0 ? feed : Math.min(feed, feedForRoughness(ra, nose));
      return Math.max(0.01, Math.floor(most * 1000) / 1000);
    },
    feed,
  );
};

/** Speeds along a path, in the operation's own mode; null where it is one speed all along. */
export const speedsAlong = (cutting: Cutting, seen: Seen, view: View, own: OwnCuttings): AlongPath | null => {
  const usual = cutting.speed.value;
  if (!elementsOf(seen).some((e) => own[e.id]?.speed)) return null;
  return byElement(seen, view, (e) => own[e.id]?.speed ?? usual, usual);
};
