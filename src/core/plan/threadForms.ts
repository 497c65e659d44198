import { isCutting, kindOf } from '../operations';
import type { ThreadOnPart } from '../threads';
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
