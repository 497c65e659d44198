import { describe, expect, it } from 'vitest';
import type { SpindleSpeed } from './events';
import { feedAtSpindle, SpindleState, wantedSpeed } from './spindle';

const surface = (value: number, clamp: number): SpindleSpeed => ({ mode: 'surface', value, clamp });

describe('the speed that is asked for', () => {
  it('is v·1000/(π·d), never above the clamp, and the clamp on the axis', () => {
    expect(wantedSpeed(surface(200, 5000), 20)).toBeCloseTo((1000 * 200) / (Math.PI * 40), 9);
    expect(wantedSpeed(surface(200, 1000), 2)).toBe(1000);
    expect(wantedSpeed(surface(200, 1000), 0)).toBe(1000);
    // below the axis the diameter counts the same
    expect(wantedSpeed(surface(100, 9000), -10)).toBe(wantedSpeed(surface(100, 9000), 10));
    expect(wantedSpeed({ mode: 'fixed', value: 640 }, 5)).toBe(640);
    expect(wantedSpeed(null, 5)).toBe(0);
  });
});

describe('a spindle', () => {
  it('runs toward what it was told, so many turns a minute each second, and stays there', () => {
    const s = new SpindleState(1000);
    s.aim(2, 3000);
    expect(s.at(1)).toBe(0);
    expect(s.at(2.5)).toBeCloseTo(500, 9);
    expect(s.at(5)).toBe(3000);
    expect(s.at(50)).toBe(3000);
    expect(s.wait(3, 3000)).toBeCloseTo(2, 9);
  });
  it('told anew on the way goes on from where it is', () => {
    const s = new SpindleState(1000);
    s.aim(0, 3000);
    s.aim(1, 200);
    expect(s.at(1)).toBeCloseTo(1000, 9);
    expect(s.at(1.5)).toBeCloseTo(500, 9);
    expect(s.at(2)).toBe(200);
  });
  it('copied goes its own way', () => {
    const s = new SpindleState(1000);
    s.aim(0, 3000);
    s.master = '1';
    const copy = s.clone();
    s.settle(1, 10);
    expect(copy.at(2)).toBe(2000);
    expect(copy.master).toBe('1');
    expect(s.at(2)).toBe(10);
  });
});

/** The same stretch by steps of a tenth of a millisecond: the spindle runs after the wanted speed, the feed with it. */
const bySteps = (
  s: SpindleSpeed,
  r0: number,
  r1: number,
  size: number,
  perRev: number,
  n0: number,
  slope: number,
): { time: number; n: number } => {
  const dt = 1e-4;
  let way = 0;
  let n = n0;
  let time = 0;
  while (way < size && time < 1000) {
    const r = r0 + ((r1 - r0) * way) / size;
    const wanted = wantedSpeed(s, r);
    n += Math.max(-slope * dt, Math.min(slope * dt, wanted - n));
    way += (perRev * n * dt) / 60;
    time += dt;
  }
  return { time, n };
};

describe('a feed at the spindle', () => {
  it('with one speed takes l/(f·n)', () => {
    const r = feedAtSpindle({ mode: 'fixed', value: 1200 }, 10, 10, 30, 0.2, 1200, 1000);
    expect(r.time).toBeCloseTo(30 / ((0.2 * 1200) / 60), 9);
    expect(r.first).toBeCloseTo(4, 9);
    expect(r.last).toBeCloseTo(4, 9);
    expect(r.speed).toBe(1200);
  });
  it('across a face at surface speed takes π·(d1² − d2²)/(4000·f·v) minutes while the spindle keeps up', () => {
    // ⌀60 to ⌀20 at 100 m/min, f 0.1
    const s = surface(100, 10_000);
    const r = feedAtSpindle(s, 30, 10, 20, 0.1, wantedSpeed(s, 30), 1e9);
    expect(r.time).toBeCloseTo(((Math.PI * (60 ** 2 - 20 ** 2)) / (4000 * 0.1 * 100)) * 60, 3);
    expect(r.speed).toBeCloseTo(wantedSpeed(s, 10), 9);
  });
  it('where the spindle lags is what small steps find', () => {
    for (const [v, clamp, r0, r1, f, slope] of [
      [200, 4000, 30, 2, 0.3, 800],
      [300, 6000, 25, 0.5, 0.25, 2000],
      [150, 3000, 5, 40, 0.4, 300],
      [250, 5000, 40, -0.4, 0.2, 1200],
    ]) {
      const s = surface(v, clamp);
      const n0 = wantedSpeed(s, r0);
      const size = Math.abs(r1 - r0);
      const fast = feedAtSpindle(s, r0, r1, size, f, n0, slope);
      const slow = bySteps(s, r0, r1, size, f, n0, slope);
      expect(Math.abs(fast.time - slow.time) / slow.time).toBeLessThan(0.004);
      expect(Math.abs(fast.speed - slow.n) / slow.n).toBeLessThan(0.02);
    }
  });
  it('begun below its speed speeds up on the way', () => {
    const s: SpindleSpeed = { mode: 'fixed', value: 2000 };
    const fast = feedAtSpindle(s, 10, 10, 20, 0.2, 500, 1000);
    const slow = bySteps(s, 10, 10, 20, 0.2, 500, 1000);
    expect(Math.abs(fast.time - slow.time) / slow.time).toBeLessThan(0.004);
    expect(fast.first).toBeCloseTo((0.2 * 500) / 60, 9);
    expect(fast.last).toBeCloseTo((0.2 * fast.speed) / 60, 9);
  });
});
