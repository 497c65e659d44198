import { curveLength, leftNormalAt, onceFor, type Point, pointAt, type Region, RegionIndex } from '../geometry';
import { MOST_EDGE } from '../operations';
import { allElements, type Element, type Part, type Side } from '../part';

export type CoverState = 'raw' | 'roughed' | 'finished' | 'leftover';

export interface ElementCover {
  readonly element: string;
  readonly side: Side;
  readonly state: CoverState;
  /** Greatest metal left over the element, mm along its normal. */
  readonly left: number;
  readonly length: number;
}

export type Coverage = readonly ElementCover[];

/** Thinner than this is no metal over a surface, mm. */
const SKIN = 0.002;

/** Further than this nobody looks, mm. */
const FAR = 64;

const indexOf = onceFor((region: Region) => new RegionIndex(region));

/** Metal above a surface point of a part along its outward normal, as far as air, or as the part itself further on. */
const metalAbove = (stock: RegionIndex, part: RegionIndex, p: Point, normal: Point): number =>
  stock.contains({ x: p.x + normal.x * SKIN, y: p.y + normal.y * SKIN })
    ? stock.firstSide(p, normal, SKIN, part.firstSide(p, normal, SKIN, FAR))
    : 0;

/** Places at which an element is looked at: so far apart, mm, but so many at the least and at the most; none where it meets its neighbours, as a share. */
const APART = 0.4;
const LEAST = 5;
const MOST = 60;
const ENDS = 0.08;

/** Leftover along the normal at places all along an element. */
const leftOver = (e: Element, stock: RegionIndex, part: RegionIndex): number => {
  // air lies on the right of travel outside and in a bore from the back, on the left in a bore from the front
  const side = e.side === 'inner' ? 1 : -1;
  const last = Math.max(LEAST, Math.min(MOST, Math.ceil(curveLength(e.curve) / APART))) - 1;
  let most = 0;
  for (let k = 0; k <= last; k++) {
    const t = ENDS + (1 - 2 * ENDS) * (k / last);
    const n = leftNormalAt(e.curve, t);
    most = Math.max(most, metalAbove(stock, part, pointAt(e.curve, t), { x: n.x * side, y: n.y * side }));
  }
  return most;
};

/** For each element of the contour, what has been done to it and what is still on it. `finished` names the sides that were finished. */
export const coverageOf = (part: Part, stock: Region, raw: Region, finished: readonly string[]): Coverage => {
  if (part.region.length === 0) return [];
  const own = indexOf(part.region);
  const now = new RegionIndex(stock);
  const first = new RegionIndex(raw);
  return allElements(part).map((e) => {
    const left = leftOver(e, now, own);
    const length = curveLength(e.curve);
    if (left <= 0.005) return { element: e.id, side: e.side, state: 'finished', left, length };
    const before = leftOver(e, first, own);
    const worked = left < Math.max(1.2, before * 0.25) && left < before - 0.01;
    const state = !worked ? 'raw' : finished.includes(e.side) ? 'leftover' : 'roughed';
    return { element: e.id, side: e.side, state, left, length };
  });
};

/** What a part's cutoff makes, before that is there: its back face, and the short edge that falls to it. */
export const madeByCutoff = (part: Part): ReadonlySet<string> => {
  const found = new Set<string>();
  const back = Math.min(...part.outer.map((e) => e.curve.to.x));
  for (const { id, curve } of [...part.outer].reverse()) {
    const { from, to } = curve;
    const face = from.x < back + SKIN && to.x < back + SKIN;
    const edge = to.x < back + SKIN && from.x - to.x <= MOST_EDGE && from.y - to.y > SKIN;
    if (!face && !edge) break;
    found.add(id);
    if (edge && !face) break;
  }
  return found;
};
