import { describe, expect, it } from 'vitest';
import { chainDifference, lineRow, randomPart, solidPart } from '../../../tests/fixtures/parts';
import { buildPart } from './contour';
import { partFromHalf } from './fromCurves';
import type { PartDocument } from './profile';

const again = (document: PartDocument): PartDocument => {
  const part = buildPart(document);
  const curves = (side: 'outer' | 'inner' | 'back') => part[side].map((e) => e.curve);
  const made = partFromHalf({ outer: curves('outer'), inner: curves('inner'), back: curves('back') });
  if (!made) throw new Error('no outer contour');
  return made;
};

describe('rows from curves', () => {
  it('take chamfers and rounds as corners of the row before them', () => {
    const rows = [
      lineRow('a', 20, 0, { corner: { kind: 'chamfer', size: 1 } }),
      lineRow('b', 20, -12, { corner: { kind: 'fillet', size: 2 } }),
      lineRow('c', 40, -12, { corner: { kind: 'chamfer', size: 0.5 } }),
      lineRow('d', 40, -30, { corner: { kind: 'fillet', size: 1.5 } }),
      lineRow('e', 0, -30),
    ];
    const made = again(solidPart(rows));
    expect(made.outer.rows.map((r) => [r.kind, r.diameter, r.z, r.corner])).toEqual(
      rows.map((r) => [r.kind, r.diameter, r.z, r.corner]),
    );
  });
  it('leave cones, slopes that are no 45°, free arcs and rounds on arcs as rows', () => {
    const cone = again(
      solidPart([
        lineRow('a', 20, 0),
        lineRow('b', 20, -10),
        lineRow('c', 32, -16),
        lineRow('d', 32, -30),
        lineRow('e', 0, -30),
      ]),
    );
    expect(cone.outer.rows.map((r) => r.corner)).toEqual([null, null, null, null, null]);
    const flat = again(
      solidPart([
        lineRow('a', 20, 0),
        lineRow('b', 20, -10),
        lineRow('c', 22, -13),
        lineRow('d', 22, -30),
        lineRow('e', 0, -30),
      ]),
    );
    expect(flat.outer.rows.map((r) => r.corner)).toEqual([null, null, null, null, null]);
  });
  it('build the same contour again for random parts, with no more rows than they were drawn with', () => {
    let corners = 0;
    for (let seed = 1; seed <= 80; seed++) {
      const made = randomPart(seed);
      if (!made) continue;
      const rows = again(made.document);
      const part = buildPart(rows);
      for (const side of ['outer', 'inner'] as const)
        expect(
          chainDifference(
            part[side].map((e) => e.curve),
            made.part[side].map((e) => e.curve),
          ),
          `seed ${seed}, ${side}`,
        ).toBeLessThan(1e-6);
      corners += rows.outer.rows.filter((r) => r.corner !== null).length;
    }
    expect(corners).toBeGreaterThan(20);
  });
});
