import { beforeEach, describe, expect, it } from 'vitest';
import { applyChanges, derive, freeStations, type Job, readJob, ViewSender } from '@/core/plan';
import { usualMount } from '@/core/tooling';
import { demoJob } from '../../../tests/fixtures/jobs';
import { useDerived } from './derived';
import { useDocument } from './document';
import { moveToChannel, removeOperation, tieWithMark } from './edits';
import {
  changeHolding,
  handOver,
  proposedGrip,
  removeHolding,
  showHolding,
  takingSpindle,
  turnRound,
} from './holdings';
import { shownHolding, useSelection } from './selection';

const job = (): Job => useDocument.getState().job;
const undo = (): void => void useDocument.getState().undo();
const open = (name: string): void => {
  useDocument.getState().open('x', demoJob(name));
  useSelection.getState().set({ operation: null, holding: null, time: 0 });
  follow();
};
/** The view of the job as it now is. */
const follow = (): void => useDerived.setState({ view: applyChanges(null, new ViewSender().changes(derive(job()))) });
const sound = (): void => {
  const read = readJob(JSON.parse(JSON.stringify(job())));
  expect(read.ok ? [] : read.problems.map((p) => p.message)).toEqual([]);
};
const shown = (): string => shownHolding(job(), useSelection.getState());

describe('turning the part round', () => {
  beforeEach(() => open('LM-118'));
  it('takes what is made with its other end to the front, in a zero that is free, and shows it', () => {
    const before = job();
    const id = turnRound();
    expect(job().holdingOrder).toEqual(['h1', id]);
    expect(job().holdings[id]).toMatchObject({
      turned: true,
      workOffset: 'G55',
      stock: { form: 'from', holding: 'h1', by: 'hand' },
      // the first cylinder from the front, ⌀34, ends 8 mm behind it
      grip: 8,
    });
    expect(shown()).toBe(id);
    sound();
    undo();
    expect(job()).toEqual(before);
  });
  it('goes on from side to side, and back', () => {
    const second = turnRound();
    follow();
    const third = turnRound();
    expect(job().holdings[third]).toMatchObject({ turned: false, workOffset: 'G56', stock: { holding: second } });
    removeHolding(third);
    expect(job().holdingOrder).toEqual(['h1', second]);
    sound();
  });
  it('proposes no grip that leaves nothing to work on', () => {
    expect(proposedGrip(job().holdings.h1, null)).toBeGreaterThan(0);
    const held = useDerived.getState().view?.holdings[0] ?? null;
    const length = 36;
    expect(proposedGrip(job().holdings.h1, held)).toBeLessThan(length * 0.7 + 1e-9);
  });
  it('changes one side without the other', () => {
    const id = turnRound();
    changeHolding(id, 'grip', { grip: 12 });
    expect(job().holdings.h1.grip).toBe(30);
    expect(job().holdings[id].grip).toBe(12);
  });
  it('shows the side of a chosen operation, and the moment at which a side begins', () => {
    const id = turnRound();
    useSelection.getState().set({ operation: 'op3' });
    expect(shown()).toBe('h1');
    follow();
    showHolding(id);
    expect(shown()).toBe(id);
    expect(useSelection.getState().operation).toBeNull();
    showHolding('h1');
    expect(useSelection.getState().time).toBe(0);
  });
});

describe('handing over', () => {
  beforeEach(() => open('LM-212'));
  it('is offered where a second spindle faces the one that holds the part', () => {
    // the part lies in the sub-spindle at last: the main one has no slide
    expect(takingSpindle(job())).toBeNull();
    removeHolding('h2');
    expect(takingSpindle(job())?.id).toBe('sub');
    open('LM-118');
    expect(takingSpindle(job())).toBeNull();
    expect(handOver()).toBeNull();
  });
  it('taken away goes with its operations and with all knots of its marks', () => {
    removeHolding('h2');
    expect(Object.keys(job().operations).filter((id) => /^(b|op7|op9|m4)/.test(id))).toEqual([]);
    expect(Object.values(job().order).flat().sort()).toEqual(Object.keys(job().operations).sort());
    sound();
    expect(derive(job()).timeline.kind).toBe('timed');
  });
  it('plans handover and withdrawal around the cutoff', () => {
    removeHolding('h2');
    follow();
    const id = handOver();
    if (!id) throw new Error('the sub-spindle takes over');
    expect(job().holdings[id]).toMatchObject({
      spindle: 'sub',
      turned: true,
      stock: { by: 'handover', holding: 'h1' },
    });
    const kinds = job()
      .order['1'].slice(-4)
      .map((k) => job().operations[k].kind);
    expect(kinds).toEqual(['handover', 'cutoff', 'withdraw', 'bar-feed']);
    sound();
    expect(derive(job()).findings.filter((f) => f.severity === 'blocking')).toEqual([]);
  });
});

describe('lanes', () => {
  beforeEach(() => open('LM-212'));
  it('an operation goes to another lane with a second tool like its own, or is told that no station is free', () => {
    const before = job();
    const free = freeStations(before, before.machine.carriers[1]);
    expect(moveToChannel('op5', '2', 3)).toMatchObject({
      put: { carrier: 'lower', station: free[0], tool: { name: 'Finishing 55° (2)' } },
    });
    expect(
      job().tools[job().operations.op5.kind === 'outer-finish' ? (job().operations.op5.tool ?? '') : ''],
    ).toMatchObject({
      cutter: before.tools['finish-55'].cutter,
    });
    sound();
    undo();
    expect(job()).toEqual(before);
    useDocument.getState().edit('full', (j) => {
      for (const [i, station] of free.entries()) j.mounts.lower[String(station)] = { '1': usualMount(`t${i}`) };
      return j;
    });
    expect(moveToChannel('op5', '2', 3)).toEqual({
      why: 'Lower turret has no tool like “Finishing 55°”, and no station is free there.',
    });
    expect(job().operations.op5.channel).toBe('1');
  });
  it('an operation that goes to another lane still comes after what it came after', () => {
    const knots = (): number => Object.values(job().operations).filter((o) => o.kind === 'wait').length;
    const codes = (): string[] => derive(job()).findings.map((f) => f.code);
    // a mark says it already: behind roughing in the first lane, before this in the second
    const before = knots();
    moveToChannel('op5', '2', 3);
    expect(knots()).toBe(before);
    undo();
    // where another mark has it the other way, nothing is added that would never end
    moveToChannel('op5', '2', 0);
    expect(knots()).toBe(before);
    undo();
    for (const m of ['m1a', 'm2a', 'm3a']) removeOperation(m);
    const left = knots();
    moveToChannel('op5', '2', 0);
    expect(knots()).toBe(left + 2);
    const [mark] = job().order['2'];
    expect(job().order['2'][1]).toBe('op5');
    expect(job().order['1'][job().order['1'].indexOf('op3') + 1]).toBe(mark.replace('-2', '-1'));
    expect(codes()).not.toContain('deadlock');
    sound();
  });
  it('an operation goes to another lane with a tool that fits there', () => {
    const twin = { ...structuredClone(job().tools['finish-55']), id: 'twin', name: 'Finishing 55° below' };
    useDocument.getState().edit('twin', (j) => {
      j.tools.twin = twin;
      j.mounts.lower['11'] = {
        '1': {
          tool: 'twin',
          wayUp: 'usual',
          facing: 'main',
          point: 'tip',
          beyond: false,
          offset: null,
          at: { x: 0, z: 0 },
        },
      };
      return j;
    });
    expect(moveToChannel('op5', '2', 3)).toEqual({ put: null });
    expect(job().operations.op5).toMatchObject({ channel: '2', tool: 'twin' });
    expect(job().order['1']).not.toContain('op5');
    expect(job().order['2'][3]).toBe('op5');
    sound();
  });
  it('a mark stays in its lane, and goes away with all its knots', () => {
    expect(moveToChannel('m1a', '2', 0)).toMatchObject({ why: expect.stringContaining('every lane') });
    removeOperation('m2a');
    expect('m2b' in job().operations).toBe(false);
    sound();
    undo();
    expect('m2b' in job().operations).toBe(true);
  });
  it('two edges are tied in one edit, and one undo takes the mark away', () => {
    const before = job();
    expect(tieWithMark({ operation: 'op5', side: 'end' }, { operation: 'op6', side: 'start' })).toBe('after');
    expect(Object.keys(job().operations)).toHaveLength(Object.keys(before.operations).length + 2);
    sound();
    undo();
    expect(job()).toEqual(before);
    expect(tieWithMark({ operation: 'op3', side: 'end' }, { operation: 'op5', side: 'start' })).toBeNull();
  });
});
