import { leftNormalAt } from '../geometry';
import type { Element, Part } from '../part';
import type { PickedSpan } from './newOperation';

/** A side that leans less than this hangs over nothing, as a share. */
const LEAN = 0.01;
/** A relief has at most so many pieces beside a picked one. */
const PIECES = 4;

/**
 * The relief that picked pieces of the outside lie in: from the piece that hides behind the shaft to the one that hides behind
 * the shoulder. Null where nothing hangs over on both sides. `behind` looks at a shoulder that looks toward the chuck.
 */
export const reliefAround = (part: Part, span: PickedSpan, behind: boolean): PickedSpan => {
  if (!span) return null;
  const list = part.outer;
  const [i, j] = [list.findIndex((e) => e.id === span.from), list.findIndex((e) => e.id === span.to)];
  if (i < 0 || j < 0) return null;
  // away from the metal
  const normal = (e: Element) => {
    const n = leftNormalAt(e.curve, 0.5);
    return { along: behind ? n.x : -n.x, out: -n.y };
  };
  const underShaft = (e: Element): boolean => normal(e).along < -LEAN && normal(e).out > LEAN;
  const behindShoulder = (e: Element): boolean => normal(e).out < -LEAN && normal(e).along > LEAN;
  const [shaftward, shoulderward] = behind ? [1, -1] : [-1, 1];
  const reach = (start: number, step: number, hidden: (e: Element) => boolean): number | null => {
    for (let k = 0, at = start; k <= PIECES; k++, at += step) {
      const e = list[at];
      if (!e) return null;
      if (hidden(e)) return at;
    }
    return null;
  };
  const [near, far] = [Math.min(i, j), Math.max(i, j)];
  // a picked piece may be the hidden one itself
  const shaft = reach(behind ? near : far, shaftward, underShaft);
  const shoulder = reach(behind ? far : near, shoulderward, behindShoulder);
  if (shaft === null || shoulder === null) return null;
  return { from: list[Math.min(shaft, shoulder)].id, to: list[Math.max(shaft, shoulder)].id };
};
