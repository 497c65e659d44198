import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { demoJob, lineRow, shopTool } from '../../../tests/fixtures/jobs';
import { operation, steppedPin } from '../../../tests/fixtures/turned';
import { regionVolume, subtractRegion } from '../geometry';
import { derive } from '../plan';
import { aimedAtMiddle } from './aim';
import { buildPart, elementsBetween } from './contour';
import { middleOf, readTolerance } from './fits';
import { listFeatures } from './listing';
import type { Edges, PartDocument } from './profile';

/** ⌀20 to Z−10, ⌀30 to Z−25, with a bore ⌀8 or solid. */
const shaft = (edges: Edges | null, bore = 0): PartDocument => ({
  outer: {
    start: { diameter: bore, z: 0 },
    rows: [
      lineRow('a', 20, 0),
      lineRow('b', 20, -10),
      lineRow('c', 30, -10),
      lineRow('d', 30, -25),
      lineRow('e', bore, -25),
    ],
  },
  inner: bore > 0 ? { start: { diameter: bore, z: 0 }, rows: [lineRow('i', bore, -25)] } : null,
  edges,
});
const lost = (edges: Edges, bore = 0): number =>
  buildPart(shaft(null, bore)).volume - buildPart(shaft(edges, bore)).volume;
/** Volume of a chamfer of `s` × 45° on the edge of a cylinder of radius r: a triangle s²/2 turned about the axis (Guldin). */
const chamfer = (s: number, r: number): number => (2 * Math.PI * (r - s / 3) * (s * s)) / 2;

describe('inside corners that are not drawn otherwise', () => {
  const rounded = (corners: number, bore = 0): PartDocument => ({ ...shaft(null, bore), corners });
  it('are rounded where the metal goes round them, and nowhere else', () => {
    expect(buildPart(rounded(0.4)).outer.map((e) => e.id)).toEqual(['a', 'b', 'b/corner', 'c', 'd', 'e']);
    // r²(1 − π/4) between two legs and an arc, its middle (10 − 3π)/(3(4 − π)) r from the corner (Guldin)
    const r = 0.4;
    const middle = 10 + (r * (10 - 3 * Math.PI)) / (3 * (4 - Math.PI));
    expect(buildPart(rounded(r)).volume - buildPart(shaft(null)).volume).toBeCloseTo(
      2 * Math.PI * middle * r * r * (1 - Math.PI / 4),
      5,
    );
  });
  it('keep corners of their own, those that are said to be sharp, those that are too small, and the point of a drill', () => {
    const own = rounded(0.4);
    own.outer.rows[1].corner = { kind: 'sharp', size: 0 };
    expect(buildPart(own).outer.map((e) => e.id)).toEqual(['a', 'b', 'c', 'd', 'e']);
    const huge = buildPart(rounded(8));
    expect(huge.problems).toEqual([]);
    expect(huge.volume).toBeCloseTo(buildPart(shaft(null)).volume, 9);
    const blind: PartDocument = {
      ...rounded(0.4, 8),
      inner: { start: { diameter: 8, z: 0 }, rows: [lineRow('i', 8, -12), lineRow('p', 0, -14.4)] },
      outer: {
        ...shaft(null, 8).outer,
        rows: shaft(null, 8).outer.rows.map((r) => (r.id === 'e' ? lineRow('e', 0, -25) : r)),
      },
    };
    expect(buildPart(blind).inner.map((e) => e.id)).toEqual(['i', 'p']);
  });
  it('as round as the nose leave nothing, sharper ones leave what the nose cannot reach', () => {
    const left = (corners: number): number => {
      const job = steppedPin({ tools: [], by: 'fine' });
      job.part.corners = corners;
      const d = derive(job);
      expect(d.findings.filter((f) => f.code === 'gouge')).toEqual([]);
      return d.leftoverVolume;
    };
    // the finishing tool has a nose of 0.4
    const sharp = left(0);
    expect(sharp).toBeGreaterThan(1);
    expect(left(0.2)).toBeLessThan(sharp);
    expect(left(0.2)).toBeGreaterThan(0.5);
    expect(left(0.4)).toBeLessThan(0.05);
  });
});

describe('edges that are not drawn otherwise', () => {
  it('are broken where metal stands out, and nowhere else', () => {
    expect(lost({ kind: 'chamfer', size: 0.5 })).toBeCloseTo(chamfer(0.5, 10) + 2 * chamfer(0.5, 15), 6);
    const ids = buildPart(shaft({ kind: 'chamfer', size: 0.5 })).outer.map((e) => e.id);
    expect(ids).toEqual(['a', 'a/corner', 'b', 'c', 'c/corner', 'd', 'd/corner', 'e']);
  });
  it('are rounded by less than a chamfer of the same size takes', () => {
    // a fillet of r leaves r²(1 − π/4) in the corner, its middle (1 − …) further in: less than the triangle
    const round = lost({ kind: 'fillet', size: 0.5 });
    expect(round).toBeGreaterThan(0);
    expect(round / lost({ kind: 'chamfer', size: 0.5 })).toBeCloseTo((2 * (1 - Math.PI / 4)) as number, 1);
  });
  it('include both mouths of a bore, which belong to the bore', () => {
    const part = buildPart(shaft({ kind: 'chamfer', size: 0.5 }, 8));
    expect(part.problems).toEqual([]);
    expect(part.inner.map((e) => e.id)).toEqual(['i/mouth', 'i', 'i/back-mouth']);
    const mouth = 2 * Math.PI * (4 + 0.5 / 3) * 0.125;
    expect(lost({ kind: 'chamfer', size: 0.5 }, 8)).toBeCloseTo(chamfer(0.5, 10) + 2 * chamfer(0.5, 15) + 2 * mouth, 6);
  });
  it('include the mouths of grooves, which go with the groove; that of a ring carries it and stays sharp', () => {
    const grooved = (edges: Edges | null, inside = false): PartDocument => {
      const document = structuredClone(shaft(edges, 16));
      const cut = { id: 'g', kind: 'square' as const, z: -15, width: 4, diameter: inside ? 20 : 24 };
      const row = inside ? document.inner?.rows[0] : document.outer.rows[3];
      if (row?.kind === 'line') row.cuts = [cut];
      return document;
    };
    const edges: Edges = { kind: 'chamfer', size: 0.3 };
    const without = (document: PartDocument): PartDocument => ({ ...document, edges: null });
    const outside = buildPart(grooved(edges));
    expect(outside.problems).toEqual([]);
    expect(outside.outer.map((e) => e.id).filter((id) => id.startsWith('d'))).toEqual([
      'd',
      'd/g.from',
      'd/g.1',
      'd/g.2',
      'd/g.3',
      'd/g.to',
      'd/2',
      'd/corner',
    ]);
    const plain = (document: PartDocument): number => buildPart(without(document)).volume - buildPart(document).volume;
    expect(plain(grooved(edges)) - plain(shaft(edges, 16))).toBeCloseTo(2 * chamfer(0.3, 15), 6);
    // in a bore the triangle lies outside the surface
    const bored = 2 * (2 * Math.PI * (8 + 0.1) * 0.045);
    expect(plain(grooved(edges, true)) - plain(shaft(edges, 16))).toBeCloseTo(bored, 6);
    const whole = elementsBetween(outside.outer, { from: 'd/g.1', to: 'd/g.3' });
    expect(whole?.map((e) => e.id)).toEqual(['d/g.from', 'd/g.1', 'd/g.2', 'd/g.3', 'd/g.to']);
    const ring = structuredClone(shaft(edges));
    const [, , , row] = ring.outer.rows;
    if (row.kind === 'line') row.cuts = [{ id: 'r', kind: 'ring', z: -15 }];
    expect(buildPart(ring).outer.filter((e) => e.mouthOf !== undefined)).toEqual([]);
    expect(buildPart(ring).outer.some((e) => e.id === 'd/r.2')).toBe(true);
  });
  it('are cut with their groove by an operation that was made for it before they were asked for', () => {
    const document = structuredClone(shaft(null));
    const row = document.outer.rows[3];
    if (row.kind === 'line') row.cuts = [{ id: 'g', kind: 'square', z: -15, width: 5, diameter: 24 }];
    const job = steppedPin({ tools: [shopTool('groove-3')], by: 'fine' });
    job.part = { ...document, edges: { kind: 'chamfer', size: 0.3 } };
    const span = { from: 'd/g.1', to: 'd/g.3' };
    const add = operation({ id: 'groove', kind: 'outer-groove', holding: 'h1', tool: 'groove-3', span, params: {} });
    job.operations.groove = add;
    job.order['1'].push('groove');
    const d = derive(job);
    expect(d.operations.find((o) => o.id === 'groove')?.findings.filter((f) => f.severity !== 'info')).toEqual([]);
    for (const id of ['d/g.from', 'd/g.to'])
      expect(d.coverage.find((c) => c.element === id)?.state, id).toBe('finished');
  });
  it('leave corners of their own alone, and those that are said to be sharp', () => {
    const own = shaft({ kind: 'chamfer', size: 0.5 });
    own.outer.rows[0].corner = { kind: 'chamfer', size: 1 };
    own.outer.rows[2].corner = { kind: 'sharp', size: 0 };
    const ids = buildPart(own).outer.map((e) => e.id);
    expect(ids).toEqual(['a', 'a/corner', 'b', 'c', 'd', 'd/corner', 'e']);
    expect(buildPart(own).outer[1].curve.to.x).toBeCloseTo(-1, 9);
  });
  it('stay as drawn where they do not fit', () => {
    const big = buildPart(shaft({ kind: 'chamfer', size: 6 }));
    expect(big.problems).toEqual([]);
    expect(big.outer.some((e) => e.id === 'c/corner')).toBe(false);
  });
  it('also break obtuse corners, beside cones', () => {
    const cone: PartDocument = {
      outer: {
        start: { diameter: 0, z: 0 },
        rows: [lineRow('a', 20, 0), lineRow('b', 30, -8), lineRow('c', 30, -20), lineRow('d', 0, -20)],
      },
      inner: null,
      edges: { kind: 'chamfer', size: 0.3 },
    };
    expect(buildPart(cone).outer.map((e) => e.id)).toEqual(['a', 'a/corner', 'b', 'b/corner', 'c', 'c/corner', 'd']);
  });
  it('are made by the operations that finish the contour', () => {
    const job = structuredClone(demoJob('LM-101'));
    for (const r of job.part.outer.rows) if (r.corner?.kind === 'chamfer') r.corner = null;
    job.part.edges = { kind: 'chamfer', size: 0.4 };
    const d = derive(job);
    // the back mouth of the bore is out of reach from the front, and that is said; the bar's other edge, 5° less 3° of
    // clearance, takes a skin of at most 0.4·tan 2° off it
    expect(d.findings.filter((f) => f.severity !== 'info').map((f) => f.code)).toEqual(['leftover']);
    const mouth = 2 * Math.PI * (6 + 0.4 / 3) * 0.08;
    const skin = 2 * Math.PI * 6 * (0.4 ** 2 / 2) * Math.tan((2 * Math.PI) / 180);
    expect(d.leftoverVolume).toBeGreaterThan(mouth - skin - 0.1);
    expect(d.leftoverVolume).toBeLessThan(mouth + 0.1);
    expect(
      regionVolume(subtractRegion(derive(demoJob('LM-101')).finished.turnedOutline, d.finished.turnedOutline)),
    ).toBeGreaterThan(0);
  });
  it('never break what encloses the part, whatever its size', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0.01, max: 20, noNaN: true }),
        fc.constantFrom('chamfer' as const, 'fillet' as const),
        fc.constantFrom(0, 6, 8),
        (size, kind, bore) => {
          const whole = buildPart(shaft(null, bore));
          const part = buildPart(shaft({ kind, size }, bore));
          expect(part.problems).toEqual([]);
          expect(part.volume).toBeLessThanOrEqual(whole.volume + 1e-6);
          expect(regionVolume(subtractRegion(part.region, whole.region))).toBeLessThan(1e-3);
        },
      ),
    );
  });
});

describe('tolerances of drawings', () => {
  it.each([
    ['h6', 20, 0, -0.013],
    ['H7', 20, 0.021, 0],
    ['H7', 30, 0.021, 0],
    ['H7', 30.01, 0.025, 0],
    ['g6', 25, -0.007, -0.02],
    ['f7', 40, -0.025, -0.05],
    ['F8', 40, 0.064, 0.025],
    ['k6', 25, 0.015, 0.002],
    ['p6', 60, 0.051, 0.032],
    ['js9', 10, 0.018, -0.018],
    ['h11', 100, 0, -0.22],
    ['±0.02', 7, 0.02, -0.02],
    ['+0.05/+0.01', 7, 0.05, 0.01],
    ['0 / -0,1', 7, 0, -0.1],
    ['-0.2 0', 7, 0, -0.2],
  ])('%s on ⌀%s', (text, diameter, upper, lower) => {
    const read = readTolerance(text, diameter);
    expect(read?.upper).toBeCloseTo(upper, 9);
    expect(read?.lower).toBeCloseTo(lower, 9);
  });
  it.each(['', 'tight', 'H', 'Q7', 'h99', 'k9', '0.1', '±', 'H7/g6'])('cannot be read from “%s”', (text) => {
    expect(readTolerance(text, 20)).toBeNull();
  });
  it('are not known beyond the tables', () => expect(readTolerance('h6', 300)).toBeNull());
});

describe('aiming at the middle of a tolerance', () => {
  const toleranced = (text: string): PartDocument => {
    const document = shaft(null, 8);
    const note = { name: '', ignored: false, roughness: null, tolerance: text };
    const id = listFeatures(document, buildPart(document)).find((f) => f.elements.includes('b'))?.id ?? '';
    return { ...document, notes: { [id]: note } };
  };
  it('moves a cylinder with both its ends, and nothing else', () => {
    const document = toleranced('h7');
    const moved = aimedAtMiddle(document, buildPart(document));
    const radius = (id: string): number | undefined => buildPart(moved).outer.find((e) => e.id === id)?.curve.from.y;
    expect(middleOf(readTolerance('h7', 20) ?? { upper: 0, lower: 0 })).toBeCloseTo(-0.0105, 9);
    expect(radius('b')).toBeCloseTo(10 - 0.00525, 9);
    expect(radius('d')).toBeCloseTo(15, 9);
  });
  it('is what the finished part comes to in a job', () => {
    const job = structuredClone(demoJob('LM-155'));
    const plain = derive(job);
    job.part.notes = Object.fromEntries([
      ['bore:0:80', { name: '', ignored: false, roughness: null, tolerance: '+0.1/0' }],
    ]);
    job.part.aim = 'middle';
    const d = derive(job);
    const bore = (k: typeof d): number => Math.min(...k.finished.turnedOutline.flat().map((p) => p.y));
    expect(bore(d) - bore(plain)).toBeCloseTo(0.025, 3);
    expect(d.findings.filter((f) => f.severity !== 'info').map((f) => f.code)).toEqual([]);
  });
});
