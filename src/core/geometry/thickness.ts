import type { Point } from './point';
import {
  containsPoint,
  inflateRegion,
  type Region,
  regionArea,
  regionBounds,
  ringArea,
  simplifyRegion,
} from './region';

/** Index of the outer ring in which a hole lies: outlines may touch, so the one that has most of its corners. */
const holder = (hole: readonly Point[], outers: Region): number => {
  const b = regionBounds([hole]);
  let best = -1;
  let most = -1;
  outers.forEach((r, i) => {
    const o = regionBounds([r]);
    if (b.minX < o.minX - 1e-6 || b.maxX > o.maxX + 1e-6 || b.minY < o.minY - 1e-6 || b.maxY > o.maxY + 1e-6) return;
    const inside = hole.reduce((n, p) => n + (containsPoint([r], p) ? 1 : 0), 0);
    if (inside > most) {
      most = inside;
      best = i;
    }
  });
  return best;
};

/** Outer rings, each with the holes in it, and what no circle within them can be wider than (half, mm). */
const pieces = (region: Region): { readonly piece: Region; readonly most: number }[] => {
  const outers = region.filter((r) => ringArea(r) > 0);
  const holes = outers.map((): (readonly Point[])[] => []);
  for (const h of region) if (ringArea(h) < 0) holes[holder(h, outers)]?.push(h);
  return outers.map((r, i) => {
    const piece = [r, ...holes[i]];
    const b = regionBounds([r]);
    // a circle that fits has no more area than the piece
    const round = Math.sqrt(Math.max(0, regionArea(piece)) / Math.PI);
    return { piece, most: Math.min((b.maxX - b.minX) / 2, (b.maxY - b.minY) / 2, round) };
  });
};

/** Whether anything is left of a region that is shrunk; far shrinking needs fewer points. */
const survives = (region: Region, by: number): boolean =>
  inflateRegion(by > 0.02 ? simplifyRegion(region, by / 100) : region, -by).length > 0;

/**
 * Half-thickness (mm) of the thickest place of a region, by doubling and bisection on shrinking; 0 for an empty one. Good to
 * `resolution`, or to 1 % where the region is thick. A region that is nowhere thicker than 2 × `least` gives 0.
 */
export const greatestHalfThickness = (region: Region, resolution = 1e-4, least = 0): number => {
  const fine = (at: number): number => Math.max(resolution, at * 0.01);
  let best = 0;
  for (const { piece, most } of pieces(region).sort((a, b) => b.most - a.most)) {
    let low = best > 0 ? best + fine(best) : least;
    if (most <= low) break;
    if (low > 0 && !survives(piece, low)) continue;
    let high = Math.min(most + resolution, Math.max(low * 2, resolution * 8));
    while (high < most && survives(piece, high)) {
      low = high;
      high = Math.min(most + resolution, high * 3);
    }
    while (high - low > fine(low)) {
      const middle = (low + high) / 2;
      if (survives(piece, middle)) low = middle;
      else high = middle;
    }
    best = low;
  }
  return best;
};
