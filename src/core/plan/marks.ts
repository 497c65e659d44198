import { markName, type WaitOperation } from '../operations';
import { newActor, putAt } from './adding';
import type { Job } from './document';
import { channelOf } from './landing';

/** One side of an operation in its lane. */
export interface Edge {
  readonly operation: string;
  readonly side: 'start' | 'end';
}

const freshMark = (job: Job): number =>
  1 + Math.max(0, ...Object.values(job.operations).map((op) => (op.kind === 'wait' ? op.params.mark : 0)));

/** All waits that belong to one mark, from any of them. */
export const knotsOf = (job: Job, id: string): string[] => {
  const op = job.operations[id];
  if (op?.kind !== 'wait') return [id];
  const name = markName(op.params);
  return Object.values(job.operations).flatMap((o) => (o.kind === 'wait' && markName(o.params) === name ? [o.id] : []));
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
  const channels = [a, b].map((e) => channelOf(job, e.operation) as string);
  const params = { mark: freshMark(job), channels: [...channels].sort() };
  return Object.assign(
    {},
    ...[a, b].map((edge, i) => {
      const at = job.order[channels[i]].indexOf(edge.operation) + (edge.side === 'end' ? 1 : 0);
      return knotAt(job, channels[i], at, params, job.operations[edge.operation].holding);
    }),
  );
};

/** The edit that puts a knot of a mark into a channel's list at a place. */
export const knotAt = (
  job: Job,
  channel: string,
  at: number,
  params: WaitOperation['params'],
  holding: string,
): Record<string, unknown> => {
  let n = params.mark;
  let id = `mark${n}-${channel}`;
  while (id in job.operations) id = `mark${++n}-${channel}`;
  const made = newActor('wait', { id, holding, channel }, params);
  return putAt(job, { ...made, name: `mark ${params.mark}` }, at);
};

/** Whether a mark of both their channels stands behind one operation and before another. */
export const keptBehind = (job: Job, first: string, then: string): boolean => {
  const marks = (id: string, behind: boolean): string[] => {
    const lane = job.order[channelOf(job, id) ?? ''] ?? [];
    const at = lane.indexOf(id);
    return (behind ? lane.slice(at + 1) : lane.slice(0, at)).flatMap((k) => {
      const op = job.operations[k];
      return op.on && op.kind === 'wait' ? [markName(op.params)] : [];
    });
  };
  const before = new Set(marks(then, false));
  return marks(first, true).some((name) => before.has(name));
};
