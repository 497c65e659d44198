import { passDepths } from '../../cutting';
import { point } from '../../geometry';
import type { Sketcher } from '../sketch';
import { at, limit, measure, metal, part, path, sketch } from '../sketch';
import type { FaceOperation } from '.';

/** What a number of facing does: the sawn end of a bar in front of the finished face. */
export const faceSketch: Sketcher<FaceOperation> = (op, key) => {
  const { params } = op;
  const d = Math.max(0.05, params.depth);
  const total = 3 * d + params.finishDepth;
  const r = 3.2 * d;
  const hub = params.toDiameter === null ? -0.3 * d : Math.min(r * 0.6, Math.max(0.4 * d, params.toDiameter / 2));
  const body = part(at(0, -0.4 * d, 0, r, -4 * d, r));
  const stock = metal(at(0, 0, 0, r, total, r, total, 0));
  let x = total;
  const depths = [
    ...passDepths(total - params.finishDepth, d, 'equal'),
    ...(params.finishDepth > 0 ? [params.finishDepth] : []),
  ];
  const ways = depths.map((step) => {
    x -= step;
    return path(at(x, r + 0.8 * d, x, hub));
  });
  const axis = limit(at(-4 * d, 0, total + d, 0));
  const base = [body, stock, axis, ...ways];
  switch (key) {
    case 'params.depth':
      return sketch(base, [measure(point(total, r + 0.5 * d), point(total - depths[0], r + 0.5 * d), depths[0])]);
    case 'params.finishDepth':
    case 'params.finishFeed':
      return sketch(base, [measure(point(0, r + 0.5 * d), point(params.finishDepth, r + 0.5 * d), params.finishDepth)]);
    case 'params.targetZ':
      return sketch(
        [...base, limit(at(0, -0.6 * d, 0, r + d))],
        [],
        [{ at: point(0, r + 1.3 * d), text: params.targetZ === null ? 'part front' : 'face at Z' }],
      );
    case 'params.toDiameter':
      return sketch(
        base,
        params.toDiameter === null
          ? []
          : [measure(point(total + 0.5 * d, 0), point(total + 0.5 * d, hub), params.toDiameter, 'diameter')],
        params.toDiameter === null ? [{ at: point(total + d, 0.5 * d), text: 'past centre' }] : [],
      );
    default:
      return null;
  }
};
