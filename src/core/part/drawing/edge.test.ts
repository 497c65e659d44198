import { describe, expect, it } from 'vitest';
import { profileText, readProfile } from '../../tooling';
import { edgeFromDxf } from './edge';

type Tag = readonly [number, string | number];
const dxf = (entities: readonly (readonly Tag[])[], units: number | null = null): string =>
  [
    ...(units === null
      ? []
      : ([
          [0, 'SECTION'],
          [2, 'HEADER'],
          [9, '$INSUNITS'],
          [70, units],
          [0, 'ENDSEC'],
        ] as const)),
    [0, 'SECTION'] as const,
    [2, 'ENTITIES'] as const,
    ...entities.flat(),
    [0, 'ENDSEC'] as const,
    [0, 'EOF'] as const,
  ]
    .map(([c, v]) => `${c}\n${v}`)
    .join('\n');
const line = (x0: number, y0: number, x1: number, y1: number): Tag[] => [
  [0, 'LINE'],
  [8, '0'],
  [10, x0],
  [20, y0],
  [11, x1],
  [21, y1],
];
const arc = (x: number, y: number, r: number, from: number, to: number): Tag[] => [
  [0, 'ARC'],
  [8, '0'],
  [10, x],
  [20, y],
  [40, r],
  [50, from],
  [51, to],
];
const placesOf = (text: string) => {
  const made = edgeFromDxf(text);
  if (!made.ok) throw new Error(made.why);
  return made.points;
};
const whyNot = (text: string): string => {
  const made = edgeFromDxf(text);
  return made.ok ? '' : made.why;
};

describe('the edge of a form tool from a drawing', () => {
  it('is one line in any order and direction, from its left end and its lowest place', () => {
    const made = placesOf(dxf([line(14, 5, 12, 5), line(10, 8, 10, 5.5), line(12, 5, 10, 5.5)]));
    expect(made.map((p) => [p.x, p.y])).toEqual([
      [0, 3],
      [0, 0.5],
      [2, 0],
      [4, 0],
    ]);
    expect(readProfile(profileText(made))).toEqual({ ok: true, points: made });
  });
  it('has rounds within 2 µm', () => {
    // half a circle of 3 hanging down
    const made = placesOf(dxf([arc(7, 4, 3, 180, 360)]));
    for (const p of made) expect(Math.hypot(p.x - 3, p.y - 3)).toBeCloseTo(3, 3);
    for (let i = 1; i < made.length; i++) {
      const m = { x: (made[i].x + made[i - 1].x) / 2, y: (made[i].y + made[i - 1].y) / 2 };
      expect(3 - Math.hypot(m.x - 3, m.y - 3)).toBeLessThan(2.2e-3);
    }
  });
  it('is taken in the units of the drawing', () => {
    expect(placesOf(dxf([line(0, 0, 0.1, 0.05)], 1)).at(-1)).toEqual({ x: 2.54, y: 1.27 });
    expect(placesOf(dxf([line(0, 0, 3, 1)], 4)).at(-1)).toEqual({ x: 3, y: 1 });
  });
  it.each([
    ['gaps', dxf([line(0, 0, 3, 0), line(3.5, 0, 6, 1)]), 'not one open line'],
    ['a closed outline', dxf([line(0, 0, 3, 0), line(3, 0, 1, 2), line(1, 2, 0, 0)]), 'not one open line'],
    [
      'an edge that runs back',
      dxf([line(0, 3, 0, 0), line(0, 0, 4, 0), line(4, 0, 3, 2), line(3, 2, 6, 3)]),
      'back under itself',
    ],
    ['nothing', dxf([]), 'no lines or arcs'],
    ['a torn file', dxf([line(0, 0, 3, 0)]).slice(0, 40), ''],
  ])('says what is wrong with %s', (_name, text, words) => {
    expect(edgeFromDxf(text).ok).toBe(false);
    expect(whyNot(text)).toContain(words);
  });
});
