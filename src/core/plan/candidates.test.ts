import { describe, expect, it } from 'vitest';
import { demoJob, lineRow, shopTool, shopTools, withOperations } from '../../../tests/fixtures/jobs';
import { operation, turnedJob } from '../../../tests/fixtures/turned';
import { intersectRegions, rectangle, regionVolume } from '../geometry';
import type { Operation } from '../operations';
import { type Candidate, candidatesFor } from './candidates';
import { derive } from './derive';
import type { Job } from './document';
import { withPlaced } from './placing';

/** A stepped part of ⌀40 with a neck 6 wide and 4 deep, from a bar of ⌀50 with 1 mm in front of it. */
const stepped = (operations: Operation[] = []): Job =>
  turnedJob({
    outer: [
      lineRow('a', 32, 0),
      lineRow('b', 32, -20),
      lineRow('c', 40, -20),
      lineRow('d', 40, -26),
      lineRow('e', 32, -26),
      lineRow('f', 32, -32),
      lineRow('g', 40, -32),
      lineRow('h', 40, -40),
      lineRow('i', 0, -40),
    ],
    bar: 50,
    length: 40,
    frontAllowance: 1,
    tools: ['face-rough-80', 'finish-35', 'finish-55', 'groove-3', 'cutoff-3'].map(shopTool),
    operations,
  });

const ask = (job: Job, from: string, to = from): Candidate[] => candidatesFor(job, { from, to }, 'outer', 'h1');

/** Kinds in the order of their best candidate, of those that can. */
const kinds = (found: readonly Candidate[]): string[] => [
  ...new Set(found.filter((c) => c.reach > 0).map((c) => c.kind)),
];

const facing = operation({ id: 'f', kind: 'face', tool: 'face-rough-80', params: { depth: 1 } });
const roughing = operation({ id: 'r', kind: 'outer-rough', tool: 'face-rough-80', params: { depth: 2 } });
const finishing = operation({ id: 'e', kind: 'outer-finish', tool: 'finish-55', params: {} });

describe('the order in which candidates are offered', () => {
  it('is that of a shop: face, rough, finish, and the cutoff last', () => {
    const raw = kinds(ask(stepped(), 'a', 'i'));
    expect(raw.slice(0, 2)).toEqual(['face', 'outer-rough']);
    expect(raw.indexOf('outer-finish')).toBeGreaterThan(1);
    expect(raw.at(-1)).toBe('cutoff');
    expect(kinds(ask(stepped([facing]), 'a', 'i'))[0]).toBe('outer-rough');
    const roughed = ask(stepped([facing, roughing]), 'a', 'i').filter((c) => c.reach > 0 && !c.doubtful);
    expect(roughed[0].kind).not.toBe('face');
    expect(roughed.some((c) => c.kind === 'face')).toBe(false);
  });

  it('begins with a groove where only the groove is picked', () => {
    const [first] = ask(stepped([facing, roughing]), 'f');
    expect(first).toMatchObject({ kind: 'outer-groove', doubtful: false });
    expect(first.reach).toBeGreaterThan(0.95);
  });

  it('puts a tool of the turret before a slightly better one that is still to be set up', () => {
    const job = stepped([facing, roughing]);
    const shelf = [shopTool('finish-35-small')];
    const of = (found: readonly Candidate[], tool: string) =>
      found.findIndex((c) => c.kind === 'outer-finish' && c.tool === tool);
    const found = candidatesFor(job, { from: 'b', to: 'b' }, 'outer', 'h1', undefined, shelf);
    expect(found[of(found, 'finish-35-small')].reach).toBeGreaterThanOrEqual(found[of(found, 'finish-55')].reach);
    expect(of(found, 'finish-55')).toBeLessThan(of(found, 'finish-35-small'));
  });

  it('says of roughing that finishing takes its metal anyway', () => {
    const later = ask(stepped([facing, finishing]), 'b').find((c) => c.kind === 'outer-rough' && c.reach > 0);
    expect(later).toMatchObject({ doubtful: true, reason: 'Operations that stand behind it take this metal already.' });
    // what the finishing leaves in the neck is no such metal
    const over = operation({ ...finishing, id: 'e', params: { undercuts: 'bridge' } });
    const neck = ask(stepped([facing, over]), 'f').find((c) => c.kind === 'outer-rough' && c.tool === 'finish-35');
    expect(neck?.reach).toBeGreaterThan(0.05);
    expect(neck?.doubtful).toBe(false);
  });
});

/** A part with a blind hole of ⌀12 whose bottom is a cone or flat, drilled and nothing else. */
const holed = (bottom: number, operations: Operation[] = [], tools: string[] = ['drill-12']): Job =>
  turnedJob({
    start: 12,
    outer: [lineRow('a', 30, 0), lineRow('b', 30, -40), lineRow('c', 0, -40)],
    inner: [lineRow('i', 12, -20), lineRow('j', 0, bottom)],
    bar: 32,
    length: 40,
    frontAllowance: 0,
    tools: tools.map(shopTool),
    operations,
  });
const inHole = (job: Job, shelf: string[]): Candidate[] =>
  candidatesFor(job, { from: 'i', to: 'j' }, 'inner', 'h1', undefined, shelf.map(shopTool));
const drilling = operation({
  id: 'd',
  kind: 'drill',
  tool: 'drill-12',
  params: { depth: 22, depthTo: 'point', peck: 5 },
});

describe('what is offered for holes', () => {
  it('is the drill whose point makes the bottom, before all that only come near it', () => {
    // 118° leave 3.605 mm of cone under ⌀12
    const found = inHole(holed(-23.605), ['drill-12-118', 'drill-12', 'drill-10', 'centre-2.5']);
    expect(found[0]).toMatchObject({ kind: 'drill', tool: 'drill-12-118', doubtful: false });
    expect(found[0].reach).toBeGreaterThan(0.999);
  });

  it('of a stepped hole offers first the drill whose point is its bottom, not one that takes more', () => {
    const job = demoJob('LM-118');
    job.operations = {};
    job.order = { '1': [] };
    const inner = derive(job).part.inner;
    const span = { from: inner[0].id, to: inner[inner.length - 1].id };
    const drills = candidatesFor(job, span, 'inner', 'h1', undefined, shopTools()).filter((c) => c.kind === 'drill');
    // the hole ends in the cone of ⌀16 with 140°
    expect(drills[0]).toMatchObject({ bottom: true, put: null, tool: 'drill-16' });
    expect(drills.some((c) => c.reach > drills[0].reach + 0.05)).toBe(true);
  });
  it('says of a thin drill that it hardly goes deeper than the hole does, and of a seat that the drill takes it', () => {
    const found = inHole(holed(-23.605, [drilling]), ['drill-8', 'centre-2.5']);
    const thin = found.find((c) => c.tool === 'drill-8' && c.reach > 0);
    expect(thin?.doubtful).toBe(true);
    expect(thin?.reason).toContain('There is a hole already');
    const seat = found.find((c) => c.kind === 'centre' && c.reach > 0);
    expect(seat?.doubtful ?? true).toBe(true);
  });

  it('squares a flat bottom with a flat drill, without a word about its depth', () => {
    const first = operation({ ...drilling, id: 'd', params: { depth: 19.8, depthTo: 'point', peck: 5 } });
    const flat = inHole(holed(-20, [first]), ['drill-12-flat']).find((c) => c.tool === 'drill-12-flat');
    expect(flat).toMatchObject({ doubtful: false, leaves: expect.closeTo(0, 1) });
  });

  it('reaches a chamfer at the back of a bore with a bar whose other edge is steep enough', () => {
    const bored = turnedJob({
      start: 22,
      outer: [lineRow('a', 40, 0), lineRow('b', 40, -25), lineRow('c', 24, -25)],
      inner: [lineRow('i', 22, -24), lineRow('j', 24, -25)],
      bar: 42,
      length: 25,
      frontAllowance: 0,
      tools: ['drill-22', 'cutoff-3'].map(shopTool),
      operations: [
        operation({ id: 'd', kind: 'drill', tool: 'drill-22', params: { depth: null, breakThrough: 3, peck: 5 } }),
        operation({ id: 'x', kind: 'cutoff', tool: 'cutoff-3', params: {} }),
      ],
    });
    const shelf = ['bore-16-35', 'bore-12-55'].map(shopTool);
    const found = candidatesFor(bored, { from: 'j', to: 'j' }, 'inner', 'h1', undefined, shelf);
    const of = (tool: string) => found.find((c) => c.kind === 'inner-finish' && c.tool === tool);
    // 180° − 93° − 35° less 3° are 49°, with 55° only 29°: 45° are wanted
    expect(of('bore-16-35')?.reach).toBeGreaterThan(0.98);
    expect(of('bore-12-55')?.reach ?? 0).toBeLessThan(0.7);
  });

  it('tells why none of them can, by the one that is nearest', () => {
    const drilled = operation({ ...drilling, id: 'd', params: { depth: 19.8, depthTo: 'point', peck: 5 } });
    const found = inHole(holed(-20, [drilled]), ['bore-20', 'bore-40', 'bore-25']);
    const bars = found.filter((c) => c.kind === 'inner-rough');
    expect(bars.map((c) => [c.tool, c.reach])).toEqual([['bore-20', 0]]);
    expect(bars[0].reason).toBeTruthy();
  });

  it('moves the tool change out for a long drill, so that it passes the work when the turret indexes', () => {
    const job = holed(-23.605);
    job.holdings.h1.toolChange = { diameter: 40, z: 60 };
    const long = inHole(job, ['drill-12-long']).find((c) => c.tool === 'drill-12-long');
    const z = long?.put?.toolChange?.z ?? 0;
    expect(z).toBeGreaterThan(90);
    const indexed = (j: Job) => derive(j).findings.filter((f) => f.code === 'tool-change-close');
    if (!long?.put) throw new Error('no place');
    expect(indexed(withPlaced(job, long.put))).toEqual([]);
    // left where it was it would go into the bar, and that stops the job
    const { toolChange: _, ...left } = long.put;
    expect(indexed(withPlaced(job, left)).map((f) => f.severity)).toEqual(['blocking']);
  });
});

describe('a groove with one wall higher than the other', () => {
  it('is a groove, fillet on the higher wall or not', () => {
    for (const corner of [null, { kind: 'fillet' as const, size: 0.5 }]) {
      const job = turnedJob({
        outer: [
          lineRow('a', 40, 0),
          lineRow('b', 40, -13),
          lineRow('c', 37, -13),
          lineRow('d', 37, -18),
          lineRow('e', 48, -18, corner),
          lineRow('f', 48, -24),
          lineRow('g', 0, -24),
        ],
        bar: 50,
        length: 24,
        tools: ['face-rough-80', 'groove-3'].map(shopTool),
        operations: [facing, roughing],
      });
      for (const picked of ['c', 'd']) {
        const groove = ask(job, picked).find((c) => c.kind === 'outer-groove');
        expect(groove?.reach, `${picked} ${corner?.kind}`).toBeGreaterThan(0.9);
        expect(groove?.doubtful).toBe(false);
      }
    }
  });
});

describe('what a candidate leaves', () => {
  it('is what it leaves in earnest, in a round groove too, of which only the arc is picked', () => {
    const job = turnedJob({
      outer: [
        lineRow('a', 40, 0),
        lineRow('b', 40, -10),
        { id: 'c', kind: 'arc', diameter: 40, z: -16, radius: 3, clockwise: true, long: false, corner: null },
        lineRow('d', 40, -26),
        lineRow('e', 0, -26),
      ],
      bar: 44,
      length: 26,
      frontAllowance: 1,
      tools: ['face-rough-80', 'finish-35', 'finish-55'].map(shopTool),
      operations: [facing, roughing],
    });
    const found = ask(job, 'c').filter((c) => c.kind === 'outer-finish' && c.reach > 0);
    expect(found.length).toBeGreaterThan(1);
    // over the arc stands half a circle of metal, and a skin over its rim
    const groove = Math.PI ** 2 * 9 * (20 - (4 * 3) / (3 * Math.PI));
    for (const c of found) {
      const done = derive(withOperations(job, [facing, roughing, { ...c.operation, id: 'x' }]));
      const there = intersectRegions(done.leftover, rectangle(-16, 0, -10, 1e3));
      expect(c.leaves).toBeGreaterThan(200);
      expect(Math.abs(regionVolume(there) - c.leaves)).toBeLessThan(3);
      expect(c.reach).toBeLessThan(1 - c.leaves / (1.6 * groove));
    }
  });
});
