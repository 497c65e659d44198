import { isCutting, isCuttingKind, kindOf, namesOf, type OperationKind } from '../operations';
import type { Job } from './document';

/** The stretch of a channel's order that belongs to a holding: its operations stand together there. */
const stretchOf = (job: Job, order: readonly string[], holding: string): { from: number; to: number } => {
  const rank = (id: string): number => job.holdingOrder.indexOf(job.operations[id].holding);
  const own = job.holdingOrder.indexOf(holding);
  const from = order.filter((id) => rank(id) < own).length;
  return { from, to: from + order.filter((id) => rank(id) === own).length };
};

/** The channel in whose list an operation stands. */
export const channelOf = (job: Job, id: string): string | null =>
  Object.keys(job.order).find((c) => job.order[c].includes(id)) ?? null;

const coversOf = (job: Job, id: string): string | null => {
  const op = job.operations[id];
  return isCutting(op) ? kindOf(op).covers : null;
};

/** Index in a channel's order where a holding's operations end, or its cutoff stands. */
export const beforeCutoff = (job: Job, holding: string, channel: string): number => {
  const order = job.order[channel] ?? [];
  const { from, to } = stretchOf(job, order, holding);
  const cutoff = order.findIndex((id, i) => i >= from && i < to && coversOf(job, id) === 'sever');
  return cutoff >= 0 ? cutoff : to;
};

/** Where a new operation of a kind belongs in the order: in its holding after the last of smaller or equal rank, never after a cutoff. */
export const landingPlace = (
  job: Job,
  kind: OperationKind,
  holding: string,
  channel: string = job.machine.channels[0].id,
): number => {
  const order = job.order[channel] ?? [];
  const { from, to } = stretchOf(job, order, holding);
  const own = namesOf({ kind });
  const severs = isCuttingKind(kind) && kindOf({ kind }).covers === 'sever';
  const end = severs ? to : beforeCutoff(job, holding, channel);
  let at = from;
  for (let i = from; i < end; i++) if (namesOf(job.operations[order[i]]).rank <= own.rank) at = i + 1;
  return Math.min(at, end);
};

/** Why an operation may not stand at a place in its channel's order (counted without itself), or null. */
export const whyNotThere = (job: Job, id: string, channel: string, to: number): string | null => {
  const others = (job.order[channel] ?? []).filter((k) => k !== id);
  const op = job.operations[id];
  const stretch = stretchOf(job, others, op.holding);
  if (to < stretch.from || to > stretch.to)
    return `It belongs to “${job.holdings[op.holding].name}”; the work is held otherwise there.`;
  if (!isCutting(op)) return null;
  const rest = others.slice(stretch.from, stretch.to).map((k) => job.operations[k]);
  const at = to - stretch.from;
  const covers = (k: (typeof rest)[number]): string | null => (isCutting(k) && k.on ? kindOf(k).covers : null);
  const own = kindOf(op);
  const cutoff = rest.findIndex((k) => covers(k) === 'sever');
  if (own.covers !== 'sever' && cutoff >= 0 && at > cutoff) return 'The part is off after the cutoff.';
  if (own.covers === 'sever' && at < rest.length) return 'The cutoff comes last.';
  const hole = rest.findIndex((k) => covers(k) === 'hole');
  if (own.needsHole && hole >= 0 && at <= hole) return 'Boring needs the drilled hole first.';
  const needing = rest.findIndex((k) => isCutting(k) && k.on && kindOf(k).needsHole);
  if (own.covers === 'hole' && needing >= 0 && at > needing && hole < 0) return 'The boring after it needs this hole.';
  return null;
};

/** A name that no operation of the job has yet. */
export const freshId = (job: Job): string => {
  let n = Object.keys(job.operations).length + 1;
  while (`op${n}` in job.operations) n++;
  return `op${n}`;
};
