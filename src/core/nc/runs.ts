import type { MotionEvent } from '../motion';
import type { Derived } from '../plan';

/** The part of each channel's program that runs without the program ending in between. */
export interface Run {
  /** Holdings of the job that it works in, in their order. */
  readonly holdings: readonly string[];
  readonly channels: readonly {
    readonly channel: string;
    readonly events: readonly MotionEvent[];
    /** How many events of the channel come before these. */
    readonly offset: number;
  }[];
}

/** Cuts the program of a job where the work is held anew and the program ends. */
export const runsOf = ({
  program,
  holdings,
  operations,
}: Pick<Derived, 'program' | 'holdings' | 'operations'>): Run[] => {
  const working = holdings
    .map((h) => h.id)
    .filter((id) => operations.some((o) => o.holding === id && o.events.length > 0));
  if (working.length === 0) working.push(holdings[0].id);
  // every channel comes to every reload
  const ends = (program.channels[0]?.events ?? []).flatMap((e) => (e.kind === 'reload' && e.ends ? [e.holding] : []));
  const starts = [0, ...ends.map((id) => working.indexOf(id))];
  return starts.map((start, r) => ({
    holdings: working.slice(start, starts[r + 1]),
    channels: program.channels.map((c) => {
      const own = c.events.flatMap((e, i) => (e.kind === 'reload' && e.ends ? [i] : []));
      const offset = r === 0 ? 0 : own[r - 1];
      return { channel: c.channel, events: c.events.slice(offset, own[r]), offset };
    }),
  }));
};
