import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { curvesOf, randomPart } from '../../../tests/fixtures/parts';
import { type Curve, distanceToCurve, flattenChain, point } from '../geometry';
import { buildPart } from './contour';
import { partFromHalf } from './fromCurves';
import { importMesh, PLAIN_MESH } from './mesh';
import { openEdges, revolveMesh, writeStl } from './stl';

const worst = (a: readonly Curve[], b: readonly Curve[]): number =>
  Math.max(0, ...flattenChain(a, 0.01).map((p) => Math.min(...b.map((c) => distanceToCurve(c, p)))));

const ascii = (corners: Float64Array): string => {
  const lines = ['solid part'];
  for (let i = 0; i < corners.length; i += 9) {
    lines.push('facet normal 0 0 0', 'outer loop');
    for (let k = 0; k < 9; k += 3) lines.push(`vertex ${corners[i + k]} ${corners[i + k + 1]} ${corners[i + k + 2]}`);
    lines.push('endloop', 'endfacet');
  }
  return [...lines, 'endsolid part', ''].join('\n');
};

const tube = (): Float64Array => {
  const part = buildPart({
    outer: {
      start: { diameter: 10, z: 0 },
      rows: [row('a', 30, 0), row('b', 30, -12), row('c', 40, -12), row('d', 40, -25), row('e', 10, -25)],
    },
    inner: { start: { diameter: 10, z: 0 }, rows: [row('i', 10, -25)] },
  });
  return revolveMesh(part.boundary, 0.005);
};
const row = (id: string, diameter: number, z: number) => ({ id, kind: 'line' as const, diameter, z, corner: null });

describe('STL', () => {
  it('brings random turned parts back within the fitting tolerance, outside and bore', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 1e6 }), (seed) => {
        const made = randomPart(seed);
        if (!made) return;
        const back = importMesh(writeStl(revolveMesh(made.part.boundary, 0.004)), { ...PLAIN_MESH, tolerance: 0.015 });
        expect(back.problems).toEqual([]);
        expect(worst(curvesOf(made.part, 'outer'), back.half?.outer ?? [])).toBeLessThan(0.02);
        expect(worst(back.half?.outer ?? [], curvesOf(made.part, 'outer'))).toBeLessThan(0.02);
        if (made.part.inner.length > 0)
          expect(worst(curvesOf(made.part, 'inner'), back.half?.inner ?? [])).toBeLessThan(0.02);
      }),
      { numRuns: 25 },
    );
  });
  it('reads text and binary alike, in mm and inch, along any axis', () => {
    const corners = tube();
    const binary = importMesh(writeStl(corners));
    const text = importMesh(new TextEncoder().encode(ascii(corners)));
    expect(text.half?.outer.length).toBe(binary.half?.outer.length);
    expect(binary.half?.outer.map((c) => [c.to.x, Math.round(c.to.y * 1000) / 1000])).toEqual([
      [0, 15],
      [-12, 15],
      [-12, 20],
      [-25, 20],
      [-25, 5],
    ]);
    expect(binary.half?.inner).toHaveLength(1);
    const inch = importMesh(writeStl(corners), { ...PLAIN_MESH, unit: 'inch' });
    expect(inch.half?.outer[0].to.y).toBeCloseTo(15 * 25.4, 2);
    const turned = corners.map((_, i) =>
      i % 3 === 0 ? corners[i + 2] : i % 3 === 1 ? corners[i - 1] + 3 : corners[i - 1] - 4,
    );
    const x = importMesh(writeStl(Float64Array.from(turned)));
    expect(x.axis?.direction).toEqual([1, 0, 0]);
    expect(x.half?.outer[0].to.y).toBeCloseTo(15, 2);
  });
  it('the silhouette of a part with a flat is round where metal still passes', () => {
    const corners = tube();
    // a flat at y = 13 on the front step: corners beyond it are pressed onto it
    const flat = corners.map((v, i) => (i % 3 === 1 && corners[i + 1] > -12.0001 && v > 13 ? 13 : v));
    const back = importMesh(writeStl(Float64Array.from(flat)));
    expect(back.half?.outer[0].to.y).toBeCloseTo(15, 2);
    const part = partFromHalf(back.half ?? { outer: [], inner: [], back: [] });
    expect(part && buildPart(part).problems).toEqual([]);
  });
  it('finds no open edge on a closed mesh and names the triangle beside a hole', () => {
    const corners = tube();
    expect(openEdges(corners).count).toBe(0);
    const torn = corners.filter((_, i) => i < 900 || i >= 909);
    const back = importMesh(writeStl(torn));
    expect(back.half).toBeNull();
    expect(back.problems[0].code).toBe('mesh-holes');
    expect(back.problems[0].message).toMatch(/3 edges .* triangle \d+/);
  });
  it.each([
    ['nothing', new Uint8Array(0), 'torn'],
    ['text without triangles', new TextEncoder().encode('solid x\nendsolid x\n'), 'not-stl'],
    [
      'a number that is none',
      new TextEncoder().encode(
        'solid x\nfacet normal 0 0 1\nouter loop\nvertex 0 0 zero\nendloop\nendfacet\nendsolid x\n',
      ),
      'not-finite',
    ],
    ['a file cut off', writeStl(tube()).subarray(0, 2000), 'torn'],
    ['a box, which turns about no axis', writeStl(boxMesh()), 'no-axis'],
  ])('refuses %s', (_name, bytes, code) => {
    const back = importMesh(bytes);
    expect(back.half).toBeNull();
    expect(back.problems.map((p) => p.code)).toContain(code);
  });
  it('doubts a part of ⌀1524', () => {
    const back = importMesh(writeStl(tube()), { ...PLAIN_MESH, unit: 'inch' });
    expect(back.problems.map((p) => p.code)).toEqual(['unit']);
    expect(point(0, 0)).toEqual({ x: 0, y: 0 });
  });
});

function boxMesh(): Float64Array {
  const p = [0, 1, 2, 3, 4, 5, 6, 7].map((i) => [i & 1 ? 30 : 0, i & 2 ? 20 : 0, i & 4 ? 10 : 0]);
  const quads = [
    [0, 2, 3, 1],
    [4, 5, 7, 6],
    [0, 1, 5, 4],
    [2, 6, 7, 3],
    [0, 4, 6, 2],
    [1, 3, 7, 5],
  ];
  return Float64Array.from(quads.flatMap(([a, b, c, d]) => [a, b, c, a, c, d].flatMap((i) => p[i])));
}
