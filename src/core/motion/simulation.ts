import { curveLength, flattenCurve, type Point, point, tangentAt } from '../geometry';
import {
  type AxisName,
  type Carrier,
  carrierOf,
  indexTime,
  type Machine,
  ownReach,
  type Reach,
  reachOf,
  type Spindle,
  spindleStand,
  trapezoidTime,
} from '../machine';
import { type ChannelProgram, isAnnotation, isMove, type MotionEvent, type MotionProgram } from './events';
import { feedOf, type Move, MoveResolver, sectionPoint } from './resolve';
import { feedAtSpindle, SpindleState, wantedSpeed } from './spindle';
import type { ChannelTimeline, OperationTimes, TimedEvent } from './timing';

type Mutable<T> = { -readonly [K in keyof T]: T[K] };

interface State {
  readonly program: ChannelProgram;
  readonly carrier: Carrier | null;
  /** How its tools move against the work of the spindle that it commands. */
  axes: Reach['axes'];
  readonly resolver: MoveResolver;
  index: number;
  time: number;
  spindle: SpindleState | null;
  station: number | null;
  /** Path speed at the end of the last move, mm/s. */
  entry: number;
  events: TimedEvent[];
  operations: Map<string, OperationTimes>;
  /** The operation whose events run. */
  current: Mutable<OperationTimes> | null;
  currentId: string;
}

/** Speed kept through a corner so that the velocity vector jumps by at most `jump` mm/s. */
const cornerSpeed = (a: Point, b: Point, limit: number, jump: number): number => {
  const cos = Math.min(1, Math.max(-1, a.x * b.x + a.y * b.y));
  const half = Math.sqrt((1 - cos) / 2);
  return half < 1e-6 ? limit : Math.min(limit, jump / (2 * half));
};

/** Way of a feed move in mm: X, Z and Y together. */
const moveLength = (m: Move): number => Math.hypot(curveLength(m.curve), m.to.Y - m.from.Y);

const axisTime = (axes: Reach['axes'], axis: AxisName, size: number): number => {
  const a = axes[axis];
  return a && size > 0 ? trapezoidTime(size, a.rapid / 60, 0, 0, a.acceleration) : 0;
};

/** Axes of a carrier against the work of the spindle that its channel commands, or of the first that it comes to. */
const axesAt = (machine: Machine, carrier: Carrier | null, spindle: string | null): Reach['axes'] => {
  if (!carrier) return {};
  const against = spindle === null ? null : reachOf(machine, carrier.id, spindle);
  return (against ?? ownReach(machine, carrier.id))?.axes ?? {};
};

/** How fast a spindle's speed changes, rev/min each second. */
const slopeOf = (s: Spindle): number => s.maxSpeed / s.runUp;

/** Shortest way round for a rotary axis, degrees. */
const turnOf = (from: number, to: number): number => {
  const d = Math.abs(to - from) % 360;
  return Math.min(d, 360 - d);
};

const rapidTime = (m: Move, axes: Reach['axes']): number =>
  Math.max(
    axisTime(axes, 'Z', Math.abs(m.to.Z - m.from.Z)),
    axisTime(axes, 'X', Math.abs(m.to.X - m.from.X)),
    axisTime(axes, 'Y', Math.abs(m.to.Y - m.from.Y)),
    ...(['A', 'B', 'C'] as const).map((k) => axisTime(axes, k, turnOf(m.from[k], m.to[k]))),
  );

/** A feed move: seconds without ramps, path speeds at both ends, spindle speed at the end. */
const feedRun = (
  m: Move,
  spindle: SpindleState | null,
  speed: number,
): { time: number; speed: number; first: number; last: number } => {
  const size = moveLength(m);
  const feed = feedOf(m.event);
  if (!feed) throw new Error('invariant: a rapid is not fed');
  if ('perMin' in feed) {
    const v = feed.perMin / 60;
    return { time: size / v, speed: wantedSpeed(spindle?.command ?? null, m.to.X), first: v, last: v };
  }
  const command = spindle?.command ?? null;
  // a feed per turn with the spindle at rest never ends: it is timed at one turn a minute, the checks tell it
  if (!spindle || !command)
    return { time: (size * 60) / feed.perRev, speed: 0, first: feed.perRev / 60, last: feed.perRev / 60 };
  const points =
    m.curve.kind === 'arc' && command.mode === 'surface'
      ? [m.curve.from, ...flattenCurve(m.curve, 0.01)]
      : [sectionPoint(m.from), sectionPoint(m.to)];
  let n = speed;
  let time = 0;
  let first = 0;
  let last = 0;
  for (let i = 1; i < points.length; i++) {
    const share = size / (points.length - 1);
    const r = feedAtSpindle(command, points[i - 1].y, points[i].y, share, feed.perRev, n, spindle.slope);
    if (i === 1) first = r.first;
    last = r.last;
    time += r.time;
    n = r.speed;
  }
  return { time, speed: n, first, last };
};

/** Seconds lost by speeding up from v0 to v (or slowing down) instead of running at v all along. */
const rampLoss = (v: number, v0: number, a: number): number => (v > v0 ? (v - v0) ** 2 / (2 * a * v) : 0);

/** An event at which channels come together. */
export type Meeting = Extract<MotionEvent, { kind: 'wait' | 'reload' }>;
export const isMeeting = (e: MotionEvent | undefined): e is Meeting => e?.kind === 'wait' || e?.kind === 'reload';
/** What two events have to have in common to be the same meeting. */
export const meetingOf = (e: Meeting): string =>
  `${e.kind} ${e.kind === 'wait' ? e.mark : e.holding} ${e.channels.join()}`;

/** A moment of a simulation, from which it can go on. */
export interface Moment {
  readonly states: readonly {
    readonly index: number;
    readonly time: number;
    readonly entry: number;
    readonly station: number | null;
    readonly spindle: string | null;
    readonly resolver: MoveResolver;
    /** How many operations have begun, and the times so far of the last of them. */
    readonly begun: number;
    readonly last: readonly [string, OperationTimes] | null;
  }[];
  readonly spindles: ReadonlyMap<string, SpindleState>;
  /** Where spindles stand along their slides, machine Z of the chuck face. */
  readonly slides: ReadonlyMap<string, number>;
  /** Spindles that turn as another one does, by the one that follows. */
  readonly inStep: ReadonlyMap<string, string>;
}

/** All channels of a program, event by event. */
export class Simulation {
  readonly states: State[];
  private readonly spindles: Map<string, SpindleState>;
  private readonly slides: Map<string, number>;
  private readonly inStep: Map<string, string>;

  /** From the beginning, or on from a moment of an earlier run whose events up to there were the same. */
  constructor(
    program: MotionProgram,
    private readonly machine: Machine,
    from: { readonly moment: Moment; readonly channels: readonly ChannelTimeline[] } | null = null,
  ) {
    this.spindles = new Map(
      machine.spindles.map((s) => [s.id, from?.moment.spindles.get(s.id)?.clone() ?? new SpindleState(slopeOf(s))]),
    );
    this.slides = new Map(
      from?.moment.slides ?? machine.spindles.map((s) => [s.id, spindleStand(machine, s.id)?.face ?? 0]),
    );
    // one that follows is the leader's own state until it is let go
    this.inStep = new Map(from?.moment.inStep ?? []);
    for (const [follower, leader] of this.inStep)
      this.spindles.set(follower, this.spindles.get(leader) ?? new SpindleState(1));
    this.states = program.channels.map((c, i) => {
      const at = from?.moment.states[i];
      const before = from?.channels[i];
      const carrier = carrierOf(machine, c.channel);
      const operations = new Map(at && before ? [...before.operations].slice(0, at.begun) : []);
      if (at?.last) operations.set(at.last[0], { ...at.last[1] });
      return {
        program: c,
        carrier,
        axes: axesAt(machine, carrier, at?.spindle ?? null),
        resolver: at?.resolver.clone() ?? new MoveResolver(),
        index: at?.index ?? 0,
        time: at?.time ?? 0,
        spindle: (at?.spindle && this.spindles.get(at.spindle)) || null,
        station: at?.station ?? null,
        entry: at?.entry ?? 0,
        events: at && before ? before.events.slice(0, at.index) : [],
        operations,
        current: at?.last ? (operations.get(at.last[0]) as Mutable<OperationTimes>) : null,
        currentId: at?.last?.[0] ?? '',
      };
    });
  }

  /** What is needed to go on from here. */
  moment(): Moment {
    return {
      states: this.states.map((s) => ({
        index: s.index,
        time: s.time,
        entry: s.entry,
        station: s.station,
        spindle: [...this.spindles].find(([, k]) => k === s.spindle)?.[0] ?? null,
        resolver: s.resolver.clone(),
        begun: s.operations.size,
        last: s.current ? [s.currentId, { ...s.current }] : null,
      })),
      spindles: new Map([...this.spindles].map(([id, k]) => [id, k.clone()])),
      slides: new Map(this.slides),
      inStep: new Map(this.inStep),
    };
  }

  /** Runs one event of a channel; waits are handled outside. */
  step(s: State): void {
    const e = s.program.events[s.index];
    const start = s.time;
    const place = s.resolver.place;
    const at = place ? sectionPoint(place) : point(0, 0);
    const speedStart = s.spindle?.at(start) ?? 0;
    if (isMove(e)) {
      const move = s.resolver.next(e, s.index);
      if (!move) throw new Error('invariant: a move moves');
      const { duration, waiting, exit } = move.placed ? this.move(s, move) : { duration: 0, waiting: 0, exit: 0 };
      const end = start + waiting + duration;
      if (!move.placed && s.spindle?.master === s.program.channel)
        s.spindle.aim(start, wantedSpeed(s.spindle.command, move.to.X));
      this.push(s, start, end, sectionPoint(move.from), sectionPoint(move.to), move, waiting, speedStart);
      s.entry = exit;
    } else {
      const duration = this.pause(s, e, place?.X ?? null);
      if (!isAnnotation(e)) s.entry = 0;
      s.resolver.next(e, s.index);
      this.push(s, start, start + duration, at, at, null, 0, speedStart);
    }
    s.index++;
  }

  private push(
    s: State,
    start: number,
    end: number,
    from: Point,
    to: Point,
    move: Move | null,
    waiting: number,
    speedStart: number,
  ): void {
    const event = s.program.events[s.index];
    s.time = end;
    const speedEnd = s.spindle?.at(end) ?? 0;
    s.events.push({ event, index: s.index, start, end, from, to, move, waiting, speedStart, speedEnd });
    const times = this.timesOf(s, event.op, start);
    times.start = Math.min(times.start, start);
    times.end = Math.max(times.end, end);
    if (!move) times.other += end - start;
    else {
      if (move.event.kind === 'rapid') times.rapid += end - start - waiting;
      else times.cutting += end - start - waiting;
      times.other += waiting;
    }
  }

  /** Times of the operation that runs; events of one follow on one another. */
  private timesOf(s: State, op: string, start: number): Mutable<OperationTimes> {
    if (s.current && s.currentId === op) return s.current;
    const known = s.operations.get(op) as Mutable<OperationTimes> | undefined;
    // a copy: an earlier run may still hold what is known
    const times = known ? { ...known } : { start, end: 0, cutting: 0, rapid: 0, other: 0 };
    s.operations.set(op, times);
    s.current = times;
    s.currentId = op;
    return times;
  }

  private move(s: State, m: Move): { duration: number; waiting: number; exit: number } {
    const spindle = s.spindle;
    const leads = spindle !== null && spindle.master === s.program.channel;
    if (m.event.kind === 'rapid') {
      // in a rapid the control aims at the speed of the end point from the start of the block
      if (leads) spindle.aim(s.time, wantedSpeed(spindle.command, m.to.X));
      return { duration: rapidTime(m, s.axes), waiting: 0, exit: 0 };
    }
    const size = moveLength(m);
    const turning = Math.max(
      0,
      ...(['A', 'B', 'C'] as const).map((k) => axisTime(s.axes, k, Math.abs(m.to[k] - m.from[k]))),
    );
    if (size < 1e-9) return { duration: turning, waiting: 0, exit: s.entry };
    let waiting = 0;
    const wanted = wantedSpeed(spindle?.command ?? null, m.from.X);
    if (leads && s.entry === 0) {
      spindle.aim(s.time, wanted);
      waiting = spindle.wait(s.time, wanted);
    }
    const run = feedRun(m, spindle, waiting > 0 || !spindle ? wanted : spindle.at(s.time));
    const a = Math.min(s.axes.Z?.acceleration ?? 1000, s.axes.X?.acceleration ?? 1000);
    const entry = waiting > 0 ? 0 : Math.min(s.entry, run.first);
    const exit = this.exitSpeed(s, m, run.last);
    const v = size / run.time;
    const ramps = rampLoss(run.first, entry, a) + rampLoss(run.last, exit, a);
    const room = (run.first ** 2 - entry ** 2 + run.last ** 2 - exit ** 2) / (2 * a);
    const duration = Math.max(
      turning,
      room > size ? trapezoidTime(size, v, entry, Math.min(exit, v), a) : run.time + ramps,
    );
    if (leads) spindle.settle(s.time + waiting + duration, run.speed);
    return { duration, waiting, exit };
  }

  /** Speed at which a feed move runs into the next one. */
  private exitSpeed(s: State, m: Move, speed: number): number {
    let ahead = s.index + 1;
    while (ahead < s.program.events.length && isAnnotation(s.program.events[ahead])) ahead++;
    const next = s.program.events[ahead];
    if (!next || !isMove(next) || next.kind === 'rapid') return 0;
    const after = new MoveResolver(m.to).next(next, ahead);
    if (!after || moveLength(after) < 1e-9) return 0;
    return cornerSpeed(tangentAt(m.curve, 1), tangentAt(after.curve, 0), speed, this.machine.cornerJump);
  }

  private slideTime(e: Extract<MotionEvent, { kind: 'slide' }>): number {
    const slide = spindleStand(this.machine, e.spindle)?.slide;
    const way = Math.abs(e.to - (this.slides.get(e.spindle) ?? e.to));
    this.slides.set(e.spindle, e.to);
    if (!slide) return 0;
    return trapezoidTime(
      way,
      (e.feed === null ? slide.rapid : Math.min(e.feed, slide.rapid)) / 60,
      0,
      0,
      slide.acceleration,
    );
  }

  /** Seconds of an event that moves no slide of a tool. */
  private pause(s: State, e: MotionEvent, radius: number | null): number {
    switch (e.kind) {
      case 'dwell':
        return e.seconds;
      case 'tool': {
        const time = s.carrier ? indexTime(this.machine, s.carrier, s.station, e.station) : 0;
        s.station = e.station;
        return time;
      }
      case 'spindle': {
        const spindle = this.spindles.get(e.spindle) ?? null;
        if (spindle) {
          s.spindle = spindle;
          s.axes = axesAt(this.machine, s.carrier, e.spindle);
          if (e.direction !== 'stop') spindle.turn(s.time, e.direction);
          spindle.command = e.direction === 'stop' ? null : e.speed;
          spindle.master = s.program.channel;
          spindle.aim(s.time, wantedSpeed(spindle.command, radius ?? 0));
        }
        return this.machine.mCodeTime;
      }
      case 'coolant':
      case 'device':
      case 'clamp':
      case 'stop':
        return this.machine.mCodeTime;
      case 'slide':
        return this.slideTime(e);
      case 'synchronise': {
        const leader = this.spindles.get(e.leader);
        const follower = this.spindles.get(e.follower);
        if (!leader || !follower) return this.machine.mCodeTime;
        if (e.on) {
          const speed = wantedSpeed(leader.command, radius ?? 0);
          this.inStep.set(e.follower, e.leader);
          this.spindles.set(e.follower, leader);
          return this.machine.mCodeTime + follower.wait(s.time, speed);
        }
        if (this.inStep.delete(e.follower)) {
          const own = this.machine.spindles.find((k) => k.id === e.follower);
          const free = new SpindleState(own ? slopeOf(own) : leader.slope);
          free.settle(s.time, leader.at(s.time));
          free.aim(s.time, 0);
          this.spindles.set(e.follower, free);
        }
        return this.machine.mCodeTime;
      }
      case 'reload':
        if (s.spindle) {
          s.spindle.command = null;
          s.spindle.aim(s.time, 0);
        }
        return this.machine.mCodeTime;
      case 'wait':
        return this.machine.waitTime;
      case 'home':
      case 'work-offset':
      case 'compensation':
      case 'cycle':
      case 'cycle-end':
      case 'rapid':
      case 'feed':
      case 'arc':
      case 'thread':
      case 'remark':
        return 0;
      default:
        return e satisfies never;
    }
  }

  /** The partners of a wait meet: all go on at the same moment. */
  meet(mark: Meeting): void {
    const tied = this.states.filter((s) => mark.channels.includes(s.program.channel));
    const moment = Math.max(...tied.map((s) => s.time));
    for (const s of tied) {
      const place = s.resolver.place;
      const at = place ? sectionPoint(place) : point(0, 0);
      const speedStart = s.spindle?.at(s.time) ?? 0;
      this.push(s, s.time, moment + this.machine.waitTime, at, at, null, moment - s.time, speedStart);
      const event = s.program.events[s.index];
      if (event.kind === 'reload') {
        this.pause(s, event, null);
        s.resolver.next(event, s.index);
      }
      s.entry = 0;
      s.index++;
    }
  }
}
