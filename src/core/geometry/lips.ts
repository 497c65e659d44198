import type { Stretch } from './outline';
import { topSides, upperLine, VOID } from './polyline';
import type { Region } from './region';
import { Surface } from './surface';

/** The lowest top: below everything that hangs over something else. */
const lowestOf = (region: Region): Surface => {
  const under = upperLine(topSides(region).map((s) => ({ x0: s.x0, y0: -s.y0, x1: s.x1, y1: -s.y1 })));
  return new Surface(
    under.xs,
    under.ys.map((y) => (y <= VOID ? VOID : -y)),
  );
};

/** Where metal hangs over lower metal on a stretch narrower than `lip`. */
const lipRanges = (top: Surface, lowest: Surface, lip: number): Stretch[] => {
  const stops = [...new Set([...top.corners.x, ...lowest.corners.x])].sort((a, b) => a - b);
  const lips: { from: number; to: number }[] = [];
  for (let i = 1; i < stops.length; i++) {
    const x = (stops[i - 1] + stops[i]) / 2;
    if (stops[i] - stops[i - 1] < 1e-9 || top.heightAt(x) - lowest.heightAt(x) < 1e-4) continue;
    const last = lips[lips.length - 1];
    if (last && stops[i - 1] - last.to < 1e-9) last.to = stops[i];
    else lips.push({ from: stops[i - 1], to: stops[i] });
  }
  // beside a lip the metal ends, or lies as low as under it: else it is a wall with air on its other side
  const opens = (x: number, out: 1 | -1): boolean => {
    const [over, under] = [top, lowest].map((s) => s.heightAt(x, out === 1 ? -1 : 1));
    return top.heightAt(x, out) <= (over + under) / 2;
  };
  return lips.filter((l) => l.to - l.from < lip && (opens(l.from, -1) || opens(l.to, 1)));
};

/**
 * The top of a region as it is without lips that hang over a cut and are narrower than `lip` mm, and the own top of those
 * lips with nothing beside them: a leaning edge leaves such lips, and they are no metal that stands in the way of a cut.
 */
export const throughLips = (region: Region, lip: number): { readonly top: Surface; readonly lips: Surface } => {
  const top = Surface.of(region);
  const lowest = lowestOf(region);
  const ranges = lipRanges(top, lowest, lip);
  const xs: number[] = [];
  const ys: number[] = [];
  for (const { from, to } of ranges) {
    const own = top.from(from).upTo(to).corners;
    xs.push(from, ...own.x, to);
    ys.push(VOID, ...own.y, VOID);
  }
  return {
    top: ranges.reduce((s, l) => s.replaced(lowest, l.from, l.to), top),
    lips: new Surface(xs, ys),
  };
};
