'use client';
import { create } from 'zustand';
import type { Snap } from '@/core/part';

export interface Pick3 extends Snap {
  /** Place in space (x along Z), when it was picked in the 3D view. */
  readonly space: readonly [number, number, number] | null;
}

export interface FieldRequest {
  readonly label: string;
  readonly take: (value: number) => void;
}

interface MeasureState {
  readonly on: boolean;
  readonly picks: readonly Pick3[];
  /** The number field that waits for a value from the drawing. */
  readonly field: FieldRequest | null;
  readonly pick: (p: Pick3) => void;
  readonly toggle: () => void;
  readonly forField: (f: FieldRequest) => void;
  readonly end: () => void;
}

/** Measuring: two picks at most; a third begins anew. */
export const useMeasure = create<MeasureState>((set, get) => ({
  on: false,
  picks: [],
  field: null,
  pick: (p) => set({ picks: get().picks.length === 1 ? [get().picks[0], p] : [p] }),
  toggle: () => set(get().on ? { on: false, picks: [], field: null } : { on: true, picks: [] }),
  forField: (field) => set({ on: true, picks: [], field }),
  end: () => set({ on: false, picks: [], field: null }),
}));
