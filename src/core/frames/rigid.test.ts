import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { distance3, type Vec3 } from '../geometry';
import {
  carryPoint,
  composed,
  frameAlong,
  inverse,
  type Rigid,
  rotationAbout,
  translation,
  turnDirection,
} from './rigid';

const near = (a: Vec3, b: Vec3): void => expect(distance3(a, b)).toBeLessThan(1e-8);
const coordinate = fc.double({ min: -500, max: 500, noNaN: true });
const vector = fc.tuple(coordinate, coordinate, coordinate);
const direction = vector.filter((v) => Math.hypot(...v) > 1);
const rigid = fc
  .tuple(vector, direction, fc.double({ min: -720, max: 720, noNaN: true }), vector)
  .map(([o, d, a, t]): Rigid => composed(translation(t), rotationAbout(o, d, a)));

describe('rigid motions', () => {
  it('turn right-handed: +B leads Z toward X, +C leads X toward Y', () => {
    near(turnDirection(rotationAbout([0, 0, 0], [0, 1, 0], 90), [0, 0, 1]), [1, 0, 0]);
    near(turnDirection(rotationAbout([0, 0, 0], [0, 0, 2], 90), [1, 0, 0]), [0, 1, 0]);
    // about a line beside the origin the line stays
    near(carryPoint(rotationAbout([10, 0, 5], [0, 1, 0], 180), [12, 3, 5]), [8, 3, 5]);
  });
  it('keep distances, and their inverse undoes them', () => {
    fc.assert(
      fc.property(rigid, vector, vector, (f, p, q) => {
        expect(distance3(carryPoint(f, p), carryPoint(f, q))).toBeCloseTo(distance3(p, q), 6);
        near(carryPoint(inverse(f), carryPoint(f, p)), p);
      }),
      { numRuns: 100 },
    );
  });
  it('follow one another as one', () => {
    fc.assert(
      fc.property(rigid, rigid, vector, (f, g, p) => {
        near(carryPoint(composed(f, g), p), carryPoint(f, carryPoint(g, p)));
      }),
      { numRuns: 100 },
    );
  });
  it('a frame along −Z is the one along +Z turned half round about X: y, z and C change their sign', () => {
    const sub = frameAlong([0, 0, 620], [0, 0, -1], [1, 0, 0]);
    near(carryPoint(sub, [7, 2, 30]), [7, -2, 590]);
    const turn = rotationAbout([0, 0, 0], [0, 0, 1], 25);
    const seen = composed(inverse(sub), composed(turn, sub));
    near(turnDirection(seen, [1, 0, 0]), turnDirection(rotationAbout([0, 0, 0], [0, 0, 1], -25), [1, 0, 0]));
  });
});
