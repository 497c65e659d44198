'use client';
import { create } from 'zustand';
import type { Job } from '@/core/plan';

export type Phase = 'part' | 'hold' | 'tool' | 'plan' | 'prove' | 'release';
export const PHASES: readonly Phase[] = ['part', 'hold', 'tool', 'plan', 'prove', 'release'];

export interface SpanPick {
  readonly side: 'outer' | 'inner';
  readonly from: string;
  readonly to: string;
}

/** What is looked at: never saved, never part of the document. */
export interface Selection {
  readonly phase: Phase;
  readonly operation: string | null;
  /** The holding that is shown; null = the first. */
  readonly holding: string | null;
  readonly element: string | null;
  readonly tool: string | null;
  readonly span: SpanPick | null;
  /** Index of the candidate under the pointer. */
  readonly previewed: number | null;
  /** Time cursor, s. */
  readonly time: number;
  readonly playing: boolean;
  /** Where the run ends by itself; null = at the end. */
  readonly stopAt: number | null;
  /** How many times faster than the machine it runs. */
  readonly rate: number;
}

export const FIRST: Selection = {
  phase: 'plan',
  operation: null,
  holding: null,
  element: null,
  tool: null,
  span: null,
  previewed: null,
  time: 0,
  playing: false,
  stopAt: null,
  rate: 4,
};

/** The holding that is shown: that of the chosen operation, the chosen one, or the first. */
export const shownHolding = (job: Job, s: Pick<Selection, 'operation' | 'holding'>): string => {
  const own = s.operation === null ? undefined : job.operations[s.operation]?.holding;
  const chosen = own ?? s.holding;
  return chosen !== null && chosen in job.holdings ? chosen : job.holdingOrder[0];
};

/** A new span ends the preview; whatever is chosen stays chosen otherwise. */
export const selected = (now: Selection, patch: Partial<Selection>): Selection => ({
  ...now,
  // a candidate that was looked at belongs to its span, and to no operation
  ...(('span' in patch && patch.span !== now.span) || ('operation' in patch && patch.operation !== now.operation)
    ? { previewed: null }
    : {}),
  ...patch,
});

/** The time cursor stays on the timeline when the job gets shorter. */
export const within = (now: Selection, total: number): Selection =>
  now.time > total ? { ...now, time: total, playing: false } : now;

interface SelectionState extends Selection {
  set: (patch: Partial<Selection>) => void;
}

export const useSelection = create<SelectionState>((set) => ({
  ...FIRST,
  set: (patch) => set((s) => selected(s, patch)),
}));
