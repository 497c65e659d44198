import { beforeEach, describe, expect, it } from 'vitest';
import { buildPart } from '@/core/part';
import { derive, freshId, type Job, newOperation } from '@/core/plan';
import { demoJob } from '../../../tests/fixtures/jobs';
import { readPath, writePath } from '../kit/paths';
import { addBore, addCentreHole, changeProfile, freshRow, removeBore, setRowValue } from '../part/rows';
import { useDocument } from './document';
import {
  addOperation,
  applyRemedy,
  copyOperation,
  moveOperation,
  removeOperation,
  setOperation,
  whyNotThere,
} from './edits';
import { useSelection } from './selection';

const job = (): Job => useDocument.getState().job;
const order = (): string[] => job().order['1'];
const undo = (): void => void useDocument.getState().undo();

beforeEach(() => useDocument.getState().open('x', demoJob('LM-118')));

describe('edits of operations', () => {
  it('a new one lands where its rank belongs, is chosen, and one undo takes it away', () => {
    const before = job();
    const id = addOperation(newOperation(before, 'outer-rough', Object.values(before.tools)[0], null, 'y', 'h1'));
    expect(order().indexOf(id)).toBe(order().indexOf('op3') + 1);
    expect(order().at(-1)).toBe('op7');
    expect(useSelection.getState().operation).toBe(id);
    undo();
    expect(job()).toEqual(before);
  });
  it('a copy stands behind its source and is another object', () => {
    copyOperation('op3');
    const id = order()[order().indexOf('op3') + 1];
    expect(job().operations[id].name).toBe(`${job().operations.op3.name} copy`);
    setOperation(id, 'depth', (o) => Object.assign((o as unknown as { params: object }).params, { depth: 9 }));
    expect((job().operations.op3 as unknown as { params: { depth: number } }).params.depth).not.toBe(9);
  });
  it('a deleted one leaves no trace in the order', () => {
    removeOperation('op4');
    expect(order()).not.toContain('op4');
    expect('op4' in job().operations).toBe(false);
    expect(useSelection.getState().operation).toBeNull();
    undo();
    expect(order()).toContain('op4');
  });
  it('moves within its channel, never past the ends', () => {
    moveOperation('op5', 0);
    expect(order()[0]).toBe('op5');
    moveOperation('op5', 99);
    expect(order().at(-1)).toBe('op5');
    expect(new Set(order()).size).toBe(order().length);
  });
  it('says why it may not stand at a place', () => {
    expect(whyNotThere(job(), 'op7', 2)).toContain('cutoff');
    expect(whyNotThere(job(), 'op4', 0)).toContain('hole');
    expect(whyNotThere(job(), 'op5', order().length - 1)).not.toBeNull();
    expect(whyNotThere(job(), 'op5', 3)).toBeNull();
  });
  it('names new operations by the first free number', () => {
    expect(freshId(job())).toBe('op8');
    removeOperation('op2');
    expect(freshId(job()) in job().operations).toBe(false);
  });
  it('a remedy is one edit that cures its finding', () => {
    setOperation('op7', 'slow', (o) => Object.assign((o as unknown as { params: object }).params, { slowBy: 0 }));
    const finding = derive(job()).findings.find((f) => f.code === 'full-feed-to-centre');
    if (!finding?.remedy) throw new Error('no remedy');
    applyRemedy(finding.remedy);
    expect(derive(job()).findings.some((f) => f.code === 'full-feed-to-centre')).toBe(false);
    expect(useDocument.getState().past.at(-1)?.label).toBe(finding.remedy.label);
  });
});

describe('edits of the profile', () => {
  const part = () => buildPart(job().part, job().units);
  it('a bore is added through the part, thinner than its thinnest place, also when rows leave Z blank', () => {
    removeBore('inner');
    const last = job().part.outer.rows.length - 1;
    changeProfile('outer', 'blank', (p) => void (p.rows[last].z = null));
    addBore();
    const { inner, outer } = part();
    expect(part().problems).toEqual([]);
    const back = Math.min(...outer.map((e) => Math.min(e.curve.from.x, e.curve.to.x)));
    expect(inner.at(-1)?.curve.to.x).toBeCloseTo(back, 6);
    const thinnest = Math.min(
      ...outer.flatMap((e) => [e.curve.from.y, e.curve.to.y]).filter((r) => r > inner[0].curve.from.y),
    );
    expect(inner[0].curve.from.y).toBeLessThan(thinnest);
  });
  it('a centre hole is the seat, the pilot and the point of DIN 332', () => {
    removeBore('inner');
    addCentreHole(3.15);
    const rows = job().part.inner?.rows ?? [];
    expect(job().part.inner?.start.diameter).toBe(6.7);
    expect(rows.map((r) => r.diameter)).toEqual([3.15, 3.15, 0]);
    // (6.7 − 3.15)/2 / tan 30°
    expect(rows[0].z).toBeCloseTo(-3.0744, 4);
    expect(part().problems).toEqual([]);
  });
  it('removing a bore closes the contour again', () => {
    removeBore('inner');
    expect(part().problems).toEqual([]);
    expect(part().inner).toEqual([]);
  });
  it('a formula and a number take each other’s place in a field', () => {
    changeProfile('outer', 'formula', (p) => setRowValue(p.rows[1], 'z', 'length / 2'));
    expect(job().part.outer.rows[1].formulas).toEqual({ z: 'length / 2' });
    changeProfile('outer', 'number', (p) => setRowValue(p.rows[1], 'z', -11));
    expect(job().part.outer.rows[1].formulas).toBeUndefined();
    expect(job().part.outer.rows[1].z).toBe(-11);
  });
  it('new rows get names that are free', () => {
    const p = job().part.outer;
    expect(p.rows.some((r) => r.id === freshRow(p, 'outer'))).toBe(false);
  });
});

describe('paths inside a document', () => {
  it('read what they wrote, and nothing where nothing is', () => {
    const v = { a: { b: [1, { c: 2 }] } };
    expect(readPath(v, 'a.b.1.c')).toBe(2);
    expect(readPath(v, 'a.x.y')).toBeUndefined();
    writePath(v, 'a.b.1.c', 7);
    expect(readPath(v, 'a.b.1.c')).toBe(7);
  });
});
