import { describe, expect, it } from 'vitest';
import { lineRow, shopTool } from '../../../tests/fixtures/jobs';
import { seeded } from '../../../tests/fixtures/random';
import { Raster, rasterOf, rasterStock } from '../../../tests/fixtures/raster';
import { operation, turnedJob } from '../../../tests/fixtures/turned';
import { wordFinding } from '../findings';
import { postJob, programText, proveJob } from '../nc';
import { type Derived, derive, type Job, rawStockOf } from '../plan';

const surface = { speed: { mode: 'surface', value: 120 }, feed: 0.1 };

interface Sizes {
  readonly crown: number;
  /** Length of the crown, and Z of the first groove behind it. */
  readonly collar: number;
  readonly before: number;
  readonly width: number;
  readonly bottom: number;
}

const USUAL: Sizes = { crown: 50, collar: 12, before: 20, width: 6, bottom: 24 };

/** A spool: a recess of ⌀30 behind a crown, opened by a blade, with two grooves in its floor and a thread between them. */
const spool = (
  kind: string,
  tool: string,
  span: { from: string; to: string },
  params: object,
  { crown, collar, before, width, bottom }: Sizes = USUAL,
): Job =>
  turnedJob({
    outer: [
      lineRow('a', crown, 0),
      lineRow('b', crown, -collar),
      lineRow('c', 30, -collar),
      lineRow('d', 30, -before),
      lineRow('g1', bottom, -before),
      lineRow('g2', bottom, -before - width),
      lineRow('g3', 30, -before - width),
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
    const job = spool(kind, tool, span, params, { ...USUAL, crown: kind === 'outer-thread' ? 33 : 50 });
    const d = derive(job);
    const it_ = d.operations.find((o) => o.id === 'it');
    expect(it_?.events.length).toBeGreaterThan(4);
    expect(d.findings.filter((f) => f.severity === 'blocking').map((f) => `${f.operation} ${f.code}`)).toEqual([]);
    expect(proveJob(job, d, postJob(job, d, '').map(programText)).agrees).toBe(true);
  });
});

/** Part of the work that a simulation by cells finds taken off. */
const lostByCells = (d: Derived): number => {
  const raw = rawStockOf(d).turnedOutline;
  const part = rasterOf(d.part.region, raw);
  const left = rasterStock(d);
  const lost = new Raster(part.minX, part.columns, part.rows);
  for (let i = 0; i < part.cells.length; i++) lost.cells[i] = part.cells[i] === 1 && left.cells[i] === 0 ? 1 : 0;
  return lost.difference(new Raster(part.minX, part.columns, part.rows));
};

const CASES = Math.max(12, Math.round(Number(process.env.PROPERTY_CASES ?? 120) / 4));
const seed = Number(process.env.PROPERTY_SEED ?? 1 + Math.floor(Math.random() * 1e6));

describe('behind any crown', () => {
  it(`a groove is cut as drawn, or refused with a reason (${CASES} cases from seed ${seed})`, () => {
    const random = seeded(seed);
    const pick = <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)];
    const between = (low: number, high: number): number => Math.round((low + random() * (high - low)) * 10) / 10;
    let made = 0;
    for (let k = 0; k < CASES; k++) {
      const collar = between(4, 15);
      const sizes: Sizes = {
        crown: between(31, 56),
        collar,
        before: between(collar + 1, 28),
        width: between(2.2, 9),
        bottom: between(18, 29),
      };
      const [kind, tool] = pick([
        ['outer-groove', 'groove-3'],
        ['outer-groove', 'groove-2'],
        ['form', 'form-v-60'],
      ] as const);
      const params =
        kind === 'form'
          ? {}
          : { method: pick(['plunge', 'turn']), passes: pick(['plunge', 'both']), output: pick(['moves', 'cycle']) };
      const job = spool(kind, tool, { from: 'g1', to: 'g3' }, params, sizes);
      job.machine = { ...job.machine, dialect: pick(['tarn-1', 'tarn-2', 'tarn-5']) };
      const d = derive(job);
      const what = JSON.stringify({ k, sizes, kind, tool, params, dialect: job.machine.dialect });
      const blocking = d.findings.filter((f) => f.severity === 'blocking');
      for (const f of blocking) expect(wordFinding(f).remedy.length, what).toBeGreaterThan(10);
      if (blocking.length > 0) continue;
      made++;
      expect(lostByCells(d), what).toBe(0);
      const proof = proveJob(job, d, postJob(job, d, '').map(programText));
      expect(proof.agrees, what).toBe(true);
      expect(proof.maxDeviation, what).toBeLessThanOrEqual(0.001);
    }
    // most of them can be made
    expect(made).toBeGreaterThan(CASES / 3);
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
    ['a groove by levels', 'inner-groove', 'groove-bar-2-deep', g, { method: 'turn' }],
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
