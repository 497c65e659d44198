import { type Axis, dot3, sameAxis, scale3, subtract3, type Vec3 } from '../core/geometry';
import type { SolidModel } from './model';

/** The direction turned so that its greatest component is positive: the file's own +X, +Y or +Z is the front. */
const forward = (d: Vec3): Vec3 => {
  const main = d.reduce((best, c, i) => (Math.abs(c) > Math.abs(d[best]) + 1e-9 ? i : best), 0);
  const clean = d.map((c) => (Math.abs(c) < 1e-12 ? 0 : c)) as unknown as Vec3;
  return clean[main] < 0 ? (clean.map((c) => (c === 0 ? 0 : -c)) as unknown as Vec3) : clean;
};

export interface AxisChoice {
  readonly axis: Axis;
  /** mm² of turned faces about it, rough. */
  readonly area: number;
  readonly faces: readonly number[];
}

/** All axes that faces turn about, the one with most turned area first. Empty for a solid without round faces. */
export const findAxes = (model: SolidModel): AxisChoice[] => {
  const groups: { axis: Axis; area: number; faces: number[] }[] = [];
  for (const f of model.faces) {
    if (!f.axis || f.kind === 'plane' || f.kind === 'sphere') continue;
    const found = groups.find((g) => sameAxis(g.axis, f.axis as Axis));
    // a small part of a turn (a fillet, a rounded pocket) says little about the turning axis
    const weight = f.area * (f.full ? 1 : Math.min(1, (f.u[1] - f.u[0]) / (2 * Math.PI)) ** 2);
    if (found) {
      found.area += weight;
      found.faces.push(f.index);
    } else groups.push({ axis: f.axis, area: weight, faces: [f.index] });
  }
  return groups
    .sort((a, b) => b.area - a.area)
    .map((g) => {
      const direction = forward(g.axis.direction);
      // the foot of the file's origin, so that the same part in the same place gives the same numbers
      const point = subtract3(g.axis.point, scale3(direction, dot3(g.axis.point, direction)));
      return {
        axis: { point: point.map((c) => (Math.abs(c) < 1e-9 ? 0 : c)) as unknown as Vec3, direction },
        area: g.area,
        faces: g.faces,
      };
    });
};
