import { pointAt } from '../geometry';
import { isCutting, kindOf } from '../operations';
import { seenFrom, type ThreadOnPart } from '../threads';
import type { Job } from './document';
import type { Held } from './held';

/** A thread with the operation that cuts it. */
export interface ThreadOfOperation extends ThreadOnPart {
  readonly operation: string;
}

/** The threads that the operations of a holding cut, whether their paths can be made or not; those without a name are left out. */
export const threadsIn = (job: Job, held: Pick<Held, 'id' | 'part'>): ThreadOfOperation[] =>
  Object.values(job.operations).flatMap((op): ThreadOfOperation[] => {
    if (op.holding !== held.id || !isCutting(op) || !op.on) return [];
    const made = kindOf(op).threadOn?.(op, held.part, op.tool ? job.tools[op.tool] : undefined);
    return made ? [{ ...made, operation: op.id }] : [];
  });

/** A surface no further above a thread's crest than this, mm, and not below its root gets the thread. */
const ABOVE = 0.1;

/** Elements of the part that get a thread in a holding: those pointed at, and where none is, those on which it comes to lie. */
export const threadedIn = (job: Job, held: Pick<Held, 'id' | 'part'>): string[] =>
  threadsIn(job, held).flatMap((t) => {
    const op = job.operations[t.operation];
    if ('span' in op && op.span) return [op.span.from];
    const length = Math.abs(t.crest[0].x - t.crest[1].x);
    return held.part.inner.flatMap((e) => {
      const { s, below } = seenFrom(t, pointAt(e.curve, 0.5));
      const half = Math.abs(e.curve.to.x - e.curve.from.x) / 2;
      return below > -ABOVE && below < t.depth && s - half < length && s + half > 0 ? [e.id] : [];
    });
  });
