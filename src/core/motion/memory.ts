import { isAnnotation, type MotionEvent, type MotionProgram } from './events';
import type { Moment, Simulation } from './simulation';
import type { ChannelTimeline } from './timing';

/** Moments are kept no closer together than this many events. */
const APART = 100;

/** What is remembered of the last run of a program, so that the next one need not begin at the beginning. */
export class TimingMemory {
  private program: MotionProgram = { channels: [] };
  private channels: readonly ChannelTimeline[] = [];
  private moments: { readonly moment: Moment; readonly events: number }[] = [];

  /** The last moment up to which the program is the one of the last run, event for event. Later moments are forgotten. */
  common(program: MotionProgram): { moment: Moment; channels: readonly ChannelTimeline[] } | null {
    const before = this.program.channels;
    const same = program.channels.map((c, i) => {
      const old = before[i]?.channel === c.channel ? before[i].events : [];
      let k = 0;
      while (k < c.events.length && c.events[k] === old[k]) k++;
      return k === c.events.length && k === old.length ? Number.POSITIVE_INFINITY : k;
    });
    const holds = ({ moment }: { readonly moment: Moment }): boolean =>
      moment.states.length === same.length &&
      before.length === same.length &&
      moment.states.every((s, i) => seenUntil(program.channels[i].events, s.index) <= same[i]);
    while (this.moments.length > 0 && !holds(this.moments[this.moments.length - 1])) this.moments.pop();
    const last = this.moments[this.moments.length - 1];
    return last ? { moment: last.moment, channels: this.channels } : null;
  }

  /** A moment at which it would be good to go on. */
  mark(simulation: Simulation): void {
    const events = simulation.states.reduce((sum, s) => sum + s.index, 0);
    const last = this.moments[this.moments.length - 1];
    if (events - (last?.events ?? 0) >= APART) this.moments.push({ moment: simulation.moment(), events });
  }

  keep(program: MotionProgram, channels: readonly ChannelTimeline[]): void {
    this.program = program;
    this.channels = channels;
  }
}

/** How many events a channel that stands before event `index` has looked at: the end of a move looks for the next one. */
const seenUntil = (events: readonly MotionEvent[], index: number): number => {
  let k = index;
  while (k < events.length && isAnnotation(events[k])) k++;
  return k + 1;
};
