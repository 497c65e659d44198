'use client';
import { create } from 'zustand';
import { applyDiff, type Diff, diffDocuments, invertDiff, isEmptyDiff, type Job } from '@/core/plan';

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
  const diff = diffDocuments(h.job, job);
  return isEmptyDiff(diff) ? null : { job, past: [...h.past, { label, diff }], future: [] };
};

export const undone = (h: History): { readonly history: History; readonly label: string } | null => {
  const step = h.past.at(-1);
  if (!step) return null;
  const job = applyDiff(h.job, invertDiff(step.diff));
  return { history: { job, past: h.past.slice(0, -1), future: [step, ...h.future] }, label: step.label };
};

export const redone = (h: History): { readonly history: History; readonly label: string } | null => {
  const [step, ...rest] = h.future;
  if (!step) return null;
  return { history: { job: applyDiff(h.job, step.diff), past: [...h.past, step], future: rest }, label: step.label };
};

interface DocumentState extends History {
  readonly id: string;
  open: (id: string, job: Job) => void;
  edit: (label: string, change: (job: Job) => Job) => void;
  replace: (label: string, job: Job) => void;
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
  edit: (label, change) => set(edited(get(), label, change) ?? {}),
  replace: (label, job) => set(replaced(get(), label, job) ?? {}),
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
