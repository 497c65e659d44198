'use client';
import { create } from 'zustand';
import {
  applyDiff,
  type Candidate,
  type Derived,
  type Diff,
  diffDocuments,
  invertDiff,
  isEmptyDiff,
  type Job,
} from '@/core/plan';
import type { Released } from '@/workers/core.worker';
import { callback, core } from './core';

export type Phase = 'part' | 'hold' | 'tool' | 'plan' | 'prove' | 'release';
export const PHASES: readonly Phase[] = ['part', 'hold', 'tool', 'plan', 'prove', 'release'];

export type Saving =
  | { readonly kind: 'saved'; readonly at: number }
  | { readonly kind: 'saving' }
  | { readonly kind: 'waiting'; readonly reason: string }
  | { readonly kind: 'refused'; readonly reason: string };

export interface Conflict {
  readonly version: number;
  readonly theirs: Job;
  readonly updatedBy: string;
}

interface Step {
  readonly label: string;
  readonly diff: Diff;
}

export interface SpanPick {
  readonly side: 'outer' | 'inner';
  readonly from: string;
  readonly to: string;
}

interface JobState {
  id: string;
  job: Job;
  version: number;
  saving: Saving;
  conflict: Conflict | null;
  past: Step[];
  future: Step[];
  derived: Derived | null;
  /** The job that `derived` belongs to. */
  derivedFor: Job | null;
  progress: { done: number; all: number } | null;
  failure: string | null;
  phase: Phase;
  operation: string | null;
  element: string | null;
  tool: string | null;
  span: SpanPick | null;
  candidates: readonly Candidate[] | null;
  previewed: number | null;
  time: number;
  playing: boolean;
  stopAt: number | null;
  rate: number;
  released: Released | null;
  releasedFor: Job | null;
  author: string;

  open: (id: string, job: Job, version: number) => void;
  edit: (label: string, change: (job: Job) => Job) => void;
  undo: () => string | null;
  redo: () => string | null;
  set: (
    patch: Partial<
      Pick<
        JobState,
        'phase' | 'operation' | 'element' | 'tool' | 'span' | 'previewed' | 'time' | 'playing' | 'rate' | 'stopAt'
      >
    >,
  ) => void;
  cancelDerive: () => void;
  findCandidates: () => Promise<void>;
  release: () => Promise<void>;
  keepBoth: () => Promise<string | null>;
  takeTheirs: () => void;
  putMineOnTop: () => void;
}

/** What the server last acknowledged. */
let acknowledged: Job | null = null;
let sending = false;
let inFlight: { edit: string; diff: Diff; target: Job; label: string } | null = null;
let timer: ReturnType<typeof setTimeout> | null = null;

const author = (): string =>
  typeof window === 'undefined' ? '' : (window.localStorage.getItem('lively.author') ?? 'Ottilie Marsh');

export const useJob = create<JobState>((set, get) => {
  const derive = (job: Job): void => {
    void core()
      .derive(
        job,
        callback((done: number, all: number) => {
          // progress comes on a channel of its own and may arrive after the result
          if (get().job === job && get().derivedFor !== job) set({ progress: { done, all } });
        }),
      )
      .then((derived) => {
        if (!derived || get().job !== job) return;
        const total = derived.timeline.total;
        set({ derived, derivedFor: job, progress: null, failure: null, time: Math.min(get().time, total) });
      })
      .catch((error: unknown) =>
        set({ failure: error instanceof Error ? error.message : String(error), progress: null }),
      );
  };

  const schedule = (delay: number): void => {
    if (timer) clearTimeout(timer);
    timer = setTimeout(() => void send(), delay);
  };

  /** Sends all that is not yet acknowledged as one edit; the same edit is sent again until it has an answer. */
  const send = async (): Promise<void> => {
    const { id, job, version, conflict } = get();
    if (sending || conflict || !acknowledged) return;
    if (!inFlight) {
      const diff = diffDocuments(acknowledged, job);
      if (isEmptyDiff(diff)) {
        if (get().saving.kind !== 'saved') set({ saving: { kind: 'saved', at: Date.now() } });
        return;
      }
      inFlight = { edit: crypto.randomUUID(), diff, target: job, label: get().past.at(-1)?.label ?? 'edit' };
    }
    sending = true;
    set({ saving: { kind: 'saving' } });
    const current = inFlight;
    try {
      const response = await fetch(`/api/jobs/${id}/edits`, {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify({
          edit: current.edit,
          base: version,
          author: get().author,
          label: current.label,
          diff: current.diff,
        }),
      });
      const body = (await response.json().catch(() => ({}))) as {
        version?: number;
        document?: Job;
        updatedBy?: string;
        message?: string;
      };
      sending = false;
      if (get().id !== id) return;
      if (response.ok && body.version) {
        acknowledged = current.target;
        inFlight = null;
        // more may have been changed while this edit was on its way: then nothing is saved yet
        const all = get().job === current.target;
        set({ version: body.version, saving: all ? { kind: 'saved', at: Date.now() } : { kind: 'saving' } });
        if (!all) schedule(50);
        return;
      }
      if (response.status === 409 && body.document) {
        inFlight = null;
        set({
          conflict: {
            version: body.version ?? version,
            theirs: body.document,
            updatedBy: body.updatedBy ?? 'somebody',
          },
          saving: { kind: 'waiting', reason: 'changed elsewhere' },
        });
        return;
      }
      if (response.status >= 500) throw new Error(body.message ?? 'The server cannot save just now.');
      inFlight = null;
      set({ saving: { kind: 'refused', reason: body.message ?? 'The change was not taken.' } });
    } catch (error) {
      sending = false;
      set({
        saving: {
          kind: 'waiting',
          reason:
            error instanceof Error && error.message !== 'Failed to fetch'
              ? error.message
              : 'no connection; will be saved when it is back',
        },
      });
      schedule(1500);
    }
  };

  const show = (job: Job, patch: Partial<JobState>): void => {
    set({ job, ...(get().saving.kind === 'saved' ? { saving: { kind: 'saving' } } : {}), ...patch });
    derive(job);
    schedule(350);
  };

  return {
    id: '',
    job: null as unknown as Job,
    version: 0,
    saving: { kind: 'saved', at: 0 },
    conflict: null,
    past: [],
    future: [],
    derived: null,
    derivedFor: null,
    progress: null,
    failure: null,
    phase: 'plan',
    operation: null,
    element: null,
    tool: null,
    span: null,
    candidates: null,
    previewed: null,
    time: 0,
    playing: false,
    stopAt: null,
    rate: 4,
    released: null,
    releasedFor: null,
    author: author(),

    open: (id, job, version) => {
      acknowledged = job;
      inFlight = null;
      sending = false;
      set({
        id,
        job,
        version,
        saving: { kind: 'saved', at: Date.now() },
        conflict: null,
        past: [],
        future: [],
        derived: null,
        derivedFor: null,
        operation: null,
        element: null,
        tool: null,
        span: null,
        candidates: null,
        time: 0,
        playing: false,
        released: null,
        releasedFor: null,
        failure: null,
      });
      derive(job);
    },

    edit: (label, change) => {
      const before = get().job;
      const after = change(structuredClone(before));
      const diff = diffDocuments(before, after);
      if (isEmptyDiff(diff)) return;
      show(after, { past: [...get().past, { label, diff }], future: [], candidates: null });
    },

    undo: () => {
      const step = get().past.at(-1);
      if (!step) return null;
      show(applyDiff(get().job, invertDiff(step.diff)), {
        past: get().past.slice(0, -1),
        future: [step, ...get().future],
        candidates: null,
      });
      return step.label;
    },

    redo: () => {
      const [step, ...rest] = get().future;
      if (!step) return null;
      show(applyDiff(get().job, step.diff), { past: [...get().past, step], future: rest, candidates: null });
      return step.label;
    },

    set: (patch) => {
      set(patch);
      if ('span' in patch) set({ candidates: null, previewed: null });
    },

    cancelDerive: () => {
      void core().cancel();
      set({ progress: null });
    },

    findCandidates: async () => {
      const { job, span } = get();
      const found = await core().candidates(job, span ? { from: span.from, to: span.to } : null, span?.side ?? 'outer');
      if (get().job === job && get().span === span) set({ candidates: found });
    },

    release: async () => {
      const { job } = get();
      const released = await core().release(job, new Date().toISOString().slice(0, 10));
      if (released && get().job === job) set({ released, releasedFor: job });
    },

    keepBoth: async () => {
      const { job, conflict, author: who } = get();
      if (!conflict) return null;
      const mine: Job = { ...job, header: { ...job.header, name: `${job.header.name} (my version)`.slice(0, 200) } };
      const response = await fetch('/api/jobs', {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify({ document: mine, author: who }),
      });
      const body = (await response.json()) as { id?: string; message?: string };
      if (!response.ok || !body.id) throw new Error(body.message ?? 'Your version could not be saved as a new job.');
      get().takeTheirs();
      return body.id;
    },

    takeTheirs: () => {
      const { conflict, job } = get();
      if (!conflict) return;
      acknowledged = conflict.theirs;
      // my version stays one undo away
      const diff = diffDocuments(job, conflict.theirs);
      set({ conflict: null, version: conflict.version, saving: { kind: 'saved', at: Date.now() } });
      show(conflict.theirs, { past: [...get().past, { label: 'take the other version', diff }], future: [] });
    },

    putMineOnTop: () => {
      const { conflict } = get();
      if (!conflict) return;
      // theirs stays in the history as the revision below
      acknowledged = conflict.theirs;
      set({ conflict: null, version: conflict.version, saving: { kind: 'saving' } });
      schedule(0);
    },
  };
});

/** True while something is not yet safe on the server. */
export const hasUnsaved = (): boolean => {
  const s = useJob.getState();
  return acknowledged !== null && s.job !== null && !isEmptyDiff(diffDocuments(acknowledged, s.job));
};
