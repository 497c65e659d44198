import { point } from '../../geometry';
import { toolFacts } from '../../tooling';
import type { Sketcher } from '../sketch';
import { at, limit, measure, metal, part, path, sketch, toolShape } from '../sketch';
import type { CutoffOperation } from '.';

/** What a number of a cutoff does: the blade between the part in front and the bar behind. */
export const cutoffSketch: Sketcher<CutoffOperation> = (op, key, tool) => {
  const { params } = op;
  const w = (tool && toolFacts(tool).bladeWidth) || 3;
  const r = Math.max(4 * w, params.slowFrom * 0.8);
  const leave = params.leave;
  const front = part(at(0, 0, 0, r, 3 * w, r));
  const behind = metal(at(-w - leave, 0, -w - leave, r, -5 * w, r, -5 * w, 0));
  const blade = (y: number) => toolShape(at(-w - leave, y, -leave, y, -leave, y + r * 0.9, -w - leave, y + r * 0.9));
  const axis = limit(at(-5 * w, 0, 3 * w, 0));
  const way = path(at(-leave, r + w, -leave, -params.pastCentre));
  switch (key) {
    case 'params.slowFrom':
    case 'params.slowBy': {
      const half = params.slowFrom / 2;
      return sketch(
        [front, behind, axis, way, limit(at(-w - leave, half, 2.4 * w, half))],
        [measure(point(1.6 * w, 0), point(1.6 * w, half), params.slowFrom, 'diameter')],
        [
          { at: point(-3 * w, half + 0.25 * r), text: 'full feed' },
          { at: point(-3 * w, half * 0.4), text: `${100 - params.slowBy} %` },
        ],
      );
    }
    case 'params.leave':
      return sketch([front, behind, axis, blade(r * 0.3)], [measure(point(0, r * 0.2), point(-leave, r * 0.2), leave)]);
    case 'params.pastCentre':
      return sketch(
        [front, behind, axis, blade(-params.pastCentre)],
        [measure(point(w, 0), point(w, -params.pastCentre), params.pastCentre)],
      );
    case 'params.edgeBreakFirst':
      return params.edgeBreakFirst
        ? sketch(
            [
              part(at(0, 0, 0, r - w * 0.5, w * 0.5, r, 3 * w, r)),
              behind,
              axis,
              path(at(0, r + w, 0, r - 1.4 * w, 0, r + 0.6 * w, w * 0.5, r, 0, r - w * 0.5, 0, 0)),
            ],
            [],
            [{ at: point(1.7 * w, r * 0.6), text: 'edge first' }],
          )
        : sketch([front, behind, axis, way]);
    case 'params.catcher':
    case 'params.catcherTime':
      return sketch(
        [
          front,
          behind,
          axis,
          blade(r * 0.1),
          ...(params.catcher ? [limit(at(-w, -r * 0.6, 0, -r * 0.8, 3 * w, -r * 0.8, 4 * w, -r * 0.6))] : []),
        ],
        [],
        [{ at: point(1.5 * w, -r * 0.55), text: params.catcher ? `out, ${params.catcherTime} s` : 'falls free' }],
      );
    default:
      return null;
  }
};
