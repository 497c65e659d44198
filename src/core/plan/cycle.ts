import { type ChannelProgram, type MotionProgram, timeProgram } from '../motion';
import type { Derived } from './derive';
import type { Job } from './document';

/** How a program runs part after part. */
export interface Cycle {
  /** s from part to part once it runs steadily. */
  readonly time: number;
  /** Share of that in which each channel works: neither waits for another nor has nothing to do. */
  readonly channels: Readonly<Record<string, number>>;
  /** Share in which work in each spindle is fed. */
  readonly spindles: Readonly<Record<string, number>>;
  /** s that the busiest channel needs even if it never waited: no order of the same operations is faster. */
  readonly bound: number;
  /** Operations of the next part that begin before this one is done, s from the beginning of this one. */
  readonly next: readonly {
    readonly operation: string;
    readonly channel: string;
    readonly start: number;
    readonly end: number;
  }[];
}

/** Parts that are run one after another until the time from one to the next is taken. */
const PARTS = 4;

/** The program of one channel over and over, slides sent home at the first part only. */
const repeated = (c: ChannelProgram, times: number): ChannelProgram => {
  const again = c.events.filter((e) => e.kind !== 'home');
  return { channel: c.channel, events: Array.from({ length: times }, (_, i) => (i === 0 ? c.events : again)).flat() };
};

/** Length that stretches cover together. */
const covered = (list: readonly { from: number; to: number }[]): number => {
  let sum = 0;
  let reached = Number.NEGATIVE_INFINITY;
  for (const { from, to } of [...list].sort((a, b) => a.from - b.from)) {
    sum += Math.max(0, to - Math.max(from, reached));
    reached = Math.max(reached, to);
  }
  return sum;
};

/** What the channels do for the next part while this one is still worked on. */
const nextPart = (job: Job, program: MotionProgram, total: number): Cycle['next'] => {
  const two = timeProgram({ channels: program.channels.map((c) => repeated(c, 2)) }, job.machine);
  return two.channels.flatMap((c, i) => {
    const spans = new Map<string, { start: number; end: number }>();
    for (const t of c.events.slice(program.channels[i].events.length)) {
      if (t.event.kind === 'wait' || t.event.kind === 'reload') continue;
      const known = spans.get(t.event.op);
      if (known) known.end = Math.max(known.end, t.end);
      else spans.set(t.event.op, { start: t.start, end: t.end });
    }
    return [...spans]
      .filter(([, s]) => s.start < total - 1e-6 && s.end > s.start)
      .map(([operation, s]) => ({ operation, channel: c.id, ...s }));
  });
};

/** Time from part to part, by running several: each channel begins the next part as soon as it is done with one. */
export const cycleOf = (job: Job, { program, timeline }: Pick<Derived, 'program' | 'timeline'>): Cycle | null => {
  if (timeline.kind !== 'timed' || timeline.total <= 0) return null;
  const ends = [PARTS - 1, PARTS].map((n): number => {
    const run: MotionProgram = { channels: program.channels.map((c) => repeated(c, n)) };
    return timeProgram(run, job.machine).total;
  });
  const time = ends[1] - ends[0];
  const busy = timeline.channels.map((c) => ({
    id: c.id,
    seconds: c.events.reduce((s, t) => s + (t.event.kind === 'wait' ? 0 : t.end - t.start), 0),
  }));
  const share = (seconds: number): number => Math.min(1, seconds / time);
  const turning = new Map(job.machine.spindles.map((s) => [s.id, [] as { from: number; to: number }[]]));
  for (const c of timeline.channels) {
    let spindle = '';
    for (const t of c.events) {
      if (t.event.kind === 'spindle') spindle = t.event.spindle;
      if (t.move && t.event.kind !== 'rapid') turning.get(spindle)?.push({ from: t.start, to: t.end });
    }
  }
  return {
    time,
    channels: Object.fromEntries(busy.map((b) => [b.id, share(b.seconds)])),
    spindles: Object.fromEntries([...turning].map(([id, list]) => [id, share(covered(list))])),
    bound: Math.max(...busy.map((b) => b.seconds)),
    next: nextPart(job, program, timeline.total),
  };
};
