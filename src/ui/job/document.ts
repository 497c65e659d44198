'use client';
import { create } from 'zustand';
import { applyDiff, type Diff, diffDocuments, invertDiff, isEmptyDiff, type Job, sharedWith } from '@/core/plan';
import { allowed } from '../house/person';

export interface Step {
  readonly label: string;
  readonly diff: Diff;
}

/** The document with the way it came to be; every change is one step that can be taken back. */
export interface History {
  readonly job: Job;
  readonly past: readonly Step[];
  readonly future: readonly Step[];
}

/** A change as a new step; null when it changes nothing. */
export const edited = (h: History, label: string, change: (job: Job) => Job): History | null => {
  const job = change(structuredClone(h.job));
  return replaced(h, label, job);
};

/** Another document in the place of this one, as a step of its own. */
export const replaced = (h: History, label: string, job: Job): History | null => {
  // whoever looks at a part of the document that is as it was is not disturbed
  const next = sharedWith(h.job, job);
  const diff = diffDocuments(h.job, next);
  return isEmptyDiff(diff) ? null : { job: next, past: [...h.past, { label, diff }], future: [] };
};

export type Stepped = { readonly history: History; readonly label: string };

/** The document with a diff; null when somebody else has taken away what it speaks of. */
const applied = (job: Job, diff: Diff): Job | null => {
  try {
    return applyDiff(job, diff);
  } catch {
    return null;
  }
};

/** The last step taken back; one that no longer fits, because others have changed what it changed, is left out. */
export const undone = (h: History): Stepped | null => {
  const step = h.past.at(-1);
  if (!step) return null;
  const past = h.past.slice(0, -1);
  const job = applied(h.job, invertDiff(step.diff));
  return job ? { history: { job, past, future: [step, ...h.future] }, label: step.label } : undone({ ...h, past });
};

export const redone = (h: History): Stepped | null => {
  const [step, ...rest] = h.future;
  if (!step) return null;
  const job = applied(h.job, step.diff);
  return job
    ? { history: { job, past: [...h.past, step], future: rest }, label: step.label }
    : redone({ ...h, future: rest });
};

interface DocumentState extends History {
  readonly id: string;
  open: (id: string, job: Job) => void;
  edit: (label: string, change: (job: Job) => Job) => void;
  replace: (label: string, job: Job) => void;
  /** What others have made of it: no step of one's own. */
  follow: (job: Job) => void;
  /** The document stays; another one that it covers becomes the step before it. */
  cover: (label: string, other: Job) => void;
  /** Label of the step taken back, or null. */
  undo: () => string | null;
  redo: () => string | null;
}

export const useDocument = create<DocumentState>((set, get) => ({
  id: '',
  job: null as unknown as Job,
  past: [],
  future: [],
  open: (id, job) => set({ id, job, past: [], future: [] }),
  edit: (label, change) => {
    if (allowed('program')) set(edited(get(), label, change) ?? {});
  },
  replace: (label, job) => set(replaced(get(), label, job) ?? {}),
  follow: (job) => set({ job, future: [] }),
  cover: (label, other) => {
    const { job, past } = get();
    set({ past: [...past, { label, diff: diffDocuments(other, job) }], future: [] });
  },
  undo: () => {
    const back = undone(get());
    if (back) set(back.history);
    return back?.label ?? null;
  },
  redo: () => {
    const on = redone(get());
    if (on) set(on.history);
    return on?.label ?? null;
  },
}));
