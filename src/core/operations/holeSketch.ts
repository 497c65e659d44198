import { point } from '../geometry';
import type { Tool } from '../tooling';
import { toolFacts } from '../tooling';
import type { Sketch, Stroke } from './sketch';
import { at, measure, metal, part, path, sketch, toolShape } from './sketch';

/** Numbers of a hole on the axis, as far as its kind has them. */
export interface HoleNumbers {
  readonly depth: number | null;
  readonly breakThrough?: number;
  readonly peck?: number;
  readonly keep?: number;
  readonly chips?: 'clear' | 'break';
  readonly back?: number;
  readonly dwell?: number;
  /** Whether the depth counts to the point. */
  readonly toPoint?: boolean;
}

/** What a number of a hole does: the hole with its tool, or how deep the tool is as time goes on. */
export const holeSketch = (p: HoleNumbers, key: string, tool: Tool | null): Sketch | null => {
  const facts = tool ? toolFacts(tool).onCentre : null;
  const r = (facts?.diameter ?? 10) / 2;
  const cone = r / Math.tan((((facts?.pointAngle ?? 140) / 2) * Math.PI) / 180);
  const through = p.depth === null;
  const length = through ? 5 * r : (p.depth ?? 0);
  const full = p.toPoint ? Math.max(0, length - cone) : length;
  const wide = Math.max(2.2 * r, 0.25 * length);
  const end = through ? length + (p.breakThrough ?? 0) : full;
  const block = metal(
    at(
      0,
      wide,
      -(through ? length : length + cone + r),
      wide,
      -(through ? length : length + cone + r),
      -wide,
      0,
      -wide,
    ),
  );
  const drill = (x: number): Stroke => toolShape(at(-x, r, -x - cone, 0, -x, -r, 1.2 * r, -r, 1.2 * r, r));
  const hole = part(at(0, r, -end, r, -end - cone, 0, -end, -r, 0, -r));
  switch (key) {
    case 'params.depth':
    case 'params.depthTo':
    case 'params.breakThrough': {
      const shown =
        key === 'params.breakThrough' || through
          ? measure(point(-length, 1.4 * r), point(-end, 1.4 * r), p.breakThrough ?? 0)
          : measure(point(0, 1.4 * r), point(-length, 1.4 * r), length);
      return sketch([block, hole, drill(end)], key === 'params.depth' && through ? [] : [shown]);
    }
    case 'params.peck':
    case 'params.keep':
    case 'params.chips':
    case 'params.back': {
      const peck = p.peck ?? 0;
      if (peck <= 0.05) return sketch([block, hole, drill(end)]);
      // depth downward, time to the right
      const whole = through ? end + cone : full + cone;
      const way = [point(0, 0)];
      let [deep, one, x] = [0, peck, 0];
      for (let k = 0; deep < whole - 1e-6 && k < 60; k++) {
        deep = Math.min(whole, deep + Math.max(0.3, one));
        x += 0.5 * r;
        way.push(point(x, -deep));
        if (deep < whole - 1e-6) {
          x += 0.2 * r;
          const up = p.chips === 'break' ? deep - (p.back ?? 0.5) : 0;
          way.push(point(x, -up));
        }
        one *= (p.keep ?? 100) / 100;
      }
      const shown =
        key === 'params.back' && p.chips === 'break'
          ? measure(point(-0.5 * r, -peck), point(-0.5 * r, -peck + (p.back ?? 0.5)), p.back ?? 0.5)
          : measure(point(-0.5 * r, 0), point(-0.5 * r, -Math.min(peck, whole)), peck);
      return sketch(
        [metal(at(-r, 0, x + r, 0, x + r, -whole, -r, -whole)), path(way)],
        [shown],
        [{ at: point(x + 0.4 * r, 0.25 * whole * 0.1), text: 'time →' }],
      );
    }
    case 'params.dwell':
      return sketch(
        [block, hole, drill(end)],
        [],
        [{ at: point(-end * 0.6, 1.5 * r), text: `${p.dwell ?? 0} s here` }],
      );
    default:
      return null;
  }
};
