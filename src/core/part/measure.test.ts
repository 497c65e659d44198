import { describe, expect, it } from 'vitest';
import { lineRow } from '../../../tests/fixtures/jobs';
import { distance, point } from '../geometry';
import { buildPart, type Element } from './contour';
import { type Measured, measureOne, measureTwo, type Snap, snapAt, snapsOf } from './measure';

/** ⌀20 to Z−10, a quarter round R5 out to ⌀30 at Z−15, a cone to ⌀40 at Z−20. */
const { outer } = buildPart({
  outer: {
    start: { diameter: 0, z: 0 },
    rows: [
      lineRow('a', 20, 0),
      lineRow('b', 20, -10),
      { id: 'c', kind: 'arc', diameter: 30, z: -15, radius: 5, clockwise: true, long: false, corner: null },
      lineRow('d', 40, -20),
      lineRow('e', 40, -30),
      lineRow('f', 0, -30),
    ],
  },
  inner: null,
});
const round = outer.find((e) => e.curve.kind === 'arc') as Element;
const value = (list: readonly Measured[], name: string): number | undefined => list.find((m) => m.name === name)?.value;
const at = (x: number, y: number, reach = 0.5): Snap => {
  const s = snapAt(outer, point(x, y), reach);
  if (!s) throw new Error(`nothing at ${x}, ${y}`);
  return s;
};

describe('places to take hold of', () => {
  it('are the ends and the middle of every piece, centre and turning points of rounds', () => {
    const snaps = snapsOf(outer);
    expect(snaps.filter((s) => s.kind === 'middle')).toHaveLength(outer.length);
    expect(snaps.filter((s) => s.kind === 'end')).toHaveLength(2 * outer.length);
    const centre = snaps.find((s) => s.kind === 'centre');
    expect(centre?.radius).toBeCloseTo(5, 9);
    expect(centre?.element).toBe(round.id);
    for (const s of snaps.filter((k) => k.kind === 'turn')) {
      expect(distance(s.at, centre?.at as Snap['at'])).toBeCloseTo(5, 6);
    }
  });
  it('under the pointer are the nearest, ends before what is beside them', () => {
    expect(at(-9.9, 10.05)).toMatchObject({ kind: 'end', at: { x: -10, y: 10 } });
    expect(at(-5.05, 10.1)).toMatchObject({ kind: 'middle' });
    expect(at(-2.5, 10.2)).toMatchObject({ kind: 'side', element: outer[1].id });
    // on the side itself, not where the pointer is
    expect(at(-2.5, 10.2).at.y).toBeCloseTo(10, 9);
    expect(at(-2.5, 10.2).direction?.x).toBeCloseTo(-1, 9);
    expect(snapAt(outer, point(-2.5, 11), 0.5)).toBeNull();
    expect(at(-12, 0.2)).toMatchObject({ kind: 'axis', at: { x: -12, y: 0 } });
  });
  it('on a round are on it, with its radius', () => {
    const curve = round.curve as Extract<Element['curve'], { kind: 'arc' }>;
    const middle = point((curve.from.x + curve.to.x) / 2, (curve.from.y + curve.to.y) / 2);
    const out = point(middle.x - curve.centre.x, middle.y - curve.centre.y);
    const l = Math.hypot(out.x, out.y);
    const t = Math.PI / 10;
    const turned = point(
      (out.x * Math.cos(t) - out.y * Math.sin(t)) / l,
      (out.x * Math.sin(t) + out.y * Math.cos(t)) / l,
    );
    const s = at(curve.centre.x + turned.x * 5.1, curve.centre.y + turned.y * 5.1);
    expect(s.kind).toBe('side');
    expect(distance(s.at, curve.centre)).toBeCloseTo(5, 9);
    expect(s.radius).toBeCloseTo(5, 9);
  });
});

describe('a measurement', () => {
  it('of one place is its diameter and Z, of a round its radius and length too', () => {
    const one = measureOne(at(-10, 10), null);
    expect(value(one, '⌀')).toBeCloseTo(20, 9);
    expect(value(one, 'Z')).toBeCloseTo(-10, 9);
    expect(value(one, 'R')).toBeUndefined();
    const r = measureOne({ at: round.curve.from, radius: 5, direction: null }, round.curve);
    expect(value(r, 'R')).toBe(5);
    expect(value(r, 'length')).toBeCloseTo((5 * Math.PI) / 2, 6);
    expect(value(measureOne(at(-25, 20), outer[4].curve), 'length')).toBeCloseTo(10, 9);
  });
  it('of two is the same in either order', () => {
    const a = at(-10, 10);
    const b = at(-20, 20);
    const m = measureTwo(a, b);
    expect(m).toEqual(measureTwo(b, a));
    expect(value(m, 'distance')).toBeCloseTo(Math.hypot(10, 10), 9);
    expect(value(m, 'ΔZ')).toBeCloseTo(10, 9);
    expect(value(m, 'ΔX')).toBeCloseTo(10, 9);
    expect(value(m, 'Δ⌀')).toBeCloseTo(20, 9);
    expect(value(m, 'angle')).toBeUndefined();
  });
  it('of two sides is the acute angle between them, and how far parallel ones are apart', () => {
    const cylinder = at(-2.5, 10);
    const cone = at(-16.2, 16.2, 0.3);
    expect(cone.kind).toBe('side');
    expect(value(measureTwo(cylinder, cone), 'angle')).toBeCloseTo(45, 6);
    const large = at(-22.5, 20);
    const apart = measureTwo(cylinder, large);
    expect(value(apart, 'angle')).toBeCloseTo(0, 9);
    expect(value(apart, 'apart')).toBeCloseTo(10, 9);
    expect(value(measureTwo(at(-2.5, 10), at(-2.5, 0)), 'apart')).toBeCloseTo(10, 9);
  });
  it('in space is the way between the places there', () => {
    const m = measureTwo(at(-10, 10), at(-20, 20), [
      [0, 0, 0],
      [3, 4, 12],
    ]);
    expect(value(m, 'distance')).toBe(13);
    expect(value(m, 'ΔZ')).toBeCloseTo(10, 9);
  });
});
