'use client';
import { create } from 'zustand';
import type { Job } from '@/core/plan';
import type { BestOrder } from '@/core/plan/order';
import { madeByWorker } from './asked';
import { useDocument } from './document';
import { savingStand, useSaving } from './saving';

/** Longest that the page waits for it, ms; and for its own edits to be saved before. */
const PATIENCE = 150_000;
const SAVED_WITHIN = 12_000;

type Looking =
  | { readonly state: 'idle' }
  | { readonly state: 'looking'; readonly job: string }
  | { readonly state: 'failed'; readonly job: string; readonly reason: string }
  /** Found for an order of operations; when that is another one, it says nothing any more. */
  | { readonly state: 'found'; readonly job: string; readonly best: BestOrder };

interface BestOrderState {
  readonly now: Looking;
  look: () => Promise<void>;
  /** Takes it, as one step that can be taken back. */
  take: () => void;
  drop: () => void;
}

/** The version in which everything here is saved; null when that does not come about. */
const savedVersion = async (): Promise<number | null> => {
  for (const until = Date.now() + SAVED_WITHIN; Date.now() < until; ) {
    const stand = savingStand();
    if (stand && useSaving.getState().saving.kind === 'saved') return stand.version;
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
  return null;
};

/** Looking for an order with fewer tool changes: a worker of the shop plans the orders that come into question. */
export const useBestOrder = create<BestOrderState>((set, get) => ({
  now: { state: 'idle' },
  look: async () => {
    const { id } = useDocument.getState();
    set({ now: { state: 'looking', job: id } });
    const wanted = (): boolean => get().now.state === 'looking' && useDocument.getState().id === id;
    try {
      const version = await savedVersion();
      if (version === null) throw new Error('Your last edits are not saved yet. Ask again when they are.');
      const made = await madeByWorker({
        url: `/api/jobs/${id}/order`,
        body: { version },
        patience: PATIENCE,
        wanted,
        late: 'Trying orders took too long. Put a stop between parts of the job: nothing is moved across it.',
      });
      if (made && wanted()) set({ now: { state: 'found', job: id, best: (await made.json()) as BestOrder } });
    } catch (error) {
      if (wanted())
        set({ now: { state: 'failed', job: id, reason: error instanceof Error ? error.message : String(error) } });
    }
  },
  take: () => {
    const { now } = get();
    const { id, edit } = useDocument.getState();
    if (now.state !== 'found' || now.job !== id) return;
    edit('order with fewer tool changes', (j) => ({ ...j, order: now.best.order }));
    set({ now: { state: 'idle' } });
  },
  drop: () => set({ now: { state: 'idle' } }),
}));

/** Whether an order is one of the operations that a job has now, channel by channel. */
export const fitsJob = (order: Job['order'], job: Job): boolean => {
  const names = (o: Job['order']): string => JSON.stringify(Object.entries(o).map(([c, ids]) => [c, [...ids].sort()]));
  return names(order) === names(job.order);
};
