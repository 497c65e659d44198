import { heldByHand } from '../holding';
import { isMove, type MotionEvent, type MotionProgram } from '../motion';
import { isSevering, markName } from '../operations';
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

type Lists = ReadonlyMap<string, readonly DerivedOperation[]>;

/** The mark that an operation waits at; null for any other one. */
const markOf = (job: Job, d: DerivedOperation | undefined): string | null => {
  const op = d && job.operations[d.operation];
  return op?.kind === 'wait' ? markName(op.params) : null;
};

/** Whether another channel does nothing but hand the part over between two marks. */
const handedBetween = (job: Job, lists: Lists, own: string, from: string, to: string): boolean =>
  [...lists].some(
    ([channel, list]) =>
      channel !== own &&
      list.some(
        (d, i) =>
          job.operations[d.operation].kind === 'handover' &&
          markOf(job, list[i - 1]) === from &&
          markOf(job, list[i + 1]) === to,
      ),
  );

/**
 * Blades that stand ready before they take the part off, as soon as both spindles hold it: the operation during which one is
 * called and brought to its place, and the cutoff that it is for. That is the handover right before it, or, where another
 * channel hands over, the mark that it waits at, when nothing else happens between that mark and the one before.
 */
const standingBlades = (job: Job, lists: Lists): Map<DerivedOperation, DerivedOperation> => {
  const standing = new Map<DerivedOperation, DerivedOperation>();
  for (const [channel, list] of lists)
    list.forEach((cut, i) => {
      const before = list[i - 1];
      if (!before || cut.copy > 0 || !isSevering(job.operations[cut.operation])) return;
      const [mark, earlier] = [markOf(job, before), markOf(job, list[i - 2])];
      if (
        job.operations[before.operation].kind === 'handover' ||
        (mark !== null && earlier !== null && handedBetween(job, lists, channel, earlier, mark))
      )
        standing.set(before, cut);
    });
  return standing;
};

/** Events of an operation and of the cutoff behind it, with the blade called and brought to its place before the first. */
const broughtBefore = (
  first: DerivedOperation,
  cut: DerivedOperation,
  shelf: Shelf<readonly MotionEvent[]>,
): { readonly first: readonly MotionEvent[]; readonly cut: readonly MotionEvent[] } => {
  const feeds = cut.events.findIndex((e) => isMove(e) && e.kind !== 'rapid');
  const before = cut.events.slice(0, Math.max(0, feeds));
  const called = (e: MotionEvent): boolean => e.kind === 'tool' || e.kind === 'work-offset' || e.kind === 'rapid';
  const key = hashOf('ready', first.id, cut.id, hashWay(first.events), cut.events);
  return {
    first: shelf.get(`${key} first`, () => [
      ...before.filter(called).map((e) => ({ ...e, op: first.id })),
      ...first.events,
    ]),
    cut: shelf.get(`${key} cutoff`, () => [...before.filter((e) => !called(e)), ...cut.events.slice(before.length)]),
  };
};

export interface LaidOut {
  readonly program: MotionProgram;
  /** The cutoff whose blade stands there during an operation that moves no tool of its own, by that operation's id. */
  readonly standing: ReadonlyMap<string, DerivedOperation>;
}

/**
 * Events of every channel, holding by holding: what stands at the beginning, where the work is held anew by hand, and the
 * events of the operations. What is the same as before keeps its identity, from `shelf`.
 */
export const programOf = (
  job: Job,
  done: readonly DerivedOperation[],
  shelf: Shelf<readonly MotionEvent[]>,
): LaidOut => {
  const channels = job.machine.channels.map((c) => c.id);
  const lists = new Map(channels.map((c) => [c, [] as MotionEvent[]]));
  const standing = new Map<string, DerivedOperation>();
  let begun = false;
  for (const holding of job.holdingOrder) {
    const own = done.filter((d) => d.holding === holding && d.events.length > 0);
    if (own.length === 0) continue;
    const byHand = heldByHand(job.holdings[holding]);
    const turns = new Map(
      channels.map((channel) => [
        channel,
        sorted(
          own.filter((d) => d.channel === channel),
          job,
          channel,
        ),
      ]),
    );
    const made = new Map<DerivedOperation, readonly MotionEvent[]>();
    for (const [first, cut] of standingBlades(job, turns)) {
      const both = broughtBefore(first, cut, shelf);
      made.set(first, both.first).set(cut, both.cut);
      standing.set(first.id, cut);
    }
    for (const [channel, here] of turns) {
      const list = lists.get(channel) ?? [];
      // a channel with nothing to do in this holding waits for the others all the same
      const op = (here[0] ?? own[0]).id;
      if (begun && byHand) {
        const reload = { op, holding, ends: job.programs === 'each', channels };
        list.push(...shelf.get(hashOf(reload), () => [{ kind: 'reload', purpose: 'setup', ...reload }]));
      }
      if (here.length === 0) continue;
      if (list.length === 0 || list[list.length - 1].kind === 'reload') list.push(...shelf.get(op, () => homing(op)));
      for (const d of here) for (const e of made.get(d) ?? d.events) list.push(e);
    }
    begun = true;
  }
  return {
    program: { channels: channels.map((channel) => ({ channel, events: lists.get(channel) ?? [] })) },
    standing,
  };
};
