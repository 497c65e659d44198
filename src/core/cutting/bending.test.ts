import { describe, expect, it } from 'vitest';
import { demoJob } from '../../../tests/fixtures/jobs';
import { derive } from '../plan';
import { bendFree, bendSupported, elasticityOf, roundInertia, turningLoad } from './formulas';

describe('bending', () => {
  const I = roundInertia(20);
  it('of a bar held at one end', () => {
    expect(I).toBeCloseTo((Math.PI * 20 ** 4) / 64, 9);
    expect(bendFree(200, 60, 210_000, I)).toBeCloseTo(0.0087308, 7);
    expect(roundInertia(20, 10)).toBeCloseTo(I * (1 - 1 / 16), 9);
  });
  it('between chuck and tailstock: the middle, and the worst place at 0.586 of the length', () => {
    expect(bendSupported(300, 200, 100, 210_000, I)).toBeCloseTo(0.0132629, 7);
    expect(bendSupported(300, 200, 117.157, 210_000, I)).toBeCloseTo(0.0142784, 7);
    for (const a of [110, 116, 118, 125])
      expect(bendSupported(300, 200, a, 210_000, I)).toBeLessThanOrEqual(bendSupported(300, 200, 117.157, 210_000, I));
  });
  it.each([
    ['P', 7.85, 210_000],
    ['M', 7.9, 200_000],
    ['K', 7.2, 110_000],
    ['N', 2.7, 70_000],
    ['N', 8.4, 100_000],
    ['S', 4.5, 110_000],
  ])('with the elasticity of group %s at %d g/cm³', (group, density, expected) => {
    expect(elasticityOf({ group, density })).toBe(expected);
  });
});

describe('cutting force by Kienzle in three materials', () => {
  const at = (kc11: number, mc: number) =>
    turningLoad({ kc11, mc, depth: 2.5, feed: 0.3, approachAngle: 95, surfaceSpeed: 200, diameter: 60 });
  it.each([
    [1600, 0.25, 1622.99],
    // h = 0.3·sin 95°, b = 2.5/sin 95°: F = kc·b·h^(1−mc), worked by hand
    [700, 0.25, 1622.99 * (700 / 1600)],
    [2000, 0.21, 2000 * (2.5 / Math.sin((95 * Math.PI) / 180)) * (0.3 * Math.sin((95 * Math.PI) / 180)) ** 0.79],
  ])('kc1.1 %d, mc %d', (kc11, mc, force) => {
    const l = at(kc11, mc);
    expect(l.force).toBeCloseTo(force, 1);
    expect(l.torque).toBeCloseTo((l.force * 60) / 2000, 6);
    expect(l.power).toBeCloseTo((l.force * 200) / 60_000, 6);
  });
});

describe('what the card says of the load', () => {
  const loadOf = (id: string, change: (depth: { depth: number }) => void = () => undefined) => {
    const job = structuredClone(demoJob('LM-118'));
    const op = job.operations[id];
    if ('depth' in op.params) change(op.params as { depth: number });
    const d = derive(job).operations.find((o) => o.id === id);
    if (!d?.load) throw new Error('no load');
    return d.load;
  };
  it('has the torque that the spindle can give at that speed', () => {
    const load = loadOf('op3');
    expect(load.torqueAvailable).toBeCloseTo((load.available * 60_000) / (2 * Math.PI * load.speedMin), 6);
    expect(load.torque).toBeLessThan(load.torqueAvailable);
  });
  it('names the depth that would use power and edge, and nothing where they are used', () => {
    const gentle = loadOf('op3', (p) => {
      p.depth = 0.8;
    });
    expect(gentle.couldTake).toBeGreaterThan(gentle.depth * 1.4);
    const hard = loadOf('op3', (p) => {
      p.depth = 7;
    });
    expect(hard.couldTake).toBeNull();
  });
  it('bends more the further the bar sticks out: with the third power', () => {
    const bend = (stickOut: number): number => {
      const job = structuredClone(demoJob('LM-118'));
      const { stock } = job.holdings.h1;
      if (stock.form === 'bar') stock.stickOut = stickOut;
      return derive(job).operations.find((o) => o.id === 'op3')?.load?.bend ?? 0;
    };
    expect(bend(120) / bend(60)).toBeCloseTo(8, 6);
  });
});
