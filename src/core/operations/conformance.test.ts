import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { holdingOf } from '../../../tests/fixtures/holding';
import { demoJob, withOperations } from '../../../tests/fixtures/jobs';
import { isMove, type MotionEvent, movesOf } from '../motion';
import { postJob, programText, proveJob } from '../nc';
import { DeriveCache, derive, type Job, newOperation, validateOperation } from '../plan';
import { inStations, type Tool, ToolSchema, toolKind } from '../tooling';
import { CUTTING_KINDS, type CuttingKind, isCutting, kindOf, OperationSchema } from './registry';

/** What every kind of operation has to keep to, whatever it does. A new kind is tested by standing in the registry. */

const LIBRARY: Tool[] = (JSON.parse(readFileSync('demo/tools/tools.json', 'utf8')) as unknown[]).map((t) =>
  ToolSchema.parse(t),
);

/** LM-118 with everything before a kind's usual place done, so that it finds something to cut. */
const jobWith = (kind: CuttingKind, tool: Tool): Job => {
  const base = demoJob('LM-118');
  const job: Job = {
    ...base,
    tools: { ...base.tools, [tool.id]: tool },
    mounts: {
      upper: { ...base.mounts.upper, ...(tool.id in base.tools ? {} : inStations({ '11': tool.id })) },
    },
  };
  const op = newOperation(job, kind, tool, null, 'x', 'h1');
  const { rank } = kindOf(op);
  const before = base.order['1'].map((id) => base.operations[id]).filter((o) => isCutting(o) && kindOf(o).rank < rank);
  // a hole that guides is for a hole that follows: on this part its mouth lies within the bore
  return withOperations(job, [...before, op]);
};

/** Of a large library some tools of each kind, others each run; all of them with --deep. */
const PICK = Number(process.env.PROPERTY_SEED ?? Math.floor(Math.random() * 1e6));
/** What stands before the operation is the same for all of a kind. */
const CACHE = new DeriveCache();

const CASES = CUTTING_KINDS.flatMap((k) => {
  const fitting = LIBRARY.filter((t) => k.tools.includes(t.kind));
  const tools = process.env.DEEP ? fitting : fitting.filter((_, i) => i < 3 || i % 8 === PICK % 8);
  return tools.map((t) => [k.kind, t.id, t] as const);
});

const read = (value: unknown, path: string): unknown =>
  path.split('.').reduce<unknown>((v, k) => (v as Record<string, unknown> | undefined)?.[k], value);

const frozen = <T>(value: T): T => {
  if (typeof value === 'object' && value !== null && !ArrayBuffer.isView(value) && !Object.isFrozen(value)) {
    Object.freeze(value);
    for (const v of Object.values(value)) frozen(v);
  }
  return value;
};

const numbersOf = (e: unknown): number[] =>
  typeof e === 'number' ? [e] : typeof e === 'object' && e !== null ? Object.values(e).flatMap(numbersOf) : [];

describe.each(CUTTING_KINDS.map((k) => [k.kind, k] as const))('the kind %s', (name, kind) => {
  it('has a tool in the library, a label and a word of its own', () => {
    expect(LIBRARY.some((t) => kind.tools.includes(t.kind))).toBe(true);
    expect(kind.label.length).toBeGreaterThan(3);
    expect(kind.short.length).toBeLessThan(16);
    expect(CUTTING_KINDS.filter((k) => k.label === kind.label)).toHaveLength(1);
    expect(kind.needs).toMatch(/^an? /);
  });
  it('describes a field for every parameter, with a sentence of help', () => {
    const tool = LIBRARY.find((t) => kind.tools.includes(t.kind)) as Tool;
    const op = newOperation(demoJob('LM-118'), name, tool, null, 'x', 'h1');
    const described = new Set(kind.fields.map((f) => f.key));
    for (const key of Object.keys((op as unknown as { params: object }).params))
      expect([...described]).toContain(`params.${key}`);
    for (const f of kind.fields) {
      expect(read(op, f.key), f.key).not.toBeUndefined();
      expect(f.help.length, f.key).toBeGreaterThan(15);
      // three lines under the drawing hold it whole
      expect(f.label.length + f.help.length, f.key).toBeLessThan(145);
      if (f.input.kind === 'choice') expect(f.input.options.map((o) => o.value)).toContain(read(op, f.key));
    }
  });
  it('refuses every tool that it does not name, and runs with none', () => {
    const others = LIBRARY.filter((k) => !kind.tools.includes(k.kind));
    // one of each kind of tool
    for (const t of others.filter((k, i) => others.findIndex((o) => o.kind === k.kind) === i)) {
      const d = derive(jobWith(name, t), CACHE).operations.find((o) => o.id === 'x');
      expect(
        d?.findings.map((f) => f.code),
        t.id,
      ).toContain('wrong-tool');
      expect(d?.findings.find((f) => f.code === 'wrong-tool')?.numbers).toMatchObject({ found: toolKind(t).name });
      expect(d?.events).toEqual([]);
    }
  });
});

describe.each(CASES)('%s with %s', (name, _id, tool) => {
  const job = jobWith(name, tool);
  const op = job.operations.x;
  const d = derive(job, CACHE);
  const made = d.operations.find((o) => o.id === 'x');
  const events: readonly MotionEvent[] = made?.events ?? [];

  it('starts with values that are in order and survive a file', () => {
    expect(isCutting(op) && validateOperation(op)).toEqual([]);
    expect(OperationSchema.parse(JSON.parse(JSON.stringify(op)))).toEqual(op);
  });
  it('says something when it makes no path', () => {
    if (events.length === 0) expect(made?.findings.length).toBeGreaterThan(0);
    expect(made?.findings.map((f) => f.code)).not.toContain('internal');
  });
  it('calls its tool and work offset first, ends at the tool change with the coolant off', () => {
    if (events.length === 0) return;
    expect(events[0]).toMatchObject({ kind: 'tool', tool: tool.id });
    expect(events[1].kind).toBe('work-offset');
    const change = { X: holdingOf(job).toolChange.diameter / 2, Z: holdingOf(job).toolChange.z };
    const moves = events.filter(isMove);
    for (const m of [moves[0], moves[moves.length - 1]]) {
      expect(m.kind).toBe('rapid');
      expect(m.to.X).toBeCloseTo(change.X, 6);
      expect(m.to.Z).toBeCloseTo(change.Z, 6);
    }
    expect(events.filter((e) => e.kind === 'coolant').at(-1)).toMatchObject({ on: false });
    const spindle = events.findIndex((e) => e.kind === 'spindle');
    const firstFeed = events.findIndex((e) => isMove(e) && e.kind !== 'rapid');
    expect(spindle).toBeGreaterThan(0);
    expect(spindle).toBeLessThan(firstFeed);
  });
  it('makes events of its own, with finite numbers and feeds above nothing', () => {
    for (const e of events) {
      expect(e.op).toBe('x');
      for (const n of numbersOf(e)) expect(Number.isFinite(n)).toBe(true);
      if (e.kind === 'feed' || e.kind === 'arc') expect(e.feed.value).toBeGreaterThan(0);
    }
    for (const m of movesOf(events).slice(1)) expect(m.placed).toBe(true);
  });
  it('takes metal only by feeding, and tells how deep and how hard', () => {
    expect(made?.findings.map((f) => f.code)).not.toContain('rapid-in-stock');
    if (events.length === 0) return;
    expect(made?.removed).toBeGreaterThan(0);
    expect(made?.depth).toBeGreaterThan(0);
    expect(made?.load?.power).toBeGreaterThan(0);
  });
  it('is the same for the same document, and changes nothing that it was given', () => {
    const again = derive(frozen(structuredClone(job))).operations.find((o) => o.id === 'x');
    expect(again?.events).toEqual(events);
    const renamed = structuredClone(job);
    Object.assign(renamed.operations.x, { name: 'other', note: 'a remark' });
    expect(derive(renamed).operations.find((o) => o.id === 'x')?.events).toEqual(events);
  });
  it('is read back from its text as it was planned', () => {
    if (events.length === 0) return;
    const proof = proveJob(job, d, postJob(job, d, '').map(programText));
    expect(proof.channels.flatMap((c) => [...c.problems, ...c.differences])).toEqual([]);
    expect(proof.maxDeviation).toBeLessThanOrEqual(0.001);
    expect(proof.agrees).toBe(true);
  });
});
