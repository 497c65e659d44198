import { isCutting, kindOf } from '../operations';
import { type PartDocument, type Reattached, reattach } from '../part';
import type { Job } from './document';

export interface RevisedOperation {
  readonly operation: string;
  /** kept: its elements are as they were; moved: they changed place or size; lost: an end of its span is gone. */
  readonly how: 'kept' | 'moved' | 'lost';
  /** Elements of its span that the new revision lacks. */
  readonly missing: readonly string[];
}

export interface Revision {
  readonly job: Job;
  readonly reattached: Reattached;
  readonly operations: readonly RevisedOperation[];
}

/**
 * Puts a new revision of the part into a job: spans follow their elements, what the user said of features goes with them,
 * the old contour is kept beside the new one. A span that lost an end keeps its name and blocks its operation.
 */
export const reviseJob = (job: Job, part: PartDocument, revision: string): Revision => {
  const reattached = reattach(job.part, part);
  const map = new Map(reattached.elements.map((m) => [m.id, m]));
  const order = new Map(reattached.elements.map((m, i) => [m.id, i]));
  const operations: RevisedOperation[] = [];
  const revised: Job['operations'] = {};
  for (const [id, op] of Object.entries(job.operations)) {
    revised[id] = op;
    if (!isCutting(op)) continue;
    const { span } = op;
    const { side, target } = kindOf(op);
    if (!span) {
      const changed =
        reattached.elements.some((m) => m.side === side && m.how !== 'kept') ||
        reattached.added.some((e) => e.side === side);
      if (target === 'span') operations.push({ operation: id, how: changed ? 'moved' : 'kept', missing: [] });
      continue;
    }
    const ends = [map.get(span.from), map.get(span.to)];
    const lost = [span.from, span.to].filter((_, i) => ends[i] && ends[i]?.to === null);
    const [a, b] = [order.get(span.from) ?? 0, order.get(span.to) ?? 0].sort((p, q) => p - q);
    const inside = reattached.elements.slice(a, b + 1);
    const how = lost.length > 0 ? 'lost' : inside.every((m) => m.how === 'kept') ? 'kept' : 'moved';
    operations.push({ operation: id, how, missing: inside.filter((m) => m.to === null).map((m) => m.id) });
    // a lost end keeps its old name, which no element carries: the operation is blocked and says so
    revised[id] = { ...op, span: { from: ends[0]?.to ?? span.from, to: ends[1]?.to ?? span.to } };
  }
  const { outer, inner, back, dimensions } = job.part;
  return {
    job: {
      ...job,
      header: { ...job.header, revision },
      operations: revised,
      part: {
        ...reattached.part,
        previous: {
          revision: job.header.revision,
          outer,
          inner,
          ...(back ? { back } : {}),
          ...(dimensions ? { dimensions } : {}),
        },
      },
    },
    reattached,
    operations,
  };
};
