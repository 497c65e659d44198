import { surfaceSpeedTime } from '../cutting';
import type { SpindleSpeed } from './events';

/** Speed (rev/min) that is asked for with the tool at a radius (mm). */
export const wantedSpeed = (s: SpindleSpeed | null, radius: number): number => {
  if (!s) return 0;
  if (s.mode === 'fixed') return s.value;
  const d = Math.abs(radius) * 2;
  return d < 1e-6 ? s.clamp : Math.min(s.clamp, (1000 * s.value) / (Math.PI * d));
};

/** A spindle that runs toward the speed it was last told, by `slope` rev/min each second. */
export class SpindleState {
  private speed = 0;
  private time = 0;
  private target = 0;
  command: SpindleSpeed | null = null;
  direction: 'forward' | 'reverse' | null = null;
  /** Channel whose tool the surface speed follows. */
  master: string | null = null;

  constructor(readonly slope: number) {}

  clone(): SpindleState {
    const copy = new SpindleState(this.slope);
    copy.speed = this.speed;
    copy.time = this.time;
    copy.target = this.target;
    copy.command = this.command;
    copy.direction = this.direction;
    copy.master = this.master;
    return copy;
  }

  at(time: number): number {
    return Math.abs(this.signed(time));
  }

  /** The same with a minus while it still turns against the way that it was last told. */
  private signed(time: number): number {
    const change = this.slope * Math.max(0, time - this.time);
    const away = this.target - this.speed;
    return Math.abs(away) <= change ? this.target : this.speed + Math.sign(away) * change;
  }

  /** From `time` on the spindle runs toward another speed. */
  aim(time: number, target: number): void {
    this.speed = this.signed(time);
    this.time = Math.max(this.time, time);
    this.target = target;
  }

  /** It is told to turn this way; one that turns the other way has to come to rest first. */
  turn(time: number, direction: 'forward' | 'reverse'): void {
    if (this.direction !== null && this.direction !== direction) {
      this.speed = -this.signed(time);
      this.time = Math.max(this.time, time);
    }
    this.direction = direction;
  }

  /** The spindle has this speed at a time, and keeps it. */
  settle(time: number, speed: number): void {
    this.speed = speed;
    this.target = speed;
    this.time = time;
  }

  /** Seconds from `time` until it runs at `speed`, aiming there. */
  wait(time: number, speed: number): number {
    return Math.abs(speed - this.signed(time)) / this.slope;
  }
}

export interface FeedRun {
  /** s. */
  readonly time: number;
  /** rev/min at the end. */
  readonly speed: number;
  /** Path speed at the start and end, mm/s. */
  readonly first: number;
  readonly last: number;
}

/** Pieces in which a move is followed where the spindle cannot keep up. */
const STEPS = 96;

/**
 * A straight stretch of `size` mm fed at `perRev` from radius r0 to r1, begun at `speed` rev/min. With constant surface
 * speed the spindle follows the radius as fast as its run-up allows; where it lags, the feed lags with it:
 * ds = f·n/60·dt with dn/dt limited (machining.md: lag where 2·f·n²/D > 60·α).
 */
export const feedAtSpindle = (
  s: SpindleSpeed,
  r0: number,
  r1: number,
  size: number,
  perRev: number,
  speed: number,
  slope: number,
): FeedRun => {
  const k = perRev / 60;
  const n0 = wantedSpeed(s, r0);
  const n1 = wantedSpeed(s, r1);
  const steady = s.mode === 'fixed' || Math.abs(r0 - r1) < 1e-9 || Math.abs(n0 - n1) < 1e-9;
  if (steady && Math.abs(speed - n0) < 1e-6 && r0 * r1 >= 0)
    return { time: size / (k * Math.max(n0, 1e-9)), speed: n0, first: k * n0, last: k * n0 };
  if (s.mode === 'surface' && Math.abs(speed - n0) < 1e-6 && r0 * r1 >= 0 && !lags(s, r0, r1, size, perRev, slope))
    return {
      time: surfaceSpeedTime(r0 * 2, r1 * 2, size, perRev, s.value, s.clamp),
      speed: n1,
      first: k * n0,
      last: k * n1,
    };
  let n = Math.max(speed, 1e-6);
  let time = 0;
  for (let i = 1; i <= STEPS; i++) {
    const ds = size / STEPS;
    const target = Math.max(1e-6, wantedSpeed(s, r0 + ((r1 - r0) * i) / STEPS));
    const direct = (2 * ds) / (k * (n + target));
    if (Math.abs(target - n) <= slope * direct) {
      time += direct;
      n = target;
      continue;
    }
    // n runs by ±slope through the whole piece: ds = k·(n·t ± slope·t²/2)
    const a = (Math.sign(target - n) * slope) / 2;
    const root = n * n + (4 * a * ds) / k;
    const t = root > 0 ? (2 * ds) / k / (n + Math.sqrt(root)) : direct;
    time += t;
    n += 2 * a * t;
  }
  return { time, speed: n, first: k * Math.max(speed, 1e-6), last: k * n };
};

/** True when the spindle cannot follow the surface speed somewhere on the stretch. */
const lags = (
  s: Extract<SpindleSpeed, { mode: 'surface' }>,
  r0: number,
  r1: number,
  size: number,
  perRev: number,
  slope: number,
): boolean => {
  const clampRadius = (1000 * s.value) / (2 * Math.PI * s.clamp);
  const low = Math.max(Math.min(Math.abs(r0), Math.abs(r1)), clampRadius);
  if (low >= Math.max(Math.abs(r0), Math.abs(r1))) return false;
  const n = wantedSpeed(s, low);
  const share = Math.abs(r1 - r0) / Math.max(size, 1e-9);
  return ((n / low) * share * perRev * n) / 60 > slope;
};
