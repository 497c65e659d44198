import { describe, expect, it } from 'vitest';
import { DEMO_JOBS, demoJob } from '../../../tests/fixtures/jobs';
import { OUTPUTS, randomBore, randomOutside } from '../../../tests/fixtures/randomJobs';
import { derive, type Job } from '../plan';
import type { MotionEvent } from './events';

/** Length of a step, s. */
const STEP = 1e-4;

interface Integrated {
  readonly total: number;
  readonly byOperation: ReadonlyMap<string, number>;
}

/**
 * The same machine followed in steps of 0.1 ms: axes speed up and slow down, the spindle runs toward the speed that the
 * tool's radius asks for as fast as its run-up lets it, the feed follows the spindle as it is. Made for this test, from
 * machining.md and the machine's data alone.
 */
const integrate = (job: Job, events: readonly MotionEvent[]): Integrated => {
  const { machine } = job;
  const carrier = machine.carriers[0];
  const [x, z] = ['upper-x', 'upper-z'].map((id) => machine.links.find((l) => l.id === id)?.joint);
  if (!x || !z || carrier.index.kind !== 'turret') throw new Error('no axes');
  const turret = carrier.index;
  const spindle = machine.spindles[0];
  const slope = spindle.maxSpeed / spindle.runUp;
  let speed = 0;
  let aim = 0;
  let time = 0;
  let at: { X: number; Z: number } | null = null;
  let station: number | null = null;
  let command: Extract<MotionEvent, { kind: 'spindle' }> | null = null;
  let fresh = true;
  const by = new Map<string, number>();
  const wanted = (radius: number): number => {
    if (!command || command.direction === 'stop') return 0;
    const s = command.speed;
    if (s.mode === 'fixed') return s.value;
    return Math.min(s.clamp, (1000 * s.value) / (2 * Math.PI * Math.max(Math.abs(radius), 1e-9)));
  };
  const tick = (dt: number): void => {
    speed += Math.sign(aim - speed) * Math.min(Math.abs(aim - speed), slope * dt);
    time += dt;
  };
  const wait = (seconds: number): void => {
    for (let left = seconds; left > 1e-12; left -= STEP) tick(Math.min(STEP, left));
  };
  const axisTime = (size: number, rapid: number, a: number): number => {
    const v = rapid / 60;
    return size <= 0 ? 0 : size > (v * v) / a ? size / v + v / a : 2 * Math.sqrt(size / a);
  };
  events.forEach((e, index) => {
    const started = time;
    if (e.kind === 'rapid') {
      const to = { X: e.to.X ?? at?.X ?? 0, Z: e.to.Z ?? at?.Z ?? 0 };
      if (at) {
        aim = wanted(to.X);
        wait(
          Math.max(
            axisTime(Math.abs(to.X - at.X), x.rapid, x.acceleration),
            axisTime(Math.abs(to.Z - at.Z), z.rapid, z.acceleration),
          ),
        );
      } else aim = wanted(to.X);
      at = to;
      fresh = true;
    } else if ((e.kind === 'feed' || e.kind === 'arc' || e.kind === 'thread') && at) {
      // a thread is fed by its lead
      const feed = e.kind === 'thread' ? { mode: 'perRev', value: e.lead } : e.feed;
      const to = { X: e.to.X ?? at.X, Z: e.to.Z ?? at.Z };
      const arc = e.kind === 'arc' ? arcOf(at, to, { X: e.centre.X ?? 0, Z: e.centre.Z ?? 0 }, e.clockwise) : null;
      const size = arc ? arc.size : Math.hypot(to.X - at.X, to.Z - at.Z);
      if (fresh && size > 1e-9) {
        aim = wanted(at.X);
        while (Math.abs(speed - aim) > 1e-6) tick(STEP);
      }
      fresh = false;
      const next = events.slice(index + 1).find((k) => !['compensation', 'cycle', 'cycle-end'].includes(k.kind));
      const stops = !next || (next.kind !== 'feed' && next.kind !== 'arc' && next.kind !== 'thread');
      const a = Math.min(x.acceleration, z.acceleration);
      let s = 0;
      let v = stopped ? 0 : last;
      const from = at;
      while (s < size) {
        const share = s / size;
        const radius = arc ? arc.radiusAt(share) : from.X + (to.X - from.X) * share;
        aim = wanted(radius);
        const limit = feed.mode === 'perRev' ? (feed.value * speed) / 60 : feed.value / 60;
        const brake = stops ? Math.sqrt(2 * a * (size - s)) + a * STEP : Number.POSITIVE_INFINITY;
        v = Math.min(limit, v + a * STEP, brake);
        s += Math.max(v, 1e-6) * STEP;
        tick(STEP);
      }
      aim = wanted(to.X);
      last = v;
      stopped = stops;
      at = to;
    } else if (e.kind === 'dwell') wait(e.seconds);
    else if (e.kind === 'tool') {
      const away: number = station === null ? 0 : Math.abs(e.station - station);
      const steps = Math.min(away, carrier.stations - away);
      station = e.station;
      if (steps > 0) wait(turret.fixed + steps * turret.perStation);
      fresh = true;
    } else if (e.kind === 'spindle') {
      command = e;
      aim = wanted(at?.X ?? 0);
      wait(machine.mCodeTime);
      fresh = true;
    } else if (e.kind === 'coolant') {
      wait(machine.mCodeTime);
      fresh = true;
    }
    if (e.kind === 'rapid') stopped = true;
    by.set(e.op, (by.get(e.op) ?? 0) + time - started);
  });
  return { total: time, byOperation: by };
};

let stopped = true;
let last = 0;

const arcOf = (
  a: { X: number; Z: number },
  b: { X: number; Z: number },
  c: { X: number; Z: number },
  clockwise: boolean,
) => {
  const r = Math.hypot(a.X - c.X, a.Z - c.Z);
  const start = Math.atan2(a.X - c.X, a.Z - c.Z);
  let turn = Math.atan2(b.X - c.X, b.Z - c.Z) - start;
  if (clockwise && turn > 0) turn -= 2 * Math.PI;
  if (!clockwise && turn < 0) turn += 2 * Math.PI;
  return { size: Math.abs(turn) * r, radiusAt: (share: number): number => c.X + r * Math.sin(start + turn * share) };
};

const held = (job: Job, label: string): void => {
  const d = derive(job);
  const slow = integrate(job, d.program.channels[0].events);
  expect(
    Math.abs(d.timeline.total / slow.total - 1),
    `${label}: ${d.timeline.total} against ${slow.total}`,
  ).toBeLessThan(0.005);
  for (const o of d.operations) {
    if (o.times.end <= o.times.start) continue;
    const own = o.times.cutting + o.times.rapid + o.times.other;
    const other = slow.byOperation.get(o.id) ?? 0;
    expect(Math.abs(own / other - 1), `${label} ${o.id}: ${own} against ${other}`).toBeLessThan(0.01);
  }
};

describe('times against small steps', () => {
  it('of the demo jobs: within 0.5 %, every operation within 1 %', { timeout: 120_000 }, () => {
    for (const name of DEMO_JOBS) held(demoJob(name), name);
  });
  it('of random jobs: within 0.5 %, every operation within 1 %', { timeout: 300_000 }, () => {
    const first = Number(process.env.PROPERTY_SEED ?? 1 + Math.floor(Math.random() * 1e6));
    for (let k = 0; k < (process.env.DEEP ? 60 : 15); k++) {
      held(randomOutside(first + k, 'right', OUTPUTS[k % 3]), `outside ${first + k}`);
      held(randomBore(first + k, OUTPUTS[k % 3]), `bore ${first + k}`);
    }
  });
});
