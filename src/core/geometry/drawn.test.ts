import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { type Arc, arc, arcSweep, curveLength, line, pointAt } from './curve';
import { pathOfCurves, pathOfRegion } from './drawn';
import { point } from './point';
import { rectangle } from './region';

/** The centre of an SVG arc by the formulas of the SVG standard (appendix B.2.4), for equal radii and no rotation. */
const centreOfSvg = (x1: number, y1: number, r: number, large: number, sweep: number, x2: number, y2: number) => {
  const [dx, dy] = [(x1 - x2) / 2, (y1 - y2) / 2];
  const d2 = dx * dx + dy * dy;
  const k = Math.sqrt(Math.max(0, (r * r - d2) / d2)) * (large === sweep ? -1 : 1);
  return { x: k * dy + (x1 + x2) / 2, y: -k * dx + (y1 + y2) / 2 };
};

describe('SVG paths', () => {
  it('of lines that follow on one another are one stroke', () => {
    const chain = [line(point(0, 1), point(-2, 1)), line(point(-2, 1), point(-2, 3)), line(point(5, 5), point(6, 5))];
    expect(pathOfCurves(chain)).toBe('M0 1L-2 1L-2 3M5 5L6 5');
    expect(pathOfCurves(chain, { digits: 0, down: true })).toBe('M0 -1L-2 -1L-2 -3M5 -5L6 -5');
  });
  it('of a region are closed rings', () => {
    expect(pathOfRegion(rectangle(0, 0, 2, 1)).match(/M[^M]*Z/g)).toHaveLength(1);
    expect(pathOfRegion([])).toBe('');
  });
  it('of arcs have the centre, by the standard’s own formulas, that the arc has', () => {
    const angle = fc.integer({ min: 0, max: 359 }).map((d) => (d * Math.PI) / 180);
    fc.assert(
      fc.property(
        angle,
        fc.integer({ min: 5, max: 340 }),
        fc.boolean(),
        fc.integer({ min: 1, max: 60 }),
        fc.boolean(),
        (a, turn, cw, r, down) => {
          const b = a + ((cw ? -1 : 1) * turn * Math.PI) / 180;
          const at = (t: number) => point(3 + r * Math.cos(t), 7 + r * Math.sin(t));
          const c: Arc = arc(at(a), at(b), point(3, 7), cw) as Arc;
          expect(Math.abs(arcSweep(c))).toBeCloseTo((turn * Math.PI) / 180, 6);
          const found = /^M(\S+) (\S+)A(\S+) \S+ 0 ([01]) ([01]) (\S+) (\S+)$/.exec(
            pathOfCurves([c], { digits: 9, down }),
          );
          if (!found) throw new Error('no arc');
          const [x1, y1, radius, large, sweep, x2, y2] = found.slice(1).map(Number);
          // near a half turn the centre hangs on the last digits
          if (Math.abs(turn - 180) < 3) return;
          const centre = centreOfSvg(x1, y1, radius, large, sweep, x2, y2);
          expect(centre.x).toBeCloseTo(3, 4);
          expect(centre.y).toBeCloseTo(down ? -7 : 7, 4);
          // and runs the same way round
          const middle = pointAt(c, 0.5);
          const cross = (x2 - x1) * ((down ? -middle.y : middle.y) - y1) - (y2 - y1) * (middle.x - x1);
          expect(cross > 0).toBe(sweep === 0);
          expect(curveLength(c)).toBeCloseTo((r * turn * Math.PI) / 180, 6);
        },
      ),
    );
  });
});
