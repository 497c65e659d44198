import { type Operation, OperationSchema } from '../operations';
import type { Job } from './document';

/** One side of an operation in its lane. */
export interface Edge {
  readonly operation: string;
  readonly side: 'start' | 'end';
}

/** The channel in whose list an operation stands. */
export const channelOf = (job: Job, id: string): string | null =>
  Object.keys(job.order).find((c) => job.order[c].includes(id)) ?? null;

const freshMark = (job: Job): number =>
  1 + Math.max(0, ...Object.values(job.operations).map((op) => (op.kind === 'wait' ? op.params.mark : 0)));

/** All waits that belong to one mark, from any of them. */
export const knotsOf = (job: Job, id: string): string[] => {
  const op = job.operations[id];
  if (op?.kind !== 'wait') return [id];
  const key = `${op.params.mark} ${op.params.channels.join()}`;
  return Object.values(job.operations).flatMap((o) =>
    o.kind === 'wait' && `${o.params.mark} ${o.params.channels.join()}` === key ? [o.id] : [],
  );
};

/** What a mark between two edges says, in a word; null where it says nothing: both lie in one channel. */
export const meaningOf = (job: Job, a: Edge, b: Edge): 'begin together' | 'end together' | 'after' | null => {
  const [p, q] = [channelOf(job, a.operation), channelOf(job, b.operation)];
  if (p === null || q === null || p === q) return null;
  if (a.side !== b.side) return 'after';
  return a.side === 'start' ? 'begin together' : 'end together';
};

/** The edit that ties two edges of operations in different channels with a mark, as values by JSON pointer; null where it ties nothing. */
export const markBetween = (job: Job, a: Edge, b: Edge): Record<string, unknown> | null => {
  if (meaningOf(job, a, b) === null) return null;
  const mark = freshMark(job);
  const channels = [a, b].map((e) => channelOf(job, e.operation) as string);
  const values: Record<string, unknown> = {};
  for (const [i, edge] of [a, b].entries()) {
    const channel = channels[i];
    let n = mark;
    let id = `mark${n}-${channel}`;
    while (id in job.operations) id = `mark${++n}-${channel}`;
    const order = job.order[channel];
    const at = order.indexOf(edge.operation) + (edge.side === 'end' ? 1 : 0);
    const made: Operation = OperationSchema.parse({
      id,
      kind: 'wait',
      name: `mark ${mark}`,
      channel,
      holding: job.operations[edge.operation].holding,
      params: { mark, channels: [...channels].sort() },
    });
    values[`/operations/${id}`] = made;
    values[`/order/${channel}`] = [...order.slice(0, at), id, ...order.slice(at)];
  }
  return values;
};
