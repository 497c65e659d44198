import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { type Region, rectangle, regionVolume, subtractRegion, type Vec3 } from '../geometry';
import { type Body, NO_BODY, turnedBody } from './body';
import { separate, withoutLoose } from './removal';

const area = (r: Region): number => Math.abs(regionVolume(r));
/** A stepped bush: ⌀40 × 30, ⌀20 × 20 in front of it, bored ⌀10 through. */
const BUSH = turnedBody([
  [
    { x: -30, y: 5 },
    { x: 20, y: 5 },
    { x: 20, y: 10 },
    { x: 0, y: 10 },
    { x: 0, y: 20 },
    { x: -30, y: 20 },
  ],
]);

describe('a body that was turned', () => {
  it('has the volume of its rings', () => {
    const hand = Math.PI * (20 ** 2 - 5 ** 2) * 30 + Math.PI * (10 ** 2 - 5 ** 2) * 20;
    expect(BUSH.volume).toBeCloseTo(hand, 6);
    expect(NO_BODY.volume).toBeCloseTo(0, 12);
    expect(NO_BODY.isEmpty).toBe(true);
  });

  it('is the same at every angle, and knows what lies in it and how far off a place is', () => {
    expect(BUSH.section(0)).toBe(BUSH.section(37));
    const at = (x: number, r: number, degrees: number): Vec3 => {
      const a = (degrees * Math.PI) / 180;
      return [x, r * Math.cos(a), r * Math.sin(a)];
    };
    fc.assert(
      fc.property(
        fc.double({ min: -40, max: 30, noNaN: true }),
        fc.double({ min: 0, max: 30, noNaN: true }),
        fc.integer({ min: 0, max: 359 }),
        (x, r, angle) => {
          const p = at(x, r, angle);
          // by hand: two rings, each the distance to a rectangle of the half plane
          const to = (x0: number, x1: number, r0: number, r1: number): number =>
            Math.hypot(Math.max(x0 - x, 0, x - x1), Math.max(r0 - r, 0, r - r1));
          const hand = Math.min(to(-30, 0, 5, 20), to(0, 20, 5, 10));
          expect(BUSH.distance(p)).toBeCloseTo(hand, 6);
          if (hand > 1e-6) expect(BUSH.contains(p)).toBe(false);
          else if (hand === 0 && to(-29.999, -0.001, 5.001, 19.999) === 0) expect(BUSH.contains(p)).toBe(true);
        },
      ),
    );
    expect(NO_BODY.distance([0, 0, 0])).toBe(Number.POSITIVE_INFINITY);
  });

  it('loses what is turned off it, in whatever order, and is never changed itself', () => {
    const groove = rectangle(-20, 15, -15, 21);
    const chamfer: Region = [
      [
        { x: 19, y: 10.5 },
        { x: 20.5, y: 9 },
        { x: 20.5, y: 10.5 },
      ],
    ];
    const before = BUSH.volume;
    const one = BUSH.cutTurned(groove).cutTurned(chamfer);
    const other = BUSH.cutTurned(chamfer).cutTurned(groove);
    expect(area(subtractRegion(one.turnedOutline, other.turnedOutline))).toBeLessThan(1e-6);
    expect(one.volume).toBeCloseTo(before - Math.PI * (20 ** 2 - 15 ** 2) * 5 - chamferVolume(), 3);
    expect(BUSH.volume).toBe(before);
    expect(one.cutTurned([])).toEqual(one);
  });

  it('goes along and turns round with its holding, and comes back the same', () => {
    const there = BUSH.movedAlong(12.5);
    expect(there.volume).toBeCloseTo(BUSH.volume, 6);
    expect(there.contains([32, 7, 0])).toBe(true);
    const round = BUSH.placed((x) => -10 - x, true);
    expect(round.volume).toBeCloseTo(BUSH.volume, 6);
    // the step that was in front now lies behind
    expect(round.contains([-25, 7, 0])).toBe(true);
    expect(round.contains([15, 18, 0])).toBe(true);
    expect(round.contains([-25, 18, 0])).toBe(false);
    expect(round.placed((x) => -10 - x, true).turnedOutline).toEqual(BUSH.turnedOutline);
  });

  it('parts into what the chuck holds and what falls', () => {
    const cut = BUSH.cutTurned(rectangle(-12, 0, -9, 30));
    const { held, off } = separate(cut, -25);
    expect(held.volume + off.volume).toBeCloseTo(cut.volume, 6);
    expect(held.volume).toBeCloseTo(Math.PI * (20 ** 2 - 5 ** 2) * 18, 6);
    const whole: Body = separate(BUSH, -25).off;
    expect(whole.isEmpty).toBe(true);
    // a crumb beside the part falls off, the part stays
    const crumb = turnedBody([...BUSH.turnedOutline, ...rectangle(25, 0, 26, 1)]);
    expect(withoutLoose(crumb, BUSH.turnedOutline).volume).toBeCloseTo(BUSH.volume, 9);
  });
});

/** What the chamfer takes of the front corner: a triangle of 0.5 × 0.5 with its corner at x 20, r 10, turned once. */
const chamferVolume = (): number => {
  // Pappus: area × 2π × radius of the centroid
  const size = 0.5;
  return size * size * 0.5 * 2 * Math.PI * (10 - size / 3);
};
