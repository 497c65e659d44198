import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { demoJob, lineRow, shopTool } from '../../../../tests/fixtures/jobs';
import { operation, turnedJob } from '../../../../tests/fixtures/turned';
import { derive } from '../derive';
import type { Job } from '../document';
import { bestOrder } from './best';
import { type Block, fewestChanges } from './search';

const changesOf = (tools: readonly (string | null)[], entry: string | null): number =>
  tools.filter((t) => t !== null).filter((t, i, all) => t !== (i === 0 ? entry : all[i - 1])).length;

/** Every order of so many things. */
const orders = (n: number): number[][] =>
  n === 0
    ? [[]]
    : orders(n - 1).flatMap((o) => Array.from({ length: n }, (_, i) => [...o.slice(0, i), n - 1, ...o.slice(i)]));

describe('the order of fewest tool changes', () => {
  it('is as good as the best of all orders that are allowed', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 2, max: 6 }),
        fc.array(fc.constantFrom('a', 'b', 'c', null), { minLength: 6, maxLength: 6 }),
        fc.array(fc.boolean(), { minLength: 36, maxLength: 36 }),
        fc.constantFrom('a', null),
        (n, names, pairs, entry) => {
          const tools = names.slice(0, n);
          const blocks = tools.map((t): Block => ({ first: t, last: t }));
          // only what stands before something now can be forced to
          const after = tools.map(
            (_, i) => new Set(tools.flatMap((_t, k) => (k < i && pairs[i * 6 + k] && (i + k) % 2 ? [k] : []))),
          );
          const allowed = orders(n).filter((o) =>
            o.every((k, i) => [...after[k]].every((b) => o.indexOf(b) < i && o.indexOf(b) >= 0)),
          );
          const found = fewestChanges({ blocks, after, entry, change: () => 1 });
          expect([...found].sort()).toEqual(tools.map((_, i) => i));
          expect(allowed.map(String)).toContain(String(found));
          const cost = (o: readonly number[]): number =>
            changesOf(
              o.map((k) => tools[k]),
              entry,
            );
          expect(cost(found)).toBe(Math.min(...allowed.map(cost)));
        },
      ),
    );
  });

  it('keeps what nothing is gained by moving', () => {
    const blocks = ['a', 'b', 'a', 'c'].map((t): Block => ({ first: t, last: t }));
    const free = blocks.map(() => new Set<number>());
    expect(fewestChanges({ blocks, after: free, entry: null, change: () => 1 })).toEqual([0, 2, 1, 3]);
    const held = free.map((s, i) => (i === 2 ? new Set([1]) : i === 1 ? new Set([0]) : s));
    expect(fewestChanges({ blocks, after: held, entry: null, change: () => 1 })).toEqual([0, 1, 2, 3]);
  });

  it('takes the shorter way of the carrier where the number of changes is the same', () => {
    const blocks = ['1', '9', '2'].map((t): Block => ({ first: t, last: t }));
    const free = blocks.map(() => new Set<number>());
    const change = (from: string | null, to: string): number =>
      from === null ? 0 : Math.abs(Number(from) - Number(to));
    expect(fewestChanges({ blocks, after: free, entry: '8', change })).toEqual([1, 2, 0]);
  });

  it('comes to an end with very many', () => {
    const blocks = Array.from({ length: 120 }, (_, i): Block => ({ first: `t${i % 8}`, last: `t${i % 8}` }));
    const found = fewestChanges({ blocks, after: blocks.map(() => new Set()), entry: null, change: () => 1 });
    expect(
      changesOf(
        found.map((k) => blocks[k].first),
        null,
      ),
    ).toBe(8);
  });
});

const surface = { speed: { mode: 'surface', value: 150 }, feed: 0.12 };

/** A stepped pin: faced, roughed and finished in two places with the same two tools, in turn. */
const pin = (ids: readonly string[], extra: Parameters<typeof operation>[0][] = []): Job => {
  const rough = { kind: 'outer-rough', tool: 'face-rough-80', cutting: surface, params: { depth: 1.5 } };
  const fine = { kind: 'outer-finish', tool: 'finish-35', cutting: surface, params: {} };
  const all = [
    { id: 'face', kind: 'face', tool: 'face-rough-80', cutting: surface, params: { depth: 1 } },
    { id: 'rough', ...rough },
    { id: 'fine-1', ...fine, span: { from: 'a', to: 'a' } },
    {
      id: 'groove',
      kind: 'outer-groove',
      tool: 'groove-3',
      span: { from: 'g1', to: 'g3' },
      cutting: surface,
      params: {},
    },
    { id: 'fine-2', ...fine, span: { from: 'b', to: 'c' } },
    {
      id: 'drill',
      kind: 'drill',
      tool: 'drill-8',
      cutting: { speed: { mode: 'fixed', value: 1200 }, feed: 0.1 },
      params: { depth: 12 },
    },
    ...extra,
  ];
  return turnedJob({
    outer: [
      lineRow('a', 20, -12),
      lineRow('w', 28, -12),
      lineRow('b', 28, -20),
      lineRow('g1', 22, -20),
      lineRow('g2', 22, -24),
      lineRow('g3', 28, -24),
      lineRow('c', 28, -40),
      lineRow('z', 0, -40),
    ],
    bar: 30,
    length: 40,
    tools: ['face-rough-80', 'finish-35', 'groove-3', 'drill-8'].map(shopTool),
    operations: ids.map((id) => operation(all.find((o) => o.id === id) as never)),
  });
};

describe('the best order of a job', () => {
  it('brings the uses of a tool together, with the time that it saves', () => {
    const job = pin(['face', 'rough', 'fine-1', 'groove', 'fine-2', 'drill']);
    const found = bestOrder(job);
    expect(found.before.changes).toBe(5);
    expect(found.after.changes).toBe(4);
    const order = Object.values(found.order)[0];
    expect([...order].sort()).toEqual(['drill', 'face', 'fine-1', 'fine-2', 'groove', 'rough']);
    expect(Math.abs(order.indexOf('fine-1') - order.indexOf('fine-2'))).toBe(1);
    expect(order.indexOf('rough')).toBeLessThan(order.indexOf('fine-1'));
    expect(found.after.time).toBeLessThan(found.before.time as number);
    // it says of the new order what the plan of the new order says
    const now = derive({ ...job, order: found.order });
    expect(
      now.findings
        .filter((f) => f.severity !== 'info')
        .map((f) => f.code)
        .sort(),
    ).toEqual(
      derive(job)
        .findings.filter((f) => f.severity !== 'info')
        .map((f) => f.code)
        .sort(),
    );
  });

  it('finds nothing better in what it has found', () => {
    const job = pin(['face', 'rough', 'fine-1', 'groove', 'fine-2', 'drill']);
    const found = bestOrder(job);
    const again = bestOrder({ ...job, order: found.order });
    expect(again.moved).toEqual([]);
    expect(again.order).toEqual(found.order);
    expect(again.after).toEqual(again.before);
  });

  it('crosses no stop', () => {
    const stop = operation({ id: 'look', kind: 'stop', params: {} } as never);
    const job = pin(['face', 'rough', 'fine-1', 'groove', 'fine-2', 'drill']);
    job.operations.look = stop;
    const [channel] = Object.keys(job.order);
    job.order[channel] = ['face', 'rough', 'fine-1', 'groove', 'look', 'fine-2', 'drill'];
    const found = bestOrder(job);
    const order = found.order[channel];
    const at = order.indexOf('look');
    expect([...order.slice(0, at)].sort()).toEqual(['face', 'fine-1', 'groove', 'rough']);
  });

  it('learns from planning what the trade’s rules do not say, and names it', () => {
    // a groove that is cut while the stock is still there meets metal with its blade
    const job = pin(['face', 'rough', 'groove', 'fine-1', 'fine-2', 'drill']);
    const found = bestOrder(job);
    for (const r of found.refused) expect(r.why.length).toBeGreaterThan(10);
    if (found.moved.length > 0) {
      const codes = (j: Job): string[] =>
        derive(j)
          .findings.filter((f) => f.severity === 'blocking')
          .map((f) => f.code);
      expect(codes({ ...job, order: found.order })).toEqual(codes(job));
    }
  });

  it.each(['LM-101', 'LM-118', 'LM-140', 'LM-155', 'LM-212'])('leaves %s whole', (name) => {
    const job = demoJob(name);
    const found = bestOrder(job);
    if (found.moved.length === 0) return;
    const next = { ...job, order: found.order };
    for (const c of Object.keys(job.order)) expect([...found.order[c]].sort()).toEqual([...job.order[c]].sort());
    const [was, now] = [derive(job), derive(next)];
    expect(now.leftoverVolume).toBeCloseTo(was.leftoverVolume, 0);
    expect(now.gouge).toEqual([]);
    expect(found.after.changes).toBeLessThanOrEqual(found.before.changes);
    expect(found.after.time).toBeLessThan(found.before.time as number);
  });
});
