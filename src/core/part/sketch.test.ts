import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { lineRow, solidPart } from '../../../tests/fixtures/parts';
import { wordPartProblem } from '../checks/wording';
import { type Arc, arcRadius, arcSweep, distance, distanceToCurve, tangentAt } from '../geometry';
import { buildPart } from './contour';
import type { Corner, Cut, Profile, Row } from './profile';
import { solveDimensions, solveProfile } from './sketch';
import { DIN76, DIN471 } from './standards';

type ArcRow = Extract<Row, { kind: 'arc' }>;
const arcRow = (more: Partial<ArcRow>): Row => ({
  id: 'x',
  kind: 'arc',
  diameter: null,
  z: null,
  radius: null,
  clockwise: false,
  long: false,
  corner: null,
  ...more,
});
const profile = (...rows: Row[]): Profile => ({
  start: { diameter: 20, z: 0 },
  rows: rows.map((r, i) => ({ ...r, id: `o${i + 1}` })),
});
const ends = (p: Profile) =>
  solveProfile(p).pieces.map(({ curve }) => [curve.to.x, curve.to.y * 2].map((v) => Math.round(v * 1e6) / 1e6));
const codes = (p: Profile) => solveProfile(p).problems.map((k) => k.code);

describe('lines', () => {
  it('a blank value stays as it was', () => {
    expect(ends(profile(lineRow('a', null, -10), lineRow('b', 30, null), lineRow('c', null, -25)))).toEqual([
      [-10, 20],
      [-10, 30],
      [-25, 30],
    ]);
  });
  it('angle with a diameter, a Z, or a length gives one end', () => {
    const d = (more: object) => ends(profile(lineRow('a', null, null, { angle: 30, ...more })))[0];
    expect(d({ diameter: 30 })).toEqual([Math.round((-5 / Math.tan(Math.PI / 6)) * 1e6) / 1e6, 30]);
    expect(d({ z: -5 * Math.sqrt(3) })[1]).toBeCloseTo(30, 6);
    expect(d({ length: 10 })).toEqual([Math.round(-10 * Math.cos(Math.PI / 6) * 1e6) / 1e6, 30]);
  });
  it('a direction without an end goes to where the next line, with its own end and direction, begins', () => {
    // a 60° flank and a cylinder that ends at Z-20
    expect(ends(profile(lineRow('a', null, null, { angle: 60 }), lineRow('b', 40, -20, { angle: 0 })))).toEqual([
      [Math.round((-10 / Math.tan(Math.PI / 3)) * 1e6) / 1e6, 40],
      [-20, 40],
    ]);
  });
  it('a length with one coordinate goes toward the chuck, or outward', () => {
    expect(ends(profile(lineRow('a', 26, null, { length: 5 })))).toEqual([[-4, 26]]);
    expect(ends(profile(lineRow('a', null, -3, { length: 5 })))).toEqual([[-3, 28]]);
  });
  it('says what is missing and what contradicts itself', () => {
    expect(codes(profile(lineRow('a', null, null, { angle: 30 })))).toContain('under-determined');
    expect(codes(profile(lineRow('a', null, null, { length: 30 })))).toContain('under-determined');
    expect(codes(profile(lineRow('a', 30, -10, { angle: 20 })))).toContain('over-determined');
    expect(codes(profile(lineRow('a', 30, -10, { length: 99 })))).toContain('over-determined');
    // one value more than needed that agrees is no mistake
    expect(codes(profile(lineRow('a', 30, -5, { angle: 45 })))).toEqual([]);
    expect(codes(profile(lineRow('a', 40, null, { angle: -30 })))).toContain('no-solution');
    expect(codes(profile(lineRow('a', 40, null, { length: 3 })))).toContain('no-solution');
  });
});

describe('arcs', () => {
  const only = (p: Profile) => solveProfile(p).pieces.at(-1)?.curve as Arc;
  it('a tangent arc to an end has the radius that follows', () => {
    // quarter round from a cylinder outward
    const a = only(profile(lineRow('a', null, -10), arcRow({ tangent: true, diameter: 30, z: -15 })));
    expect(arcRadius(a)).toBeCloseTo(5, 9);
    expect(Math.abs(arcSweep(a))).toBeCloseTo(Math.PI / 2, 9);
  });
  it('is tangent wherever it ends', () => {
    fc.assert(
      fc.property(
        fc.double({ min: -40, max: 40, noNaN: true }),
        fc.double({ min: -60, max: -11, noNaN: true }),
        fc.double({ min: -80, max: 80, noNaN: true }),
        (dd, z, angle) => {
          if (Math.abs(dd) < 0.5) return;
          const p = profile(
            lineRow('a', null, null, { angle, length: 10 }),
            arcRow({ tangent: true, diameter: Math.max(0.1, 20 + dd), z }),
          );
          const [first, second] = solveProfile(p).pieces;
          if (second?.curve.kind !== 'arc') return;
          const [t0, t1] = [tangentAt(first.curve, 1), tangentAt(second.curve, 0)];
          expect(t0.x * t1.x + t0.y * t1.y).toBeCloseTo(1, 6);
        },
      ),
    );
  });
  it('tangent with a radius ends where a diameter or Z is first met', () => {
    const a = only(
      profile(lineRow('a', null, -10), arcRow({ tangent: true, radius: 4, clockwise: true, diameter: 28 })),
    );
    expect([a.to.x, a.to.y]).toEqual([expect.closeTo(-14, 9), expect.closeTo(14, 9)]);
  });
  it('by centre: the end lies on the circle, or is told to be off', () => {
    const a = only(profile(arcRow({ centreDiameter: 20, centreZ: -6, diameter: 32, clockwise: false })));
    expect(distance(a.from, a.centre)).toBeCloseTo(distance(a.to, a.centre), 9);
    expect(codes(profile(arcRow({ centreDiameter: 20, centreZ: -6, diameter: 33, z: -6 })))).toContain(
      'over-determined',
    );
    expect(codes(profile(arcRow({ centreDiameter: 20, diameter: 33 })))).toContain('under-determined');
    expect(codes(profile(arcRow({ diameter: 33 })))).toContain('under-determined');
    expect(codes(profile(arcRow({ tangent: true, diameter: 33, z: -2 })))).toContain('under-determined');
  });
});

describe('named dimensions', () => {
  it('are computed in the order of their use', () => {
    const { names, problems } = solveDimensions([
      { name: 'hub', formula: '2*bore+2' },
      { name: 'bore', formula: '12' },
      { name: 'rim', formula: 'hub + 2*web' },
      { name: 'web', formula: 'sqrt(4)*4mm' },
    ]);
    expect(problems).toEqual([]);
    expect(Object.fromEntries(names)).toEqual({ bore: 12, hub: 26, web: 8, rim: 42 });
  });
  it('tell circles, unknown names and slips by name', () => {
    const { names, problems } = solveDimensions([
      { name: 'a', formula: 'b+1' },
      { name: 'b', formula: 'a-1' },
      { name: 'c', formula: 'nothing*2' },
      { name: 'd', formula: '3+' },
      { name: 'e', formula: '4' },
    ]);
    expect([...names.keys()]).toEqual(['e']);
    expect(problems.map((p) => p.numbers.name).sort()).toEqual(['a', 'b', 'c', 'd']);
  });
  it('drive rows live, in inch jobs too', () => {
    const rows: Row[] = [
      lineRow('a', null, 0, { formulas: { diameter: 'hub' }, corner: { kind: 'chamfer', size: 1 } }),
      lineRow('b', null, null, { formulas: { z: '-2*hub' } }),
      lineRow('c', 0, null),
    ];
    const part = (bore: string, unit: 'mm' | 'inch' = 'mm') =>
      buildPart(
        {
          ...solidPart(rows),
          dimensions: [
            { name: 'bore', formula: bore },
            { name: 'hub', formula: '2*bore+2' },
          ],
        },
        unit,
      );
    expect(part('12').problems).toEqual([]);
    expect(Math.max(...part('12').boundary.map((c) => c.to.y))).toBe(13);
    expect(Math.max(...part('10').boundary.map((c) => c.to.y))).toBe(11);
    expect(Math.max(...part('1', 'inch').boundary.map((c) => c.to.y))).toBeCloseTo((4 * 25.4) / 2, 9);
    const lost = buildPart(solidPart(rows));
    expect(lost.problems.map((p) => p.code)).toContain('formula');
    for (const p of lost.problems) expect(wordPartProblem(p).message.length).toBeGreaterThan(15);
  });
});

describe('standard shapes', () => {
  const shaft = (corner: Corner | null, cuts: Cut[] = [], d = 16): ReturnType<typeof buildPart> =>
    buildPart(
      solidPart([
        lineRow('o1', d, 0),
        lineRow('o2', d, -30, { corner, cuts }),
        lineRow('o3', 40, -30),
        lineRow('o4', 40, -50),
        lineRow('o5', 0, -50),
      ]),
    );
  it.each(DIN76.filter((t) => t.pitch >= 0.8))('a DIN 76 relief for P $pitch reaches its depth and width', (t) => {
    const part = shaft({ kind: 'relief', size: t.pitch });
    expect(part.problems).toEqual([]);
    const corner = part.outer.filter((e) => e.origin === 'corner').map((e) => e.curve);
    expect(2 * Math.min(...corner.flatMap((c) => [c.from.y, c.to.y]))).toBeCloseTo(16 - t.below, 6);
    expect(corner[0].from.x + 30).toBeCloseTo(t.g2, 6);
    // the flank on the thread's side falls at 30°
    const flank = tangentAt(corner[0], 0);
    expect(Math.atan2(-flank.y, -flank.x) * (180 / Math.PI)).toBeCloseTo(30, 6);
  });
  it('DIN 509 E takes the cylinder only, F the face as well, round to round without a kink', () => {
    const e = shaft({ kind: 'undercut-e', size: 0.6 });
    const f = shaft({ kind: 'undercut-f', size: 0.6 });
    expect(e.problems).toEqual([]);
    expect(f.problems).toEqual([]);
    const deepest = (p: typeof e) =>
      Math.min(...p.outer.filter((k) => k.origin === 'corner').flatMap((k) => [k.curve.from.x, k.curve.to.x]));
    expect(deepest(e)).toBeCloseTo(-30, 9);
    const floor = (p: typeof e) =>
      2 * Math.min(...p.outer.filter((k) => k.origin === 'corner').flatMap((k) => [k.curve.from.y, k.curve.to.y]));
    expect(floor(e)).toBeCloseTo(16 - 0.6, 9);
    expect(floor(f)).toBeCloseTo(16 - 0.6, 9);
    // F goes t2 = 0.2 behind the face
    const round = f.outer.find((k) => k.origin === 'corner' && k.curve.kind === 'arc')?.curve as Arc;
    expect(round.centre.x - arcRadius(round)).toBeCloseTo(-30.2, 9);
    for (const p of [e, f])
      p.outer.forEach((k, i) => {
        const next = p.outer[i + 1];
        if (
          next &&
          k.origin === 'corner' &&
          next.origin === 'corner' &&
          (k.curve.kind === 'arc' || next.curve.kind === 'arc')
        ) {
          const [a, b] = [tangentAt(k.curve, 1), tangentAt(next.curve, 0)];
          expect(a.x * b.x + a.y * b.y).toBeCloseTo(1, 6);
        }
      });
  });
  it('the same at a shoulder passed the other way, and in a bore', () => {
    const back = buildPart(
      solidPart([
        lineRow('o1', 40, 0),
        lineRow('o2', 40, -10),
        lineRow('o3', 16, -10, { corner: { kind: 'undercut-f', size: 0.6 } }),
        lineRow('o4', 16, -30),
        lineRow('o5', 0, -30),
      ]),
    );
    expect(back.problems).toEqual([]);
    expect(
      2 * Math.min(...back.outer.filter((k) => k.origin === 'corner').flatMap((k) => [k.curve.from.y, k.curve.to.y])),
    ).toBeCloseTo(15.4, 9);
    const bore = buildPart({
      outer: {
        start: { diameter: 30, z: 0 },
        rows: [lineRow('o1', 60, 0), lineRow('o2', 60, -40), lineRow('o3', 20, -40)],
      },
      inner: {
        start: { diameter: 30, z: 0 },
        rows: [
          lineRow('i1', 30, -20, { corner: { kind: 'undercut-e', size: 0.6 } }),
          lineRow('i2', 20, -20),
          lineRow('i3', 20, -40),
        ],
      },
    });
    expect(bore.problems).toEqual([]);
    expect(
      2 * Math.max(...bore.inner.filter((k) => k.origin === 'corner').flatMap((k) => [k.curve.from.y, k.curve.to.y])),
    ).toBeCloseTo(30.6, 9);
  });
  it.each(DIN471)('a DIN 471 groove on ⌀$shaft', ({ shaft: d, diameter, width }) => {
    const part = buildPart(
      solidPart([
        lineRow('o1', d, 0),
        lineRow('o2', d, -30, { cuts: [{ id: 'g1', kind: 'ring', z: -5 }] }),
        lineRow('o3', 0, -30),
      ]),
    );
    expect(part.problems).toEqual([]);
    const floor = part.outer.find((e) => e.id === 'o2/g1.2')?.curve;
    expect([floor?.from.y, floor?.from.x, floor?.to.x]).toEqual([
      expect.closeTo(diameter / 2, 9),
      expect.closeTo(-5, 9),
      expect.closeTo(-5 - width, 9),
    ]);
  });
  it('V and round-belt grooves have their angle and radius', () => {
    const part = shaft(null, [
      { id: 'g1', kind: 'v', z: -3, depth: 3, angle: 60, radius: 0 },
      { id: 'g2', kind: 'belt', z: -10, radius: 2.5, depth: 2.5 },
      { id: 'g3', kind: 'belt', z: -18, radius: 3, depth: 1 },
      { id: 'g4', kind: 'belt', z: -25, radius: 1, depth: 2 },
    ]);
    expect(part.problems).toEqual([]);
    const [a, b] = ['o2/g1.1', 'o2/g1.2'].map((id) =>
      tangentAt((part.outer.find((e) => e.id === id) as (typeof part.outer)[number]).curve, 0.5),
    );
    expect((Math.acos(-(a.x * b.x + a.y * b.y)) * 180) / Math.PI).toBeCloseTo(60, 6);
    const round = part.outer.find((e) => e.id === 'o2/g2.1')?.curve as Arc;
    expect(arcRadius(round)).toBeCloseTo(2.5, 9);
    expect(distanceToCurve(round, { x: -12.5, y: 5.5 })).toBeLessThan(1e-9);
    const shallow = part.outer.find((e) => e.id === 'o2/g3.1')?.curve as Arc;
    expect(shallow.centre.y - arcRadius(shallow)).toBeCloseTo(7, 9);
    expect(part.outer.filter((e) => e.id.startsWith('o2/g4')).map((e) => e.curve.kind)).toEqual([
      'line',
      'arc',
      'line',
    ]);
  });
  it.each<[string, Corner | null, Cut[]]>([
    ['a pitch that DIN 76 lacks', { kind: 'relief', size: 1.3 }, []],
    ['a radius that DIN 509 lacks', { kind: 'undercut-e', size: 0.5 }, []],
    ['a ring for ⌀17.3', null, [{ id: 'g', kind: 'ring', z: -5 }]],
    ['a groove beyond the row', null, [{ id: 'g', kind: 'square', z: -29, width: 4, diameter: 12 }]],
    ['a groove that goes outward', null, [{ id: 'g', kind: 'square', z: -9, width: 4, diameter: 30 }]],
    [
      'grooves that overlap',
      null,
      [
        { id: 'g', kind: 'square', z: -9, width: 4, diameter: 12 },
        { id: 'h', kind: 'square', z: -11, width: 4, diameter: 12 },
      ],
    ],
  ])('refuses %s in words', (_name, corner, cuts) => {
    const part = shaft(corner, cuts, 17.3);
    expect(part.problems.map((p) => p.code)).toContain('shape-does-not-fit');
    expect(wordPartProblem(part.problems[0]).message).toMatch(/because/);
    // the rest of the contour stays
    expect(part.volume).toBeGreaterThan(0);
  });
});
