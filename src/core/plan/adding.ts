import type { Remedy } from '../findings';
import {
  type ActorOperation,
  CUTTING_KINDS,
  isSevering,
  namesOf,
  type Operation,
  OperationSchema,
  titleOf,
} from '../operations';
import { mountedAt } from '../tooling';
import type { Job } from './document';
import { channelOf, freshId, landingPlace } from './landing';
import { newOperation } from './newOperation';
import { takesTool } from './references';

/** A new operation that moves no tool. */
export const newActor = (
  kind: ActorOperation['kind'],
  of: { readonly id: string; readonly holding: string; readonly channel: string },
  params: object = {},
): Operation => OperationSchema.parse({ kind, name: namesOf({ kind }).label, params, ...of });

/** The edit that puts a new operation into its channel's list at a place, as values by JSON pointer. */
export const putAt = (job: Job, op: Operation, at: number): Record<string, unknown> => {
  const order = job.order[op.channel] ?? [];
  return {
    [`/operations/${op.id}`]: op,
    [`/order/${op.channel}`]: [...order.slice(0, at), op.id, ...order.slice(at)],
  };
};

/** Adds an operation that moves no tool right beside another one, in the channel whose list that stands in. */
export const addedBeside = (
  where: 'before' | 'behind',
  job: Job,
  label: string,
  made: { readonly kind: ActorOperation['kind']; readonly holding: string; readonly params: object },
  other: string,
): Remedy | null => {
  const channel = channelOf(job, other);
  if (channel === null) return null;
  const op = newActor(made.kind, { id: freshId(job), holding: made.holding, channel }, made.params);
  return { label, set: putAt(job, op, job.order[channel].indexOf(other) + (where === 'behind' ? 1 : 0)) };
};

/** Has the work held at its front by the machine's tailstock from the first cut on that is no hole; null where no channel has one. */
export const addedCentre = (job: Job, holding: string): Remedy | null => {
  const tails = job.machine.devices.filter((d) => d.kind === 'tailstock').map((d) => d.id);
  const channel = job.machine.channels.find((c) => c.devices.some((d) => tails.includes(d)))?.id;
  if (channel === undefined) return null;
  const op = newActor('support', { id: freshId(job), holding, channel });
  const { rank } = namesOf(op);
  const list = job.order[channel] ?? [];
  const first = list.findIndex((k) => job.operations[k].holding === holding && namesOf(job.operations[k]).rank > rank);
  const at = first < 0 ? landingPlace(job, 'support', holding, channel) : first;
  return { label: 'Hold it by the tailstock', set: putAt(job, op, at) };
};

/** Has the part taken off in a holding: by the cutoff that is there and switched off, or by a new one with a blade that stands in a station. */
export const addedCutoff = (job: Job, holding: string): Remedy | null => {
  const off = Object.values(job.operations).find((op) => op.holding === holding && isSevering(op) && !op.on);
  if (off) return { label: `Switch “${titleOf(off)}” on`, set: { [`/operations/${off.id}/on`]: true } };
  for (const kind of CUTTING_KINDS.filter((k) => k.covers === 'sever')) {
    const blade = Object.values(job.tools).find((t) => mountedAt(job.mounts, t.id) && takesTool(job, kind.tools, t));
    if (!blade) continue;
    const op = newOperation(job, kind.kind, blade, null, freshId(job), holding);
    const at = landingPlace(job, kind.kind, holding, op.channel);
    return { label: `Cut it off with “${blade.name}”`, set: putAt(job, op, at) };
  }
  return null;
};

/** Has a holding's part taken over by it, before it is cut off where a cutoff says when that is. */
export const addedHandover = (job: Job, from: string, to: string): Remedy | null => {
  if (!job.holdings[from]) return null;
  const lists = Object.keys(job.order);
  const severs = (id: string): boolean => job.operations[id]?.holding === from && isSevering(job.operations[id]);
  const channel = lists.find((c) => job.order[c].some(severs)) ?? job.machine.channels[0].id;
  const cut = (job.order[channel] ?? []).findIndex(severs);
  const off = cut < 0 ? null : job.operations[job.order[channel][cut]];
  const op = newActor('handover', { id: freshId(job), holding: from, channel }, { to });
  return {
    label: off ? `Hand it over before “${titleOf(off)}”` : 'Hand it over',
    set: putAt(job, op, cut < 0 ? landingPlace(job, 'handover', from, channel) : cut),
  };
};

/** A channel's list with `id` right behind `other`, wherever it stood before. */
export const orderBehind = (list: readonly string[], id: string, other: string): string[] =>
  list.flatMap((k) => (k === id ? [] : k === other ? [k, id] : [k]));

/** A channel's list with `id` right in front of `other`, wherever it stood before. */
export const orderBefore = (list: readonly string[], id: string, other: string): string[] =>
  list.flatMap((k) => (k === id ? [] : k === other ? [id, k] : [k]));
