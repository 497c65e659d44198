import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { demoFile } from '../../../tests/fixtures/parts';
import { seeded } from '../../../tests/fixtures/random';
import { buildPart } from './contour';
import { importDxf, partFromDrawing } from './drawing';
import { importMesh } from './mesh';
import { revolveMesh, writeStl } from './stl';

const text = readFileSync(demoFile('drawings/LM-155.dxf'), 'utf8');
const CASES = Number(process.env.DEEP ? 3000 : 500);

const section = (...entities: (string | number)[]): string =>
  ['0', 'SECTION', '2', 'ENTITIES', ...entities.map(String), '0', 'ENDSEC', '0', 'EOF', ''].join('\n');

/** A drawing with one wound: cut off, a line lost, doubled or changed to something absurd. */
const wounded = (source: string, random: () => number): string => {
  const lines = source.split('\n');
  const i = Math.floor(random() * lines.length);
  const numbers = ['1e15', '-1e308', 'NaN', '', '99999999999', '0', '-1', '1e-300', 'abc', '1e6', '10000000'];
  switch (Math.floor(random() * 5)) {
    case 0:
      return lines.slice(0, i).join('\n');
    case 1:
      return [...lines.slice(0, i), ...lines.slice(i + 1)].join('\n');
    case 2:
      return [...lines.slice(0, i), lines[i], ...lines.slice(i)].join('\n');
    default:
      return [...lines.slice(0, i), numbers[Math.floor(random() * numbers.length)], ...lines.slice(i + 1)].join('\n');
  }
};

describe('torn and absurd drawings', () => {
  it('never hang, throw or give a contour that is no number', { timeout: 120_000 }, () => {
    const random = seeded(77);
    const shapes = section(
      ...[
        0,
        'LWPOLYLINE',
        8,
        'p',
        90,
        4,
        70,
        0,
        10,
        0,
        20,
        0,
        42,
        0,
        10,
        0,
        20,
        10,
        42,
        0.4,
        10,
        -20,
        20,
        10,
        10,
        -20,
        20,
        0,
      ],
      ...[0, 'ELLIPSE', 8, 'e', 10, -5, 20, 12, 11, 3, 21, 0, 40, 0.5, 41, 0, 42, Math.PI],
      ...[
        0,
        'POLYLINE',
        8,
        'q',
        66,
        1,
        70,
        0,
        0,
        'VERTEX',
        10,
        0,
        20,
        3,
        42,
        0.2,
        0,
        'VERTEX',
        10,
        -4,
        20,
        3,
        0,
        'SEQEND',
      ],
      ...[
        0,
        'SPLINE',
        8,
        's',
        71,
        3,
        40,
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
        40,
        1,
        10,
        0,
        20,
        5,
        10,
        -2,
        20,
        7,
        10,
        -4,
        20,
        4,
        10,
        -6,
        20,
        5,
      ],
      ...[0, 'ARC', 8, 'a', 10, -3, 20, 8, 40, 2, 50, 0, 51, 90],
    );
    for (let k = 0; k < CASES; k++) {
      const torn = wounded(k % 2 ? text : shapes, random);
      const d = importDxf(torn);
      for (const c of [...d.outer, ...d.inner])
        for (const v of [c.from.x, c.from.y, c.to.x, c.to.y]) expect(Number.isFinite(v), `case ${k}`).toBe(true);
      for (const p of d.problems) expect(p.message).toMatch(/\.$/);
      const part = partFromDrawing(d);
      if (part) buildPart(part);
    }
  });
  it('tell what is wrong, by entity', () => {
    const wrong = (...e: (string | number)[]): string =>
      importDxf(section(...e))
        .problems.map((p) => p.message)
        .join(' ');
    expect(wrong(0, 'ELLIPSE', 10, 0, 20, 5, 11, 3, 21, 0, 40, 0.5, 41, 0, 42, 1e15)).toContain(
      'its end angle is 1.0e+15',
    );
    expect(wrong(0, 'ELLIPSE', 10, 0, 20, 5, 11, 1e6, 21, 0, 40, 0.5)).toContain('its axis is 1.0e+6');
    expect(wrong(0, 'LWPOLYLINE', 90, 2, 70, 0, 10, 0, 20, 0, 42, 1e200, 10, 5, 20, 5)).toContain('a bulge is');
    expect(wrong(0, 'POLYLINE', 66, 1, 0, 'VERTEX', 10, 0, 20, 0, 0, 'LINE', 10, 0, 20, 0, 11, 5, 21, 5)).toContain(
      'SEQEND',
    );
  });
  it('reads polylines with identifiers and unknown groups among their points', () => {
    const d = importDxf(
      section(
        ...[0, 'LWPOLYLINE', 8, 'part', 90, 4, 70, 0, 43, 0],
        ...[10, 0, 91, 7, 20, 0, 10, 0, 91, 8, 20, 10, 10, -20, 91, 9, 20, 10, 10, -20, 999, 'note', 20, 0],
      ),
    );
    expect(d.outer.map((c) => [c.to.x, c.to.y])).toEqual([
      [0, 10],
      [-20, 10],
      [-20, 0],
    ]);
  });
});

describe('torn and absurd meshes', () => {
  it('never hang or throw, and name the triangle', { timeout: 120_000 }, () => {
    const d = importDxf(text);
    const document = partFromDrawing(d);
    if (!document) throw new Error('no part');
    const bytes = new Uint8Array(writeStl(revolveMesh(buildPart(document).boundary, 0.2)));
    const random = seeded(5);
    for (let k = 0; k < Math.min(CASES, 300); k++) {
      const copy = bytes.slice(0, random() < 0.3 ? Math.floor(random() * bytes.length) : bytes.length);
      const view = new DataView(copy.buffer);
      const at = 84 + Math.floor(random() * Math.max(1, (copy.length - 90) / 50)) * 50 + 12;
      if (at + 4 <= copy.length) view.setFloat32(at, [1e13, -1e30, Number.NaN, 1e6, 0][k % 5], true);
      const m = importMesh(copy);
      for (const p of m.problems) expect(p.message).toMatch(/\.$/);
    }
    const far = bytes.slice();
    new DataView(far.buffer).setFloat32(84 + 12, 1e13, true);
    expect(
      importMesh(far)
        .problems.map((p) => p.message)
        .join(' '),
    ).toContain('triangle 1');
  });
});
