import { arcRadius, arcSweep, type Curve } from './curve';

/** ∮ y dx and ∮ y² dx along one piece, in closed form. */
const integrals = (c: Curve): { first: number; second: number } => {
  const { x: x0, y: y0 } = c.from;
  const { x: x1, y: y1 } = c.to;
  if (c.kind === 'line')
    return { first: ((x1 - x0) * (y0 + y1)) / 2, second: ((x1 - x0) * (y0 * y0 + y0 * y1 + y1 * y1)) / 3 };
  const r = arcRadius(c);
  const a = Math.atan2(y0 - c.centre.y, x0 - c.centre.x);
  const b = a + arcSweep(c);
  const k = c.centre.y;
  const sin1 = Math.cos(a) - Math.cos(b);
  const sin2 = (b - a) / 2 - (Math.sin(2 * b) - Math.sin(2 * a)) / 4;
  const sin3 = sin1 - (Math.cos(a) ** 3 - Math.cos(b) ** 3) / 3;
  return { first: -r * (k * sin1 + r * sin2), second: -r * (k * k * sin1 + 2 * k * r * sin2 + r * r * sin3) };
};

/** Area enclosed by a closed chain, positive counter-clockwise (mm²). */
export const chainArea = (chain: readonly Curve[]): number => -chain.reduce((sum, c) => sum + integrals(c).first, 0);

/** Volume of the closed chain turned about the x axis (Pappus), positive counter-clockwise (mm³). */
export const chainVolume = (chain: readonly Curve[]): number =>
  -Math.PI * chain.reduce((sum, c) => sum + integrals(c).second, 0);
