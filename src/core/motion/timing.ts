import { surfaceSpeedTime } from '../cutting';
import { type Arc, arcSweep, distance, type Point, point } from '../geometry';
import type { Carrier, Machine } from '../machine';
import {
  type ChannelProgram,
  isMove,
  type MotionEvent,
  type MotionProgram,
  type MoveEvent,
  type SpindleSpeed,
} from './events';

/** Seconds for a straight run of `size` mm with speed limit v (mm/s), ends v0 and v1, acceleration a (mm/s²). */
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
  readonly carrier: Carrier;
  index: number;
  time: number;
  at: Point | null;
  speed: number;
  spindle: SpindleSpeed | null;
  /** When the spindle last began to change and what it had then. */
  rampFrom: number;
  rampAt: number;
  spindleId: string | null;
  station: number | null;
  events: TimedEvent[];
}

const tipOf = (e: MoveEvent, at: Point): Point => point(e.to.Z ?? at.x, e.to.X ?? at.y);

const wantedSpeed = (s: SpindleSpeed | null, radius: number): number => {
  if (!s) return 0;
  if (s.mode === 'fixed') return s.value;
  const d = Math.abs(radius) * 2;
  return d < 1e-6 ? s.clamp : Math.min(s.clamp, (1000 * s.value) / (Math.PI * d));
};

const moveLength = (e: MoveEvent, from: Point, to: Point): number => {
  if (e.kind !== 'arc') return distance(from, to);
  const a: Arc = { kind: 'arc', from, to, centre: point(e.centre.Z ?? 0, e.centre.X ?? 0), clockwise: e.clockwise };
  return Math.abs(arcSweep(a)) * distance(a.from, a.centre);
};

const directionAt = (e: MoveEvent, from: Point, to: Point, atEnd: boolean): Point => {
  if (e.kind === 'arc') {
    const p = atEnd ? to : from;
    const rx = p.x - (e.centre.Z ?? 0);
    const ry = p.y - (e.centre.X ?? 0);
    const r = Math.hypot(rx, ry) || 1;
    return e.clockwise ? point(ry / r, -rx / r) : point(-ry / r, rx / r);
  }
  const l = distance(from, to) || 1;
  return point((to.x - from.x) / l, (to.y - from.y) / l);
};

/** Speed kept through a corner so that the velocity vector jumps by at most `jump` mm/s. */
const cornerSpeed = (a: Point, b: Point, limit: number, jump: number): number => {
  const cos = Math.min(1, Math.max(-1, a.x * b.x + a.y * b.y));
  const half = Math.sqrt((1 - cos) / 2);
  return half < 1e-6 ? limit : Math.min(limit, jump / (2 * half));
};

const moveTime = (
  s: State,
  machine: Machine,
  e: MoveEvent,
  to: Point,
  next: MotionEvent | undefined,
  entry: number,
): { time: number; exit: number } => {
  const from = s.at ?? to;
  const axis = s.carrier.axes;
  if (e.kind === 'rapid') {
    const tz = axis.Z ? trapezoidTime(Math.abs(to.x - from.x), axis.Z.rapid / 60, 0, 0, axis.Z.acceleration) : 0;
    const tx = axis.X ? trapezoidTime(Math.abs(to.y - from.y), axis.X.rapid / 60, 0, 0, axis.X.acceleration) : 0;
    return { time: Math.max(tz, tx), exit: 0 };
  }
  const size = moveLength(e, from, to);
  if (size < 1e-9) return { time: 0, exit: entry };
  let ideal: number;
  const speed = s.spindle;
  if (e.kind !== 'thread' && e.feed.mode === 'perMin') ideal = (size * 60) / e.feed.value;
  else {
    const perRev = e.kind === 'thread' ? e.lead : e.feed.value;
    if (speed?.mode === 'surface')
      ideal = surfaceSpeedTime(from.y * 2, to.y * 2, size, perRev, speed.value, speed.clamp);
    else ideal = (size * 60) / (perRev * Math.max(1e-9, wantedSpeed(speed, to.y)));
  }
  const v = size / Math.max(1e-9, ideal);
  const a = Math.min(axis.Z?.acceleration ?? 1000, axis.X?.acceleration ?? 1000);
  let exit = 0;
  if (next && isMove(next) && next.kind !== 'rapid') {
    const after = tipOf(next, to);
    exit = cornerSpeed(directionAt(e, from, to, true), directionAt(next, to, after, false), v, machine.cornerJump);
  }
  return { time: trapezoidTime(size, v, Math.min(entry, v), exit, a), exit };
};

/** Seconds that a channel's event takes when it begins at `s.time`; updates the state. Waits are handled outside. */
const advance = (s: State, machine: Machine, e: MotionEvent, next: MotionEvent | undefined, entry: number): number => {
  const start = s.time;
  const from = s.at ?? point(0, 0);
  let to = from;
  let duration = 0;
  let waiting = 0;
  let exit = 0;
  const spindle = machine.spindles.find((k) => k.id === s.spindleId) ?? machine.spindles[0];
  const slope = spindle.maxSpeed / spindle.runUp;
  const speedStart = s.speed;
  switch (e.kind) {
    case 'rapid':
    case 'feed':
    case 'arc':
    case 'thread': {
      to = tipOf(e, s.at ?? point(e.to.Z ?? 0, e.to.X ?? 0));
      if (!s.at) s.at = to;
      const origin = s.at;
      if (e.kind !== 'rapid' && s.spindle) {
        // the spindle has been changing since the rapid began; stand until it has caught up
        const wanted = wantedSpeed(s.spindle, origin.y);
        const ready = s.rampAt + Math.abs(wanted - s.rampFrom) / slope;
        waiting = Math.max(0, ready - s.time);
        s.speed = wanted;
      }
      const m = moveTime(s, machine, e, to, next, waiting > 0 ? 0 : entry);
      duration = m.time;
      exit = m.exit;
      if (s.spindle) {
        if (e.kind === 'rapid') {
          s.rampFrom = s.speed;
          s.rampAt = s.time;
          const wanted = wantedSpeed(s.spindle, to.y);
          const change = slope * duration;
          s.speed = Math.abs(wanted - s.speed) <= change ? wanted : s.speed + Math.sign(wanted - s.speed) * change;
        } else {
          s.speed = wantedSpeed(s.spindle, to.y);
          s.rampFrom = s.speed;
          s.rampAt = s.time + waiting + duration;
        }
      }
      s.events.push({
        event: e,
        index: s.index,
        start,
        end: start + waiting + duration,
        from: origin,
        to,
        waiting,
        speedStart,
        speedEnd: s.speed,
      });
      s.at = to;
      s.time = start + waiting + duration;
      return exit;
    }
    case 'dwell':
      duration = e.seconds;
      break;
    case 'tool': {
      const n = s.carrier.stations;
      const away = s.station === null ? 0 : Math.abs(e.station - s.station);
      const steps = Math.min(away, n - away);
      duration = steps > 0 ? s.carrier.indexFixed + steps * s.carrier.indexPerStation : 0;
      s.station = e.station;
      break;
    }
    case 'spindle':
      s.spindleId = e.spindle;
      s.spindle = e.direction === 'stop' ? null : e.speed;
      s.rampFrom = s.speed;
      s.rampAt = s.time;
      if (e.direction === 'stop') s.speed = 0;
      duration = machine.mCodeTime;
      break;
    case 'coolant':
    case 'device':
    case 'clamp':
      duration = machine.mCodeTime;
      break;
    case 'wait':
      duration = machine.waitTime;
      break;
    case 'work-offset':
    case 'compensation':
    case 'cycle':
    case 'cycle-end':
      exit = entry;
      break;
    default:
      return e satisfies never;
  }
  s.events.push({
    event: e,
    index: s.index,
    start,
    end: start + duration,
    from,
    to,
    waiting,
    speedStart,
    speedEnd: s.speed,
  });
  s.time = start + duration;
  return exit;
};

/**
 * Times every event of every channel: axis acceleration, spindle run-up, constant surface speed, tool index, waits for
 * partners. A wait whose partners never come is a deadlock and says who stands where.
 */
export const timeProgram = (program: MotionProgram, machine: Machine): Timeline => {
  const states: State[] = program.channels.map((c) => ({
    program: c,
    carrier: machine.carriers.find((k) => k.channel === c.channel) ?? machine.carriers[0],
    index: 0,
    time: 0,
    at: null,
    speed: 0,
    spindle: null,
    rampFrom: 0,
    rampAt: 0,
    spindleId: null,
    station: null,
    events: [],
  }));
  const finish = (): { channels: ChannelTimeline[]; total: number } => ({
    channels: states.map((s) => ({ id: s.program.channel, total: s.time, events: s.events })),
    total: Math.max(0, ...states.map((s) => s.time)),
  });
  for (;;) {
    for (const s of states) {
      let speed = 0;
      while (s.index < s.program.events.length) {
        const e = s.program.events[s.index];
        if (e.kind === 'wait') break;
        // annotations between moves do not stop the axes
        let ahead = s.index + 1;
        while (
          ahead < s.program.events.length &&
          ['compensation', 'cycle', 'cycle-end'].includes(s.program.events[ahead].kind)
        )
          ahead++;
        speed = advance(s, machine, e, s.program.events[ahead], speed);
        s.index++;
      }
    }
    const waiting = states.filter((s) => s.index < s.program.events.length);
    if (waiting.length === 0) return { kind: 'timed', ...finish() };
    const ready = waiting.find((s) => {
      const e = s.program.events[s.index];
      if (e.kind !== 'wait') return false;
      return e.channels.every((id) => {
        const partner = states.find((k) => k.program.channel === id);
        const other = partner?.program.events[partner.index];
        return other?.kind === 'wait' && other.mark === e.mark && other.channels.join() === e.channels.join();
      });
    });
    if (!ready) {
      return {
        kind: 'deadlock',
        waiting: waiting.flatMap((s) => {
          const e = s.program.events[s.index];
          return e.kind === 'wait'
            ? [{ channel: s.program.channel, mark: e.mark, channels: e.channels, op: e.op }]
            : [];
        }),
        ...finish(),
      };
    }
    const mark = ready.program.events[ready.index];
    if (mark.kind !== 'wait') throw new Error('invariant: a ready channel stands at a wait');
    const tied = states.filter((s) => mark.channels.includes(s.program.channel));
    const meet = Math.max(...tied.map((s) => s.time));
    for (const s of tied) {
      const at = s.at ?? point(0, 0);
      const end = meet + machine.waitTime;
      s.events.push({
        event: s.program.events[s.index],
        index: s.index,
        start: s.time,
        end,
        from: at,
        to: at,
        waiting: meet - s.time,
        speedStart: s.speed,
        speedEnd: s.speed,
      });
      s.time = end;
      s.index++;
    }
  }
};

/** Place of the programmed tip at a share (0..1) of a timed move. */
export const placeWithin = (t: TimedEvent, share: number, carrier: Carrier, style: Machine['rapidPath']): Point => {
  const e = t.event;
  if (!isMove(e)) return t.to;
  if (e.kind === 'arc') {
    const a: Arc = {
      kind: 'arc',
      from: t.from,
      to: t.to,
      centre: point(e.centre.Z ?? 0, e.centre.X ?? 0),
      clockwise: e.clockwise,
    };
    const angle = Math.atan2(t.from.y - a.centre.y, t.from.x - a.centre.x) + arcSweep(a) * share;
    const r = distance(a.from, a.centre);
    return point(a.centre.x + r * Math.cos(angle), a.centre.y + r * Math.sin(angle));
  }
  if (e.kind === 'rapid') {
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
  }
  return point(t.from.x + (t.to.x - t.from.x) * share, t.from.y + (t.to.y - t.from.y) * share);
};
