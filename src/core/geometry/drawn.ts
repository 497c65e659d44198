import { arcRadius, arcSweep, type Curve } from './curve';
import type { Point } from './point';
import type { Region } from './region';

/** How coordinates become the text of an SVG path. */
export interface DrawnAs {
  /** Decimals that are kept. */
  readonly digits: number;
  /** True where y runs down the picture: heights change their sign, and arcs their sense. */
  readonly down?: boolean;
}

const SCREEN: DrawnAs = { digits: 4 };

const numberOf = ({ digits }: DrawnAs): ((v: number) => string) => {
  const grid = 10 ** digits;
  return (v) => String(Math.round(v * grid) / grid + 0);
};

/** SVG path of a region; fill-rule nonzero. */
export const pathOfRegion = (region: Region, as: DrawnAs = SCREEN): string => {
  const n = numberOf(as);
  const sign = as.down ? -1 : 1;
  return region
    .map((ring) => (ring.length > 0 ? `M${ring.map((p) => `${n(p.x)} ${n(sign * p.y)}`).join('L')}Z` : ''))
    .join('');
};

/** SVG path of curves; those that follow on one another are one stroke, arcs stay arcs. */
export const pathOfCurves = (curves: readonly Curve[], as: DrawnAs = SCREEN): string => {
  const n = numberOf(as);
  const sign = as.down ? -1 : 1;
  const at = (p: Point): string => `${n(p.x)} ${n(sign * p.y)}`;
  let d = '';
  let last: Point | null = null;
  for (const c of curves) {
    if (!last || Math.abs(last.x - c.from.x) > 1e-6 || Math.abs(last.y - c.from.y) > 1e-6) d += `M${at(c.from)}`;
    if (c.kind === 'line') d += `L${at(c.to)}`;
    else {
      const r = n(arcRadius(c));
      const sweep = c.clockwise === (as.down ?? false) ? 1 : 0;
      d += `A${r} ${r} 0 ${Math.abs(arcSweep(c)) > Math.PI ? 1 : 0} ${sweep} ${at(c.to)}`;
    }
    last = c.to;
  }
  return d;
};
