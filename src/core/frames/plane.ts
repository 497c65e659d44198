import { add3, cross3, length3, scale3, subtract3, unit3, type Vec3 } from '../geometry';
import { composed, frameAlong, type Rigid, rotationAbout, turnDirection } from './rigid';

/**
 * Work planes in a holding's frame: X runs away from the axis at angle 0, Z along the axis toward the front. A plane is the
 * motion from its own coordinates to the holding's: its Z points out of the metal toward the tool.
 */
export type Plane = Rigid;

const RADIANS = Math.PI / 180;
const AXIS: Vec3 = [0, 0, 1];

/** Away from the axis at an angle about it, degrees. */
export const radialDirection = (angle: number): Vec3 => [Math.cos(angle * RADIANS), Math.sin(angle * RADIANS), 0];

/** A face square to the axis at Z, seen from the front or from the back; its X points to an angle about the axis. */
export const facePlane = (z: number, side: 'front' | 'back' = 'front', angle = 0): Plane =>
  frameAlong([0, 0, z], side === 'front' ? AXIS : [0, 0, -1], radialDirection(angle));

/** Square to a radius at an angle: origin so far from the axis at Z; its X runs along the axis toward the front. */
export const radialPlane = (angle: number, radius: number, z: number): Plane => {
  const out = radialDirection(angle);
  return frameAlong(add3(scale3(out, radius), [0, 0, z]), out, AXIS);
};

/**
 * As a radial plane, tilted about its own Y: by 90° it looks along the axis toward the front, by −90° toward the back;
 * degrees.
 */
export const tiltedPlane = (angle: number, radius: number, z: number, tilt: number): Plane => {
  const upright = radialPlane(angle, radius, z);
  return composed(rotationAbout(upright.move, turnDirection(upright, [0, 1, 0]), tilt), upright);
};

/** Through three points: origin in the first, X toward the second, the third on the side of Y; null where they lie on one line. */
export const planeThrough = (a: Vec3, b: Vec3, c: Vec3): Plane | null => {
  const [x, toward] = [subtract3(b, a), subtract3(c, a)];
  const normal = cross3(x, toward);
  if (length3(normal) < 1e-9 * Math.max(1, length3(x) * length3(toward))) return null;
  return frameAlong(a, unit3(normal), x);
};

/** A plane turned in itself, degrees about its own Z. */
export const turnedInItself = (plane: Plane, degrees: number): Plane =>
  composed(plane, rotationAbout([0, 0, 0], AXIS, degrees));

/** A plane moved in its own directions. */
export const movedInItself = (plane: Plane, by: Vec3): Plane => ({
  ...plane,
  move: add3(plane.move, turnDirection(plane, by)),
});
