import { passDepths } from '../../cutting';
import { type Point, point } from '../../geometry';
import type { Sketcher, Stroke } from '../sketch';
import { at, body, inBore, limit, measure, metal, path, sketch, toolShape } from '../sketch';
import type { RoughOperation } from '.';

/** A step with a shoulder, as large as four and a bit passes: small diameter in front, large behind. */
const profileOf = (d: number, hollow: boolean): Point[] =>
  hollow
    ? at(
        0,
        0,
        -2.4 * d,
        0,
        -2.4 * d,
        -0.9 * d,
        -4.6 * d,
        -0.9 * d,
        -4.6 * d,
        0,
        -7 * d,
        0,
        -7 * d,
        2.2 * d,
        -10 * d,
        2.2 * d,
      )
    : at(0, 0, -7 * d, 0, -7 * d, 2.2 * d, -10 * d, 2.2 * d);

const passesFor = (op: RoughOperation, d: number, raw: number): Stroke[] => {
  const { along, passes, allowanceX, allowanceZ } = op.params;
  const low = allowanceX / 2;
  if (along === 'x') {
    let x = 0;
    return passDepths(7 * d - allowanceZ, d, passes, 0).map((step) => {
      x -= step;
      return path(at(x, raw + 0.4 * d, x, low));
    });
  }
  let left = raw - low;
  return passDepths(left, d, passes, 0).map((step) => {
    left -= step;
    if (along === 'contour')
      return path(
        at(
          0.4 * d,
          low + left,
          -7 * d + allowanceZ + left,
          low + left,
          -7 * d + allowanceZ + left,
          2.2 * d + low + left,
          -10 * d,
          2.2 * d + low + left,
        ),
      );
    const y = low + left;
    return path(at(0.4 * d, y, y > 2.2 * d + low ? -10 * d : -7 * d + allowanceZ, y));
  });
};

/** What a number of roughing does, on a step with a shoulder. */
export const roughSketch: Sketcher<RoughOperation> = (op, key) => {
  const { params } = op;
  const d = Math.max(0.05, params.depth);
  const raw = 4.3 * d;
  const hollow = key === 'params.undercuts';
  const profile = profileOf(d, hollow);
  const stock = metal([...profile, ...at(-10 * d, raw, 0, raw)]);
  const contour = body(profile, -1.6 * d);
  const passes = passesFor(op, d, raw);
  const low = params.allowanceX / 2;
  const base = [stock, ...contour, ...passes];
  const made = (() => {
    switch (key) {
      case 'params.depth':
      case 'params.passes':
      case 'params.along': {
        const across = params.along === 'x';
        const depths = passDepths(across ? 7 * d - params.allowanceZ : raw - low, d, params.passes, 0);
        let from = across ? 0 : raw;
        const all = depths.map((step) => {
          const to = from - step;
          const m = across
            ? measure(point(from, raw + 0.7 * d), point(to, raw + 0.7 * d), step)
            : measure(point(-1.2 * d, from), point(-1.2 * d, to), step);
          from = to;
          return m;
        });
        return sketch(base, key === 'params.passes' ? all.slice(0, 4) : all.slice(0, 1));
      }
      case 'params.allowanceX':
        return sketch(base, [measure(point(-3.5 * d, 0), point(-3.5 * d, low), params.allowanceX, 'diameter')]);
      case 'params.allowanceZ':
        return sketch(base, [
          measure(point(-7 * d, 1.2 * d), point(-7 * d + params.allowanceZ, 1.2 * d), params.allowanceZ),
        ]);
      case 'params.undercuts': {
        const dip =
          params.undercuts === 'enter'
            ? at(-2.6 * d, low, -2.9 * d, -0.9 * d + low, -4.2 * d, -0.9 * d + low, -4.6 * d, low)
            : [];
        return sketch([stock, ...contour, path([...at(0.4 * d, low), ...dip, ...at(-7 * d + params.allowanceZ, low)])]);
      }
      case 'params.extendBehind': {
        const e = params.extendBehind ?? 2 * d;
        const y = 2.2 * d + low;
        return sketch(
          [stock, ...contour, path(at(-7 * d, y, -10 * d - e, y))],
          [measure(point(-10 * d, y - 0.7 * d), point(-10 * d - e, y - 0.7 * d), e)],
        );
      }
      default:
        return limits(op.params, key, d, raw, [stock, ...contour]);
    }
  })();
  return op.kind === 'inner-rough' ? inBore(made) : made;
};

/** Limits along Z and on diameter, which stop the tip wherever the contour goes. */
export const limits = (
  params: {
    readonly frontLimit: number | null;
    readonly backLimit: number | null;
    readonly diameterLimit: number | null;
  },
  key: string,
  d: number,
  raw: number,
  strokes: readonly Stroke[],
) => {
  const tip = (x: number, y: number): Stroke =>
    toolShape(at(x, y, x + 0.9 * d, y + 1.6 * d, x - 0.25 * d, y + 1.3 * d));
  const word = (p: Point, v: number | null, name: string) => [{ at: p, text: v === null ? `no ${name}` : name }];
  switch (key) {
    case 'params.frontLimit':
      return sketch(
        [...strokes, limit(at(-1.6 * d, -0.6 * d, -1.6 * d, raw + 0.6 * d)), tip(-1.6 * d, 1.4 * d)],
        [],
        word(point(-1.6 * d, raw + 0.9 * d), params.frontLimit, 'front limit'),
      );
    case 'params.backLimit':
      return sketch(
        [...strokes, limit(at(-5.4 * d, -0.6 * d, -5.4 * d, raw + 0.6 * d)), tip(-5.4 * d, 1.2 * d)],
        [],
        word(point(-5.4 * d, raw + 0.9 * d), params.backLimit, 'back limit'),
      );
    case 'params.diameterLimit':
      return sketch(
        [...strokes, limit(at(-9.8 * d, 1.1 * d, 0.6 * d, 1.1 * d)), tip(-3 * d, 1.1 * d)],
        [],
        word(point(-6.6 * d, 1.5 * d), params.diameterLimit, 'limit ⌀'),
      );
    default:
      return null;
  }
};
