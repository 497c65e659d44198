import { type Finding, note, type Remedy } from '../findings';
import { isCutting, isSevering, type Operation, titleOf } from '../operations';
import { addedBeside, orderBehind } from './adding';
import type { DerivedOperation } from './derive';
import type { Job } from './document';
import { channelOf } from './landing';
import { markBetween } from './marks';

/** Less than this is no lead of one operation over another, s. */
const SAME_TIME = 1e-6;

const nameOf = (op: Operation): string => `“${titleOf(op)}”`;

/** Puts `id` behind `other`: in one channel by the order of its list, across channels by a mark. */
export const behind = (job: Job, id: string, other: string): Remedy | null => {
  const [channel, its] = [channelOf(job, id), channelOf(job, other)];
  if (channel === null || its === null) return null;
  if (channel !== its) {
    const set = markBetween(job, { operation: other, side: 'end' }, { operation: id, side: 'start' });
    return set && { label: `Let it begin after ${nameOf(job.operations[other])}`, set };
  }
  return {
    label: `Move it behind ${nameOf(job.operations[other])}`,
    set: { [`/order/${channel}`]: orderBehind(job.order[channel], id, other) },
  };
};

/** Whether anything has been cut in an operation's holding when it begins. */
const begunBefore = (job: Job, active: readonly DerivedOperation[], d: DerivedOperation): boolean =>
  active.some(
    (k) =>
      k.holding === d.holding && isCutting(job.operations[k.operation]) && k.times.start < d.times.start - SAME_TIME,
  );

/** Whether an operation brings a part into a holding. */
const isTaking = (op: Operation, holding: string): boolean => op.kind === 'handover' && op.params.to === holding;

/**
 * What is done to work that something still holds, or that is gone: the taking spindle withdraws, or the bar is fed, while
 * the part is not cut off; the bar is fed while the other spindle stands there; a part is ejected before it is done. Told by
 * the times at which things happen, whichever channel does them.
 */
export const outOfTurn = (job: Job, timed: readonly DerivedOperation[]): Finding[] => {
  const found: Finding[] = [];
  const active = timed.filter((d) => d.events.length > 0);
  const opOf = (d: DerivedOperation): Operation => job.operations[d.operation];
  /** `d` has to wait until all of `others` are done; the last of them is named. */
  const after = (d: DerivedOperation, others: readonly DerivedOperation[], reason: string): void => {
    const late = others.filter((o) => o.id !== d.id && d.times.start < o.times.end - SAME_TIME);
    if (late.length === 0) return;
    const last = late.reduce((p, q) => (q.times.end > p.times.end ? q : p));
    const remedy = behind(job, d.operation, last.operation);
    const numbers = { other: nameOf(opOf(last)), at: d.times.start, done: last.times.end, reason };
    found.push(note('blocking', 'out-of-turn', d.id, numbers, null, { remedy }));
  };
  const cutOff = (holding: string): DerivedOperation[] =>
    active.filter((k) => k.holding === holding && isSevering(opOf(k)));
  for (const d of active) {
    const op = opOf(d);
    if (op.kind === 'handover') {
      const { holding } = d;
      for (const cut of cutOff(holding)) {
        // seen from one list alone it is told already
        if (cut.channel !== d.channel) after(cut, [d], 'the other spindle does not hold the part yet');
      }
    } else if (op.kind === 'withdraw') {
      const { stock } = job.holdings[op.params.to] ?? { stock: { form: 'bar' as const } };
      if (stock.form === 'bar') continue;
      after(d, cutOff(stock.holding), 'the part still hangs on the bar');
    } else if (op.kind === 'bar-feed') {
      // a program may begin with it: then it feeds for this part
      if (!begunBefore(job, active, d)) continue;
      const leaving = active.filter((k) => {
        const o = opOf(k);
        const stock = o.kind === 'withdraw' ? job.holdings[o.params.to]?.stock : undefined;
        return stock && stock.form !== 'bar' && stock.holding === d.holding;
      });
      after(d, [...cutOff(d.holding), ...leaving], 'the bar is still held, or the other spindle stands in front of it');
    } else if (op.kind === 'eject') {
      // what stands there before this part has come is the part before
      const come = active.some((k) => isTaking(opOf(k), d.holding) && k.times.end < d.times.start + SAME_TIME);
      if (!come && !begunBefore(job, active, d)) continue;
      const work = active.filter((k) => k.holding === d.holding && isCutting(opOf(k)));
      after(d, work, 'what it works on would be gone');
    }
  }
  return found;
};

/** Spindles that take a part over and never go back with it, or never let it go. */
export const unfinishedHandovers = (job: Job, timed: readonly DerivedOperation[]): Finding[] => {
  const running = timed.filter((d) => d.events.length > 0);
  const active = running.map((d) => job.operations[d.operation]);
  /** What ends last of the operations that do something to a holding. */
  const last = (does: (op: Operation) => boolean): string | null =>
    running
      .filter((d) => does(job.operations[d.operation]))
      .reduce<DerivedOperation | null>((p, q) => (p && p.times.end >= q.times.end ? p : q), null)?.operation ?? null;
  return job.holdingOrder.flatMap((id): Finding[] => {
    const { stock, name } = job.holdings[id];
    if (stock.form === 'bar' || stock.by !== 'handover') return [];
    if (!active.some((op) => op.kind === 'handover' && op.params.to === id)) return [];
    const works = active.some((op) => op.holding === id && isCutting(op));
    if (works && !active.some((op) => op.kind === 'withdraw' && op.params.to === id)) {
      const from = stock.holding;
      const off = last((op) => op.holding === from && isSevering(op));
      const withdraw = { kind: 'withdraw' as const, holding: from, params: { to: id } };
      const remedy =
        off === null
          ? null
          : addedBeside('behind', job, `Withdraw after ${nameOf(job.operations[off])}`, withdraw, off);
      return [note('blocking', 'no-withdraw', null, { holding: name }, null, { holding: id, remedy })];
    }
    const leaves = active.some(
      (op) =>
        (op.kind === 'eject' && op.holding === id) ||
        (op.kind === 'handover' && op.holding === id) ||
        (op.holding === id && isSevering(op)),
    );
    if (!works || leaves) return [];
    const end = last((op) => op.holding === id && isCutting(op));
    const remedy =
      end === null
        ? null
        : addedBeside('behind', job, 'Eject it at the end', { kind: 'eject', holding: id, params: {} }, end);
    return [note('attention', 'part-stays', null, { holding: name }, null, { holding: id, remedy })];
  });
};

/** Work on a bar that begins when the bar has been fed for the next part. */
export const afterFeed = (job: Job, timed: readonly DerivedOperation[]): Finding[] => {
  const active = timed.filter((d) => d.events.length > 0);
  const feeds = active.filter((d) => job.operations[d.operation].kind === 'bar-feed' && begunBefore(job, active, d));
  return feeds.flatMap((feed) =>
    timed.flatMap((d): Finding[] => {
      if (d.holding !== feed.holding || d.events.length === 0 || !isCutting(job.operations[d.operation])) return [];
      if (d.copy > feed.copy || d.times.start < feed.times.end - SAME_TIME) return [];
      const other = nameOf(job.operations[feed.operation]);
      const remedy = behind(job, feed.operation, d.operation);
      const numbers = { other, at: d.times.start, done: feed.times.end };
      return [note('blocking', 'after-bar-feed', d.id, numbers, null, { remedy })];
    }),
  );
};
