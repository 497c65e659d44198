import { describe, expect, it } from 'vitest';
import { DEMO_JOBS, demoJob, lineRow } from '../../../tests/fixtures/jobs';
import { wordPartProblem } from '../checks/wording';
import { arcRadius, regionVolume } from '../geometry';
import { buildPart } from './contour';

import type { PartDocument, Row } from './profile';

const solid = (rows: Row[]): PartDocument => ({ outer: { start: { diameter: 0, z: 0 }, rows }, inner: null });
const codes = (p: PartDocument): string[] => buildPart(p).problems.map((k) => k.code);

describe('contours', () => {
  it('closes a plain pin and knows its volume', () => {
    const part = buildPart(solid([lineRow('a', 20, 0), lineRow('b', 20, -30), lineRow('c', 0, -30)]));
    expect(part.problems).toEqual([]);
    expect(part.volume).toBeCloseTo(Math.PI * 100 * 30, 6);
  });
  it('builds chamfers and fillets as pieces of their own', () => {
    const part = buildPart(
      solid([
        lineRow('a', 20, 0, { kind: 'chamfer', size: 1 }),
        lineRow('b', 20, -10, { kind: 'fillet', size: 2 }),
        lineRow('c', 40, -10),
        lineRow('d', 40, -20),
        lineRow('e', 0, -20),
      ]),
    );
    expect(part.outer.map((e) => e.id)).toEqual(['a', 'a/corner', 'b', 'b/corner', 'c', 'd', 'e']);
    const fillet = part.outer[3].curve;
    expect(fillet.kind === 'arc' && arcRadius(fillet)).toBeCloseTo(2, 9);
  });
  it.each([
    ['an empty contour', solid([]), 'empty'],
    ['a contour that does not come back to the axis', solid([lineRow('a', 20, 0), lineRow('b', 20, -30)]), 'open'],
    [
      'a contour below the axis',
      solid([lineRow('a', 20, 0), lineRow('b', -4, -30), lineRow('c', 0, -30)]),
      'below-axis',
    ],
    [
      'an arc that cannot exist',
      solid([
        lineRow('a', 20, 0),
        { id: 'b', kind: 'arc', diameter: 40, z: -30, radius: 5, clockwise: false, long: false, corner: null },
        lineRow('c', 0, -30),
      ]),
      'arc-impossible',
    ],
    [
      'a negative radius',
      solid([
        lineRow('a', 20, 0),
        { id: 'b', kind: 'arc', diameter: 20, z: -10, radius: -8, clockwise: false, long: false, corner: null },
        lineRow('c', 0, -10),
      ]),
      'radius-negative',
    ],
    [
      'a corner that does not fit',
      solid([lineRow('a', 20, 0, { kind: 'fillet', size: 40 }), lineRow('b', 20, -30), lineRow('c', 0, -30)]),
      'corner-does-not-fit',
    ],
    [
      'a contour that crosses itself',
      solid([
        lineRow('a', 20, 0),
        lineRow('b', 20, -30),
        lineRow('c', 10, -30),
        lineRow('d', 30, -10),
        lineRow('e', 30, -40),
        lineRow('f', 0, -40),
      ]),
      'self-crossing',
    ],
    [
      'a number that is none',
      solid([lineRow('a', Number.NaN, 0), lineRow('b', 20, -30), lineRow('c', 0, -30)]),
      'not-finite',
    ],
  ])('tells %s', (_name, document, code) => {
    expect(codes(document)).toContain(code);
    for (const p of buildPart(document).problems) {
      const w = wordPartProblem(p);
      expect(w.message.length).toBeGreaterThan(10);
      expect(w.remedy.length).toBeGreaterThan(10);
    }
  });
  it('tells a bore that does not meet the outside', () => {
    expect(
      codes({
        outer: {
          start: { diameter: 12, z: 0 },
          rows: [lineRow('a', 30, 0), lineRow('b', 30, -20), lineRow('c', 12, -20)],
        },
        inner: { start: { diameter: 12, z: 0 }, rows: [lineRow('i', 12, -18)] },
      }),
    ).toContain('open');
  });
  it('gives the exact volume of the demo parts as their polygon within the chord error', () => {
    for (const name of DEMO_JOBS) {
      const part = buildPart(demoJob(name).part);
      expect(part.problems).toEqual([]);
      expect(regionVolume(part.region) / part.volume).toBeCloseTo(1, 4);
    }
  });
});
