/** A point or vector in space, mm. */
export type Vec3 = readonly [number, number, number];

export const add3 = (a: Vec3, b: Vec3): Vec3 => [a[0] + b[0], a[1] + b[1], a[2] + b[2]];
export const subtract3 = (a: Vec3, b: Vec3): Vec3 => [a[0] - b[0], a[1] - b[1], a[2] - b[2]];
export const scale3 = (a: Vec3, f: number): Vec3 => [a[0] * f, a[1] * f, a[2] * f];
export const dot3 = (a: Vec3, b: Vec3): number => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
export const cross3 = (a: Vec3, b: Vec3): Vec3 => [
  a[1] * b[2] - a[2] * b[1],
  a[2] * b[0] - a[0] * b[2],
  a[0] * b[1] - a[1] * b[0],
];
export const length3 = (a: Vec3): number => Math.hypot(a[0], a[1], a[2]);
export const distance3 = (a: Vec3, b: Vec3): number => length3(subtract3(a, b));
/** Unit vector along a; the zero vector stays zero. */
export const unit3 = (a: Vec3): Vec3 => {
  const l = length3(a);
  return l === 0 ? a : scale3(a, 1 / l);
};

/** A line in space with a direction of length 1. */
export interface Axis {
  readonly point: Vec3;
  readonly direction: Vec3;
}

/** Two axes on one line, whichever way they point. */
export const sameAxis = (a: Axis, b: Axis, tolerance = 1e-5): boolean =>
  length3(cross3(a.direction, b.direction)) < 1e-6 &&
  length3(cross3(subtract3(b.point, a.point), a.direction)) < tolerance;

/** Frame of a turned part in space: Z along the axis from the zero point, angles from `x`. */
export interface Frame3 {
  readonly origin: Vec3;
  readonly x: Vec3;
  readonly y: Vec3;
  readonly z: Vec3;
}

/** Frame about an axis with its zero at `zero` mm along it; x is the coordinate direction most square to the axis. */
export const frameOfAxis = (axis: Axis, zero = 0): Frame3 => {
  const z = axis.direction;
  // the coordinate direction most square to the axis, X before Y before Z
  const candidates: Vec3[] = [
    [1, 0, 0],
    [0, 1, 0],
    [0, 0, 1],
  ];
  const pick = candidates.reduce((best, c) => (Math.abs(dot3(c, z)) < Math.abs(dot3(best, z)) - 1e-9 ? c : best));
  const x = unit3(subtract3(pick, scale3(z, dot3(pick, z))));
  return { origin: add3(axis.point, scale3(z, zero)), x, y: cross3(z, x), z };
};

/** The frame turned about its own z, radians. */
export const turnFrame = (f: Frame3, by: number): Frame3 => {
  const [c, s] = [Math.cos(by), Math.sin(by)];
  const x = add3(scale3(f.x, c), scale3(f.y, s));
  return { ...f, x, y: cross3(f.z, x) };
};

/** A direction in the frame's own coordinates, along its z first: as parts are laid out in the section and the 3D view. */
export const directionInFrame = (f: Frame3, d: Vec3): Vec3 => [dot3(d, f.z), dot3(d, f.x), dot3(d, f.y)];

/** Cylinder coordinates of a point: z along the axis, r from it, angle in radians. */
export const toCylinder = (f: Frame3, p: Vec3): { z: number; r: number; angle: number } => {
  const d = subtract3(p, f.origin);
  const x = dot3(d, f.x);
  const y = dot3(d, f.y);
  return { z: dot3(d, f.z), r: Math.hypot(x, y), angle: Math.atan2(y, x) };
};
