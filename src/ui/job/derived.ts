'use client';
import { create } from 'zustand';
import type { Job } from '@/core/plan';
import type { Tool } from '@/core/tooling';
import type { Released } from '@/workers/core.worker';
import { callback, core, onProgress as hearProgress, onEarlyPath, patiently } from './core';
import { Deriver, type DeriverState } from './deriver';
import { useDocument } from './document';
import { keepEarly, keepTrack } from './fetched';
import { shownHolding, useSelection } from './selection';

interface DerivedState extends DeriverState {
  readonly released: Released | null;
  readonly releasedFor: Job | null;
  ask: (job: Job) => void;
  reset: () => void;
  cancel: () => void;
  /** Tries the tools of the job, then those of the shelf. */
  findCandidates: (shelf: readonly Tool[]) => Promise<void>;
  /** Lets the worker try its hand at candidates while nothing is asked of it. */
  practise: (shelf: readonly Tool[]) => void;
  release: () => Promise<void>;
}

export const useDerived = create<DerivedState>((set) => {
  const deriver = new Deriver({
    derive: (job, fresh, onProgress) =>
      patiently(async (heard) => {
        hearProgress((done, all) => {
          heard();
          onProgress(done, all);
        });
        // both ways back are channels of their own: what comes after the answer is no news
        let open = true;
        onEarlyPath((path) => {
          if (open) keepEarly(path);
        });
        try {
          const answer = await core().derive(job, fresh, useSelection.getState().operation);
          if (answer?.track) keepTrack(answer.track);
          return answer?.changes ?? null;
        } finally {
          open = false;
        }
      }),
    changed: (state) => {
      // what was told early is in the view now, or is not so
      if (state.view !== undefined || state.failure) keepEarly(null);
      set(state);
    },
  });
  return {
    view: null,
    viewFor: null,
    progress: null,
    failure: null,
    candidates: null,
    released: null,
    releasedFor: null,
    ask: (job) => {
      set({ candidates: null });
      void deriver.ask(job);
    },
    reset: () => {
      deriver.reset();
      set({ released: null, releasedFor: null });
    },
    cancel: () => {
      void core().cancel();
      set({ progress: null });
    },
    findCandidates: async (shelf) => {
      // what was found for another span is no answer to this one
      set({ candidates: null });
      const { job } = useDocument.getState();
      const { span } = useSelection.getState();
      const current = (): boolean => useDocument.getState().job === job && useSelection.getState().span === span;
      let done = false;
      const found = await core().candidates(
        job,
        span ? { from: span.from, to: span.to } : null,
        span?.side ?? 'outer',
        shownHolding(job, useSelection.getState()),
        shelf,
        callback((candidates: NonNullable<DeriverState['candidates']>) => {
          if (current() && !done) set({ candidates });
        }),
      );
      done = true;
      if (found && current()) set({ candidates: found });
    },
    practise: (shelf) => {
      const { job } = useDocument.getState();
      core()
        .practise(job, shownHolding(job, useSelection.getState()), shelf)
        .catch(() => undefined);
    },
    release: async () => {
      const { job } = useDocument.getState();
      const released = await core().release(job, new Date().toISOString().slice(0, 10));
      if (released && useDocument.getState().job === job) set({ released, releasedFor: job });
    },
  };
});
