import { readFileSync } from 'node:fs';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { DEMO_JOBS, demoJob, lineRow } from '../../../tests/fixtures/jobs';
import { randomOuterRows, seeded } from '../../../tests/fixtures/random';
import { wordPartProblem } from '../checks/wording';
import { arcRadius, distance, regionVolume } from '../geometry';
import { buildPart } from './contour';
import { importDxf, partFromDrawing } from './dxf';
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
    ['a contour below the axis', solid([lineRow('a', 20, 0), lineRow('b', -4, -30), lineRow('c', 0, -30)]), 'below-axis'],
    [
      'an arc that cannot exist',
      solid([lineRow('a', 20, 0), { id: 'b', kind: 'arc', diameter: 40, z: -30, radius: 5, clockwise: false, long: false, corner: null }, lineRow('c', 0, -30)]),
      'arc-impossible',
    ],
    [
      'a negative radius',
      solid([lineRow('a', 20, 0), { id: 'b', kind: 'arc', diameter: 20, z: -10, radius: -8, clockwise: false, long: false, corner: null }, lineRow('c', 0, -10)]),
      'radius-negative',
    ],
    ['a corner that does not fit', solid([lineRow('a', 20, 0, { kind: 'fillet', size: 40 }), lineRow('b', 20, -30), lineRow('c', 0, -30)]), 'corner-does-not-fit'],
    [
      'a contour that crosses itself',
      solid([lineRow('a', 20, 0), lineRow('b', 20, -30), lineRow('c', 10, -30), lineRow('d', 30, -10), lineRow('e', 30, -40), lineRow('f', 0, -40)]),
      'self-crossing',
    ],
    ['a number that is none', solid([lineRow('a', Number.NaN, 0), lineRow('b', 20, -30), lineRow('c', 0, -30)]), 'not-finite'],
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
        outer: { start: { diameter: 12, z: 0 }, rows: [lineRow('a', 30, 0), lineRow('b', 30, -20), lineRow('c', 12, -20)] },
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

/** A contour as DXF text: lines and polylines with bulge. */
const toDxf = (document: PartDocument): string => {
  const part = buildPart(document);
  const lines = ['0', 'SECTION', '2', 'ENTITIES'];
  for (const e of [...part.outer, ...part.inner]) {
    const c = e.curve;
    if (c.kind === 'line') lines.push('0', 'LINE', '8', 'contour', '10', String(c.from.x), '20', String(c.from.y), '11', String(c.to.x), '21', String(c.to.y));
    else {
      const a0 = (Math.atan2(c.from.y - c.centre.y, c.from.x - c.centre.x) * 180) / Math.PI;
      const a1 = (Math.atan2(c.to.y - c.centre.y, c.to.x - c.centre.x) * 180) / Math.PI;
      lines.push(
        '0',
        'ARC',
        '8',
        'contour',
        '10',
        String(c.centre.x),
        '20',
        String(c.centre.y),
        '40',
        String(arcRadius(c)),
        '50',
        String(c.clockwise ? a1 : a0),
        '51',
        String(c.clockwise ? a0 : a1),
      );
    }
  }
  return [...lines, '0', 'ENDSEC', '0', 'EOF', ''].join('\n');
};

describe('DXF', () => {
  it('brings random contours back within 1 µm, kinds kept', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 1e6 }), (seed) => {
        const random = seeded(seed);
        const { rows } = randomOuterRows(random, random() < 0.5);
        const document = solid(rows);
        const part = buildPart(document);
        if (part.region.length === 0) return;
        const back = importDxf(toDxf(document));
        expect(back.problems).toEqual([]);
        expect(back.outer.map((c) => c.kind)).toEqual(part.outer.map((e) => e.curve.kind));
        back.outer.forEach((c, i) => {
          expect(distance(c.from, part.outer[i].curve.from)).toBeLessThan(1e-3);
          expect(distance(c.to, part.outer[i].curve.to)).toBeLessThan(1e-3);
        });
        const again = partFromDrawing(back);
        expect(again && buildPart(again).volume / part.volume).toBeCloseTo(1, 6);
      }),
      { numRuns: 150 },
    );
  });
  it('reads the demo drawing as the demo part', () => {
    const part = partFromDrawing(importDxf(readFileSync(new URL('../../../demo/drawings/LM-155.dxf', import.meta.url), 'utf8')));
    expect(part && buildPart(part).volume).toBeCloseTo(buildPart(demoJob('LM-155').part).volume, 2);
  });
  it('leaves out the mirrored half and the centreline', () => {
    const l = (x0: number, y0: number, x1: number, y1: number): string[] => ['0', 'LINE', '8', 'a', '10', String(x0), '20', String(y0), '11', String(x1), '21', String(y1)];
    const half = (s: number): string[] => [...l(0, 0, 0, 10 * s), ...l(0, 10 * s, -20, 10 * s), ...l(-20, 10 * s, -20, 0)];
    const text = ['0', 'SECTION', '2', 'ENTITIES', ...half(1), ...half(-1), ...l(5, 0, -25, 0), '0', 'ENDSEC', '0', 'EOF'].join('\n');
    const d = importDxf(text);
    expect(d.problems).toEqual([]);
    expect(d.outer.length).toBe(3);
  });
  it.each([
    ['', 'empty or torn'],
    ['0\nSECTION\n2\nENTITIES\n0\nLINE\n10\n1.0', 'torn'],
    ['0\nSECTION\n2\nENTITIES\n0\nENDSEC\n0\nEOF', 'empty'],
    ['this is no drawing', 'torn'],
  ])('refuses %j with a message', (text) => {
    const d = importDxf(text);
    expect(d.outer).toEqual([]);
    expect(d.problems.length).toBeGreaterThan(0);
    expect(d.problems[0].message.length).toBeGreaterThan(20);
  });
  it('shows where a contour is open', () => {
    const text = [
      '0',
      'SECTION',
      '2',
      'ENTITIES',
      '0',
      'LINE',
      '8',
      'a',
      '10',
      '0',
      '20',
      '0',
      '11',
      '0',
      '21',
      '10',
      '0',
      'LINE',
      '8',
      'a',
      '10',
      '0',
      '20',
      '10',
      '11',
      '-20',
      '21',
      '10',
      '0',
      'ENDSEC',
      '0',
      'EOF',
    ].join('\n');
    const open = importDxf(text).problems.find((p) => p.code === 'open');
    expect(open?.at).toEqual([-20, 10]);
  });
});
