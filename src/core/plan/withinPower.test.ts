import { describe, expect, it } from 'vitest';
import { lineRow, shopTools } from '../../../tests/fixtures/jobs';
import { turnedJob } from '../../../tests/fixtures/turned';
import { isCutting } from '../operations';
import { DeriveCache } from './cache';
import { candidatesFor } from './candidates';
import { derive } from './derive';
import type { Job } from './document';
import { withPlaced } from './placing';
import { depthWithin, drillWithinPower, feedWithin } from './withinPower';

const steel = { kc11: 1700, mc: 0.25 };
const drill = { diameter: 25, pointAngle: 140 };
/** kW at the motor by the formula, written out. */
const kilowatts = (speed: number, feed: number, efficiency: number): number => {
  const h = (feed / 2) * Math.sin((70 * Math.PI) / 180);
  const kc = steel.kc11 * h ** -steel.mc;
  return (kc * feed * drill.diameter * ((Math.PI * drill.diameter * speed) / 1000)) / 240_000 / efficiency;
};

describe('a drill that asks for more than the spindle gives', () => {
  it('keeps its numbers where it does not', () => {
    const spindle = { power: 30, torque: null, efficiency: 0.8 };
    expect(drillWithinPower(spindle, steel, drill, { speed: 1150, feed: 0.35 })).toEqual({ speed: 1150, feed: 0.35 });
  });
  it('is slowed down first where less speed asks for less of the power there is', () => {
    const asked = { speed: 1150, feed: 0.35 };
    const power = kilowatts(1150, 0.35, 0.8) * 0.95;
    const made = drillWithinPower({ power, torque: null, efficiency: 0.8 }, steel, drill, asked);
    expect(made.feed).toBe(0.35);
    expect(made.speed).toBeLessThan(1150);
    expect(kilowatts(made.speed, made.feed, 0.8)).toBeLessThanOrEqual(0.9 * power);
    expect(kilowatts(made.speed + 20, made.feed, 0.8)).toBeGreaterThan(0.9 * power);
  });
  it('is fed less where the spindle is at the end of its torque, for there less speed helps nothing', () => {
    // half of the torque that it wants
    const torque = (kilowatts(1150, 0.35, 1) * 60_000) / (2 * Math.PI * 1150) / 2;
    const made = drillWithinPower({ power: 100, torque, efficiency: 1 }, steel, drill, { speed: 1150, feed: 0.35 });
    expect(made.speed).toBe(1150);
    expect(made.feed).toBe(Math.floor(0.35 * (0.9 / 2) ** (1 / 0.75) * 1000) / 1000);
  });
  it('is slowed down and fed less where it is far over', () => {
    const power = kilowatts(1150, 0.35, 0.8) / 3;
    const made = drillWithinPower({ power, torque: null, efficiency: 0.8 }, steel, drill, { speed: 1150, feed: 0.35 });
    expect(made.speed).toBe(810);
    expect(kilowatts(made.speed, made.feed, 0.8)).toBeLessThanOrEqual(0.9 * power);
    expect(kilowatts(made.speed, made.feed + 0.002, 0.8)).toBeGreaterThan(0.9 * power);
  });
  it('of a cut: depth in proportion, feed by its power', () => {
    expect(depthWithin(3, 1.5)).toBe(1.8);
    expect(feedWithin(0.4, 1.8, 0)).toBe(0.2);
  });
});

const bored = (): Job =>
  turnedJob({
    start: 40,
    outer: [lineRow('a', 60, 0), lineRow('b', 60, -30), lineRow('c', 40, -30)],
    inner: [lineRow('i', 40, -30)],
    bar: 62,
    length: 30,
    tools: [],
    operations: [],
  });

describe('what is offered and what is told', () => {
  it('every drill that is offered stays within the power', () => {
    const job = bored();
    const found = candidatesFor(job, { from: 'i', to: 'i' }, 'inner', 'h1', new DeriveCache(), shopTools()).filter(
      (c) => c.kind === 'drill' && c.reach > 0,
    );
    expect(found.length).toBeGreaterThan(10);
    for (const c of found) {
      if (!c.put) throw new Error('it stands nowhere yet');
      const next = structuredClone(withPlaced(job, c.put));
      next.operations.own = { ...c.operation, id: 'own' };
      next.order[c.operation.channel] = ['own'];
      expect(
        derive(next)
          .findings.map((f) => f.code)
          .filter((code) => code === 'power-over'),
        c.tool,
      ).toEqual([]);
    }
  });
  it('a remedy makes the cut one that the spindle can drive', () => {
    const tools = shopTools().filter((t) => t.id === 'face-rough-80');
    const job = turnedJob({
      outer: [
        lineRow('a', 40, 0),
        lineRow('b', 40, -30),
        lineRow('c', 60, -30),
        lineRow('d', 60, -40),
        lineRow('e', 0, -40),
      ],
      bar: 62,
      length: 40,
      tools,
      operations: [],
    });
    const [best] = candidatesFor(job, { from: 'a', to: 'd' }, 'outer', 'h1').filter((c) => c.kind === 'outer-rough');
    const weak = structuredClone(job);
    Object.assign(weak.machine.spindles[0], { power: 3 });
    weak.operations.own = { ...best.operation, id: 'own' };
    weak.order[best.operation.channel] = ['own'];
    const told = derive(weak).findings.find((f) => f.code === 'power-over');
    const set = Object.entries(told?.remedy?.set ?? {});
    expect(set).toHaveLength(1);
    const [[path, value]] = set;
    expect(path).toBe('/operations/own/params/depth');
    const own = weak.operations.own;
    if (!isCutting(own) || !('depth' in own.params)) throw new Error('it is roughed');
    own.params = { ...own.params, depth: value as number } as typeof own.params;
    expect(derive(weak).findings.some((f) => f.code === 'power-over')).toBe(false);
  });
});
