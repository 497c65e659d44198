import { describe, expect, it } from 'vitest';
import { lineRow, shopTool } from '../../../tests/fixtures/jobs';
import { operation, turnedJob } from '../../../tests/fixtures/turned';
import { postJob, programText, proveJob } from '../nc';
import { derive, type Job } from '../plan';

const surface = { speed: { mode: 'surface', value: 120 }, feed: 0.1 };

/** A spool: a recess of ⌀30 behind a crown, opened by a blade, with two grooves in its floor and a thread between them. */
const spool = (kind: string, tool: string, span: { from: string; to: string }, params: object, crown = 50): Job =>
  turnedJob({
    outer: [
      lineRow('a', crown, 0),
      lineRow('b', crown, -12),
      lineRow('c', 30, -12),
      lineRow('d', 30, -20),
      lineRow('g1', 24, -20),
      lineRow('g2', 24, -26),
      lineRow('g3', 30, -26),
      lineRow('t', 30, -42),
      lineRow('h1', 24, -42),
      lineRow('h2', 24, -48),
      lineRow('h3', 30, -48),
      lineRow('e', 30, -56),
      lineRow('f', crown, -56),
      lineRow('y', crown, -66),
      lineRow('z', 0, -66),
    ],
    bar: crown + 2,
    length: 66,
    tools: [...new Set(['face-rough-80', 'groove-3', tool])].map(shopTool),
    operations: [
      operation({ id: 'face', kind: 'face', tool: 'face-rough-80', cutting: surface, params: { depth: 1 } }),
      operation({
        id: 'skin',
        kind: 'outer-rough',
        tool: 'face-rough-80',
        cutting: surface,
        params: { undercuts: 'bridge', depth: 2 },
      }),
      operation({
        id: 'recess',
        kind: 'outer-groove',
        tool: 'groove-3',
        span: { from: 'c', to: 'f' },
        cutting: surface,
        params: kind === 'outer-thread' ? {} : { passes: 'plunge' },
      }),
      operation({
        id: 'it',
        kind,
        tool,
        span,
        cutting: kind === 'outer-thread' ? { speed: { mode: 'fixed', value: 500 }, feed: 1 } : surface,
        params,
      }),
    ],
  });

describe('behind a crown, from the front', () => {
  const g = { from: 'g1', to: 'g3' };
  const t = { from: 't', to: 't' };
  it.each([
    ['a groove by plunges', 'outer-groove', 'groove-3', g, { passes: 'plunge' }],
    ['a groove with its walls', 'outer-groove', 'groove-3', g, {}],
    ['a groove by levels', 'outer-groove', 'groove-2', g, { method: 'turn' }],
    ['a groove by the control’s cycle', 'outer-groove', 'groove-3', g, { output: 'cycle' }],
    ['two grooves at once', 'outer-groove', 'groove-3', g, { alike: true }],
    ['a form', 'form', 'form-v-60', g, {}],
    ['a thread', 'outer-thread', 'thread-60-fine', t, { thread: 'M30x1.5' }],
    ['a thread by the control’s cycle', 'outer-thread', 'thread-60-fine', t, { thread: 'M30x1.5', output: 'cycle' }],
    ['a thread by its passes', 'outer-thread', 'thread-60-fine', t, { thread: 'M30x1.5', output: 'passes' }],
  ] as const)('%s is come to over it, and proved', (_name, kind, tool, span, params) => {
    // a threading tool's own body lies near its tip: it comes behind a low crown only
    const job = spool(kind, tool, span, params, kind === 'outer-thread' ? 33 : 50);
    const d = derive(job);
    const it_ = d.operations.find((o) => o.id === 'it');
    expect(it_?.events.length).toBeGreaterThan(4);
    expect(d.findings.filter((f) => f.severity === 'blocking').map((f) => `${f.operation} ${f.code}`)).toEqual([]);
    expect(proveJob(job, d, postJob(job, d, '').map(programText)).agrees).toBe(true);
  });
});

/** A bottle: a bore of ⌀36 behind a neck, with a groove and a thread in it; bar and blade go in through the neck. */
const bottle = (kind: string, tool: string, span: { from: string; to: string }, params: object, neck = 30): Job =>
  turnedJob({
    start: neck,
    outer: [lineRow('a', 60, 0), lineRow('b', 60, -50), lineRow('c', 36, -50)],
    inner: [
      lineRow('n', neck, -8),
      lineRow('m', 36, -14),
      lineRow('p', 36, -20),
      lineRow('g1', 41, -20),
      lineRow('g2', 41, -26),
      lineRow('g3', 36, -26),
      lineRow('t', 36, -38),
      lineRow('h1', 41, -38),
      lineRow('h2', 41, -44),
      lineRow('h3', 36, -44),
      lineRow('q', 36, -50),
    ],
    bar: 62,
    length: 50,
    tools: [...new Set(['face-rough-80', 'drill-20', 'bore-16-55', 'groove-bar-3', tool])].map(shopTool),
    operations: [
      operation({ id: 'face', kind: 'face', tool: 'face-rough-80', cutting: surface, params: { depth: 1 } }),
      operation({
        id: 'drill',
        kind: 'drill',
        tool: 'drill-20',
        cutting: { speed: { mode: 'fixed', value: 900 }, feed: 0.2 },
        params: { breakThrough: 4, peck: 15, output: 'moves' },
      }),
      operation({ id: 'bore', kind: 'inner-rough', tool: 'bore-16-55', cutting: surface, params: { depth: 1 } }),
      operation({ id: 'fine', kind: 'inner-finish', tool: 'bore-16-55', cutting: surface, params: {} }),
      ...(kind === 'inner-thread'
        ? ['g', 'h'].map((k) =>
            operation({
              id: `relief-${k}`,
              kind: 'inner-groove',
              tool: 'groove-bar-3',
              span: { from: `${k}1`, to: `${k}3` },
              cutting: surface,
              params: {},
            }),
          )
        : []),
      operation({
        id: 'it',
        kind,
        tool,
        span,
        cutting: kind === 'inner-thread' ? { speed: { mode: 'fixed', value: 400 }, feed: 1 } : surface,
        params,
      }),
    ],
  });

describe('behind a neck, from the front', () => {
  const g = { from: 'g1', to: 'g3' };
  const t = { from: 't', to: 't' };
  it.each([
    ['a groove', 'inner-groove', 'groove-bar-3', g, {}],
    ['a groove by levels', 'inner-groove', 'groove-bar-2', g, { method: 'turn' }],
    ['a thread', 'inner-thread', 'thread-bar-60-16', t, { thread: 'M38x2' }],
    ['a thread by the control’s cycle', 'inner-thread', 'thread-bar-60-16', t, { thread: 'M38x2', output: 'cycle' }],
  ] as const)('%s is come to through it, and proved', (_name, kind, tool, span, params) => {
    const job = bottle(kind, tool, span, params, kind === 'inner-thread' ? 35 : 30);
    const d = derive(job);
    expect(d.operations.find((o) => o.id === 'it')?.events.length).toBeGreaterThan(4);
    expect(d.findings.filter((f) => f.severity === 'blocking').map((f) => `${f.operation} ${f.code}`)).toEqual([]);
    expect(proveJob(job, d, postJob(job, d, '').map(programText)).agrees).toBe(true);
  });
});
