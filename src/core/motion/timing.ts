import { type Point, point, pointAt } from '../geometry';
import type { Machine, Reach } from '../machine';
import type { MotionEvent, MotionProgram } from './events';
import { TimingMemory } from './memory';
import { rapidPath } from './ramps';
import type { Move } from './resolve';
import { isMeeting, meetingOf, Simulation } from './simulation';

export interface TimedEvent {
  readonly event: MotionEvent;
  /** Index within the channel. */
  readonly index: number;
  readonly start: number;
  readonly end: number;
  /** Programmed tip before and after, x = Z, y = radius. */
  readonly from: Point;
  readonly to: Point;
  /** The move that it makes, if it makes one. */
  readonly move: Move | null;
  /** Seconds at the beginning in which the tool stands and the spindle catches up or a partner is awaited. */
  readonly waiting: number;
  /** rev/min at start and end. */
  readonly speedStart: number;
  readonly speedEnd: number;
}

/** Seconds of one operation, and when it begins and ends. */
export interface OperationTimes {
  readonly start: number;
  readonly end: number;
  readonly cutting: number;
  readonly rapid: number;
  readonly other: number;
}

export interface ChannelTimeline {
  readonly id: string;
  readonly total: number;
  readonly events: readonly TimedEvent[];
  /** By operation, in the order in which they begin. */
  readonly operations: ReadonlyMap<string, OperationTimes>;
}

export type Timeline =
  | { readonly kind: 'timed'; readonly channels: readonly ChannelTimeline[]; readonly total: number }
  | {
      readonly kind: 'deadlock';
      readonly waiting: readonly {
        readonly channel: string;
        readonly mark: number;
        readonly channels: readonly string[];
        readonly op: string;
      }[];
      readonly channels: readonly ChannelTimeline[];
      readonly total: number;
    };

/**
 * Times every event of every channel: axis acceleration, spindle run-up (which goes on while slides, turret and codes do
 * their work), constant surface speed with the spindle's lag, tool index, waits for partners. A wait whose partners never
 * come is a deadlock and says who stands where. With the `memory` of an earlier run on the same machine it goes on from where
 * the programs part.
 */
export const timeProgram = (program: MotionProgram, machine: Machine, memory = new TimingMemory()): Timeline => {
  const simulation = new Simulation(program, machine, memory.common(program));
  const { states } = simulation;
  const finish = (): { channels: ChannelTimeline[]; total: number } => {
    const channels = states.map((s) => ({
      id: s.program.channel,
      total: s.time,
      events: s.events,
      operations: s.operations,
    }));
    memory.keep(program, channels);
    return { channels, total: Math.max(0, ...states.map((s) => s.time)) };
  };
  for (;;) {
    // the channel that is furthest behind goes on, so that a shared spindle is told things in their order
    let behind: (typeof states)[number] | null = null;
    for (const s of states) {
      if (s.index >= s.program.events.length || isMeeting(s.program.events[s.index])) continue;
      if (!behind || s.time < behind.time) behind = s;
    }
    if (behind) {
      if (behind.program.events[behind.index].kind === 'tool') memory.mark(simulation);
      simulation.step(behind);
      continue;
    }
    const waiting = states.flatMap((s) => {
      const e = s.program.events[s.index];
      return isMeeting(e) ? [{ s, e }] : [];
    });
    if (waiting.length === 0) return { kind: 'timed', ...finish() };
    const ready = waiting.find(({ e }) =>
      e.channels.every((id) => {
        const other = waiting.find((w) => w.s.program.channel === id)?.e;
        return other !== undefined && meetingOf(other) === meetingOf(e);
      }),
    );
    if (!ready)
      return {
        kind: 'deadlock',
        waiting: waiting.map(({ s, e }) => ({
          channel: s.program.channel,
          mark: e.kind === 'wait' ? e.mark : 0,
          channels: e.channels,
          op: e.op,
        })),
        ...finish(),
      };
    simulation.meet(ready.e);
  }
};

/** Place of the programmed tip at a share (0..1) of a timed move. */
export const placeWithin = (t: TimedEvent, share: number, axes: Reach['axes'], style: Machine['rapidPath']): Point => {
  if (!t.move) return t.to;
  if (t.event.kind !== 'rapid' || Object.keys(axes).length === 0) return pointAt(t.move.curve, share);
  const path = [t.from, ...rapidPath(t.from, t.to, axes, style)];
  const times = path
    .slice(1)
    .map((p, i) =>
      Math.max(Math.abs(p.x - path[i].x) / (axes.Z?.rapid ?? 1), Math.abs(p.y - path[i].y) / (axes.X?.rapid ?? 1)),
    );
  let left = share * times.reduce((s, k) => s + k, 0);
  for (let i = 0; i < times.length; i++) {
    if (left <= times[i] && times[i] > 0) {
      const k = left / times[i];
      return point(path[i].x + (path[i + 1].x - path[i].x) * k, path[i].y + (path[i + 1].y - path[i].y) * k);
    }
    left -= times[i];
  }
  return t.to;
};
