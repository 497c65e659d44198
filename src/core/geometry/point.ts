/** A point or vector of the section plane: x is Z along the spindle, y is the distance from the axis (mm). */
export interface Point {
  readonly x: number;
  readonly y: number;
}

export const point = (x: number, y: number): Point => ({ x, y });
export const add = (a: Point, b: Point): Point => ({ x: a.x + b.x, y: a.y + b.y });
export const subtract = (a: Point, b: Point): Point => ({ x: a.x - b.x, y: a.y - b.y });
export const scale = (a: Point, factor: number): Point => ({ x: a.x * factor, y: a.y * factor });
export const dot = (a: Point, b: Point): number => a.x * b.x + a.y * b.y;
/** z component of a × b: positive when b lies counter-clockwise of a. */
export const cross = (a: Point, b: Point): number => a.x * b.y - a.y * b.x;
// Math.hypot guards against overflow at several times the cost; lengths here are far from it
export const length = (a: Point): number => Math.sqrt(a.x * a.x + a.y * a.y);
export const distance = (a: Point, b: Point): number => Math.sqrt((a.x - b.x) ** 2 + (a.y - b.y) ** 2);
export const lerp = (a: Point, b: Point, t: number): Point => ({
  x: a.x + (b.x - a.x) * t,
  y: a.y + (b.y - a.y) * t,
});
/** a turned a quarter counter-clockwise. */
export const perpendicular = (a: Point): Point => ({ x: -a.y, y: a.x });
/** Unit vector along a; the zero vector stays zero. */
export const unit = (a: Point): Point => {
  const l = length(a);
  return l === 0 ? a : { x: a.x / l, y: a.y / l };
};
export const fromAngle = (radians: number, size = 1): Point => ({
  x: size * Math.cos(radians),
  y: size * Math.sin(radians),
});
export const degrees = (radians: number): number => (radians * 180) / Math.PI;
export const radians = (deg: number): number => (deg * Math.PI) / 180;
