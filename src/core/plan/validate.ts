import { type Finding, note } from '../findings';
import { type ActorOperation, type CuttingOperation, isCutting, isSevering, kindOf, titleOf } from '../operations';
import { orderBehind } from './adding';
import type { Job } from './document';

/** Numbers of an operation that no path could be made from. */
export const validateOperation = (op: CuttingOperation): Finding[] => {
  const result: Finding[] = [];
  const need = (ok: boolean, field: string, value: number, must: string): void => {
    if (!ok) result.push(note('blocking', 'bad-number', op.id, { field, value, must }));
  };
  const { feed, speed } = op.cutting;
  need(Number.isFinite(feed) && feed >= 0.001 && feed <= 5, 'Feed', feed, '0.001 to 5 mm/rev');
  const most = speed.mode === 'surface' ? 3000 : 100_000;
  need(
    Number.isFinite(speed.value) && speed.value >= 1 && speed.value <= most,
    speed.mode === 'surface' ? 'Surface speed' : 'Spindle speed',
    speed.value,
    `1 to ${most} ${speed.mode === 'surface' ? 'm/min' : 'rev/min'}`,
  );
  if (speed.mode === 'surface' && speed.clamp !== null)
    need(speed.clamp >= 1, 'Speed limit', speed.clamp, '1 rev/min or more');
  kindOf(op).validate(op, need);
  return result;
};

/** Longest that a device is waited for, s. */
const LONGEST_WAIT = 120;

/** Times of an operation that only calls on devices which nobody can wait for. */
export const badSeconds = (op: ActorOperation): Finding[] => {
  const said =
    op.kind === 'bar-feed'
      ? [op.params.time, op.params.delay]
      : op.kind === 'eject' || op.kind === 'support' || op.kind === 'device'
        ? [op.params.time]
        : [];
  return said.flatMap((value, i) =>
    Number.isFinite(value) && value >= 0 && value <= LONGEST_WAIT
      ? []
      : [
          note('blocking', 'bad-number', op.id, {
            field: i === 0 ? 'Time' : 'Delay',
            value,
            must: `0 to ${LONGEST_WAIT} s`,
          }),
        ],
  );
};

/** Order that cannot work, seen from the list alone. */
export const validateOrder = (job: Job): Finding[] => {
  const result: Finding[] = [];
  for (const { channel, ids, holding } of Object.entries(job.order).flatMap(([channel, ids]) =>
    job.holdingOrder.map((holding) => ({ channel, ids, holding })),
  )) {
    const active = ids.map((id) => job.operations[id]).filter((op) => op?.on && op.holding === holding);
    const cut = active.findIndex((op) => isSevering(op));
    if (cut >= 0 && cut < active.length - 1) {
      const after = active.slice(cut + 1).find(isCutting);
      const last = active.findLast(isCutting);
      if (!after || !last) continue;
      result.push(
        note('blocking', 'cutoff-not-last', active[cut].id, { after: titleOf(after) }, null, {
          remedy: {
            label: `Move it behind “${titleOf(last)}”`,
            set: { [`/order/${channel}`]: orderBehind(ids, active[cut].id, last.id) },
          },
        }),
      );
    }
  }
  return result;
};
