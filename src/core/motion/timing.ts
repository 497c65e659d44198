import { curveLength, flattenCurve, type Point, point, pointAt, tangentAt } from '../geometry';
import type { AxisName, Carrier, Machine } from '../machine';
import { type ChannelProgram, isMove, type MotionEvent, type MotionProgram } from './events';
import { feedOf, type Move, MoveResolver, sectionPoint } from './resolve';
import { feedAtSpindle, SpindleState, wantedSpeed } from './spindle';

/** Seconds for a straight run of `size` with speed limit v, ends v0 and v1, acceleration a (one unit of length throughout). */
export const trapezoidTime = (size: number, v: number, v0: number, v1: number, a: number): number => {
  if (size <= 0) return 0;
  const top = Math.min(v, Math.sqrt(a * size + (v0 * v0 + v1 * v1) / 2));
  const start = Math.min(v0, top);
  const end = Math.min(v1, top);
  const ramps = (top * top - start * start) / (2 * a) + (top * top - end * end) / (2 * a);
  return (top - start) / a + (top - end) / a + Math.max(0, size - ramps) / top;
};

/** Place of a rapid that runs each axis at its own speed: the bend and the end, without the start. */
export const rapidPath = (from: Point, to: Point, carrier: Carrier, style: Machine['rapidPath']): Point[] => {
  const dx = to.x - from.x;
  const dy = to.y - from.y;
  const vz = carrier.axes.Z?.rapid ?? 1;
  const vx = carrier.axes.X?.rapid ?? 1;
  if (style === 'straight' || Math.abs(dx) < 1e-9 || Math.abs(dy) < 1e-9) return [to];
  const tz = Math.abs(dx) / vz;
  const tx = Math.abs(dy) / vx;
  if (Math.abs(tz - tx) < 1e-9) return [to];
  return tz < tx ? [point(to.x, from.y + (dy * tz) / tx), to] : [point(from.x + (dx * tx) / tz, to.y), to];
};

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

export interface ChannelTimeline {
  readonly id: string;
  readonly total: number;
  readonly events: readonly TimedEvent[];
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

interface State {
  readonly program: ChannelProgram;
  readonly carrier: Carrier | undefined;
  readonly resolver: MoveResolver;
  index: number;
  time: number;
  spindle: SpindleState | null;
  station: number | null;
  /** Path speed at the end of the last move, mm/s. */
  entry: number;
  events: TimedEvent[];
}

/** Speed kept through a corner so that the velocity vector jumps by at most `jump` mm/s. */
const cornerSpeed = (a: Point, b: Point, limit: number, jump: number): number => {
  const cos = Math.min(1, Math.max(-1, a.x * b.x + a.y * b.y));
  const half = Math.sqrt((1 - cos) / 2);
  return half < 1e-6 ? limit : Math.min(limit, jump / (2 * half));
};

/** Annotations between moves do not stop the axes. */
const isAnnotation = (e: MotionEvent): boolean =>
  e.kind === 'compensation' || e.kind === 'cycle' || e.kind === 'cycle-end';

/** Way of a feed move in mm: X, Z and Y together. */
const moveLength = (m: Move): number => Math.hypot(curveLength(m.curve), m.to.Y - m.from.Y);

const axisTime = (carrier: Carrier | undefined, axis: AxisName, size: number): number => {
  const a = carrier?.axes[axis];
  return a && size > 0 ? trapezoidTime(size, a.rapid / 60, 0, 0, a.acceleration) : 0;
};

/** Shortest way round for a rotary axis, degrees. */
const turnOf = (from: number, to: number): number => {
  const d = Math.abs(to - from) % 360;
  return Math.min(d, 360 - d);
};

const rapidTime = (m: Move, carrier: Carrier | undefined): number =>
  Math.max(
    axisTime(carrier, 'Z', Math.abs(m.to.Z - m.from.Z)),
    axisTime(carrier, 'X', Math.abs(m.to.X - m.from.X)),
    axisTime(carrier, 'Y', Math.abs(m.to.Y - m.from.Y)),
    ...(['A', 'B', 'C'] as const).map((k) => axisTime(carrier, k, turnOf(m.from[k], m.to[k]))),
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

class Simulation {
  readonly states: State[];
  private readonly spindles = new Map<string, SpindleState>();

  constructor(
    program: MotionProgram,
    private readonly machine: Machine,
  ) {
    this.states = program.channels.map((c) => ({
      program: c,
      carrier: machine.carriers.find((k) => k.channel === c.channel),
      resolver: new MoveResolver(),
      index: 0,
      time: 0,
      spindle: null,
      station: null,
      entry: 0,
      events: [],
    }));
    for (const s of machine.spindles) this.spindles.set(s.id, new SpindleState(s.maxSpeed / s.runUp));
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
      this.push(s, {
        event: e,
        index: s.index,
        start,
        end,
        from: sectionPoint(move.from),
        to: sectionPoint(move.to),
        move,
        waiting,
        speedStart,
      });
      s.entry = exit;
    } else {
      const duration = this.pause(s, e, place?.X ?? null);
      if (!isAnnotation(e)) s.entry = 0;
      s.resolver.next(e, s.index);
      this.push(s, {
        event: e,
        index: s.index,
        start,
        end: start + duration,
        from: at,
        to: at,
        move: null,
        waiting: 0,
        speedStart,
      });
    }
    s.index++;
  }

  private push(s: State, t: Omit<TimedEvent, 'speedEnd'>): void {
    s.time = t.end;
    s.events.push({ ...t, speedEnd: s.spindle?.at(t.end) ?? 0 });
  }

  private move(s: State, m: Move): { duration: number; waiting: number; exit: number } {
    const spindle = s.spindle;
    const leads = spindle !== null && spindle.master === s.program.channel;
    if (m.event.kind === 'rapid') {
      // in a rapid the control aims at the speed of the end point from the start of the block
      if (leads) spindle.aim(s.time, wantedSpeed(spindle.command, m.to.X));
      return { duration: rapidTime(m, s.carrier), waiting: 0, exit: 0 };
    }
    const size = moveLength(m);
    const turning = Math.max(
      0,
      ...(['A', 'B', 'C'] as const).map((k) => axisTime(s.carrier, k, Math.abs(m.to[k] - m.from[k]))),
    );
    if (size < 1e-9) return { duration: turning, waiting: 0, exit: s.entry };
    let waiting = 0;
    const wanted = wantedSpeed(spindle?.command ?? null, m.from.X);
    if (leads && s.entry === 0) {
      spindle.aim(s.time, wanted);
      waiting = spindle.wait(s.time, wanted);
    }
    const run = feedRun(m, spindle, waiting > 0 || !spindle ? wanted : spindle.at(s.time));
    const a = Math.min(s.carrier?.axes.Z?.acceleration ?? 1000, s.carrier?.axes.X?.acceleration ?? 1000);
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

  /** Seconds of an event that moves no slide. */
  private pause(s: State, e: MotionEvent, radius: number | null): number {
    switch (e.kind) {
      case 'dwell':
        return e.seconds;
      case 'tool': {
        const carrier = s.carrier;
        const away = s.station === null || !carrier ? 0 : Math.abs(e.station - s.station);
        const steps = carrier ? Math.min(away, carrier.stations - away) : 0;
        s.station = e.station;
        return carrier && steps > 0 ? carrier.indexFixed + steps * carrier.indexPerStation : 0;
      }
      case 'spindle': {
        const spindle = this.spindles.get(e.spindle) ?? null;
        if (spindle) {
          s.spindle = spindle;
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
        return 0;
      default:
        return e satisfies never;
    }
  }

  /** The partners of a wait meet: all go on at the same moment. */
  meet(mark: Extract<MotionEvent, { kind: 'wait' }>): void {
    const tied = this.states.filter((s) => mark.channels.includes(s.program.channel));
    const moment = Math.max(...tied.map((s) => s.time));
    for (const s of tied) {
      const place = s.resolver.place;
      const at = place ? sectionPoint(place) : point(0, 0);
      const speedStart = s.spindle?.at(s.time) ?? 0;
      const event = s.program.events[s.index];
      const end = moment + this.machine.waitTime;
      this.push(s, {
        event,
        index: s.index,
        start: s.time,
        end,
        from: at,
        to: at,
        move: null,
        waiting: moment - s.time,
        speedStart,
      });
      s.entry = 0;
      s.index++;
    }
  }
}

/**
 * Times every event of every channel: axis acceleration, spindle run-up (which goes on while slides, turret and codes do
 * their work), constant surface speed with the spindle's lag, tool index, waits for partners. A wait whose partners never
 * come is a deadlock and says who stands where.
 */
export const timeProgram = (program: MotionProgram, machine: Machine): Timeline => {
  const simulation = new Simulation(program, machine);
  const { states } = simulation;
  const finish = (): { channels: ChannelTimeline[]; total: number } => ({
    channels: states.map((s) => ({ id: s.program.channel, total: s.time, events: s.events })),
    total: Math.max(0, ...states.map((s) => s.time)),
  });
  for (;;) {
    // the channel that is furthest behind goes on, so that a shared spindle is told things in their order
    let behind: State | null = null;
    for (const s of states) {
      if (s.index >= s.program.events.length || s.program.events[s.index].kind === 'wait') continue;
      if (!behind || s.time < behind.time) behind = s;
    }
    if (behind) {
      simulation.step(behind);
      continue;
    }
    const waiting = states.flatMap((s) => {
      const e = s.program.events[s.index];
      return e?.kind === 'wait' ? [{ s, e }] : [];
    });
    if (waiting.length === 0) return { kind: 'timed', ...finish() };
    const ready = waiting.find(({ e }) =>
      e.channels.every((id) => {
        const other = waiting.find((w) => w.s.program.channel === id)?.e;
        return other?.mark === e.mark && other.channels.join() === e.channels.join();
      }),
    );
    if (!ready)
      return {
        kind: 'deadlock',
        waiting: waiting.map(({ s, e }) => ({
          channel: s.program.channel,
          mark: e.mark,
          channels: e.channels,
          op: e.op,
        })),
        ...finish(),
      };
    simulation.meet(ready.e);
  }
};

/** Place of the programmed tip at a share (0..1) of a timed move. */
export const placeWithin = (
  t: TimedEvent,
  share: number,
  carrier: Carrier | undefined,
  style: Machine['rapidPath'],
): Point => {
  if (!t.move) return t.to;
  if (t.event.kind !== 'rapid' || !carrier) return pointAt(t.move.curve, share);
  const path = [t.from, ...rapidPath(t.from, t.to, carrier, style)];
  const times = path
    .slice(1)
    .map((p, i) =>
      Math.max(
        Math.abs(p.x - path[i].x) / (carrier.axes.Z?.rapid ?? 1),
        Math.abs(p.y - path[i].y) / (carrier.axes.X?.rapid ?? 1),
      ),
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
