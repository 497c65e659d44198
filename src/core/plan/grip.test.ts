import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { demoJob } from '../../../tests/fixtures/jobs';
import { point, type Region } from '../geometry';
import { contactLength, pieceSeat } from '../holding';
import { bestGrip, gripsWell, leastGrip } from './grip';

const holding = demoJob('LM-118').holdings.h1;

/** A piece of cylinders, from the end that goes into the jaws: length and radius of each. */
const stepped = (...steps: [number, number][]): Region => {
  let x = 0;
  const top = steps.flatMap(([length, radius]) => {
    const from = x;
    x += length;
    return [point(from, radius), point(x, radius)];
  });
  return [[point(0, 0), point(x, 0), ...top.reverse()]];
};

describe('a grip that is proposed', () => {
  it('lies on the first cylinder that is long enough, clear of the shoulder behind it', () => {
    // ⌀34 wants 11.9 mm; there are 20, less the corner before the shoulder
    expect(bestGrip(holding, stepped([20, 17], [60, 25]))).toBe(19);
    // no further than the jaws go
    expect(bestGrip(holding, stepped([60, 17], [60, 25]))).toBe(30);
    // ⌀34 × 12 is not long enough with its corner left out: ⌀38 behind it is, which wants 13.3 mm and half of the grip
    expect(bestGrip(holding, stepped([12, 17], [17, 19], [40, 25]))).toBe(28);
    // neither is: the longest contact, 12 mm on ⌀38
    expect(bestGrip(holding, stepped([12, 17], [13, 19], [40, 25]))).toBe(24);
    // nothing is long enough: the longest contact, 1 mm clear of the shoulder
    expect(bestGrip(holding, stepped([6, 17], [4, 30], [50, 20]))).toBe(5);
  });
  it('is none where jaws find no cylinder', () => {
    expect(bestGrip(holding, [[point(0, 0), point(40, 0), point(40, 30), point(0, 1)]])).toBeNull();
    expect(bestGrip(holding, [])).toBeNull();
  });
  it('holds as long as the diameter wants, wherever any grip does', () => {
    const step = fc.tuple(fc.integer({ min: 2, max: 30 }), fc.integer({ min: 4, max: 40 }));
    fc.assert(
      fc.property(fc.array(step, { minLength: 1, maxLength: 5 }), (steps) => {
        const piece = stepped(...steps);
        const length = steps.reduce((sum, [l]) => sum + l, 0);
        const grip = bestGrip(holding, piece);
        const enough = (g: number): boolean =>
          gripsWell(holding, piece, g) &&
          contactLength({ ...holding, grip: g }, piece) >=
            leastGrip(2 * pieceSeat({ ...holding, grip: g }, piece).radius);
        if (grip !== null) {
          expect(grip).toBeLessThanOrEqual(length * 0.7);
          expect(gripsWell(holding, piece, grip)).toBe(true);
        }
        // a grip two millimetres clear of every shoulder that would do is not passed over for one that does not
        const shoulders = steps.map((_, i) => steps.slice(0, i + 1).reduce((sum, [l]) => sum + l, 0));
        for (let g = 3; g <= Math.min(30, length * 0.7); g += 0.5)
          if (enough(g) && shoulders.every((s) => Math.abs(s - g) > 2)) {
            expect(grip).not.toBeNull();
            if (grip !== null) expect(enough(grip)).toBe(true);
          }
      }),
    );
  });
});
