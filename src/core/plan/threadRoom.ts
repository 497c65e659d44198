import type { Finding } from '../findings';
import { isCutting, type Operation, usualBehind } from '../operations';
import { tenthsUp } from '../units';
import type { DerivedOperation } from './derive';
import type { Job } from './document';
import { cutoffWidthIn } from './held';

/** Sets what turns the surface of a thread, and drills before it, so much further behind the part. */
const runOn = (job: Job, thread: Operation, further: number): Record<string, number> => {
  const inside = thread.kind === 'inner-thread';
  const order = job.order[thread.channel] ?? [];
  const set: Record<string, number> = {};
  for (const id of order.slice(0, Math.max(0, order.indexOf(thread.id)))) {
    const op = job.operations[id];
    if (!op?.on || !isCutting(op) || op.holding !== thread.holding) continue;
    const turns = inside ? ['inner-rough', 'inner-finish'] : ['outer-rough', 'outer-finish'];
    if (turns.includes(op.kind) && 'extendBehind' in op.params) {
      const now = op.params.extendBehind ?? usualBehind(inside ? 'inner' : 'outer', cutoffWidthIn(job, op.holding));
      set[`/operations/${id}/params/extendBehind`] = tenthsUp(now + further);
    } else if (inside && op.kind === 'drill' && op.params.depth === null)
      set[`/operations/${id}/params/breakThrough`] = tenthsUp(op.params.breakThrough + further);
  }
  return set;
};

/** Metal behind the part in the way of a thread is told with what would take it away. */
export const withRoomBehind = (job: Job, done: readonly DerivedOperation[]): DerivedOperation[] =>
  done.map((d) => {
    if (!d.findings.some((f) => f.code === 'thread-behind')) return d;
    const remedied = (f: Finding): Finding => {
      if (f.code !== 'thread-behind') return f;
      const set = runOn(job, job.operations[d.operation], f.numbers.further);
      if (Object.keys(set).length === 0) return f;
      return { ...f, remedy: { label: `Turn ${tenthsUp(f.numbers.further)} mm further behind`, set } };
    };
    return { ...d, findings: d.findings.map(remedied) };
  });
