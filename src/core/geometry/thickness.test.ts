import { describe, expect, it } from 'vitest';
import { seeded } from '../../../tests/fixtures/random';
import { point } from './point';
import { inflateRegion, type Region, rectangle, subtractRegion, unionRegions } from './region';
import { greatestHalfThickness } from './thickness';

/** A polygon of 48 sides about a circle. */
const disc = (x: number, y: number, r: number): Region => {
  const out = r / Math.cos(Math.PI / 48);
  return [
    Array.from({ length: 48 }, (_, i) => {
      const a = (i * Math.PI) / 24;
      return point(x + out * Math.cos(a), y + out * Math.sin(a));
    }),
  ];
};

/** By nothing but shrinking the whole region, halving the step. */
const byHalving = (region: Region): number => {
  let low = 0;
  let high = 50;
  while (high - low > 1e-4) {
    const m = (low + high) / 2;
    if (inflateRegion(region, -m).length > 0) low = m;
    else high = m;
  }
  return low;
};

describe('the thickest place', () => {
  it('of nothing is 0', () => {
    expect(greatestHalfThickness([])).toBe(0);
    expect(greatestHalfThickness([[]])).toBe(0);
  });
  it('of a bar is half its lesser side', () => {
    expect(greatestHalfThickness(rectangle(0, 0, 40, 6))).toBeCloseTo(3, 1);
    expect(Math.abs(greatestHalfThickness(rectangle(0, 0, 40, 6)) - 3)).toBeLessThan(0.03);
    expect(Math.abs(greatestHalfThickness(rectangle(-5, 1, -4.98, 30)) - 0.01)).toBeLessThan(2e-4);
  });
  it('of a disc is its radius, of a ring half its wall', () => {
    expect(Math.abs(greatestHalfThickness(disc(3, 3, 5)) - 5)).toBeLessThan(0.06);
    const ring = subtractRegion(disc(0, 0, 8), disc(0, 0, 5));
    expect(Math.abs(greatestHalfThickness(ring) - 1.5)).toBeLessThan(0.02);
  });
  it('of a triangle is the radius of the circle in it', () => {
    // 3-4-5: inradius 1
    expect(Math.abs(greatestHalfThickness([[point(0, 0), point(4, 0), point(0, 3)]]) - 1)).toBeLessThan(0.012);
  });
  it('of several pieces is that of the thickest, however small it looks from outside', () => {
    const skin = rectangle(0, 0, 200, 0.1);
    const crumb = rectangle(300, 0, 300.6, 0.6);
    expect(Math.abs(greatestHalfThickness([...skin, ...crumb]) - 0.3)).toBeLessThan(0.004);
    // a piece with a hole is thinner than its outline says
    const frame = subtractRegion(rectangle(0, 10, 20, 30), rectangle(0.4, 10.4, 19.6, 29.6));
    expect(Math.abs(greatestHalfThickness([...frame, ...crumb]) - 0.3)).toBeLessThan(0.004);
    expect(Math.abs(greatestHalfThickness(frame) - 0.2)).toBeLessThan(0.05);
  });
  it('of a skin about a hole that touches its outline is that of the skin', () => {
    // the hole has corners on the outline, as two sweeps of one tool leave them
    const outline = [point(0, 0), point(10, 0), point(10, 6), point(5, 8), point(0, 6)];
    const hole = [point(0, 0), point(0, 6), point(5, 7.999), point(9.999, 6), point(10, 0)];
    expect(greatestHalfThickness([outline, hole])).toBeLessThan(6e-4);
    // beside another piece it stays with its own
    const crumb = [point(20, 0), point(21, 0), point(21, 1), point(20, 1)];
    expect(Math.abs(greatestHalfThickness([crumb, outline, hole]) - 0.5)).toBeLessThan(0.006);
  });
  it('below the least that counts is 0, above it is itself', () => {
    const skin = rectangle(0, 0, 100, 0.003);
    expect(greatestHalfThickness(skin, 1e-3, 0.002)).toBe(0);
    expect(greatestHalfThickness(rectangle(0, 0, 100, 0.02), 1e-3, 0.002)).toBeGreaterThan(0.0085);
  });
  it('is the same by halving the shrinking of all at once', () => {
    const random = seeded(5);
    for (let k = 0; k < 12; k++) {
      let region: Region = [];
      for (let i = 0; i < 7; i++) {
        const x = random() * 40;
        const y = random() * 10;
        const next =
          random() < 0.5
            ? rectangle(x, y, x + 0.2 + random() * 9, y + 0.2 + random() * 4)
            : disc(x, y, 0.3 + random() * 2);
        region = random() < 0.75 ? unionRegions(region, next) : subtractRegion(region, next);
      }
      const want = byHalving(region);
      expect(Math.abs(greatestHalfThickness(region) - want)).toBeLessThan(Math.max(5e-4, want * 0.022));
    }
  });
});
