import { curveLength, leftNormalAt, type Point, pointAt, type Region, RegionIndex } from '../geometry';
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

/** Metal above a surface point along its outward normal, up to `most` mm; bisected to 1 µm. */
const metalAbove = (stock: RegionIndex, p: Point, normal: Point, most: number): number => {
  const at = (d: number): boolean => stock.contains({ x: p.x + normal.x * d, y: p.y + normal.y * d });
  if (!at(0.002)) return 0;
  let low = 0.002;
  let high = 0.004;
  while (high < most && at(high)) {
    low = high;
    high *= 2;
  }
  high = Math.min(high, most);
  while (high - low > 1e-3) {
    const m = (low + high) / 2;
    if (at(m)) low = m;
    else high = m;
  }
  return high;
};

const SAMPLES = [0.08, 0.3, 0.5, 0.7, 0.92];

/** Leftover along the normal at sample points of an element. */
const leftOver = (e: Element, stock: RegionIndex): number => {
  // air lies on the right of travel outside and in a bore from the back, on the left in a bore from the front
  const side = e.side === 'inner' ? 1 : -1;
  return Math.max(
    ...SAMPLES.map((t) => {
      const n = leftNormalAt(e.curve, t);
      return metalAbove(stock, pointAt(e.curve, t), { x: n.x * side, y: n.y * side }, 64);
    }),
  );
};

/** For each element of the contour, what has been done to it and what is still on it. `finished` names the sides that were finished. */
export const coverageOf = (part: Part, stock: Region, raw: Region, finished: readonly string[]): Coverage => {
  if (part.region.length === 0) return [];
  const now = new RegionIndex(stock);
  const first = new RegionIndex(raw);
  return allElements(part).map((e) => {
    const left = leftOver(e, now);
    const before = leftOver(e, first);
    let state: CoverState;
    if (left <= 0.005) state = 'finished';
    else if (left < Math.max(1.2, before * 0.25) && left < before - 0.01)
      state = finished.includes(e.side) ? 'leftover' : 'roughed';
    else state = 'raw';
    return { element: e.id, side: e.side, state, left, length: curveLength(e.curve) };
  });
};
