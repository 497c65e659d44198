import {
  type Bounds,
  boundsOfPoints,
  type Curve,
  containsPoint,
  curveLength,
  flattenCurve,
  intersectCurves,
  line,
  parameterOf,
  pointAt,
  type Region,
  regionBounds,
  trimCurve,
} from '../geometry';

const apart = (a: Bounds, b: Bounds): boolean =>
  a.minX > b.maxX || b.minX > a.maxX || a.minY > b.maxY || b.minY > a.maxY;

/** Shortest contact along a path that counts as a cut, mm. */
const GRAZE = 0.03;

/** One stretch of a chain: pieces in order of travel. */
export interface Stretch {
  readonly pieces: readonly Curve[];
  /** Length along the chain where it begins and ends, mm. */
  readonly from: number;
  readonly to: number;
}

/**
 * The stretches of a chain that run inside a region, found by crossing every piece with every boundary side and asking
 * for the middle between crossings. Stretches closer together than `bridge` mm become one (the gap is fed through).
 */
export const stretchesInside = (chain: readonly Curve[], region: Region, bridge: number): Stretch[] => {
  if (region.length === 0 || chain.length === 0) return [];
  const bounds = regionBounds(region);
  const sides: { side: Curve; box: Bounds }[] = [];
  for (const ring of region)
    for (let i = 0, j = ring.length - 1; i < ring.length; j = i++) {
      const side = line(ring[j], ring[i]);
      sides.push({ side, box: boundsOfPoints([ring[j], ring[i]]) });
    }
  const found: { from: number; to: number }[] = [];
  let travelled = 0;
  for (const piece of chain) {
    const size = curveLength(piece);
    const box = boundsOfPoints([piece.from, ...flattenCurve(piece, 0.01)]);
    const grown = { minX: box.minX - 0.02, maxX: box.maxX + 0.02, minY: box.minY - 0.02, maxY: box.maxY + 0.02 };
    if (!apart(grown, bounds) && size > 1e-9) {
      const cuts = [0, 1];
      for (const { side, box: sideBox } of sides) {
        if (apart(grown, sideBox)) continue;
        for (const p of intersectCurves(piece, side, 1e-7)) cuts.push(Math.min(1, Math.max(0, parameterOf(piece, p))));
      }
      cuts.sort((a, b) => a - b);
      for (let i = 1; i < cuts.length; i++) {
        if ((cuts[i] - cuts[i - 1]) * size < 1e-7) continue;
        if (!containsPoint(region, pointAt(piece, (cuts[i] + cuts[i - 1]) / 2))) continue;
        const from = travelled + cuts[i - 1] * size;
        const to = travelled + cuts[i] * size;
        const last = found.at(-1);
        if (last && from - last.to <= 1e-6) last.to = to;
        else found.push({ from, to });
      }
    }
    travelled += size;
  }
  // a graze of a few hundredths is a crest far below a micrometre: leads must not be spent on it
  const merged: { from: number; to: number }[] = [];
  for (const f of found.filter((k) => k.to - k.from > GRAZE)) {
    const last = merged.at(-1);
    if (last && f.from - last.to <= bridge) last.to = f.to;
    else merged.push({ ...f });
  }
  return merged.map((f) => ({ ...f, pieces: sliceChain(chain, f.from, f.to) }));
};

/** The part of a chain between two lengths along it. */
export const sliceChain = (chain: readonly Curve[], from: number, to: number): Curve[] => {
  const result: Curve[] = [];
  let travelled = 0;
  for (const piece of chain) {
    const size = curveLength(piece);
    const a = Math.max(from, travelled);
    const b = Math.min(to, travelled + size);
    if (b - a > 1e-9 && size > 0)
      result.push(
        a === travelled && b === travelled + size
          ? piece
          : trimCurve(piece, (a - travelled) / size, (b - travelled) / size),
      );
    travelled += size;
  }
  return result;
};
