import { readFileSync } from 'node:fs';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { demoJob } from '../../../tests/fixtures/jobs';
import { chainDifference, curvesOf, demoFile, randomPart } from '../../../tests/fixtures/parts';
import { type Curve, distance, distanceToCurve, point, pointAt } from '../geometry';
import { buildPart } from './contour';
import { importDxf, PLAIN_DRAWING, partFromDrawing, writeDxf, writeSvg } from './drawing';
import { mergeSplit } from './halfSection';

/** DXF text of raw entities given as code, value, code, value … */
const dxf = (entities: (string | number)[], head: (string | number)[] = [], blocks: (string | number)[] = []): string =>
  [
    ...(head.length > 0 ? [0, 'SECTION', 2, 'HEADER', ...head, 0, 'ENDSEC'] : []),
    ...(blocks.length > 0 ? [0, 'SECTION', 2, 'BLOCKS', ...blocks, 0, 'ENDSEC'] : []),
    0,
    'SECTION',
    2,
    'ENTITIES',
    ...entities,
    0,
    'ENDSEC',
    0,
    'EOF',
    '',
  ].join('\n');
const l = (x0: number, y0: number, x1: number, y1: number, layer = 'part'): (string | number)[] => [
  0,
  'LINE',
  8,
  layer,
  10,
  x0,
  20,
  y0,
  11,
  x1,
  21,
  y1,
];
const box = (s = 1, layer = 'part'): (string | number)[] => [
  ...l(0, 0, 0, 10 * s, layer),
  ...l(0, 10 * s, -20, 10 * s, layer),
  ...l(-20, 10 * s, -20, 0, layer),
];
const codes = (text: string, wish = PLAIN_DRAWING): string[] => importDxf(text, wish).problems.map((p) => p.code);

describe('DXF contours', () => {
  it('brings random parts back within 1 µm, kinds kept', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 1e6 }), (seed) => {
        const made = randomPart(seed);
        if (!made) return;
        const { part } = made;
        const back = importDxf(
          writeDxf([
            { name: 'OUTER', curves: curvesOf(part, 'outer') },
            { name: 'INNER', curves: curvesOf(part, 'inner') },
          ]),
        );
        expect(back.problems).toEqual([]);
        expect(chainDifference(back.outer, mergeSplit(curvesOf(part, 'outer')))).toBeLessThan(1e-3);
        expect(chainDifference(back.inner, mergeSplit(curvesOf(part, 'inner')))).toBeLessThan(1e-3);
        const again = partFromDrawing(back);
        expect(again && buildPart(again).volume / part.volume).toBeCloseTo(1, 6);
      }),
      { numRuns: 200 },
    );
  });
  it('reads the demo drawing as the demo part', () => {
    const part = partFromDrawing(importDxf(readFileSync(demoFile('drawings/LM-155.dxf'), 'utf8')));
    expect(part && buildPart(part).volume).toBeCloseTo(buildPart(demoJob('LM-155').part).volume, 2);
  });
  it.each([
    ['the mirrored half and the centreline', [...box(1), ...box(-1), ...l(5, 0, -25, 0)]],
    ['only the lower half', box(-1)],
    [
      'a full section whose faces cross the axis',
      [...l(0, -10, 0, 10), ...l(0, 10, -20, 10), ...l(-20, 10, -20, -10), ...l(-20, -10, 0, -10)],
    ],
    ['pieces drawn twice', [...box(1), ...box(1)]],
    ['dimension and hatch layers', [...box(1), ...l(0, 12, -20, 12, 'DIMENSIONS'), ...l(-3, 2, -9, 8, 'Hatch')]],
    [
      'a drawing above its own centre line',
      [...l(5, 100, -25, 100, 'CENTER'), ...l(0, 100, 0, 110), ...l(0, 110, -20, 110), ...l(-20, 110, -20, 100)],
    ],
  ])('leaves out what is no contour: %s', (_name, entities) => {
    const d = importDxf(dxf(entities));
    expect(d.problems.filter((p) => p.severity !== 'info')).toEqual([]);
    expect(d.outer.map((c) => [c.to.x, c.to.y])).toEqual([
      [0, 10],
      [-20, 10],
      [-20, 0],
    ]);
  });
  it('closes gaps up to the tolerance and tells wider ones by place', () => {
    const gap = (g: number) => dxf([...l(0, 0, 0, 10), ...l(0, 10 + g, -20, 10), ...l(-20, 10, -20, 0)]);
    expect(codes(gap(0.008))).toEqual([]);
    expect(codes(gap(0.05))).toContain('open');
    expect(codes(gap(0.05), { ...PLAIN_DRAWING, gap: 0.1 })).toEqual([]);
    expect(
      importDxf(dxf([...l(0, 0, 0, 10), ...l(0, 10, -20, 10)])).problems.find((p) => p.code === 'open')?.at,
    ).toEqual([-20, 10]);
  });
  it('opens blocks with scale, rotation and mirroring', () => {
    const block = [
      0,
      'BLOCK',
      8,
      '0',
      2,
      'HALF',
      70,
      0,
      10,
      0,
      20,
      0,
      ...l(0, 0, 0, 5, '0'),
      ...l(0, 5, -10, 5, '0'),
      ...l(-10, 5, -10, 0, '0'),
      0,
      'ENDBLK',
      8,
      '0',
    ];
    const d = importDxf(dxf([0, 'INSERT', 8, 'part', 2, 'HALF', 10, -7, 20, 0, 41, 2, 42, 2], [], block));
    expect(d.problems).toEqual([]);
    expect(d.outer.map((c) => [c.to.x, c.to.y])).toEqual([
      [-7, 10],
      [-27, 10],
      [-27, 0],
    ]);
    // a quarter turn and a mirror image make the same half again
    const turned = [
      0,
      'BLOCK',
      8,
      '0',
      2,
      'T',
      70,
      0,
      10,
      0,
      20,
      0,
      ...l(0, 0, 10, 0, '0'),
      ...l(10, 0, 10, 20, '0'),
      ...l(10, 20, 0, 20, '0'),
      0,
      'ENDBLK',
      8,
      '0',
    ];
    const t = importDxf(dxf([0, 'INSERT', 8, 'part', 2, 'T', 10, 0, 20, 0, 50, 90], [], turned));
    expect(t.outer.length).toBe(3);
    expect(codes(dxf([0, 'INSERT', 8, 'part', 2, 'MISSING', 10, 0, 20, 0]))).toContain('block');
  });
  it('keeps circles exact and fits ellipses and splines within 1 µm', () => {
    const ball = importDxf(dxf([0, 'CIRCLE', 8, 'part', 10, -10, 20, 0, 40, 10]));
    expect(ball.outer).toHaveLength(1);
    expect(ball.outer[0].kind === 'arc' && distance(ball.outer[0].centre, point(-10, 0))).toBeLessThan(1e-9);
    const egg = importDxf(dxf([0, 'ELLIPSE', 8, 'part', 10, -20, 20, 0, 11, 20, 21, 0, 40, 0.4, 41, 0, 42, Math.PI]));
    expect(egg.problems).toEqual([]);
    for (let a = 0.01; a < Math.PI; a += 0.037) {
      const p = point(-20 + 20 * Math.cos(a), 8 * Math.sin(a));
      expect(Math.min(...egg.outer.map((c: Curve) => distanceToCurve(c, p)))).toBeLessThan(1e-3);
    }
    // a quadratic rational spline is an exact quarter circle
    const w = Math.SQRT1_2;
    const quarter = importDxf(
      dxf([
        0,
        'SPLINE',
        8,
        'part',
        70,
        12,
        71,
        2,
        72,
        6,
        73,
        3,
        74,
        0,
        40,
        0,
        40,
        0,
        40,
        0,
        40,
        1,
        40,
        1,
        40,
        1,
        41,
        1,
        41,
        w,
        41,
        1,
        10,
        0,
        20,
        0,
        30,
        0,
        10,
        0,
        20,
        10,
        30,
        0,
        10,
        -10,
        20,
        10,
        30,
        0,
        ...l(-10, 10, -10, 0),
      ]),
    );
    expect(quarter.outer[0].kind === 'arc' && distance(quarter.outer[0].centre, point(-10, 0))).toBeLessThan(1e-6);
  });
  it('takes the unit from the head, or as told', () => {
    expect(importDxf(dxf(box(1), [9, '$INSUNITS', 70, 1])).outer[1].to.x).toBeCloseTo(-508, 9);
    expect(importDxf(dxf(box(1), [9, '$INSUNITS', 70, 1]), { ...PLAIN_DRAWING, unit: 'mm' }).outer[1].to.x).toBeCloseTo(
      -20,
      9,
    );
  });
  it('tells outer, bore and a blind bore from the back apart', () => {
    const through = importDxf(
      dxf([...l(0, 4, 0, 10), ...l(0, 10, -20, 10), ...l(-20, 10, -20, 4), ...l(-20, 4, 0, 4)]),
    );
    expect([through.outer.length, through.inner.length, through.back.length]).toEqual([3, 1, 0]);
    const blind = importDxf(
      dxf([...l(0, 0, 0, 10), ...l(0, 10, -20, 10), ...l(-20, 10, -20, 4), ...l(-20, 4, -8, 4), ...l(-8, 4, -6, 0)]),
    );
    expect([blind.outer.length, blind.inner.length, blind.back.length]).toEqual([3, 0, 2]);
  });
  it.each([
    ['', 'torn'],
    ['0\nSECTION\n2\nENTITIES\n0\nLINE\n10\n1.0', 'torn'],
    ['0\nSECTION\n2\nENTITIES\n0\nENDSEC\n0\nEOF', 'empty'],
    ['this is no drawing', 'torn'],
    [dxf([...l(0, 0, 0, 10), ...l(2, 5, -20, 5), ...l(-20, 5, -20, 0)]), 'crossing'],
    [dxf([...box(1), 0, 'SPLINE', 8, 'part', 71, 3, 10, 5, 20, 5]), 'bad-entity'],
    [dxf([...box(1), 0, 'ARC', 8, 'part', 10, 5, 20, 5, 40, -3, 50, 0, 51, 90]), 'bad-entity'],
    [dxf([...box(1), ...l(0, 10, -5, 14)]), 'branch'],
  ])('tells what is wrong: %#', (text, code) => {
    const d = importDxf(text);
    expect(d.problems.map((p) => p.code)).toContain(code);
    for (const p of d.problems) expect(p.message.length).toBeGreaterThan(20);
  });
  it('names the entity of a spline with one point', () => {
    const p = importDxf(dxf([...box(1), 0, 'SPLINE', 8, 'part', 71, 3, 10, 5, 20, 5])).problems.find(
      (k) => k.code === 'bad-entity',
    );
    expect(p?.entity).toBe(4);
    expect(p?.message).toContain('1 point');
  });
});

describe('SVG', () => {
  it('draws arcs as arcs, both halves', () => {
    const part = buildPart(demoJob('LM-155').part);
    const svg = writeSvg([{ name: 'outer', curves: curvesOf(part, 'outer') }]);
    expect(svg.match(/A[\d.]+ /g)?.length).toBe(2 * part.outer.filter((e) => e.curve.kind === 'arc').length);
    expect(svg).toContain('viewBox');
    expect(pointAt(part.outer[0].curve, 0)).toEqual(part.outer[0].curve.from);
  });
});
