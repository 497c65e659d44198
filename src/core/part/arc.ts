import {
  add,
  arc,
  type Curve,
  distance,
  lerp,
  type Point,
  perpendicular,
  scale,
  subtract,
  TOLERANCE,
  unit,
} from '../geometry';

/** Arc through two ends with a radius: null when the ends are further apart than the diameter. */
export const arcByRadius = (
  from: Point,
  to: Point,
  radius: number,
  clockwise: boolean,
  long: boolean,
): Curve | null => {
  const chord = distance(from, to);
  if (chord < TOLERANCE.samePoint || radius < chord / 2 - 1e-6) return null;
  const h = Math.sqrt(Math.max(0, radius * radius - (chord * chord) / 4));
  const left = perpendicular(unit(subtract(to, from)));
  const side = clockwise === long ? 1 : -1;
  return arc(from, to, add(lerp(from, to, 0.5), scale(left, h * side)), clockwise);
};
