import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { cross3, dot3, length3, subtract3, unit3, type Vec3 } from '../geometry';
import { facePlane, movedInItself, type Plane, planeThrough, radialPlane, tiltedPlane, turnedInItself } from './plane';
import { carryPoint, composed, inverse, turnDirection } from './rigid';

const near = (a: Vec3, b: Vec3, digits = 9): void => {
  for (const i of [0, 1, 2] as const) expect(a[i]).toBeCloseTo(b[i], digits);
};
const normalOf = (p: Plane): Vec3 => turnDirection(p, [0, 0, 1]);
const isRightHanded = (p: Plane): void => {
  const [x, y, z] = (
    [
      [1, 0, 0],
      [0, 1, 0],
      [0, 0, 1],
    ] as const
  ).map((d) => turnDirection(p, d));
  near(cross3(x, y), z);
  for (const d of [x, y, z]) expect(length3(d)).toBeCloseTo(1, 12);
};
const angle = fc.double({ min: -720, max: 720, noNaN: true });
const length = fc.double({ min: -500, max: 500, noNaN: true });

describe('work planes', () => {
  it('by hand: a hole of ⌀5 at 60° on ⌀48, 12 behind the front', () => {
    const p = radialPlane(60, 24, -12);
    near(p.move, [12, 24 * Math.sin(Math.PI / 3), -12]);
    near(normalOf(p), [0.5, Math.sqrt(3) / 2, 0]);
    // its X runs toward the front, 3 along it is Z −9; its Y is the way round
    near(carryPoint(p, [3, 0, 0]), [12, 24 * Math.sin(Math.PI / 3), -9]);
    near(turnDirection(p, [0, 1, 0]), [Math.sqrt(3) / 2, -0.5, 0]);
  });
  it('by hand: faces from either side', () => {
    near(normalOf(facePlane(-3)), [0, 0, 1]);
    near(carryPoint(facePlane(-3), [2, 5, 0]), [2, 5, -3]);
    // from behind right and left change places, what points up stays
    near(normalOf(facePlane(-60, 'back')), [0, 0, -1]);
    near(carryPoint(facePlane(-60, 'back'), [2, 5, 1]), [2, -5, -61]);
  });
  it('by hand: tilted by 35° toward the front, and by a right angle', () => {
    const n = normalOf(tiltedPlane(0, 20, -40, 35));
    near(n, [Math.cos((35 * Math.PI) / 180), 0, Math.sin((35 * Math.PI) / 180)]);
    near(normalOf(tiltedPlane(30, 20, -40, 90)), [0, 0, 1]);
    near(normalOf(tiltedPlane(30, 20, -40, -90)), [0, 0, -1]);
    near(tiltedPlane(0, 20, -40, 35).move, [20, 0, -40]);
  });
  it('are right-handed wherever they are, and back again is nothing', () => {
    fc.assert(
      fc.property(angle, length, length, angle, angle, (a, r, z, tilt, turn) => {
        const p = turnedInItself(movedInItself(tiltedPlane(a, r, z, tilt), [1, -2, 3]), turn);
        isRightHanded(p);
        near(carryPoint(composed(inverse(p), p), [4, 5, 6]), [4, 5, 6], 6);
        // the normal stands at the tilt to the radius
        const out = normalOf(radialPlane(a, r, z));
        expect(dot3(normalOf(p), out)).toBeCloseTo(Math.cos((tilt * Math.PI) / 180), 9);
      }),
    );
  });
  it('go through three points, and through none that lie on one line', () => {
    fc.assert(
      fc.property(
        fc.tuple(length, length, length),
        fc.tuple(length, length, length),
        fc.tuple(length, length, length),
        (a, b, c) => {
          const p = planeThrough(a, b, c);
          if (!p) return;
          isRightHanded(p);
          for (const q of [a, b, c]) expect(Math.abs(dot3(normalOf(p), subtract3(q, a)))).toBeLessThan(1e-6);
          expect(dot3(turnDirection(p, [1, 0, 0]), unit3(subtract3(b, a)))).toBeCloseTo(1, 6);
        },
      ),
    );
    expect(planeThrough([0, 0, 0], [1, 1, 1], [3, 3, 3])).toBeNull();
    expect(planeThrough([0, 0, 0], [0, 0, 0], [3, 3, 3])).toBeNull();
  });
});
