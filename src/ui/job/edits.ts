'use client';
import type { Remedy } from '@/core/findings';
import { type Carrier, carrierOf } from '@/core/machine';
import { isCutting, namesOf, type Operation } from '@/core/operations';
import {
  type Candidate,
  channelOf,
  type Edge,
  freeStations,
  freshId,
  type Job,
  keptBehind,
  knotsOf,
  landingPlace,
  markBetween,
  meaningOf,
  type Placed,
  sameAgain,
  whyNotThere as whyNotInChannel,
  withPlaced,
  withValues,
} from '@/core/plan';
import { type Mount, mountedAt, mountList, type Tool, toolSection, usualMount } from '@/core/tooling';
import { writePath } from '../kit/paths';
import { useDocument } from './document';
import { withRepeats } from './repeats';
import { useSelection } from './selection';

const laneOf = (job: Job, id: string): string => channelOf(job, id) ?? job.machine.channels[0].id;

export const addOperation = (operation: Operation): string => {
  const { edit, job } = useDocument.getState();
  const { set } = useSelection.getState();
  const id = freshId(job);
  edit(`add ${namesOf(operation).label.toLowerCase()}`, (j) => withOperation(j, operation, id));
  set({ operation: id, phase: 'plan' });
  return id;
};

/** Adds what a candidate does; its tool goes into the station that it was tried in, in the same edit. */
export const addCandidate = ({ operation, put }: Candidate): string => {
  if (!put) return addOperation(operation);
  const { edit, job } = useDocument.getState();
  const id = freshId(job);
  edit(`add ${namesOf(operation).label.toLowerCase()} with ${put.tool.name}`, (j) =>
    withOperation(withPlaced(j, put), operation, id),
  );
  useSelection.getState().set({ operation: id, phase: 'plan' });
  return id;
};

/** The job with an operation where it belongs. */
const withOperation = (j: Job, operation: Operation, id: string): Job => {
  const { channel } = operation;
  const order = j.order[channel] ?? [];
  const at = landingPlace(j, operation.kind, operation.holding, channel);
  j.operations[id] = { ...operation, id };
  j.order[channel] = [...order.slice(0, at), id, ...order.slice(at)];
  return withRepeats(j);
};

export const removeOperation = (id: string): void => {
  const { edit, job } = useDocument.getState();
  // a mark goes with all its knots: one that is left alone would stop its channel for ever
  const gone = new Set(knotsOf(job, id));
  const { set } = useSelection.getState();
  edit('delete operation', (j) => {
    for (const k of gone) delete j.operations[k];
    for (const c of Object.keys(j.order)) j.order[c] = j.order[c].filter((k) => !gone.has(k));
    return withRepeats(j);
  });
  set({ operation: null });
};

export const copyOperation = (id: string): void => {
  const { edit, job } = useDocument.getState();
  const { set } = useSelection.getState();
  const copy = freshId(job);
  edit('copy operation', (j) => {
    const source = j.operations[id];
    j.operations[copy] = { ...structuredClone(source), id: copy, name: `${source.name} copy` };
    const c = laneOf(j, id);
    const at = j.order[c].indexOf(id) + 1;
    j.order[c] = [...j.order[c].slice(0, at), copy, ...j.order[c].slice(at)];
    return withRepeats(j);
  });
  set({ operation: copy });
};

/** Moves an operation to a place in its channel's order (counted without itself). */
export const moveOperation = (id: string, to: number): void => {
  useDocument.getState().edit('move operation', (j) => {
    const c = laneOf(j, id);
    const rest = j.order[c].filter((k) => k !== id);
    const at = Math.max(0, Math.min(rest.length, to));
    j.order[c] = [...rest.slice(0, at), id, ...rest.slice(at)];
    return withRepeats(j);
  });
};

/** A tool of a carrier that can do what another one does: the same cutter, cutting the same way. */
const likeTool = (job: Job, carrier: string, tool: Tool): Tool | null => {
  const way = (t: Tool, wayUp?: Mount['wayUp']): string | null => {
    const made = toolSection(t, wayUp);
    return made.ok ? made.section.feeds : null;
  };
  const now = mountedAt(job.mounts, tool.id)?.mount.wayUp;
  const like = mountList({ [carrier]: job.mounts[carrier] ?? {} }).find(({ mount }) => {
    const t = job.tools[mount.tool];
    if (!t || JSON.stringify([t.kind, t.cutter]) !== JSON.stringify([tool.kind, tool.cutter])) return false;
    return way(t, mount.wayUp) === way(tool, now);
  });
  return like ? job.tools[like.mount.tool] : null;
};

/** A second tool like one, in a free station of a carrier; null where there is none free. */
const twinOf = (job: Job, carrier: Carrier, tool: Tool): Placed | null => {
  const [station] = freeStations(job, carrier);
  const now = mountedAt(job.mounts, tool.id)?.mount;
  if (station === undefined || !now) return null;
  const twin = sameAgain(tool, job.tools);
  return {
    carrier: carrier.id,
    station,
    mount: { ...usualMount(twin.id), wayUp: now.wayUp, facing: now.facing, point: now.point },
    tool: twin,
  };
};

/**
 * Moves an operation to another channel, with a tool of that channel's carrier that cuts like its own; where none does, a
 * second one is put into a free station. A mark keeps it behind the operation that it came after. Tells what was put there,
 * or why it does not go.
 */
export const moveToChannel = (
  id: string,
  channel: string,
  to: number,
): { readonly why: string } | { readonly put: Placed | null } => {
  const { job, edit } = useDocument.getState();
  const op = job.operations[id];
  if (op.kind === 'wait') return { why: 'A mark stands in every lane that it ties; it cannot change lanes.' };
  const carrier = carrierOf(job.machine, channel);
  let tool: Tool | null = null;
  let put: Placed | null = null;
  if (isCutting(op) && op.tool) {
    const now = job.tools[op.tool];
    tool = carrier && now ? likeTool(job, carrier.id, now) : null;
    put = !tool && carrier && now ? twinOf(job, carrier, now) : null;
    tool ??= put?.tool ?? null;
    if (!tool)
      return {
        why: `${carrier?.name ?? 'That channel'} has no tool like “${now?.name ?? op.tool}”, and no station is free there.`,
      };
  }
  const why = whyNotInChannel(job, id, channel, to);
  if (why) return { why };
  const lane = job.order[laneOf(job, id)] ?? [];
  const before = isCutting(op)
    ? lane.slice(0, lane.indexOf(id)).findLast((k) => {
        const o = job.operations[k];
        return o.on && isCutting(o) && o.holding === op.holding;
      })
    : undefined;
  edit('move to another lane', (old) => {
    const j = put ? withPlaced(old, put) : old;
    for (const c of Object.keys(j.order)) j.order[c] = j.order[c].filter((k) => k !== id);
    const order = j.order[channel] ?? [];
    const at = Math.max(0, Math.min(order.length, to));
    j.order[channel] = [...order.slice(0, at), id, ...order.slice(at)];
    j.operations[id] = { ...j.operations[id], channel, ...(tool ? { tool: tool.id } : {}) } as Operation;
    // it still comes after what it came after
    // where marks say the one or the other already, they say it
    if (!before || keptBehind(j, before, id) || keptBehind(j, id, before)) return j;
    return withValues(j, markBetween(j, { operation: before, side: 'end' }, { operation: id, side: 'start' }) ?? {});
  });
  return { put };
};

/** Ties two edges of operations with a mark; tells what that says, or null where both lie in one lane. */
export const tieWithMark = (a: Edge, b: Edge): ReturnType<typeof meaningOf> => {
  const { job, edit } = useDocument.getState();
  const values = markBetween(job, a, b);
  if (!values) return null;
  edit('tie with a mark', (j) => withValues(j, values));
  return meaningOf(job, a, b);
};

export const setOperation = (id: string, label: string, change: (op: Operation) => void): void => {
  useDocument.getState().edit(label, (j) => {
    change(j.operations[id]);
    return j;
  });
};

const nameOf = (id: string): string => useDocument.getState().job.operations[id]?.name ?? '';

/** Another value at a place of an operation; a number in the place of a formula replaces it. */
export const changeOperation = (id: string, label: string, path: string, value: unknown): void =>
  setOperation(id, `${label.toLowerCase()} of ${nameOf(id)}`, (o) => {
    writePath(o, path, value);
    if (isCutting(o) && o.formulas) delete o.formulas[path];
  });

/** A formula in the place of a number. */
export const formulaOfOperation = (id: string, label: string, path: string, text: string): void =>
  setOperation(id, `formula for ${label.toLowerCase()} of ${nameOf(id)}`, (o) => {
    if (isCutting(o)) o.formulas = { ...o.formulas, [path]: text };
  });

/** A number that a formula ties to something, both at once; null ties it to nothing. */
export const tieOperation = (id: string, label: string, path: string, value: number, text: string | null): void =>
  setOperation(id, `${label} of ${nameOf(id)}`, (o) => {
    writePath(o, path, value);
    if (!isCutting(o)) return;
    const { [path]: _, ...others } = o.formulas ?? {};
    const formulas = text === null ? others : { ...others, [path]: text };
    if (Object.keys(formulas).length > 0) o.formulas = formulas;
    else delete o.formulas;
  });

/** Why an operation may not stand at a place in its channel's order, or null. */
export const whyNotThere = (job: Job, id: string, to: number): string | null =>
  whyNotInChannel(job, id, laneOf(job, id), to);

/** Applies what a finding proposes, as one edit. */
export const applyRemedy = (remedy: Remedy): void => {
  useDocument.getState().edit(remedy.label, (j) => withValues(j, remedy.set));
};
