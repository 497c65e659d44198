'use client';
import type { Remedy } from '@/core/findings';
import { type CuttingOperation, isCutting, namesOf, type Operation } from '@/core/operations';
import { type Job, landingPlace, whyNotThere as whyNotInChannel, withValues } from '@/core/plan';
import { writePath } from '../kit/paths';
import { useDocument } from './document';
import { useSelection } from './selection';

const channelOf = (job: Job, id: string): string =>
  Object.keys(job.order).find((c) => job.order[c].includes(id)) ?? job.machine.channels[0].id;

export const freshId = (job: Job): string => {
  let n = Object.keys(job.operations).length + 1;
  while (`op${n}` in job.operations) n++;
  return `op${n}`;
};

export const addOperation = (operation: CuttingOperation): string => {
  const { edit, job } = useDocument.getState();
  const { set } = useSelection.getState();
  const id = freshId(job);
  edit(`add ${namesOf(operation).label.toLowerCase()}`, (j) => {
    const channel = j.machine.channels[0].id;
    const order = j.order[channel] ?? [];
    const at = landingPlace(j, operation.kind, operation.holding);
    j.operations[id] = { ...operation, id };
    j.order[channel] = [...order.slice(0, at), id, ...order.slice(at)];
    return j;
  });
  set({ operation: id, phase: 'plan' });
  return id;
};

export const removeOperation = (id: string): void => {
  const { edit } = useDocument.getState();
  const { set } = useSelection.getState();
  edit('delete operation', (j) => {
    delete j.operations[id];
    for (const c of Object.keys(j.order)) j.order[c] = j.order[c].filter((k) => k !== id);
    return j;
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
    const c = channelOf(j, id);
    const at = j.order[c].indexOf(id) + 1;
    j.order[c] = [...j.order[c].slice(0, at), copy, ...j.order[c].slice(at)];
    return j;
  });
  set({ operation: copy });
};

/** Moves an operation to a place in its channel's order (counted without itself). */
export const moveOperation = (id: string, to: number): void => {
  useDocument.getState().edit('move operation', (j) => {
    const c = channelOf(j, id);
    const rest = j.order[c].filter((k) => k !== id);
    const at = Math.max(0, Math.min(rest.length, to));
    j.order[c] = [...rest.slice(0, at), id, ...rest.slice(at)];
    return j;
  });
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

/** Why an operation may not stand at a place in its channel's order, or null. */
export const whyNotThere = (job: Job, id: string, to: number): string | null =>
  whyNotInChannel(job, id, channelOf(job, id), to);

/** Applies what a finding proposes, as one edit. */
export const applyRemedy = (remedy: Remedy): void => {
  useDocument.getState().edit(remedy.label, (j) => withValues(j, remedy.set));
};
