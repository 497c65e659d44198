'use client';
import { isSevering } from '@/core/operations';
import {
  cutoffWidthIn,
  type HeldView,
  type Job,
  makesParts,
  pitchOf,
  type Repeat,
  RepeatSchema,
  repeatOf,
} from '@/core/plan';
import { useDocument } from './document';

/** Edits of what runs several times along Z. */

const freshRepeat = (job: Job): string => {
  let n = Object.keys(job.repeats).length + 1;
  while (`r${n}` in job.repeats) n++;
  return `r${n}`;
};

/** The channel's list in which the part comes off in a holding; null where nothing takes it off. */
const severingList = (job: Job, holding: string): string[] | null =>
  Object.values(job.order).find((ids) =>
    ids.some((id) => {
      const op = job.operations[id];
      return op.holding === holding && op.on && isSevering(op);
    }),
  ) ?? null;

/** The repeat that makes several parts in a holding. */
export const partsRepeat = (job: Job, holding: string): Repeat | null =>
  Object.values(job.repeats).find((r) => makesParts(job, r) && job.operations[r.operations[0]]?.holding === holding) ??
  null;

export const mayRepeatParts = (job: Job, holding: string): boolean => severingList(job, holding) !== null;

/** How far apart the parts of a stick-out lie and how many they are; null where it gives one. */
export const usePartsAlong = (held: HeldView | null): { readonly pitch: number; readonly count: number } | null => {
  const job = useDocument((s) => s.job);
  const repeat = held ? partsRepeat(job, held.id) : null;
  if (!held || !repeat) return null;
  const pitch = pitchOf(job, repeat, held.part.region, cutoffWidthIn(job, held.id));
  return pitch === null || pitch <= 0 ? null : { pitch, count: repeat.count };
};

const add = (j: Job, operations: string[], name: string, count: number, pitch: number | null): Job => {
  const id = freshRepeat(j);
  j.repeats[id] = RepeatSchema.parse({ id, name, operations, count, pitch });
  return j;
};

/** So many parts from one stick-out; one is none to repeat. */
export const setParts = (holding: string, count: number): void => {
  const { job, edit } = useDocument.getState();
  const now = partsRepeat(job, holding);
  if (now) {
    if (count <= 1) dropRepeat(now.id);
    else changeRepeat(now.id, 'number of parts', { count, first: Math.min(now.first, count) });
    return;
  }
  const list = severingList(job, holding);
  if (!list || count <= 1) return;
  const own = list.filter((id) => job.operations[id].holding === holding);
  edit('several parts', (j) => {
    // what ran several times on one part belongs to the parts now
    for (const r of Object.values(j.repeats)) if (r.operations.some((id) => own.includes(id))) delete j.repeats[r.id];
    return add(j, own, 'Parts', count, null);
  });
};

/** One operation at so many places of a part. */
export const setTimes = (operation: string, count: number): void => {
  const { job, edit } = useDocument.getState();
  const now = repeatOf(job, operation);
  if (now && count <= 1) dropRepeat(now.id);
  else if (now) changeRepeat(now.id, 'times', { count, first: Math.min(now.first, count) });
  else if (count > 1) edit('repeat along Z', (j) => add(j, [operation], j.operations[operation].name, count, 5));
};

export const changeRepeat = (id: string, label: string, patch: Partial<Repeat>): void =>
  useDocument.getState().edit(label, (j) => {
    j.repeats[id] = { ...j.repeats[id], ...patch };
    return j;
  });

const dropRepeat = (id: string): void =>
  useDocument.getState().edit('no repeat', (j) => {
    delete j.repeats[id];
    return j;
  });

/** Repeats after operations have come, gone or moved: what is gone leaves them, what stands inside one belongs to it. */
export const withRepeats = (j: Job): Job => {
  for (const r of Object.values(j.repeats)) {
    const members = r.operations.filter((id) => id in j.operations);
    const parts = makesParts(j, { ...r, operations: members });
    const taken = new Set(members);
    for (const ids of Object.values(j.order)) {
      const places = ids.flatMap((id, i) => (taken.has(id) ? [i] : []));
      if (places.length === 0) continue;
      const holding = j.operations[ids[places[0]]].holding;
      // every part wants all that is done before it comes off
      const from = parts ? ids.findIndex((id) => j.operations[id].holding === holding) : places[0];
      for (const id of ids.slice(from, places[places.length - 1] + 1))
        if (j.operations[id].holding === holding && repeatOf(j, id) === null) taken.add(id);
    }
    const inOrder = Object.values(j.order).flatMap((ids) => ids.filter((id) => taken.has(id)));
    if (inOrder.length === 0) delete j.repeats[r.id];
    else j.repeats[r.id] = { ...r, operations: inOrder };
  }
  return j;
};
