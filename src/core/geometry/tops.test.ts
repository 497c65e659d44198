import { describe, expect, it } from 'vitest';
import { seeded } from '../../../tests/fixtures/random';
import { carriedSide } from '../../../tests/fixtures/sides';
import { type LowerSide, lowerSide, sideHeight } from './outline';
import { point } from './point';
import { Surface } from './surface';
import { bottomOf, Tops } from './tops';

/** A line of many corners, with walls, that wanders between 0 and 10. */
const wander = (random: () => number, corners: number): { xs: number[]; ys: number[] } => {
  const xs: number[] = [0];
  const ys: number[] = [5];
  let wall = false;
  for (let i = 1; i < corners; i++) {
    // two walls at one place, or one at an end, would leave a needle without width
    wall = !wall && i > 1 && i < corners - 1 && random() < 0.15;
    xs.push(xs[i - 1] + (wall ? 0 : 0.02 + random() * 0.6));
    ys.push(Math.max(0, Math.min(10, ys[i - 1] + (random() - 0.5) * (wall ? 4 : 1))));
  }
  return { xs, ys };
};

/** Height of a line by looking at every edge: the higher one at walls. */
const heightAt = (xs: readonly number[], ys: readonly number[], x: number): number => {
  let best = Number.NEGATIVE_INFINITY;
  for (let i = 1; i < xs.length; i++) {
    if (x < xs[i - 1] - 1e-9 || x > xs[i] + 1e-9) continue;
    const w = xs[i] - xs[i - 1];
    const y = w < 1e-9 ? Math.max(ys[i - 1], ys[i]) : ys[i - 1] + ((ys[i] - ys[i - 1]) * (x - xs[i - 1])) / w;
    best = Math.max(best, y);
  }
  return best;
};

const lowerIn = (xs: readonly number[], value: number): number => {
  const i = xs.findIndex((x) => x >= value);
  return i < 0 ? xs.length : i;
};

/** How far a line stands above a side, looked at in steps of a micrometre or so: no corner is named. */
const climbBySteps = (
  xs: readonly number[],
  ys: readonly number[],
  side: LowerSide,
  dx: number,
  dy: number,
): number => {
  const a = Math.max(xs[0], side.x[0] + dx) + 1e-7;
  const b = Math.min(xs[xs.length - 1], side.x[side.x.length - 1] + dx) - 1e-7;
  let worst = Number.NEGATIVE_INFINITY;
  const n = 6000;
  for (let i = 0; i <= n && b > a; i++) {
    const x = a + ((b - a) * i) / n;
    worst = Math.max(worst, heightAt(xs, ys, x) - (sideHeight(side, x - dx) + dy));
  }
  return worst;
};

const insert = lowerSide({ points: [point(0, 0), point(3, 8), point(-1.5, 8)], radius: 0.4 });
const blade = lowerSide({ points: [point(-1, 0), point(1, 0), point(1, 9), point(-1, 9)], radius: 0.2 });
const block = lowerSide({ points: [point(-6, 1), point(6, 0), point(6, 20), point(-6, 20)], radius: 0 });

describe('heights over bins', () => {
  it('bound the line everywhere, and touch it in every bin', () => {
    const random = seeded(11);
    for (let k = 0; k < 40; k++) {
      const { xs, ys } = wander(random, 40 + Math.floor(random() * 200));
      const tops = Tops.of(xs, ys);
      const far: LowerSide = { x: [xs[0], xs[xs.length - 1]], y: [0, 0] };
      const stands = (bin: number, over: number): boolean =>
        tops.next(bin, bin, { side: far, bottom: 0, dx: 0, dy: 0, a: xs[0], b: xs[xs.length - 1] }, over) === bin;
      for (let bin = 0; bin <= tops.bin(xs[xs.length - 1]); bin++) {
        let most = 0;
        for (let i = 0; i <= 40; i++) {
          const x = tops.left(bin) + ((tops.left(bin + 1) - tops.left(bin)) * i) / 40;
          if (x <= xs[xs.length - 1]) most = Math.max(most, heightAt(xs, ys, x));
        }
        for (let i = 0; i < xs.length; i++)
          if (xs[i] >= tops.left(bin) && xs[i] <= tops.left(bin + 1)) most = Math.max(most, ys[i]);
        // standing above everything that is lower than the line, and not above what is higher
        expect(stands(bin, most - 1e-6)).toBe(true);
        expect(stands(bin, most + 1e-6)).toBe(false);
      }
    }
  });
  it('are the same made anew or changed after a stretch has fallen', () => {
    const random = seeded(12);
    for (let k = 0; k < 60; k++) {
      const { xs, ys } = wander(random, 120);
      const tops = Tops.of(xs, ys);
      const a = xs[xs.length - 1] * random() * 0.9;
      const b = a + random() * 6;
      const lower = ys.map((y, i) => (xs[i] >= a && xs[i] <= b ? y * random() : y));
      // only what lies between two corners within the stretch has fallen
      tops.changed(xs, lower, a - 1, b + 1, (x) => lowerIn(xs, x));
      const anew = Tops.of(xs, lower);
      const side: LowerSide = { x: [xs[0], xs[xs.length - 1]], y: [0, 0] };
      const at = { side, bottom: 0, dx: 0, dy: 0, a: xs[0], b: xs[xs.length - 1] };
      for (let bin = 0; bin <= tops.bin(xs[xs.length - 1]); bin++)
        for (const over of [1, 2.5, 4, 5.5, 7, 8.5])
          expect(tops.next(bin, bin, at, over)).toBe(anew.next(bin, bin, at, over));
    }
  });
  it('of a copy do not change with the first', () => {
    const { xs, ys } = wander(seeded(3), 90);
    const tops = Tops.of(xs, ys);
    const copy = tops.clone();
    const flat = ys.map(() => 0);
    tops.changed(xs, flat, xs[0], xs[xs.length - 1], (x) => lowerIn(xs, x));
    const at = { side: { x: [xs[0], 1e3], y: [0, 0] }, bottom: 0, dx: 0, dy: 0, a: xs[0], b: xs[xs.length - 1] };
    expect(tops.next(0, 1000, at, 0.5)).toBe(-1);
    expect(copy.next(0, copy.bin(1e3), at, 0.5)).toBeGreaterThanOrEqual(0);
    expect(copy.previous(copy.bin(1e3), 0, at, 0.5)).toBeGreaterThanOrEqual(copy.next(0, copy.bin(1e3), at, 0.5));
  });
  it('know the lowest corner of a side', () => {
    expect(insert.y[bottomOf(insert)]).toBeCloseTo(-0.4, 9);
    expect(insert.y[bottomOf(insert)]).toBe(Math.min(...insert.y));
    expect(block.y[bottomOf(block)]).toBe(0);
    expect(bottomOf({ x: [2], y: [7] })).toBe(0);
    expect(bottomOf({ x: [0, 1, 2], y: [3, 2, 1] })).toBe(2);
    expect(bottomOf({ x: [0, 1, 2], y: [1, 2, 3] })).toBe(0);
  });
});

describe('the top of a dense line', () => {
  const random = seeded(77);
  it('rises above a shape by what a walk in small steps finds', () => {
    for (let k = 0; k < 120; k++) {
      const { xs, ys } = wander(random, 30 + Math.floor(random() * 250));
      const surface = new Surface(xs.slice(), ys.slice());
      const side = [insert, blade, block][k % 3];
      const dx = random() * xs[xs.length - 1];
      const dy = random() * 12 - 1;
      const steps = climbBySteps(xs, ys, side, dx, dy);
      const rise = surface.rise(side, dx, dy);
      // steps may miss a crest by their width times the steepest slope
      expect(rise).toBeGreaterThanOrEqual(steps - 1e-6);
      expect(rise - steps).toBeLessThan(0.15);
      expect(surface.clears(side, dx, dy)).toBe(rise <= 0);
      const p = surface.deepest(side, dx, dy);
      if (p) expect(p.y - (sideHeight(side, p.x - dx) + dy)).toBeCloseTo(rise, 6);
      else expect(rise).toBeLessThanOrEqual(1e-9);
      // lifted by its rise the shape is clear, and a little lower it is not
      if (rise > 0.01) {
        expect(surface.clears(side, dx, dy + rise + 1e-6)).toBe(true);
        expect(surface.clears(side, dx, dy + rise - 1e-4)).toBe(false);
      }
    }
  });
  it('after cuts is the lower of line and shapes at every place', () => {
    for (let k = 0; k < 40; k++) {
      const { xs, ys } = wander(random, 60 + Math.floor(random() * 120));
      const surface = new Surface(xs.slice(), ys.slice());
      const cuts = Array.from({ length: 25 }, () => ({
        side: [insert, blade][Math.floor(random() * 2)],
        dx: random() * xs[xs.length - 1],
        dy: 1 + random() * 9,
      }));
      for (const c of cuts) {
        const met = !surface.clears(c.side, c.dx, c.dy);
        expect(surface.cut(carriedSide(c.side, c.dx, c.dy))).toBe(met);
        // what is flat to a tenth of a nanometre stays
        expect(surface.rise(c.side, c.dx, c.dy)).toBeLessThan(2e-7);
      }
      for (let i = 0; i < 300; i++) {
        const x = xs[0] + (xs[xs.length - 1] - xs[0]) * random();
        if (xs.some((v) => Math.abs(v - x) < 1e-4)) continue;
        let want = heightAt(xs, ys, x);
        let beside = false;
        for (const { side, dx, dy } of cuts) {
          const u = x - dx;
          if (Math.abs(u - side.x[0]) < 1e-4 || Math.abs(u - side.x[side.x.length - 1]) < 1e-4) beside = true;
          if (u > side.x[0] && u < side.x[side.x.length - 1]) want = Math.min(want, sideHeight(side, u) + dy);
        }
        if (!beside) expect(Math.abs(surface.heightAt(x) - want)).toBeLessThan(2e-6);
      }
    }
  });
  it('put back after a try is as it was, bins and all', () => {
    const { xs, ys } = wander(random, 150);
    const surface = new Surface(xs.slice(), ys.slice());
    surface.clears(insert, 5, 5);
    const before = surface.fresh();
    const copy = surface.clone();
    surface.cut(carriedSide(blade, xs[xs.length - 1] / 2, 0.5));
    expect(surface.clears(blade, xs[xs.length - 1] / 2, 0.6)).toBe(true);
    surface.putBack(before);
    expect(surface.corners).toEqual(copy.corners);
    for (let k = 0; k < 50; k++) {
      const dx = random() * xs[xs.length - 1];
      const dy = random() * 10;
      expect(surface.rise(insert, dx, dy)).toBe(copy.rise(insert, dx, dy));
    }
  });
});
