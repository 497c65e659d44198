import { describe, expect, it } from 'vitest';
import { lineRow, shopTool } from '../../../../tests/fixtures/jobs';
import { sound } from '../../../../tests/fixtures/sound';
import { operation, tool, turnedJob } from '../../../../tests/fixtures/turned';
import { wordFinding } from '../../findings';
import { RegionIndex } from '../../geometry';
import { movesOf } from '../../motion';
import { postJob, programText } from '../../nc';
import { coverageOf, type Derived, derive, type Job, rawStockOf } from '../../plan';

/** Which way a finishing goes: along either axis, outside and in a bore, by a tool for this way, for the other, or for both. */

const operationOf = (d: Derived, id = 'own') => {
  const found = d.operations.find((o) => o.id === id);
  if (!found) throw new Error(`no ${id}`);
  return found;
};
/** What is left on each element behind an operation, mm. */
const leftAfter = (d: Derived, side: 'outer' | 'inner'): Record<string, number> => {
  const cover = coverageOf(d.part, operationOf(d).after.turnedOutline, rawStockOf(d).turnedOutline, [side]);
  return Object.fromEntries(cover.map((c) => [c.element, c.left]));
};
/** Sum of all ways of the cuts along an axis, with their signs, and without. */
const ways = (d: Derived, axis: 'X' | 'Z'): { net: number; all: number } => {
  const steps = movesOf(operationOf(d).events).flatMap((m) =>
    m.event.purpose === 'cut' && m.event.kind === 'feed' ? [m.to[axis] - m.from[axis]] : [],
  );
  return { net: steps.reduce((s, v) => s + v, 0), all: steps.reduce((s, v) => s + Math.abs(v), 0) };
};
const codes = (d: Derived): string[] => d.findings.flatMap((f) => (f.operation === 'own' ? [f.code] : []));

/** A spindle of gentle slopes, roughed with its hollows bridged. */
const spindle = (params: object, by = 'neutral', span: object | null = null): Job =>
  turnedJob({
    outer: [
      lineRow('a', 20, 0),
      lineRow('b', 20, -10),
      lineRow('c', 26, -16),
      lineRow('d', 26, -24),
      lineRow('e', 22, -28),
      lineRow('f', 22, -36),
      lineRow('g', 30, -42),
      lineRow('h', 30, -50),
      lineRow('i', 0, -50),
    ],
    bar: 32,
    length: 50,
    frontAllowance: 0.5,
    tools: [
      tool({ id: 'neutral', kind: 'turning', insert: 'VCMT160404', approachAngle: 72.5, overhang: 60 }),
      shopTool('face-rough-80-04'),
    ],
    operations: [
      operation({ id: 'face', kind: 'face', tool: 'face-rough-80-04', params: { depth: 1 } }),
      operation({
        id: 'rough',
        kind: 'outer-rough',
        tool: 'face-rough-80-04',
        params: { depth: 2, undercuts: 'enter', extendBehind: 2 },
      }),
      operation({ id: 'own', kind: 'outer-finish', tool: by, span, params: { extendBehind: 2, ...params } }),
    ],
  });

describe('the direction of finishing outside', () => {
  it('is the whole contour one way or the other, and leaves the same work', () => {
    const toward = sound(spindle({ direction: 'toward' }));
    const away = sound(spindle({ direction: 'away' }));
    for (const d of [toward, away])
      for (const [id, left] of Object.entries(leftAfter(d, 'outer')))
        if (id !== 'i') expect(left, id).toBeLessThan(0.002);
    // 50 mm of part, 2 mm behind it and what the nose goes on in front
    for (const [d, sign] of [
      [toward, -1],
      [away, 1],
    ] as const) {
      const { net, all } = ways(d, 'Z');
      expect(net * sign).toBeCloseTo(all, 6);
      expect(all).toBeGreaterThan(51);
    }
  });

  it('turns the side of compensation round: G42 toward the chuck, G41 away from it', () => {
    for (const [direction, word] of [
      ['toward', 'G42'],
      ['away', 'G41'],
    ]) {
      const job = spindle({ direction, compensation: 'control' }, 'neutral', { from: 'c', to: 'g' });
      const text = postJob(job, sound(job), '').map(programText).join('\n');
      expect(text.match(/G4[12]/g)).toEqual([word]);
    }
  });

  it('is told where the other edge of the tool cuts, with its angle', () => {
    const d = sound(spindle({ direction: 'away' }, 'face-rough-80-04'));
    const told = d.findings.find((f) => f.code === 'edge-trails');
    // 180° − 95° − 80°
    expect(told?.numbers).toEqual({ angle: 5 });
    expect(told && wordFinding(told).message).toContain('5° to the feed');
    expect(codes(sound(spindle({ direction: 'toward' }, 'face-rough-80-04')))).not.toContain('edge-trails');
  });

  it.each([
    ['toward', -1],
    ['away', 1],
  ] as const)('along X goes %s the axis', (direction, sign) => {
    const job = turnedJob({
      outer: [
        lineRow('a', 20, 0),
        lineRow('b', 20, -10),
        lineRow('c', 56, -10),
        lineRow('d', 60, -12),
        lineRow('e', 60, -30),
        lineRow('f', 0, -30),
      ],
      bar: 62,
      length: 30,
      frontAllowance: 0.5,
      tools: ['face-rough-80-04', 'undercut-35'].map(shopTool),
      operations: [
        operation({ id: 'face', kind: 'face', tool: 'face-rough-80-04', params: { depth: 1 } }),
        operation({ id: 'rough', kind: 'outer-rough', tool: 'face-rough-80-04', params: { depth: 2 } }),
        operation({
          id: 'own',
          kind: 'outer-finish',
          tool: 'undercut-35',
          span: { from: 'c', to: 'd' },
          params: { along: 'x', direction },
        }),
      ],
    });
    const d = sound(job);
    const { net, all } = ways(d, 'X');
    expect(net * sign).toBeCloseTo(all, 6);
    // the shoulder is 18 wide in radius
    expect(all).toBeGreaterThan(17);
    const left = leftAfter(d, 'outer');
    expect(left.c).toBeLessThan(0.002);
    expect(left.d).toBeLessThan(0.002);
    // going in, the tool stands on its span; going out, it comes down along the shaft in feed and takes that skin with it
    expect(left.b).toBeCloseTo(direction === 'toward' ? 0.2 : 0, 2);
  });
});

/** A bore of ⌀24 that widens to ⌀30 behind a shoulder which looks toward the chuck. */
const widened = (own: object, by = 'bore-back-12', allowance = 0): Job =>
  turnedJob({
    start: 24,
    outer: [lineRow('a', 50, 0), lineRow('b', 50, -40), lineRow('c', 20, -40)],
    inner: [
      lineRow('m', 24, -10),
      lineRow('n', 30, -10),
      lineRow('o', 30, -22),
      lineRow('p', 20, -22),
      lineRow('q', 20, -40),
    ],
    bar: 52,
    length: 40,
    tools: [
      tool({ id: 'drill', kind: 'drill', diameter: 19.5, pointAngle: 140, fluteLength: 90, overhang: 100 }),
      shopTool('bore-12-55'),
      shopTool('bore-back-12'),
    ],
    operations: [
      operation({ id: 'drill', kind: 'drill', tool: 'drill', params: { depth: null, breakThrough: 8, peck: 5 } }),
      operation({
        id: 'rough',
        kind: 'inner-rough',
        tool: 'bore-12-55',
        params: { depth: 1, allowanceX: 2 * allowance, allowanceZ: allowance, undercuts: 'enter' },
      }),
      operation({ id: 'own', tool: by, ...own } as Record<string, unknown>),
    ],
  });

describe('a bar that cuts out of the bore', () => {
  it('makes the shoulder that looks toward the chuck, which the other bar cannot', () => {
    const rough = { kind: 'inner-rough', params: { depth: 0.8, allowanceX: 0, allowanceZ: 0, undercuts: 'enter' } };
    const d = sound(widened(rough));
    const shoulder = (when: 'before' | 'after') => {
      const metal = new RegionIndex(operationOf(d)[when].turnedOutline);
      return [-10.01, -9.99].map((x) => metal.contains({ x, y: 13.5 }));
    };
    expect(shoulder('before')).toEqual([true, true]);
    expect(shoulder('after')).toEqual([false, true]);
    const { net, all } = ways(d, 'Z');
    expect(net).toBeCloseTo(all, 6);
    expect(codes(d)).not.toContain('edge-trails');
  });

  it('is compensated on the right of its travel', () => {
    const job = widened({ kind: 'inner-finish', params: { compensation: 'control' } });
    const text = postJob(job, sound(job), '').map(programText).join('\n');
    expect(text.match(/G4[12]/g)?.every((w) => w === 'G42')).toBe(true);
    expect(text).toContain('G42');
  });

  it('has its nose on its far end, its edge square to the axis less 3°, its programmed point in front', () => {
    const d = derive(widened({ kind: 'inner-finish', params: {} }));
    const { section } = operationOf(d);
    expect(section?.tipNumber).toBe(1);
    expect(section?.tip).toEqual({ x: 0.4, y: 0.4 });
  });

  it('does not go across a bore, and a bar across it goes outward only', () => {
    const across = derive(widened({ kind: 'inner-finish', params: { along: 'x' } }));
    expect(codes(across)).toContain('bar-cuts-outward');
    const fixed = derive(
      widened({ kind: 'inner-finish', params: { along: 'x', direction: 'toward' } }, 'bore-12-55', 0.1),
    );
    expect(codes(fixed)).toContain('direction-fixed');
  });

  it('an ordinary bar may go out of the bore too, with the angle of its other edge told', () => {
    const job = widened({ kind: 'inner-finish', params: { direction: 'away' } }, 'bore-12-55');
    const told = derive(job).findings.find((f) => f.code === 'edge-trails');
    // 180° − 93° − 55°
    expect(told?.numbers).toEqual({ angle: 32 });
  });

  it('is refused as a cycle with its reason, and makes moves instead', () => {
    const d = sound(widened({ kind: 'inner-finish', params: { output: 'cycle' } }));
    expect(codes(d)).toContain('cycle-not-possible');
  });
});
