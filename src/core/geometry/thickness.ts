import {
  containsPoint,
  inflateRegion,
  type Region,
  regionArea,
  regionBounds,
  ringArea,
  simplifyRegion,
} from './region';

/** Outer rings, each with the holes in it, and what no circle within them can be wider than (half, mm). */
const pieces = (region: Region): { readonly piece: Region; readonly most: number }[] => {
  const holes = region.filter((r) => ringArea(r) < 0);
  return region
    .filter((r) => ringArea(r) > 0)
    .map((r) => {
      const piece = [r, ...holes.filter((h) => containsPoint([r], h[0]))];
      const b = regionBounds(piece);
      // a circle that fits has no more area than the piece
      const round = Math.sqrt(Math.max(0, regionArea([r])) / Math.PI);
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
