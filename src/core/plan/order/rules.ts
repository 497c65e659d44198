import { type CuttingOperation, isCutting, isSevering, kindOf } from '../../operations';
import { type Element, elementsBetween, type Part } from '../../part';
import type { Job } from '../document';

/** Why one operation stands before another. */
export interface Forced {
  readonly first: string;
  readonly next: string;
  readonly why: string;
}

const within = (elements: readonly Element[], span: CuttingOperation['span']): readonly Element[] =>
  elements.length === 0 ? [] : (elementsBetween(elements, span) ?? []);

/** Elements that an operation works on; null for what works along the axis, whole. */
const worksOn = (op: CuttingOperation, part: Part): ReadonlySet<string> | null => {
  const kind = kindOf(op);
  if (kind.side === 'axis' || kind.target === 'none') return null;
  const side = kind.side === 'inner' ? part.inner : part.outer;
  const more = kind.alikeSpans?.(part, op) ?? [];
  return new Set([within(side, op.span), ...more.map((s) => within(side, s))].flat().map((e) => e.id));
};

/** What two operations have in common: they work on the same elements, or both in the hole; null for nothing. */
const shared = (a: CuttingOperation, b: CuttingOperation, part: Part): string | null => {
  const [one, other] = [kindOf(a), kindOf(b)];
  const inside = (side: typeof one.side): boolean => side !== 'outer';
  if (inside(one.side) !== inside(other.side)) return null;
  const [p, q] = [worksOn(a, part), worksOn(b, part)];
  if (!p || !q) return inside(one.side) ? 'Both work along the axis' : null;
  return [...p].some((id) => q.has(id)) ? 'Both cut the same elements' : null;
};

/** What stands before everything that cuts after it. */
const opens = (op: CuttingOperation): boolean => kindOf(op).side === 'axis' && kindOf(op).covers === 'rough';

/**
 * Why `next`, which stands after `first` now, must go on standing after it; null where nothing of the trade says so. What the
 * metal says beyond that is found by planning.
 */
const whyBefore = (first: CuttingOperation, next: CuttingOperation, part: Part): string | null => {
  const [a, b] = [kindOf(first), kindOf(next)];
  if (isSevering(next)) return 'the part is off after it';
  if (isSevering(first)) return 'the part is off by then';
  if (opens(first)) return 'the face is what lengths are counted from';
  if (a.covers === 'hole' && b.needsHole) return 'boring needs the hole';
  if (a.covers === 'seat' && b.covers === 'hole') return 'it guides the drill';
  if (a.purpose === 'rough' && b.covers === 'finish')
    return 'roughing first: heat and stress are out when sizes are made';
  const common = shared(first, next, part);
  return common && `${common[0].toLowerCase()}${common.slice(1)}, and this one came first`;
};

/** All pairs of a run of operations that keep their order, by the trade. */
export const forcedByTrade = (job: Job, ids: readonly string[], part: Part): Forced[] => {
  const ops = ids.map((id) => job.operations[id]).filter((op): op is CuttingOperation => isCutting(op) && op.on);
  return ops.flatMap((next, j) =>
    ops.slice(0, j).flatMap((first) => {
      const why = whyBefore(first, next, part);
      return why === null ? [] : [{ first: first.id, next: next.id, why }];
    }),
  );
};
