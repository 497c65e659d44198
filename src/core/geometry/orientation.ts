import { orient2d } from 'robust-predicates';
import type { Point } from './point';

/**
 * Turn of a → b → c, decided exactly: 1 counter-clockwise, −1 clockwise, 0 in line (y up).
 * The library assumes y down, so its sign is turned here and nowhere else.
 */
export const orientation = (a: Point, b: Point, c: Point): 1 | 0 | -1 => {
  const d = -orient2d(a.x, a.y, b.x, b.y, c.x, c.y);
  return d > 0 ? 1 : d < 0 ? -1 : 0;
};

/** True when the open segments ab and cd cross in one inner point. */
export const segmentsCross = (a: Point, b: Point, c: Point, d: Point): boolean =>
  orientation(a, b, c) * orientation(a, b, d) < 0 && orientation(c, d, a) * orientation(c, d, b) < 0;
