import { point } from '../../geometry';
import { firstDepthFor, infeedDepths, infeedShift, threadDepth } from '../../threads';
import type { Sketcher } from '../sketch';
import { at, inBore, measure, metal, part, path, rapid, sketch, toolShape } from '../sketch';
import { formOf, sideOf, type ThreadOperation } from './schema';

/** What a number of threading does: one groove of the thread with its passes, or the thread from its run-in to its end. */
export const threadSketch: Sketcher<ThreadOperation> = (op, key, tool) => {
  const { params } = op;
  const form = formOf(op);
  const pitch = form?.pitch ?? 1.5;
  const angle = form?.angle ?? 60;
  const side = sideOf(op) === 'inner' ? 'inner' : 'outer';
  const nose =
    tool?.kind === 'threading' || tool?.kind === 'threading-bar' || tool?.kind === 'face-threading'
      ? tool.cutter.noseRadius
      : 0.1 * pitch;
  const whole =
    params.depth ?? (form ? threadDepth(form, side, { angle, noseRadius: nose, profile: 'partial' }) : 0.61 * pitch);
  const depths =
    infeedDepths({
      depth: whole,
      first: params.first ?? firstDepthFor(whole, params.passes),
      least: params.least,
      finish: params.finish,
      mode: params.mode,
    }) ?? [];
  const tan = Math.tan((angle / 2 / 180) * Math.PI);
  const vee = (depth: number, shift: number) =>
    at(
      shift + depth * tan + 0.3 * pitch * tan,
      0.3 * pitch,
      shift,
      -depth,
      shift - depth * tan - 0.3 * pitch * tan,
      0.3 * pitch,
    );
  const ground = metal(at(-pitch, 0, pitch, 0, pitch, -1.3 * whole, -pitch, -1.3 * whole));
  // the feed runs to the left: shifts count that way from the middle of the whole groove
  const centre = infeedShift(params.infeed, whole, whole, params.infeedAngle, depths.length - 1);
  const passes = depths
    .slice(0, 40)
    .map((d, i) => path(vee(d, -(infeedShift(params.infeed, d, whole, params.infeedAngle, i) - centre))));
  const middle = (i: number): number =>
    -(infeedShift(params.infeed, depths[i] ?? 0, whole, params.infeedAngle, i) - centre);
  const made = (() => {
    switch (key) {
      case 'params.depth':
      case 'params.thread':
        return sketch(
          [ground, ...passes.slice(-1)],
          [measure(point(0.9 * pitch, 0), point(0.9 * pitch, -whole), whole)],
        );
      case 'params.passes':
      case 'params.mode':
        return sketch(
          [ground, ...passes],
          [],
          [{ at: point(0.75 * pitch, -0.9 * whole), text: `${depths.length} passes` }],
        );
      case 'params.first':
        return sketch(
          [ground, ...passes.slice(0, 1)],
          depths[0] ? [measure(point(0.6 * pitch, 0), point(0.6 * pitch, -depths[0]), depths[0])] : [],
        );
      case 'params.least': {
        const steps = depths.map((d, i) => d - (depths[i - 1] ?? 0));
        const i = params.finish > 0 ? steps.length - 2 : steps.length - 1;
        return sketch(
          [ground, ...passes],
          i > 0 ? [measure(point(0.7 * pitch, -depths[i - 1]), point(0.7 * pitch, -depths[i]), steps[i])] : [],
        );
      }
      case 'params.finish':
        return sketch(
          [ground, ...passes.slice(-2)],
          params.finish > 0
            ? [measure(point(0.7 * pitch, -whole + params.finish), point(0.7 * pitch, -whole), params.finish)]
            : [],
        );
      case 'params.springPasses':
        return sketch(
          [ground, ...passes.slice(-1)],
          [],
          [{ at: point(0.7 * pitch, -0.6 * whole), text: `${1 + params.springPasses} × at depth` }],
        );
      case 'params.infeed':
      case 'params.infeedAngle': {
        const way = path([point(middle(0), 0.3 * pitch), ...depths.map((d, i) => point(middle(i), -d))]);
        return sketch(
          [ground, ...passes, way],
          [],
          params.infeed === 'flank' ? [{ at: point(0.72 * pitch, -0.9 * whole), text: `${params.infeedAngle}°` }] : [],
        );
      }
      case 'params.runIn':
      case 'params.runOut':
      case 'params.length': {
        const [runIn, runOut] = [params.runIn ?? 2 * pitch, params.runOut ?? pitch];
        const length = params.length ?? 8 * pitch;
        const teeth = Array.from({ length: Math.min(60, Math.floor(length / pitch)) }, (_, i) =>
          at(-i * pitch, 0, -(i + 0.5) * pitch, -whole),
        ).flat();
        const shown =
          key === 'params.runIn'
            ? measure(at(0, 1.6 * pitch)[0], at(runIn, 1.6 * pitch)[0], runIn)
            : key === 'params.runOut'
              ? measure(at(-length, 1.6 * pitch)[0], at(-length - runOut, 1.6 * pitch)[0], runOut)
              : measure(at(0, 1.6 * pitch)[0], at(-length, 1.6 * pitch)[0], length);
        return sketch(
          [
            part([...at(0, -3 * whole), ...teeth, ...at(-length, 0, -length - 2 * pitch, 0)]),
            path(at(runIn, -whole, -length - runOut, -whole)),
            rapid(at(-length - runOut, -whole, -length - runOut, pitch, runIn, pitch, runIn, -whole)),
            toolShape(at(runIn, -whole, runIn + 0.5 * pitch, 0.6 * pitch, runIn - 0.5 * pitch, 0.6 * pitch)),
          ],
          [shown],
        );
      }
      case 'params.starts': {
        const lead = pitch * Math.max(1, Math.min(8, Math.round(params.starts)));
        const teeth = Array.from({ length: 9 }, (_, i) => at(-i * pitch, 0, -(i + 0.5) * pitch, -whole)).flat();
        return sketch(
          [part(teeth)],
          [measure(at(-0.5 * pitch, 0.6 * pitch)[0], at(-0.5 * pitch - lead, 0.6 * pitch)[0], lead)],
        );
      }
      default:
        return null;
    }
  })();
  return side === 'inner' ? inBore(made) : made;
};
