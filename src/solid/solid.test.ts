import { readFileSync } from 'node:fs';
import fc from 'fast-check';
import { draw, drawPolysides, makeBox, makeCompound, makeCylinder, type Shape3D } from 'replicad';
import { beforeAll, describe, expect, it } from 'vitest';
import { testKernel } from '../../tests/fixtures/kernel';
import { chainDifference, curvesOf, demoFile, randomPart } from '../../tests/fixtures/parts';
import { arcRadius, type Curve, degrees, distanceToCurve, flattenChain, tangentAt } from '../core/geometry';
import { buildPart, describeFeature, mergeSplit, type PartDocument, partFromHalf, turnedFeatures } from '../core/part';
import { type BroughtSolid, bringSolid } from './bring';
import type { Kernel } from './kernel';
import { revolveSection, stepText } from './revolve';
import { PLAIN_WISH, type SolidWish } from './wishes';

let oc: Kernel;
beforeAll(async () => {
  oc = await testKernel();
});

const step = (s: Shape3D): Promise<string> => stepText(s, 'Test part', '2026-11-01T08:00:00');
const bring = async (s: Shape3D, wish: Partial<SolidWish> = {}): Promise<BroughtSolid> =>
  bringSolid(oc, await step(s), { ...PLAIN_WISH, ...wish });
const demo = (name: string, wish: Partial<SolidWish> = {}): BroughtSolid =>
  bringSolid(oc, readFileSync(demoFile(`solids/${name}.step`), 'utf8'), { ...PLAIN_WISH, ...wish });
const half = (b: BroughtSolid) => {
  if (!b.half) throw new Error(b.problems.map((p) => p.message).join(' '));
  return b.half;
};
const turn = (points: readonly (readonly [number, number])[]): Shape3D => {
  let pen = draw([points[0][0], points[0][1]]);
  for (const [r, z] of points.slice(1)) pen = pen.lineTo([r, z]);
  return pen
    .close()
    .sketchOnPlane('XZ')
    .revolve([0, 0, 1], { origin: [0, 0, 0] }) as Shape3D;
};

/** ⌀20 × 15, then ⌀32 to Z −40, as radius and Z. */
const STEPPED = [
  [0, 0],
  [10, 0],
  [10, -15],
  [16, -15],
  [16, -40],
  [0, -40],
] as const;

describe('STEP round trip', () => {
  it('brings random parts back within 1 µm, kinds kept', async () => {
    await fc.assert(
      fc.asyncProperty(fc.integer({ min: 1, max: 1e6 }), async (seed) => {
        const made = randomPart(seed);
        if (!made) return;
        const { part } = made;
        const back = await bring(revolveSection(part.boundary));
        expect(back.problems).toEqual([]);
        expect(chainDifference(half(back).outer, mergeSplit(curvesOf(part, 'outer')))).toBeLessThan(1e-3);
        expect(chainDifference(half(back).inner, mergeSplit(curvesOf(part, 'inner')))).toBeLessThan(1e-3);
        const document = partFromHalf(half(back)) as PartDocument;
        expect(buildPart(document).problems).toEqual([]);
        expect(buildPart(document).volume / part.volume).toBeCloseTo(1, 8);
      }),
      { numRuns: Math.round(Number(process.env.PROPERTY_CASES ?? 120) / 5) },
    );
  });
});

describe('exactness', () => {
  it('gives back torus rounds, cones and spheres to 1e-6', async () => {
    // ball R2.9, cone 8°, neck with fillet R1.7 both ways
    const cone = Math.tan((8 * Math.PI) / 180);
    let pen = draw([0, 0]).threePointsArcTo([2.9, -2.9], [2.9 * Math.SQRT1_2, -2.9 * (1 - Math.SQRT1_2)]);
    pen = pen
      .lineTo([2.9 + 20 * cone, -22.9])
      .lineTo([9, -22.9])
      .lineTo([9, -30])
      .threePointsArcTo([10.7, -31.7], [9 + 1.7 * (1 - Math.SQRT1_2), -30 - 1.7 * Math.SQRT1_2]);
    pen = pen
      .lineTo([14.3, -31.7])
      .threePointsArcTo([16, -33.4], [14.3 + 1.7 * Math.SQRT1_2, -31.7 - 1.7 * (1 - Math.SQRT1_2)]);
    const s = pen
      .lineTo([16, -40])
      .lineTo([0, -40])
      .close()
      .sketchOnPlane('XZ')
      .revolve([0, 0, 1], { origin: [0, 0, 0] }) as Shape3D;
    const { outer } = half(await bring(s.rotate(33, [0, 0, 0], [0, 0, 1]).translate(5, -7, 11)));
    const arcs = outer.filter((c): c is Extract<Curve, { kind: 'arc' }> => c.kind === 'arc');
    expect(arcs.map(arcRadius)).toHaveLength(3);
    [2.9, 1.7, 1.7].forEach((r, i) => {
      expect(Math.abs(arcRadius(arcs[i]) - r)).toBeLessThan(1e-6);
    });
    expect(Math.abs(arcs[0].centre.y)).toBeLessThan(1e-6);
    const taper = outer[1];
    const t = tangentAt(taper, 0.5);
    expect(Math.abs(degrees(Math.atan2(t.y, -t.x)) - 8)).toBeLessThan(1e-6);
  });
  it('finds a tilted axis anywhere and its zero at the front', async () => {
    const s = turn(STEPPED).rotate(37, [0, 0, 0], [1, 2, 0.5]) as Shape3D;
    const b = await bring(s.translate(100, -20, 30));
    expect(half(b).outer.map((c) => [Math.round(c.to.x * 1e6) / 1e6 + 0, Math.round(c.to.y * 1e6) / 1e6])).toEqual(
      expect.arrayContaining([
        [0, expect.any(Number)],
        [-40, expect.any(Number)],
      ]),
    );
    expect(Math.hypot(...(b.axis?.direction ?? [0, 0, 0]))).toBeCloseTo(1, 9);
  });
  it('fits a free-form contour within 1 µm of the surface, without turning back', () => {
    const b = demo('LM-233');
    const { outer } = half(b);
    outer.slice(1, -2).forEach((c, i) => {
      const [t0, t1] = [tangentAt(c, 1), tangentAt(outer[i + 2], 0)];
      expect(t0.x * t1.x + t0.y * t1.y).toBeGreaterThan(0.99);
    });
    // the surface's own triangles, whose corners lie on it; 32-bit numbers are good to 4 µm at this size
    const mesh = b.mesh as NonNullable<BroughtSolid['mesh']>;
    const chain = [...half(b).outer, ...half(b).inner];
    let worst = 0;
    const free = new Set(b.faces.flatMap((f, i) => (f.kind === 'revolution' || f.kind === 'free' ? [i] : [])));
    expect(free.size).toBeGreaterThan(0);
    for (const g of mesh.groups) {
      if (!free.has(g.face)) continue;
      for (let k = g.start; k < g.start + g.count; k += 7) {
        const i = mesh.triangles[k] * 3;
        const p = { x: mesh.positions[i], y: Math.hypot(mesh.positions[i + 1], mesh.positions[i + 2]) };
        worst = Math.max(worst, Math.min(...chain.map((c) => distanceToCurve(c, p))));
      }
    }
    expect(worst).toBeLessThan(1.2e-3);
  });
});

describe('silhouette and cut', () => {
  it('a hexagon sweeps its corners; a cut across the flats shows the flats', async () => {
    const s = (drawPolysides(20, 6).sketchOnPlane('XY', -30).extrude(30) as Shape3D).cut(
      makeCylinder(8, 40, [0, 0, -35], [0, 0, 1]) as Shape3D,
    );
    const silhouette = half(await bring(s));
    expect(Math.max(...silhouette.outer.map((c) => c.from.y))).toBeCloseTo(20, 6);
    expect(silhouette.inner[0].from.y).toBeCloseTo(8, 6);
    const across = half(await bring(s, { section: 'cut', angle: 30 }));
    const corner = half(await bring(s, { section: 'cut', angle: 0 }));
    const radii = [across, corner].map((h) => Math.max(...h.outer.map((c) => c.from.y))).sort((a, b) => a - b);
    expect(radii[0]).toBeCloseTo(20 * Math.cos(Math.PI / 6), 3);
    expect(radii[1]).toBeCloseTo(20, 3);
  });
  it('an eccentric pin sweeps its outermost line', async () => {
    const s = (makeCylinder(20, 10, [0, 0, -10], [0, 0, 1]) as Shape3D).fuse(
      makeCylinder(5, 12, [9, 0, -22], [0, 0, 1]) as Shape3D,
    );
    const { outer } = half(await bring(s));
    const pin = outer.filter((c) => c.from.x < -11);
    expect(Math.max(...pin.map((c) => Math.max(c.from.y, c.to.y)))).toBeCloseTo(14, 3);
  });
  it('no point of any demo part lies outside its silhouette', () => {
    for (const name of ['LM-207', 'LM-212', 'LM-260']) {
      const b = demo(name);
      const document = partFromHalf(half(b)) as PartDocument;
      const part = buildPart(document);
      expect(part.problems).toEqual([]);
      const reach = flattenChain(part.boundary);
      const top = Math.max(...reach.map((p) => p.y));
      const mesh = b.mesh as NonNullable<BroughtSolid['mesh']>;
      for (let i = 0; i < mesh.positions.length; i += 3)
        expect(Math.hypot(mesh.positions[i + 1], mesh.positions[i + 2])).toBeLessThan(top + 1e-3);
    }
  });
});

describe('features of the demo parts', () => {
  const list = (name: string): string[] => {
    const b = demo(name);
    return [...turnedFeatures(buildPart(partFromHalf(half(b)) as PartDocument)), ...b.features].map(describeFeature);
  };
  it.each([
    [
      'LM-101',
      ['Face groove ⌀34–⌀46 × 7', 'Groove 5 wide, ⌀55', 'Groove 7 wide, ⌀53', 'Bore ⌀12 × 22', 'Turned ⌀26 × 0.5'],
    ],
    [
      'LM-140',
      ['Thread M16 × 1.5', 'Groove 2 wide, ⌀19.5', 'Centre hole 2.5', 'Radial hole ⌀4 through', 'Form R11251'],
    ],
    ['LM-155', ['Bore ⌀8 × 7.2', 'Round R1', 'Chamfer 0.3 × 45°']],
    [
      'LM-207',
      [
        'Form R2.9',
        'Groove 0.9 wide, ⌀5',
        'Hole on centre ⌀2 × 30',
        'Radial hole ⌀1.5 through',
        '4-sided, 4 across flats',
      ],
    ],
    [
      'LM-212',
      [
        'Inside thread M30 × 1.5',
        'Inside groove 4 wide, ⌀29',
        '6 × Radial hole ⌀5 through',
        '6-sided, 36 across flats',
        'Bore ⌀25 × 18',
      ],
    ],
    ['LM-233', ['Formed contour × 90', 'Hole on centre ⌀18 × 40', '3 × Angled hole ⌀4 through']],
    ['LM-260', ['Face groove ⌀40–⌀80 × 4', '10 × Axial hole ⌀5 through', '5 × Window', 'Bore ⌀20 × 18']],
  ])('%s', (name, expected) => {
    expect(list(name)).toEqual(expect.arrayContaining(expected));
  });
  it('angles count from where the user puts angle 0', () => {
    const plain = demo('LM-260').features.find((f) => f.kind === 'axial-hole')?.angles ?? [];
    const turned = demo('LM-260', { turn: 18 }).features.find((f) => f.kind === 'axial-hole')?.angles ?? [];
    expect(plain[0]).toBeCloseTo(18, 3);
    expect(turned[0]).toBeCloseTo(0, 3);
    expect(turned).toHaveLength(10);
  });
  it('an angled hole knows its tilt and the angles of its copies', () => {
    const f = demo('LM-233').features[0];
    expect(f.sizes.angle).toBeCloseTo(55, 4);
    expect(f.angles.map(Math.round)).toEqual([0, 120, 240]);
  });
});

describe('what is wrong with a file', () => {
  const codes = (b: BroughtSolid): string[] => b.problems.map((p) => p.code);
  it('a torn file names its last entity and line', () => {
    const whole = readFileSync(demoFile('solids/LM-155.step'), 'utf8');
    const b = bringSolid(oc, whole.slice(0, whole.length * 0.6));
    expect(codes(b)).toEqual(['torn']);
    expect(b.problems[0].message).toMatch(/entity #\d+, line \d+/);
    expect(b.half).toBeNull();
  });
  it('a file that lost entities names the reference', () => {
    const whole = readFileSync(demoFile('solids/LM-155.step'), 'utf8');
    const b = bringSolid(oc, whole.replace(/\n#40 = [^;]*;/, '\n'));
    expect(codes(b)).toEqual(['torn']);
    expect(b.problems[0].entity).toBe(40);
  });
  it.each([
    ['no STEP file', 'solid x', 'not-step'],
    [
      'no solid in it',
      "ISO-10303-21;\nHEADER;\nFILE_SCHEMA(('AUTOMOTIVE_DESIGN'));\nENDSEC;\nDATA;\n#1=CARTESIAN_POINT('',(0.,0.,0.));\nENDSEC;\nEND-ISO-10303-21;\n",
      'no-solid',
    ],
    [
      'surfaces only',
      "ISO-10303-21;\nHEADER;\nENDSEC;\nDATA;\n#1=SHELL_BASED_SURFACE_MODEL('',());\nENDSEC;\nEND-ISO-10303-21;\n",
      'surfaces-only',
    ],
  ])('%s', (_name, text, code) => {
    expect(codes(bringSolid(oc, text))).toEqual([code]);
  });
  it('a box turns about no axis, unless a face is chosen', async () => {
    const box = makeBox([0, 0, 0], [30, 20, 10]) as Shape3D;
    const b = await bring(box);
    expect(codes(b)).toEqual(['no-axis']);
    expect(b.problems[0].message).toContain('6 faces, 6 of them flat');
    const top = b.faces.length - 1;
    const chosen = await bring(box, { axisFace: top });
    expect(chosen.axis).not.toBeNull();
  });
  it('asks which of two solids is meant', async () => {
    const a = turn([
      [0, 0],
      [10, 0],
      [10, -15],
      [0, -15],
    ]);
    const b = makeCylinder(4, 30, [50, 0, 0], [1, 0, 0]) as Shape3D;
    const text = await stepText(makeCompound([a, b]) as unknown as Shape3D, 'Two', '2026-11-01T08:00:00');
    const first = bringSolid(oc, text, PLAIN_WISH);
    expect(first.solids).toHaveLength(2);
    const second = bringSolid(oc, text, { ...PLAIN_WISH, solid: 1 });
    expect(half(second).outer[1].from.y).toBeCloseTo(4, 6);
  });
  it('reads a file in inches as mm', async () => {
    const s = turn([
      [0, 0],
      [25.4, 0],
      [25.4, -50.8],
      [0, -50.8],
    ]);
    const text = (await step(s)).replace(
      /\(\s*LENGTH_UNIT\(\)\s*NAMED_UNIT\(\*\)\s*SI_UNIT\(\.MILLI\.,\.METRE\.\)\s*\)/,
      "(CONVERSION_BASED_UNIT('INCH',#90001)LENGTH_UNIT()NAMED_UNIT(#90002))",
    );
    expect(text).toContain('CONVERSION_BASED_UNIT');
    const inch = text.replace(
      'ENDSEC;\nEND-ISO',
      '#90001 = LENGTH_MEASURE_WITH_UNIT(LENGTH_MEASURE(25.4),#90003);\n#90002 = DIMENSIONAL_EXPONENTS(1.,0.,0.,0.,0.,0.,0.);\n#90003 = (LENGTH_UNIT()NAMED_UNIT(*)SI_UNIT(.MILLI.,.METRE.));\nENDSEC;\nEND-ISO',
    );
    expect(half(bringSolid(oc, inch)).outer[0].to.y).toBeCloseTo(25.4 * 25.4, 3);
  });
  it('doubts ⌀1524 and reads it with a scale', async () => {
    const s = turn([
      [0, 0],
      [762, 0],
      [762, -300],
      [0, -300],
    ]);
    const b = await bring(s);
    expect(codes(b)).toEqual(['unit']);
    expect(b.problems[0].message).toContain('⌀60.00');
    expect(half(await bring(s, { scale: 1 / 25.4 })).outer[0].to.y).toBeCloseTo(30, 6);
  });
  it('the zero moves to a chosen face and the part turns round', async () => {
    const s = turn(STEPPED);
    const b = await bring(s);
    const shoulder = b.faces.findIndex((f, i) => f.flat && (b.mesh?.groups[i].count ?? 0) > 0 && i === 2);
    const moved = half(await bring(s, { zeroFace: shoulder }));
    expect(moved.outer.some((c) => Math.abs(c.to.x) < 1e-9)).toBe(true);
    const flipped = half(await bring(s, { flip: true }));
    expect(flipped.outer[0].to.y).toBeCloseTo(16, 9);
    expect(flipped.outer[0].to.x).toBeCloseTo(0, 9);
  });
});
