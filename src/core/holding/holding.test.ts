import { describe, expect, it } from 'vitest';
import { demoJob } from '../../../tests/fixtures/jobs';
import { containsPoint, point, regionArea, regionBounds, regionVolume } from '../geometry';
import {
  type Bar,
  barRegion,
  barSeat,
  chuckRegion,
  HoldingSchema,
  jawLength,
  jawRegion,
  StockSchema,
  usualHolding,
  zeroFromFace,
} from './holding';

const job = demoJob('LM-101');
const spindle = { ...job.machine.spindles[0], chuckLength: 80, chuckDiameter: 165 };
const stock: Bar = { form: 'bar', diameter: 50, bore: 0, frontAllowance: 1.5, stickOut: 44 };
const holding = usualHolding({ spindle: 'main', stock, maxSpeed: 4000 });
const seat = barSeat(stock);

describe('a bar in the chuck', () => {
  it('stands out as far as was said: front of the stock to the front of the jaws', () => {
    expect(seat.jawFront).toBe(1.5 - 44);
    expect(regionBounds(jawRegion(seat, holding)).maxX).toBeCloseTo(-42.5, 9);
    expect(regionBounds(barRegion(stock, holding, spindle)).maxX).toBe(1.5);
  });
  it('is gripped along the grip, behind it the jaws stand clear', () => {
    const short = { ...holding, grip: 12 };
    const jaws = jawRegion(seat, short);
    expect(jawLength(short)).toBe(30);
    expect(containsPoint(jaws, point(-42.5 - 6, 25.5))).toBe(true);
    expect(containsPoint(jaws, point(-42.5 - 20, 25.5))).toBe(false);
    expect(containsPoint(jaws, point(-42.5 - 20, 27.5))).toBe(true);
    // the usual jaws grip all along
    expect(containsPoint(jawRegion(seat, holding), point(-42.5 - 29, 25.5))).toBe(true);
  });
  it('has jaws of steps: lower in front, higher behind, as long as their steps or the grip', () => {
    const jaws = jawRegion(seat, holding);
    expect(containsPoint(jaws, point(-42.5 - 7, 25 + 11))).toBe(true);
    expect(containsPoint(jaws, point(-42.5 - 7, 25 + 13))).toBe(false);
    expect(containsPoint(jaws, point(-42.5 - 20, 25 + 25))).toBe(true);
    expect(regionArea(jaws)).toBeCloseTo(14 * 12 + 16 * 26, 6);
    expect(jawLength({ ...holding, grip: 45 })).toBe(45);
    expect(regionBounds(jawRegion(seat, { ...holding, grip: 45 })).minX).toBeCloseTo(-42.5 - 45, 9);
  });
  it('reaches back to the end of the chuck and nowhere touches its body', () => {
    const bar = barRegion(stock, holding, spindle);
    const chuck = chuckRegion(seat, holding, spindle);
    expect(regionBounds(bar).minX).toBeCloseTo(-42.5 - 30 - 80, 9);
    expect(regionVolume(bar)).toBeCloseTo(Math.PI * 625 * (1.5 + 42.5 + 30 + 80), 4);
    expect(regionBounds(chuck)).toEqual({ minX: -152.5, maxX: -72.5, minY: 27, maxY: 82.5 });
    const tube = barRegion({ ...stock, bore: 20 }, holding, spindle);
    expect(regionBounds(tube).minY).toBe(10);
    expect(regionVolume(tube)).toBeCloseTo(Math.PI * (625 - 100) * 154, 4);
  });
  it('has its zero in front of the chuck where jaws and stick-out put it', () => {
    expect(zeroFromFace(seat, holding)).toBeCloseTo(30 + 42.5, 9);
    // pulled out further, the zero goes with it
    const out = barSeat({ ...stock, stickOut: 60 });
    expect(zeroFromFace(out, holding) - zeroFromFace(seat, holding)).toBeCloseTo(16, 9);
  });
});

describe('numbers of a holding that cannot be', () => {
  const wrong = (change: object): string =>
    HoldingSchema.safeParse({ ...holding, ...change })
      .error?.issues.map((i) => `${i.path.join('/')}: ${i.message}`)
      .join() ?? '';
  it('are refused at their place', () => {
    expect(wrong({})).toBe('');
    for (const [change, path] of [
      [{ stock: { ...stock, stickOut: -1 } }, 'stickOut'],
      [{ stock: { ...stock, stickOut: 1e9 } }, 'stickOut'],
      [{ grip: Number.NaN }, 'grip'],
      [{ gripForce: 0 }, 'gripForce'],
      [{ safeDistance: 0 }, 'safeDistance'],
      [{ workOffset: 'G53' }, 'workOffset'],
      [{ jaws: { ...holding.jaws, count: 1 } }, 'jaws/count'],
      [{ jaws: { ...holding.jaws, steps: [] } }, 'jaws/steps'],
      [{ toolChange: { diameter: 0, z: 10 } }, 'toolChange/diameter'],
    ] as const)
      expect(wrong(change)).toContain(path);
    expect(StockSchema.safeParse({ ...stock, diameter: 6200 }).success).toBe(false);
    expect(StockSchema.safeParse({ ...stock, frontAllowance: -0.1 }).success).toBe(false);
  });
});
