import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  clampDiameter,
  drillLoad,
  passDepths,
  roughness,
  spindleSpeed,
  surfaceSpeedTime,
  turningLoad,
  uncompensatedLeft,
} from './formulas';

describe('worked cases', () => {
  it('spindle speed', () => {
    expect(spindleSpeed(180, 45)).toBeCloseTo(1273.24, 2);
    expect(spindleSpeed(600 * 0.3048, 50.8)).toBeCloseTo(1145.92, 2);
  });
  it('facing at constant surface speed with a clamp', () => {
    expect(clampDiameter(200, 3000)).toBeCloseTo(21.2207, 4);
    expect(surfaceSpeedTime(100, 20, 40, 0.2, 200, 3000)).toBeCloseTo(11.3115, 4);
    expect(clampDiameter(220, 2500)).toBeCloseTo(28.0113, 4);
    expect(surfaceSpeedTime(80, 0, 40, 0.25, 220, 2500)).toBeCloseTo(6.1558, 4);
  });
  it('a cone', () => {
    const slant = Math.hypot(50, 10);
    expect(slant).toBeCloseTo(50.9902, 4);
    expect(surfaceSpeedTime(40, 60, slant, 0.2, 200, 1e6)).toBeCloseTo(12.0143, 4);
  });
  it('cutting force, power and torque', () => {
    const l = turningLoad({
      kc11: 1600,
      mc: 0.25,
      depth: 2.5,
      feed: 0.3,
      approachAngle: 95,
      surfaceSpeed: 200,
      diameter: 60,
    });
    expect(l.force).toBeCloseTo(1622.99, 1);
    expect(l.power).toBeCloseTo(5.40995, 4);
    expect(l.torque).toBeCloseTo(48.6896, 3);
    expect(l.removal).toBeCloseTo(150, 9);
    expect(l.removalTrue).toBeCloseTo(143.75, 9);
  });
  it('drill torque, power and thrust', () => {
    const l = drillLoad({ kc11: 1600, mc: 0.25, diameter: 12, feed: 0.2, pointAngle: 140, surfaceSpeed: 90 });
    expect(l.kc).toBeCloseTo(2889.84, 1);
    expect(l.torque).toBeCloseTo(10.4034, 3);
    expect(l.power).toBeCloseTo(2.60085, 4);
    expect(l.thrust).toBeCloseTo(1629.34, 1);
  });
  it('roughness and the uncompensated chamfer', () => {
    expect(roughness(0.2, 0.8).rt).toBeCloseTo(6.25, 9);
    expect(roughness(0.2, 0.8).ra).toBeCloseTo(1.60375, 5);
    expect(uncompensatedLeft(0.8, 45, true)).toBeCloseTo(0.33137, 5);
  });
});

describe('surface speed time', () => {
  it('agrees with a fine numeric integral', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0, max: 120, noNaN: true }),
        fc.double({ min: 0, max: 120, noNaN: true }),
        fc.double({ min: 1, max: 100, noNaN: true }),
        (d1, d2, travel) => {
          const steps = 4000;
          let sum = 0;
          for (let i = 0; i < steps; i++) {
            const d = d1 + ((d2 - d1) * (i + 0.5)) / steps;
            const n = Math.min(2500, spindleSpeed(180, Math.max(d, 1e-9)));
            sum += (travel / steps / (0.2 * n)) * 60;
          }
          expect(surfaceSpeedTime(d1, d2, travel, 0.2, 180, 2500) / sum).toBeCloseTo(1, 3);
        },
      ),
      { numRuns: 60 },
    );
  });
});

describe('passes', () => {
  it('never exceed the limit and add up', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0.01, max: 60, noNaN: true }),
        fc.double({ min: 0.05, max: 8, noNaN: true }),
        fc.constantFrom('equal' as const, 'full' as const),
        (total, most, style) => {
          const d = passDepths(total, most, style);
          expect(d.reduce((s, k) => s + k, 0)).toBeCloseTo(total, 9);
          expect(Math.max(...d)).toBeLessThanOrEqual(most * (1 + 1e-9));
          if (style === 'equal') expect(Math.max(...d) - Math.min(...d)).toBeLessThan(1e-9);
        },
      ),
    );
  });
});
