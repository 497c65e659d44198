import { type Finding, note } from '../findings';
import { markName, type WaitOperation } from '../operations';
import { withValues } from './diff';
import type { Job } from './document';
import { knotAt } from './marks';
import { unsynchronised } from './sequence';

/** Marks of a channel's list that are on, in their order. */
const marksIn = (job: Job, channel: string): { id: string; at: number; name: string }[] =>
  (job.order[channel] ?? []).flatMap((id, at) => {
    const op = job.operations[id];
    return op?.kind === 'wait' && op.on ? [{ id, at, name: markName(op.params) }] : [];
  });

/**
 * The knot that a channel lacks, put between the marks that it shares with the one that waits, so that no order of marks is
 * crossed: there where the fewest operations are left without an order, and as late as that allows.
 */
const missingKnot = (job: Job, wait: WaitOperation, channel: string): Record<string, unknown> => {
  const own = marksIn(job, wait.channel);
  const there = marksIn(job, channel);
  const here = own.findIndex((m) => m.id === wait.id);
  const shared = (list: typeof own): number[] => list.flatMap((m) => there.find((t) => t.name === m.name)?.at ?? []);
  const least = Math.max(-1, ...shared(own.slice(0, here))) + 1;
  const most = Math.min((job.order[channel] ?? []).length, ...shared(own.slice(here + 1)));
  const places = Array.from({ length: Math.max(1, most - least + 1) }, (_, i) => {
    const values = knotAt(job, channel, most - i, wait.params, wait.holding);
    return { values, open: unsynchronised(withValues(job, values)).length };
  });
  return places.reduce((best, p) => (p.open < best.open ? p : best)).values;
};

/** Marks that a channel named by them does not have; the remedy ties the missing knots, or unties a mark that leads nowhere. */
export const lonelyMarks = (job: Job): Finding[] =>
  Object.entries(job.order).flatMap(([channel, ids]) =>
    ids.flatMap((id): Finding[] => {
      const op = job.operations[id];
      if (op?.kind !== 'wait' || !op.on) return [];
      const name = markName(op.params);
      const missing = op.params.channels.filter((c) => c !== channel && !marksIn(job, c).some((m) => m.name === name));
      if (missing.length === 0) return [];
      const known = missing.every((c) => job.machine.channels.some((k) => k.id === c));
      const set = known
        ? Object.assign({}, ...missing.map((c) => missingKnot(job, op, c)))
        : { [`/operations/${id}/on`]: false };
      const label = known ? `Tie it in channel ${missing.join(' and ')}` : `Switch mark ${op.params.mark} off`;
      const numbers = { channel, mark: op.params.mark, missing: missing.join(' and ') };
      return [note('blocking', 'mark-partner', id, numbers, null, { remedy: { label, set } })];
    }),
  );
