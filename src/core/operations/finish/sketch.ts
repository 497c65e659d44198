import { add, type Point, perpendicular, point, scale, subtract, unit } from '../../geometry';
import { limits } from '../rough/sketch';
import type { Sketcher, Stroke } from '../sketch';
import { at, body, bow, inBore, measure, metal, path, sketch, toolShape } from '../sketch';
import type { FinishOperation } from '.';

/** The head of an arrow at the end of a way. */
const headOf = (way: readonly Point[]): Point[] => {
  const [from, to] = way.slice(-2);
  const back = scale(unit(subtract(from, to)), 0.8);
  const aside = scale(perpendicular(back), 0.5);
  return [add(to, add(back, aside)), to, add(to, subtract(back, aside))];
};

/** What a number of finishing does, on a step with a chamfer in front and a shoulder behind. */
export const finishSketch: Sketcher<FinishOperation> = (op, key) => {
  const { params } = op;
  const nose = 0.8;
  const contour = at(0, 3.2, -1, 4.2, -8, 4.2, -8, 7, -11, 7);
  const along = (by: number) =>
    at(0.4, 3.2 + by * 1.2, -1 + by * 0.4, 4.2 + by, -8 + by, 4.2 + by, -8 + by, 7 + by, -11, 7 + by);
  const skin = metal([...along(0.5), ...[...contour].reverse()]);
  const under = body([...at(0, 1.5), ...contour], 1.5);
  const insert = (x: number, y: number): Stroke =>
    toolShape([...bow(x, y, nose, 170, 300), point(x + 2.6, y + 2.2), point(x + 0.6, y + 3.4)]);
  const made = (() => {
    switch (key) {
      case 'params.passes':
      case 'params.passDepth': {
        const count = Math.max(1, Math.min(6, Math.round(params.passes)));
        const gap = params.passDepth;
        const all = Array.from({ length: count }, (_, k) => path(along((count - 1 - k) * Math.max(gap, 0.15))));
        const shown = count > 1 ? [measure(point(-4, 4.2), point(-4, 4.2 + Math.max(gap, 0.15)), gap)] : [];
        return sketch([skin, ...under, ...all], shown);
      }
      case 'params.springPasses': {
        const times = 1 + Math.max(0, Math.min(5, Math.round(params.springPasses)));
        const all = Array.from({ length: times }, (_, k) => path(along(0.03 + 0.16 * k)));
        return sketch([...under, ...all], [], [{ at: point(-6.5, 5.6), text: `${times} ×` }]);
      }
      case 'params.lead':
      case 'params.leadLength': {
        const l = params.leadLength ?? 1;
        const first = point(0, 3.2);
        const ways: Record<typeof params.lead, readonly Point[]> = {
          'as-fits': [point(first.x + l, first.y), first],
          tangent: [point(first.x + l * Math.SQRT1_2, first.y - l * Math.SQRT1_2), first],
          square: [point(first.x + l * Math.SQRT1_2, first.y + l * Math.SQRT1_2), first],
          arc: bow(first.x + l * Math.SQRT1_2, first.y + l * Math.SQRT1_2, l, 315, 225),
        };
        const way = ways[params.lead];
        return sketch(
          [skin, ...under, path(way), path(contour)],
          params.lead === 'as-fits' ? [] : [measure(way[0], first, l)],
        );
      }
      case 'params.leadOut':
      case 'params.leadOutLength': {
        const l = params.leadOutLength ?? 1;
        const last = point(-11, 7);
        const ways: Record<typeof params.leadOut, readonly Point[]> = {
          'as-fits': [last, point(last.x + l * Math.SQRT1_2, last.y + l * Math.SQRT1_2)],
          tangent: [last, point(last.x - l, last.y)],
          square: [last, point(last.x, last.y + l)],
          arc: bow(last.x, last.y + l, l, 270, 180),
        };
        const way = ways[params.leadOut];
        return sketch(
          [skin, ...under, path(contour), path(way)],
          params.leadOut === 'as-fits' ? [] : [measure(last, way[way.length - 1], l)],
        );
      }
      case 'params.feeds':
        return sketch(
          [...under, path(contour)],
          [],
          params.feeds === 'one'
            ? [{ at: point(-4.5, 5), text: 'one feed' }]
            : [
                { at: point(-4.5, 5), text: 'Ra 1.6: slow' },
                { at: point(-9.6, 7.9), text: 'full feed' },
              ],
        );
      case 'params.compensation': {
        const centre = along(nose);
        return sketch(
          params.compensation === 'control'
            ? [...under, path(contour), insert(-4, 4.2 + nose)]
            : [...under, path(centre), insert(-4, 4.2 + nose)],
          [],
          [{ at: point(-6.8, 5.7), text: params.compensation === 'control' ? 'contour + G41/G42' : 'nose computed' }],
        );
      }
      case 'params.along':
        if (params.along === 'corner') {
          const relief = at(0, 4.2, -5.4, 4.2, -6.6, 3.4, -7.4, 3.4, -8.3, 3.8, -8, 6, -8, 7.6, -11, 7.6);
          return sketch(
            [...body([...at(0, 2), ...relief], 2), path(at(-5.4, 4.2, -6.6, 3.4, -7.4, 3.4, -8.3, 3.8, -8, 6))],
            [],
            [{ at: point(-3.6, 6.4), text: 'both sides' }],
          );
        }
        // over the face from outside toward the axis, or along the shaft toward the chuck
        return params.along === 'x'
          ? sketch(
              [...under, path(at(-7.6, 8.6, -7.6, 4.6)), insert(-7.6, 5.6)],
              [],
              [{ at: point(-4.6, 6.6), text: 'X' }],
            )
          : sketch([...under, path(along(0.4)), insert(-4, 4.6 + nose)], [], [{ at: point(-6.6, 5.6), text: 'Z' }]);
      case 'params.direction': {
        const across = params.along === 'x';
        const inward = across ? at(-7.6, 8.6, -7.6, 4.6) : along(0.4);
        const away = params.direction === 'away';
        const way = away ? [...inward].reverse() : inward;
        const target = across ? 'axis' : 'chuck';
        const text =
          params.direction === 'tool' ? 'as the tool cuts' : away ? `away from the ${target}` : `toward the ${target}`;
        const arrow = params.direction === 'tool' ? [] : [path(headOf(way))];
        return sketch([...under, path(way), ...arrow], [], [{ at: point(across ? -3.2 : -3.4, 8), text }]);
      }
      case 'params.undercuts': {
        const hollow = at(0, 4.2, -3, 4.2, -3, 3.2, -6, 3.2, -6, 4.2, -11, 4.2);
        const way =
          params.undercuts === 'enter'
            ? at(0.6, 4.2, -3, 4.2, -3.8, 3.2, -5.6, 3.2, -6, 4.2, -11, 4.2)
            : at(0.6, 4.2, -11, 4.2);
        return sketch([...body([...at(0, 2), ...hollow], 2), path(way)]);
      }
      case 'params.extendBehind': {
        const e = params.extendBehind ?? 2;
        return sketch(
          [...under, path([...contour, point(-11 - e, 7)])],
          [measure(point(-11, 6), point(-11 - e, 6), e)],
        );
      }
      default:
        return limits(params, key, 1.2, 6.4, [
          metal(at(0, 0, -8.4, 0, -8.4, 2.6, -12, 2.6, -12, 5, 0, 5)),
          ...body(at(0, 0, -8.4, 0, -8.4, 2.6, -12, 2.6), -1.4),
        ]);
    }
  })();
  return op.kind === 'inner-finish' ? inBore(made) : made;
};
