import { describe, expect, it } from 'vitest';
import { lineRow, shopTool } from '../../../../tests/fixtures/jobs';
import { sound } from '../../../../tests/fixtures/sound';
import { operation, turnedJob } from '../../../../tests/fixtures/turned';
import { RegionIndex } from '../../geometry';
import { movesOf } from '../../motion';
import { postJob, programText } from '../../nc';
import { candidatesFor, type Derived, derive, type Job } from '../../plan';

/** A relief behind shaft and shoulder (DIN 509 form F), which is seen whole only from between both axes. */

/** ⌀25 before a shoulder of ⌀40; the relief is 0.3 deep under the shaft, 0.2 deep behind the shoulder, and has a round of 0.4. */
const front = (own: object | null, tool = 'undercut-35'): Job =>
  turnedJob({
    outer: [
      lineRow('a', 25, 0),
      lineRow('b', 25, -22),
      lineRow('c', 24.4, -23.12),
      lineRow('d', 24.4, -25.2, { kind: 'fillet', size: 0.4 }),
      lineRow('e', 26, -25.2),
      lineRow('f', 28.8, -25),
      lineRow('g', 40, -25),
      lineRow('h', 40, -32),
      lineRow('i', 0, -32),
    ],
    bar: 42,
    length: 32,
    frontAllowance: 0.5,
    tools: ['face-rough-80-04', 'finish-35', ...(tool === 'finish-35' ? [] : [tool])].map(shopTool),
    operations: [
      operation({ id: 'face', kind: 'face', tool: 'face-rough-80-04', params: { depth: 1 } }),
      operation({ id: 'rough', kind: 'outer-rough', tool: 'face-rough-80-04', params: { depth: 2 } }),
      operation({ id: 'whole', kind: 'outer-finish', tool: 'finish-35', params: {} }),
      ...(own ? [operation({ id: 'own', kind: 'outer-finish', tool, span: { from: 'c', to: 'f' }, params: own })] : []),
    ],
  });

/** The same relief behind a flange, whose shoulder looks toward the chuck. */
const behind = (): Job =>
  turnedJob({
    outer: [
      lineRow('a', 40, 0),
      lineRow('b', 40, -8),
      lineRow('c', 28.8, -8),
      lineRow('d', 26, -7.8),
      lineRow('e', 24.4, -7.8, { kind: 'fillet', size: 0.4 }),
      lineRow('f', 24.4, -9.88),
      lineRow('g', 25, -11),
      lineRow('h', 25, -30),
      lineRow('i', 0, -30),
    ],
    bar: 42,
    length: 30,
    frontAllowance: 0,
    tools: ['face-rough-80-left', 'finish-35-left', 'undercut-35-left'].map(shopTool),
    operations: [
      operation({
        id: 'rough',
        kind: 'outer-rough',
        tool: 'face-rough-80-left',
        params: { depth: 2, extendBehind: 8 },
      }),
      operation({ id: 'whole', kind: 'outer-finish', tool: 'finish-35-left', params: { extendBehind: 8 } }),
      operation({
        id: 'own',
        kind: 'outer-finish',
        tool: 'undercut-35-left',
        span: { from: 'd', to: 'g' },
        params: { along: 'corner' },
      }),
    ],
  });

const left = (d: Derived, ids: readonly string[]): number[] =>
  ids.map((id) => d.coverage.find((c) => c.element === id)?.left ?? Number.NaN);
const codes = (d: Derived): string[] => d.findings.flatMap((f) => (f.operation === 'own' ? [f.code] : []));
const RELIEF = ['c', 'd', 'd/corner', 'e', 'f'];

describe('finishing into a corner', () => {
  it('makes what hangs over on both sides, which neither way along an axis comes to', () => {
    for (const along of ['z', 'x']) {
      const rest = Math.max(...left(sound(front({ along })), RELIEF));
      expect(rest, along).toBeGreaterThan(0.1);
    }
    const d = sound(front({ along: 'corner' }));
    for (const v of left(d, [...RELIEF, 'b', 'g'])) expect(v).toBeLessThan(0.003);
    // half way up the round, at 45°, the metal ends on it: R 0.4 about Z−24.8 and 12.6
    const metal = new RegionIndex(d.finished.turnedOutline);
    const on = (r: number) => ({ x: -24.8 - r * Math.SQRT1_2, y: 12.6 - r * Math.SQRT1_2 });
    expect([0.39, 0.41].map((r) => metal.contains(on(r)))).toEqual([false, true]);
  });

  it('goes down the shaft and up the shoulder, and comes in and out in feed: no rapid runs aslant near the work', () => {
    const d = sound(front({ along: 'corner' }));
    const moves = movesOf(d.operations.find((o) => o.id === 'own')?.events ?? []).filter((m) => m.placed);
    const near = moves.filter((m) => Math.hypot(m.to.X - 12.5, m.to.Z + 25) < 4);
    expect(near.length).toBeGreaterThan(4);
    expect(near.every((m) => m.event.kind !== 'rapid')).toBe(true);
    const cuts = moves.filter((m) => m.event.purpose === 'cut');
    expect(cuts[0].from.Z).toBeGreaterThan(cuts[cuts.length - 1].from.Z);
    expect(cuts[cuts.length - 1].to.X).toBeGreaterThan(cuts[0].from.X + 1);
  });

  it('does so from behind too, by a left-hand tool', () => {
    const d = sound(behind());
    const own = d.operations.find((o) => o.id === 'own');
    expect(own?.removed).toBeGreaterThan(1);
    for (const v of left(d, ['d', 'e', 'e/corner', 'f', 'g'])) expect(v).toBeLessThan(0.003);
  });

  it('is offered for a relief that is left, and not for what another way makes', () => {
    const job = front(null);
    const shelf = ['undercut-35', 'undercut-55'].map(shopTool);
    const ask = (id: string) =>
      candidatesFor(job, { from: id, to: id }, 'outer', 'h1', undefined, shelf).find(
        (c) => c.kind === 'outer-finish' && c.tool === 'undercut-35',
      );
    expect(ask('d/corner')?.operation.params).toMatchObject({ along: 'corner' });
    expect(ask('d/corner')?.reach).toBeGreaterThan(0.95);
    const raw = front(null);
    delete raw.operations.whole;
    raw.order['1'] = raw.order['1'].filter((id) => id !== 'whole');
    const shaft = candidatesFor(raw, { from: 'b', to: 'b' }, 'outer', 'h1', undefined, shelf);
    expect(shaft.find((c) => c.kind === 'outer-finish')?.operation.params).toMatchObject({ along: 'z' });
  });

  it('is compensated by the control like any other, is no cycle, and has one direction', () => {
    const control = front({ along: 'corner', compensation: 'control' });
    const text = postJob(control, sound(control), '').map(programText).join('\n');
    expect(text.match(/G4[12]/g)).toEqual(['G42']);
    expect(codes(derive(front({ along: 'corner', output: 'cycle' })))).toContain('cycle-not-possible');
    expect(codes(derive(front({ along: 'corner', direction: 'away' })))).toContain('direction-fixed');
  });

  it('says that the metal is too high where nothing has been roughed', () => {
    const job = front({ along: 'corner' });
    for (const id of ['rough', 'whole']) delete job.operations[id];
    job.order['1'] = ['face', 'own'];
    expect(codes(derive(job))).toContain('finish-buried');
  });
});
