import { heldByHand } from '../holding';
import type { MotionEvent, MotionProgram } from '../motion';
import type { Shelf } from './cache';
import type { DerivedOperation } from './derive';
import type { Job } from './document';
import { hashOf } from './hash';
import { writtenOut } from './repeats';
import { isSecond, laneOf } from './second';

/** Slides go to their reference places before the first tool is called, X before Z. */
const homing = (op: string): MotionEvent[] => [
  { kind: 'home', axes: ['X'], op, purpose: 'tool-change' },
  { kind: 'home', axes: ['Z'], op, purpose: 'tool-change' },
];

/** Operations in the order of their channel's list, its repeats written out, with the shares of second tools in their places. */
const sorted = (list: readonly DerivedOperation[], job: Job, channel: string): DerivedOperation[] => {
  const lane = laneOf(job, channel);
  const at = new Map(writtenOut(job, job.order[channel] ?? []).map((item, i) => [item.id, i]));
  const place = ({ id, operation }: DerivedOperation): number => {
    if (!isSecond(id)) return at.get(id) ?? 0;
    const mine = lane.findIndex((item) => item.second && item.operation === operation);
    const next = lane.slice(mine).find((item) => !item.second);
    return (next ? (at.get(next.operation) ?? 0) : at.size) - 0.5;
  };
  return [...list].sort((a, b) => place(a) - place(b));
};

/**
 * Events of every channel, holding by holding: what stands at the beginning, where the work is held anew by hand, and the
 * events of the operations. What is the same as before keeps its identity, from `shelf`.
 */
export const programOf = (
  job: Job,
  done: readonly DerivedOperation[],
  shelf: Shelf<readonly MotionEvent[]>,
): MotionProgram => {
  const channels = job.machine.channels.map((c) => c.id);
  const lists = new Map(channels.map((c) => [c, [] as MotionEvent[]]));
  let begun = false;
  for (const holding of job.holdingOrder) {
    const own = done.filter((d) => d.holding === holding && d.events.length > 0);
    if (own.length === 0) continue;
    const byHand = heldByHand(job.holdings[holding]);
    for (const channel of channels) {
      const here = own.filter((d) => d.channel === channel);
      const list = lists.get(channel) ?? [];
      // a channel with nothing to do in this holding waits for the others all the same
      const op = (here[0] ?? own[0]).id;
      if (begun && byHand) {
        const reload = { op, holding, ends: job.programs === 'each', channels };
        list.push(...shelf.get(hashOf(reload), () => [{ kind: 'reload', purpose: 'setup', ...reload }]));
      }
      if (here.length === 0) continue;
      if (list.length === 0 || list[list.length - 1].kind === 'reload') list.push(...shelf.get(op, () => homing(op)));
      for (const d of sorted(here, job, channel)) for (const e of d.events) list.push(e);
    }
    begun = true;
  }
  return { channels: channels.map((channel) => ({ channel, events: lists.get(channel) ?? [] })) };
};
