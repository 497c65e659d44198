import { type Point, point } from '../geometry';
import type { Carrier, Machine } from '../machine';

/** Seconds for a straight run of `size` with speed limit v, ends v0 and v1, acceleration a (one unit of length throughout). */
export const trapezoidTime = (size: number, v: number, v0: number, v1: number, a: number): number => {
  if (size <= 0) return 0;
  const top = Math.min(v, Math.sqrt(a * size + (v0 * v0 + v1 * v1) / 2));
  const start = Math.min(v0, top);
  const end = Math.min(v1, top);
  const ramps = (top * top - start * start) / (2 * a) + (top * top - end * end) / (2 * a);
  return (top - start) / a + (top - end) / a + Math.max(0, size - ramps) / top;
};

/** Place of a rapid that runs each axis at its own speed: the bend and the end, without the start. */
export const rapidPath = (from: Point, to: Point, carrier: Carrier, style: Machine['rapidPath']): Point[] => {
  const dx = to.x - from.x;
  const dy = to.y - from.y;
  const vz = carrier.axes.Z?.rapid ?? 1;
  const vx = carrier.axes.X?.rapid ?? 1;
  if (style === 'straight' || Math.abs(dx) < 1e-9 || Math.abs(dy) < 1e-9) return [to];
  const tz = Math.abs(dx) / vz;
  const tx = Math.abs(dy) / vx;
  if (Math.abs(tz - tx) < 1e-9) return [to];
  return tz < tx ? [point(to.x, from.y + (dy * tz) / tx), to] : [point(from.x + (dx * tx) / tz, to.y), to];
};
