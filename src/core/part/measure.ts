import {
  arcRadius,
  type Curve,
  cross,
  distance,
  distanceToCurve,
  dot,
  type Point,
  parameterOf,
  point,
  pointAt,
  subtract,
  tangentAt,
  turningParameters,
} from '../geometry';
import type { Element } from './contour';

export type SnapKind = 'end' | 'centre' | 'middle' | 'turn' | 'side' | 'axis';

/** A place that a measurement may take hold of. */
export interface Snap {
  readonly kind: SnapKind;
  readonly at: Point;
  readonly element: string | null;
  /** Radius of the arc whose centre or side this is. */
  readonly radius: number | null;
  /** Direction of the side, for angles and parallel distances. */
  readonly direction: Point | null;
}

/** Ends, middles, arc centres and turning points of a contour. */
export const snapsOf = (elements: readonly Element[]): Snap[] =>
  elements.flatMap(({ id, curve: c }): Snap[] => {
    const radius = c.kind === 'arc' ? arcRadius(c) : null;
    const at = (kind: SnapKind, p: Point): Snap => ({
      kind,
      at: p,
      element: id,
      radius: kind === 'centre' ? radius : null,
      direction: null,
    });
    return [
      at('end', c.from),
      at('end', c.to),
      at('middle', pointAt(c, 0.5)),
      ...(c.kind === 'arc'
        ? [
            at('centre', c.centre),
            ...[...turningParameters(c, 'x'), ...turningParameters(c, 'y')].map((t) => at('turn', pointAt(c, t))),
          ]
        : []),
    ];
  });

const RANK: Record<SnapKind, number> = { end: 0, centre: 0.5, turn: 1, middle: 1.5, side: 3, axis: 3.5 };

/** What lies under the pointer: the nearest place within `reach` mm, ends before middles before sides; null for nothing. */
export const snapAt = (elements: readonly Element[], p: Point, reach: number): Snap | null => {
  let best: Snap | null = null;
  let score = Infinity;
  const consider = (s: Snap): void => {
    const d = distance(s.at, p);
    const value = d + RANK[s.kind] * reach * 0.25;
    if (d <= reach && value < score) {
      best = s;
      score = value;
    }
  };
  for (const s of snapsOf(elements)) consider(s);
  for (const { id, curve: c } of elements) {
    if (distanceToCurve(c, p) > reach) continue;
    const t = Math.min(1, Math.max(0, parameterOf(c, p)));
    consider({
      kind: 'side',
      at: pointAt(c, t),
      element: id,
      radius: c.kind === 'arc' ? arcRadius(c) : null,
      direction: c.kind === 'line' ? tangentAt(c, 0.5) : null,
    });
  }
  if (Math.abs(p.y) < reach)
    consider({ kind: 'axis', at: point(p.x, 0), element: null, radius: null, direction: point(1, 0) });
  return best;
};

/** A measured number with its name; lengths in mm, angles in degrees. */
export interface Measured {
  readonly name: string;
  readonly value: number;
  readonly unit: 'mm' | '°';
}

/** What one place says by itself. */
export const measureOne = (s: Pick<Snap, 'at' | 'radius' | 'direction'>, curve: Curve | null): Measured[] => [
  { name: '⌀', value: s.at.y * 2, unit: 'mm' },
  { name: 'Z', value: s.at.x, unit: 'mm' },
  ...(s.radius !== null ? [{ name: 'R', value: s.radius, unit: 'mm' as const }] : []),
  ...(curve
    ? [
        {
          name: 'length',
          value: curve.kind === 'line' ? distance(curve.from, curve.to) : arcRadius(curve) * Math.abs(sweepOf(curve)),
          unit: 'mm' as const,
        },
      ]
    : []),
];

const sweepOf = (c: Extract<Curve, { kind: 'arc' }>): number => {
  const a = Math.atan2(c.from.y - c.centre.y, c.from.x - c.centre.x);
  const b = Math.atan2(c.to.y - c.centre.y, c.to.x - c.centre.x);
  let d = b - a;
  if (c.clockwise && d > 0) d -= 2 * Math.PI;
  if (!c.clockwise && d < 0) d += 2 * Math.PI;
  return d;
};

/** What two places say about each other, in either order; `space` are their places in 3D, when both are known there. */
export const measureTwo = (
  a: Pick<Snap, 'at' | 'direction'>,
  b: Pick<Snap, 'at' | 'direction'>,
  space: readonly [readonly number[], readonly number[]] | null = null,
): Measured[] => {
  const d = subtract(b.at, a.at);
  const result: Measured[] = [
    {
      name: 'distance',
      value: space ? Math.hypot(...space[0].map((v, i) => v - space[1][i])) : Math.hypot(d.x, d.y),
      unit: 'mm',
    },
    { name: 'ΔZ', value: Math.abs(d.x), unit: 'mm' },
    { name: 'ΔX', value: Math.abs(d.y), unit: 'mm' },
    { name: 'Δ⌀', value: Math.abs(d.y) * 2, unit: 'mm' },
  ];
  if (a.direction && b.direction) {
    const angle = Math.abs(
      (Math.atan2(cross(a.direction, b.direction), dot(a.direction, b.direction)) * 180) / Math.PI,
    );
    const acute = Math.min(angle, 180 - angle);
    result.push({ name: 'angle', value: acute, unit: '°' });
    if (acute < 1e-6) result.push({ name: 'apart', value: Math.abs(cross(a.direction, d)), unit: 'mm' });
  }
  return result;
};
