import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { DEMO_JOBS, demoJob } from '../../../tests/fixtures/jobs';
import { arcSweep, chainVolume, point, regionArea, regionBounds, regionVolume, subtractRegion } from '../geometry';
import { allElements, buildPart, type Part } from './contour';
import type { PartDocument, Row } from './profile';
import { turnAbout, turnedRound, turnedSide, turnRegion } from './turned';

const line = (id: string, diameter: number, z: number): Row => ({ id, kind: 'line', diameter, z, corner: null });
/** A stepped pin with a round groove, a blind bore from the front and one from the back. */
const pin = (): PartDocument => ({
  outer: {
    start: { diameter: 6, z: 0 },
    rows: [
      line('a', 20, 0),
      line('b', 20, -10),
      { id: 'c', kind: 'arc', diameter: 20, z: -16, radius: 5, clockwise: true, long: false, corner: null },
      line('d', 20, -20),
      line('e', 30, -20),
      line('f', 30, -40),
      line('g', 8, -40),
    ],
  },
  inner: { start: { diameter: 6, z: 0 }, rows: [line('i', 6, -12), line('j', 0, -12)] },
  back: { start: { diameter: 8, z: -40 }, rows: [line('k', 8, -30), line('l', 0, -30)] },
});
const tube = (): PartDocument => ({
  ...pin(),
  inner: {
    start: { diameter: 6, z: 0 },
    rows: [line('i', 6, -12), line('j', 8, -12), line('k', 8, -40)],
  },
  back: null,
});
const ids = (list: readonly { id: string }[]): string => list.map((e) => e.id).join(' ');

describe('a part turned round', () => {
  const part = buildPart(pin());
  const turned = turnedRound(part);
  it('begins with its old back at the zero', () => {
    expect(part.problems).toEqual([]);
    expect(regionBounds(turned.region)).toEqual({ minX: -40, maxX: 0, minY: 0, maxY: 15 });
    // the front step of ⌀20 lies behind now
    const map = turnAbout(part);
    expect(map(point(0, 10))).toEqual({ x: -40, y: 10 });
    expect(map(point(-40, 15))).toEqual({ x: 0, y: 15 });
  });
  it('has the same elements by the same names, met from the other end', () => {
    expect(ids(turned.outer)).toBe('g f e d c b a');
    expect(ids(turned.inner)).toBe('k l');
    expect(ids(turned.back)).toBe('i j');
    for (let i = 1; i < turned.outer.length; i++)
      expect(turned.outer[i].curve.from).toEqual(turned.outer[i - 1].curve.to);
    expect(turned.inner[0].curve).toMatchObject({ from: { x: 0, y: 4 }, to: { x: -10, y: 4 } });
    expect(turned.inner.every((e) => e.side === 'inner') && turned.back.every((e) => e.side === 'back')).toBe(true);
  });
  it('keeps a bore that goes through, from its other mouth', () => {
    const through = turnedRound(buildPart(tube()));
    expect(ids(through.inner)).toBe('k j i');
    expect(through.back).toEqual([]);
    expect(through.inner[0].curve.from).toMatchObject({ x: 0, y: 4 });
    expect(turnedSide(buildPart(tube()), 'inner')).toBe('inner');
    expect(turnedSide(part, 'inner')).toBe('back');
    expect(turnedSide(part, 'back')).toBe('inner');
    expect(turnedSide(part, 'outer')).toBe('outer');
  });
  it('turns a groove’s arc over and keeps its sweep', () => {
    const before = part.outer.find((e) => e.id === 'c')?.curve;
    const after = turned.outer.find((e) => e.id === 'c')?.curve;
    if (before?.kind !== 'arc' || after?.kind !== 'arc') throw new Error('c is an arc');
    // mirrored and run the other way: it turns the same way
    expect(after.clockwise).toBe(before.clockwise);
    expect(Math.abs(arcSweep(after))).toBeCloseTo(Math.abs(arcSweep(before)), 12);
    expect(after.centre).toMatchObject({ x: -40 - before.centre.x, y: before.centre.y });
  });
  it.each([
    ['with two blind bores', part],
    ['with a bore through', buildPart(tube())],
    ...DEMO_JOBS.map((n) => [n, buildPart(demoJob(n).part)] as [string, Part]),
  ])('%s is itself when it is turned twice', (_name, p) => {
    const once = turnedRound(p);
    const twice = turnedRound(once);
    // its front lies at the zero again: as it was drawn, moved by where its front was drawn
    const front = regionBounds(p.region).maxX;
    expect(ids(allElements(twice))).toBe(ids(allElements(p)));
    for (const [i, e] of allElements(twice).entries()) {
      const was = allElements(p)[i];
      expect(e.side).toBe(was.side);
      expect(e.curve.from.x).toBeCloseTo(was.curve.from.x - front, 9);
      expect(e.curve.to.y).toBeCloseTo(was.curve.to.y, 12);
    }
    expect(once.volume).toBe(p.volume);
    expect(chainVolume(once.boundary)).toBeCloseTo(p.volume, 6);
    expect(regionVolume(once.region)).toBeCloseTo(regionVolume(p.region), 6);
  });
  it('turns metal with it, and back', () => {
    fc.assert(
      fc.property(fc.float({ min: -60, max: 0, noNaN: true }), fc.float({ min: 1, max: 30, noNaN: true }), (x, w) => {
        const metal = [[point(x, 0), point(x + w, 0), point(x + w, 9), point(x, 4)]];
        const over = turnRegion(part, metal);
        expect(regionArea(over)).toBeCloseTo(regionArea(metal), 6);
        expect(regionArea(subtractRegion(turnRegion(part, over), metal))).toBeLessThan(1e-6);
        expect(regionBounds(over).maxX).toBeCloseTo(-40 - x, 9);
      }),
      { numRuns: 50 },
    );
  });
});
