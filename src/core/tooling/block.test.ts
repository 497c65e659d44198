import { describe, expect, it } from 'vitest';
import { boundsOfPoints } from '../geometry';
import { freeOffset, freePosition, type Mount, type Mounts, mountList, placeName, standsOn, usualMount } from './mount';
import type { ToolSection } from './section';
import { toolInPlace } from './standing';
import { type Tool, ToolSchema } from './tool';
import { upgradedTool } from './upgrade';

const tool = (id: string, t: Record<string, unknown>): Tool =>
  ToolSchema.parse(upgradedTool({ id, name: id, ...t })) as Tool;
const TOOLS = {
  left: tool('left', { kind: 'turning', insert: 'DNMG150604', approachAngle: 93, overhang: 40 }),
  right: tool('right', { kind: 'turning', insert: 'DNMG150604', approachAngle: 93, overhang: 40 }),
  drill: tool('drill', { kind: 'drill', diameter: 12, fluteLength: 60, overhang: 70 }),
  bar: tool('bar', {
    kind: 'boring',
    insert: 'CCMT060204',
    approachAngle: 95,
    barDiameter: 10,
    noseToAxis: 6,
    overhang: 50,
  }),
};
const block = (positions: Record<string, Partial<Mount> & { tool: string }>): Mounts => ({
  upper: { 3: Object.fromEntries(Object.entries(positions).map(([k, m]) => [k, { ...usualMount(m.tool), ...m }])) },
});
const seen = (mounts: Mounts, id: string, turned = false): ToolSection | null => {
  const m = mountList(mounts).find((k) => k.mount.tool === id) ?? null;
  const made = toolInPlace(TOOLS, mounts, m, turned);
  if (made === null) return null;
  if (!made.ok) throw new Error(made.code);
  return made.section;
};
const alone = (id: string, turned = false, facing: Mount['facing'] = 'main'): ToolSection =>
  seen(block({ 1: { tool: id, facing } }), id, turned) as ToolSection;
const boundsOf = (shapes: ToolSection['turret']) => boundsOfPoints(shapes.flatMap((s) => s.points));

describe('a block that holds several tools', () => {
  const two = block({ 1: { tool: 'left' }, 2: { tool: 'right', at: { x: 5, z: 40 } } });

  it('puts the slide where the block holds the tool', () => {
    expect(seen(two, 'left')?.gauge).toEqual(alone('left').gauge);
    const own = alone('right').gauge;
    expect(seen(two, 'right')?.gauge).toEqual({ x: own.x - 40, y: own.y - 5 });
    // the other spindle counts Z the other way
    const turned = alone('right', true).gauge;
    expect(seen(two, 'right', true)?.gauge).toEqual({ x: turned.x + 40, y: turned.y - 5 });
  });

  it('brings the other tools along, each where the block holds it', () => {
    const shapes = alone('left');
    const own = boundsOf([...shapes.cutting, ...shapes.holder]);
    const beside = (s: ToolSection | null) => boundsOf((s as ToolSection).turret.slice(alone('left').turret.length));
    expect(beside(seen(two, 'left'))).toEqual({
      minX: own.minX + 40,
      maxX: own.maxX + 40,
      minY: own.minY + 5,
      maxY: own.maxY + 5,
    });
    const back = beside(seen(two, 'right'));
    expect(back.minX).toBeCloseTo(own.minX - 40, 9);
    expect(back.maxY).toBeCloseTo(own.maxY - 5, 9);
    // cutting edges stay what they were: only what comes along is more
    expect(seen(two, 'left')?.cutting).toEqual(shapes.cutting);
  });

  it('lays a tool that points to the other spindle the other way round', () => {
    const twin = block({ 1: { tool: 'drill' }, 2: { tool: 'bar', facing: 'sub', at: { x: 0, z: 30 } } });
    const drill = seen(twin, 'drill') as ToolSection;
    const bar = alone('bar', true, 'sub');
    // from the bar's gauge point to its foremost place along its own way, hand-worked: 50 of overhang
    const foremost = boundsOf([...bar.cutting, ...bar.holder]).minX - (bar.tip.x + bar.gauge.x);
    const station = drill.tip.x + drill.gauge.x;
    const beside = boundsOf(drill.turret.slice(alone('drill').turret.length));
    expect(beside.maxX).toBeCloseTo(station + 30 - foremost, 9);
    // and it is not there for the main spindle to work with
    expect(seen(twin, 'bar')).toBeNull();
    expect(seen(twin, 'bar', true)).not.toBeNull();
  });

  it('is the tool alone where nothing is beside it and nothing is moved', () => {
    expect(seen(block({ 1: { tool: 'left' } }), 'left')).toBe(alone('left'));
  });

  it('names places, and finds free ones', () => {
    const [first, second] = mountList(two);
    expect(placeName(two, first)).toBe('station 3, position 1');
    expect(placeName(two, second)).toBe('station 3, position 2');
    expect(placeName(block({ 1: { tool: 'left' } }), first)).toBe('station 3');
    expect(freePosition(two, 'upper', '3')).toBe('3');
    expect(freeOffset(two, 'upper', 12)).toBe(13);
    expect(freeOffset(block({ 1: { tool: 'left', offset: 13 } }), 'upper', 12)).toBe(14);
    expect(standsOn({ ...first, position: '8' }, 12)).toBe(true);
    expect(standsOn({ ...first, position: '9' }, 12)).toBe(false);
    expect(standsOn({ ...first, station: '13' }, 12)).toBe(false);
    expect(standsOn({ ...first, position: 'x' }, 12)).toBe(false);
  });
});
