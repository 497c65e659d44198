import { describe, expect, it } from 'vitest';
import { DEMO_JOBS, demoJob } from '../../../tests/fixtures/jobs';
import { type CuttingOperation, isCutting, kindOf, type Sketch } from '.';

const jobs = DEMO_JOBS.map((n) => demoJob(n));
/** One operation of each kind that the demo jobs have, with its tool. */
const found = new Map(
  jobs.flatMap((j) =>
    Object.values(j.operations).flatMap((o) =>
      isCutting(o) && o.tool ? [[o.kind, { op: o, tool: j.tools[o.tool] }] as const] : [],
    ),
  ),
);
const cases = [...found.values()].flatMap(({ op, tool }) =>
  kindOf(op).fields.map((f) => ({ name: `${op.kind} ${f.key}`, op, tool, key: f.key })),
);
const drawn = (op: CuttingOperation, key: string, tool: (typeof cases)[number]['tool']): Sketch | null =>
  kindOf(op).sketch?.(op as never, key, tool) ?? null;
const numbers = (s: Sketch): number[] => [
  ...s.strokes.flatMap((k) => k.points.flatMap((p) => [p.x, p.y])),
  ...s.measures.flatMap((m) => [m.from.x, m.from.y, m.to.x, m.to.y, m.value]),
  ...s.words.flatMap((w) => [w.at.x, w.at.y]),
];
const withParams = (kind: string, params: Record<string, unknown>): CuttingOperation => {
  const op = structuredClone(found.get(kind as CuttingOperation['kind'])?.op);
  if (!op) throw new Error(kind);
  Object.assign(op.params, params);
  return op;
};
const sizeOf = (m: Sketch['measures'][number]): number => Math.hypot(m.to.x - m.from.x, m.to.y - m.from.y);

describe('drawings that explain a number', () => {
  it('are there for the kinds of the demo jobs, and for most of their fields', () => {
    expect(found.size).toBeGreaterThan(9);
    const shown = cases.filter((c) => drawn(c.op, c.key, c.tool));
    expect(shown.length / cases.length).toBeGreaterThan(0.75);
  });
  it.each(cases)('$name has finite places, and something of the work in it', ({ op, key, tool }) => {
    const s = drawn(op, key, tool);
    if (!s) return;
    expect(s.strokes.length).toBeGreaterThan(0);
    expect(numbers(s).every(Number.isFinite)).toBe(true);
  });
  it.each([
    ['outer-rough', 'params.allowanceX', { allowanceX: 0.6 }, 0.6, 2],
    ['outer-rough', 'params.allowanceZ', { allowanceZ: 0.25 }, 0.25, 1],
    ['outer-rough', 'params.extendBehind', { extendBehind: 3.5 }, 3.5, 1],
    ['outer-finish', 'params.passDepth', { passes: 3, passDepth: 0.35 }, 0.35, 1],
    ['outer-finish', 'params.leadLength', { lead: 'tangent', leadLength: 1.7 }, 1.7, 1],
    ['outer-groove', 'params.depth', { method: 'turn', depth: 0.8 }, 0.8, 1],
    ['outer-groove', 'params.allowance', { allowance: 0.3 }, 0.3, 1],
    ['outer-groove', 'params.peck', { peck: 1.1 }, 1.1, 1],
    ['outer-thread', 'params.runIn', { runIn: 4.4 }, 4.4, 1],
    ['drill', 'params.peck', { peck: 6 }, 6, 1],
    ['cutoff', 'params.slowFrom', { slowFrom: 9 }, 9, 2],
    ['cutoff', 'params.leave', { leave: 0.4 }, 0.4, 1],
    ['face', 'params.finishDepth', { finishDepth: 0.45 }, 0.45, 1],
  ])('%s %s is drawn as long as it is', (kind, key, params, value, over) => {
    const tool = found.get(kind as CuttingOperation['kind'])?.tool ?? jobs[0].tools[''];
    const s = drawn(withParams(kind, params), key, tool);
    expect(s?.measures).toHaveLength(1);
    // a lead is turned by half a right angle in three digits
    expect(sizeOf(s?.measures[0] as Sketch['measures'][number])).toBeCloseTo(value / over, 3);
    expect(s?.measures[0].value).toBeCloseTo(value, 9);
  });
  it('of a thread has as many passes as the thread gets', () => {
    const op = withParams('outer-thread', { passes: 7, least: 0.01, finish: 0, first: null });
    const s = drawn(op, 'params.passes', found.get('outer-thread')?.tool as never);
    expect(s?.strokes.filter((k) => k.as === 'path')).toHaveLength(7);
  });
});
