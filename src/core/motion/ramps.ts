import { type Point, point } from '../geometry';
import type { Machine, Reach } from '../machine';

/** Place of a rapid that runs each axis at its own speed: the bend and the end, without the start. */
export const rapidPath = (from: Point, to: Point, axes: Reach['axes'], style: Machine['rapidPath']): Point[] => {
  const dx = to.x - from.x;
  const dy = to.y - from.y;
  const vz = axes.Z?.rapid ?? 1;
  const vx = axes.X?.rapid ?? 1;
  if (style === 'straight' || Math.abs(dx) < 1e-9 || Math.abs(dy) < 1e-9) return [to];
  const tz = Math.abs(dx) / vz;
  const tx = Math.abs(dy) / vx;
  if (Math.abs(tz - tx) < 1e-9) return [to];
  return tz < tx ? [point(to.x, from.y + (dy * tz) / tx), to] : [point(from.x + (dx * tx) / tz, to.y), to];
};
