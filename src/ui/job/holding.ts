'use client';
import type { Holding } from '@/core/holding';
import type { HeldView } from '@/core/plan';
import { useDerived } from './derived';
import { useDocument } from './document';
import { shownHolding, useSelection } from './selection';

export const useHoldingId = (): string => {
  const operation = useSelection((s) => s.operation);
  const holding = useSelection((s) => s.holding);
  return useDocument((s) => shownHolding(s.job, { operation, holding }));
};

/** The shown holding as the document says it. */
export const useHolding = (): Holding => {
  const id = useHoldingId();
  return useDocument((s) => s.job.holdings[id]);
};

/** The shown holding with what it holds, as soon as that is known. */
export const useHeld = (): HeldView | null => {
  const id = useHoldingId();
  return useDerived((s) => s.view?.holdings.find((h) => h.id === id) ?? null);
};
