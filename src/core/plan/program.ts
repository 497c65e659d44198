import { heldByHand } from '../holding';
import { isMove, type MotionEvent, type MotionProgram } from '../motion';
import { isSevering } from '../operations';
import type { Shelf } from './cache';
import type { DerivedOperation } from './derive';
import type { Job } from './document';
import { hashOf, hashWay } from './hash';
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
 * Events of a channel's operations in one holding. A blade that takes the part off right after a handover stands ready before
 * it: it is called and brought to its place while nothing else happens, and cuts as soon as both spindles hold the part.
 */
const eventsInTurn = (
  list: readonly DerivedOperation[],
  job: Job,
  shelf: Shelf<readonly MotionEvent[]>,
): readonly (readonly MotionEvent[])[] => {
  const made = list.map((d) => d.events);
  list.forEach((d, i) => {
    const next = list[i + 1];
    const cuts = next && job.operations[next.operation];
    if (job.operations[d.operation]?.kind !== 'handover' || !cuts || !isSevering(cuts) || next.copy > 0) return;
    const feeds = next.events.findIndex((e) => isMove(e) && e.kind !== 'rapid');
    const before = next.events.slice(0, Math.max(0, feeds));
    const called = (e: MotionEvent): boolean => e.kind === 'tool' || e.kind === 'work-offset' || e.kind === 'rapid';
    const key = hashOf('ready', d.id, next.id, hashWay(d.events), next.events);
    made[i] = shelf.get(`${key} handover`, () => [
      ...before.filter(called).map((e) => ({ ...e, op: d.id })),
      ...d.events,
    ]);
    made[i + 1] = shelf.get(`${key} cutoff`, () => [
      ...before.filter((e) => !called(e)),
      ...next.events.slice(before.length),
    ]);
  });
  return made;
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
      for (const events of eventsInTurn(sorted(here, job, channel), job, shelf)) for (const e of events) list.push(e);
    }
    begun = true;
  }
  return { channels: channels.map((channel) => ({ channel, events: lists.get(channel) ?? [] })) };
};
