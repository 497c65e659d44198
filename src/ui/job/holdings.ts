'use client';
import { regionBounds } from '@/core/geometry';
import { type Holding, WORK_OFFSETS } from '@/core/holding';
import { spindleStand } from '@/core/machine';
import { turnedRound } from '@/core/part';
import { bestGrip, freshId, type HeldView, type Job, knotsOf, landingPlace, newActor } from '@/core/plan';
import { useDerived } from './derived';
import { useDocument } from './document';
import { withRepeats } from './repeats';
import { useSelection } from './selection';

/** Edits of how the work is held. */

export const changeHolding = (id: string, label: string, patch: Partial<Holding>): void =>
  useDocument
    .getState()
    .edit(label, (j) => ({ ...j, holdings: { ...j.holdings, [id]: { ...j.holdings[id], ...patch } } }));

export const changeBar = (
  id: string,
  label: string,
  patch: Partial<Extract<Holding['stock'], { form: 'bar' }>>,
): void => {
  const { stock } = useDocument.getState().job.holdings[id];
  if (stock.form === 'bar') changeHolding(id, label, { stock: { ...stock, ...patch } });
};

const freshHolding = (job: Job): string => {
  let n = job.holdingOrder.length + 1;
  while (`h${n}` in job.holdings) n++;
  return `h${n}`;
};

/** How much of a piece to grip by its present front, mm. */
export const proposedGrip = (holding: Holding, piece: HeldView | null): number => {
  if (!piece || piece.part.region.length === 0) return 10;
  const { minX, maxX } = regionBounds(piece.part.region);
  return bestGrip(holding, turnedRound(piece.part).region) ?? Math.max(1, Math.floor((maxX - minX) / 3));
};

/** A new holding after the last one: what that leaves, with its other end to the front, in the same spindle and jaws. */
export const turnRound = (): string => {
  const { job, edit } = useDocument.getState();
  const last = job.holdingOrder[job.holdingOrder.length - 1];
  const id = freshHolding(job);
  const view = useDerived.getState().view?.holdings.find((h) => h.id === last) ?? null;
  const used = new Set(Object.values(job.holdings).map((h) => h.workOffset));
  edit('turn the part round', (j) => {
    const before = j.holdings[last];
    j.holdings[id] = {
      ...structuredClone(before),
      name: j.holdingOrder.length === 1 ? 'Second side' : `Side ${j.holdingOrder.length + 1}`,
      stock: { form: 'from', holding: last, by: 'hand' },
      turned: !before.turned,
      grip: proposedGrip(before, view),
      workOffset: WORK_OFFSETS.find((w) => !used.has(w)) ?? before.workOffset,
    };
    j.holdingOrder = [...j.holdingOrder, id];
    return j;
  });
  useSelection.getState().set({ holding: id, operation: null, span: null });
  return id;
};

/** A spindle that can take a part over from another one. */
export const takingSpindle = (job: Job): Job['machine']['spindles'][number] | null => {
  const last = job.holdings[job.holdingOrder[job.holdingOrder.length - 1]];
  const now = spindleStand(job.machine, last.spindle)?.direction;
  return (
    job.machine.spindles.find((s) => {
      const stand = spindleStand(job.machine, s.id);
      return stand?.slide && stand.direction !== now;
    }) ?? null
  );
};

/** Room on diameter for what tools reach inward from their tips, mm: the sleeves of bars and drills. */
const SLEEVES = 60;

/**
 * A new holding in the second spindle, which takes the part over from the last one: handover and withdrawal are planned
 * around the cutoff, and the back begins when the spindle is home.
 */
export const handOver = (): string | null => {
  const { job, edit } = useDocument.getState();
  const spindle = takingSpindle(job);
  if (!spindle) return null;
  const last = job.holdingOrder[job.holdingOrder.length - 1];
  const id = freshHolding(job);
  const view = useDerived.getState().view?.holdings.find((h) => h.id === last) ?? null;
  const used = new Set(Object.values(job.holdings).map((h) => h.workOffset));
  edit('hand over', (j) => {
    const before = j.holdings[last];
    j.holdings[id] = {
      ...structuredClone(before),
      name: spindle.name,
      spindle: spindle.id,
      stock: { form: 'from', holding: last, by: 'handover' },
      turned: !before.turned,
      grip: proposedGrip(before, view),
      workOffset: WORK_OFFSETS.find((w) => !used.has(w)) ?? before.workOffset,
      maxSpeed: Math.min(before.maxSpeed, spindle.maxSpeed),
    };
    // the chuck that comes passes between the tools of both turrets
    const clear = 10 * Math.ceil((spindle.chuckDiameter + SLEEVES) / 10);
    before.toolChange = { ...before.toolChange, diameter: Math.max(before.toolChange.diameter, clear) };
    j.holdingOrder = [...j.holdingOrder, id];
    const cutoff = Object.values(j.operations).find((o) => o.kind === 'cutoff' && o.holding === last && o.on);
    const channel = cutoff?.channel ?? j.machine.channels[0].id;
    const put = (kind: 'handover' | 'withdraw' | 'bar-feed', at: number): void => {
      const made = freshId(j);
      j.operations[made] = newActor(kind, { id: made, holding: last, channel }, kind === 'bar-feed' ? {} : { to: id });
      j.order[channel] = [...j.order[channel].slice(0, at), made, ...j.order[channel].slice(at)];
    };
    const at = cutoff ? j.order[channel].indexOf(cutoff.id) : landingPlace(j, 'handover', last, channel);
    put('handover', at);
    put('withdraw', cutoff ? at + 2 : at + 1);
    const fed = Object.values(j.operations).some((o) => o.kind === 'bar-feed' && o.holding === last);
    if (before.stock.form === 'bar' && !fed) put('bar-feed', cutoff ? at + 3 : at + 2);
    return j;
  });
  useSelection.getState().set({ holding: id, operation: null, span: null });
  return id;
};

/** Takes a holding out with its operations; what comes after it takes the work from the one before. */
export const removeHolding = (id: string): void => {
  const { edit } = useDocument.getState();
  edit('remove this side', (j) => {
    const left = j.holdings[id].stock;
    delete j.holdings[id];
    j.holdingOrder = j.holdingOrder.filter((k) => k !== id);
    for (const k of j.holdingOrder) {
      const { stock } = j.holdings[k];
      if (stock.form === 'from' && stock.holding === id) j.holdings[k].stock = left;
    }
    const gone = Object.values(j.operations).filter(
      (op) => op.holding === id || ((op.kind === 'handover' || op.kind === 'withdraw') && op.params.to === id),
    );
    // a mark goes with all its knots
    for (const k of new Set(gone.flatMap((op) => knotsOf(j, op.id)))) delete j.operations[k];
    for (const c of Object.keys(j.order)) j.order[c] = j.order[c].filter((k) => k in j.operations);
    return withRepeats(j);
  });
  useSelection.getState().set({ holding: null, operation: null, span: null });
};

/** Shows a holding: its part, its metal, and the moment at which its work begins. */
export const showHolding = (id: string): void => {
  const view = useDerived.getState().view;
  const first = view?.operations.find((o) => o.holding === id && o.moves);
  const { set, operation } = useSelection.getState();
  const own = view?.operations.some((o) => o.id === operation && o.holding === id);
  set({
    holding: id,
    span: null,
    playing: false,
    ...(own ? {} : { operation: null }),
    ...(first ? { time: first.times.start } : view ? { time: view.total } : {}),
  });
};

/** Thickest place of a part, mm in diameter; null for no part. */
export const greatestDiameter = (held: HeldView | null): number | null =>
  held && held.part.region.length > 0 ? regionBounds(held.part.region).maxY * 2 : null;
