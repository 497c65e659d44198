import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { barOf, holdingOf } from '../../../tests/fixtures/holding';
import { demoJob } from '../../../tests/fixtures/jobs';
import { applyDiff, diffDocuments, invertDiff, isEmptyDiff, sharedWith, withValues } from './diff';

const key = fc.constantFrom('a', 'b', 'c', 'd/e', 'f~g', '', '0');
const document = fc.letrec((tie) => ({
  node: fc.oneof(
    { maxDepth: 3 },
    fc.integer(),
    fc.string({ maxLength: 4 }),
    fc.constant(null),
    fc.boolean(),
    fc.array(fc.integer(), { maxLength: 3 }),
    fc.dictionary(key, tie('node'), { maxKeys: 4 }),
  ),
}));
const object = fc.dictionary(key, document.node, { maxKeys: 5, noNullPrototype: true });

describe('a document that shares with the one before', () => {
  it('is the later one, whatever both are, and the earlier one itself where nothing differs', () => {
    fc.assert(
      fc.property(object, object, (a, b) => {
        const [was, now] = [structuredClone(a), structuredClone(b)];
        expect(sharedWith(a, b)).toEqual(b);
        expect(sharedWith(a, structuredClone(a))).toBe(a);
        expect([a, b]).toEqual([was, now]);
      }),
      { numRuns: 500 },
    );
  });
  it('after an edit holds the same objects but on the way to what was edited', () => {
    const job = demoJob('LM-118');
    const next = structuredClone(job);
    const [first] = next.part.outer.rows;
    (first as { name?: string }).name = 'another';
    const now = sharedWith(job, next);
    expect(now).toEqual(next);
    expect(now.tools).toBe(job.tools);
    expect(now.part.inner).toBe(job.part.inner);
    expect(now.part.outer.rows[1]).toBe(job.part.outer.rows[1]);
    expect(now.part.outer.rows[0]).not.toBe(job.part.outer.rows[0]);
  });
});

describe('a diff', () => {
  it('leads from any document to any other, and its inverse back', () => {
    fc.assert(
      fc.property(object, object, (a, b) => {
        const d = diffDocuments(a, b);
        expect(applyDiff(a, d)).toEqual(b);
        expect(applyDiff(b, invertDiff(d))).toEqual(a);
        expect(isEmptyDiff(d)).toBe(JSON.stringify(sorted(a)) === JSON.stringify(sorted(b)));
      }),
      { numRuns: 500 },
    );
  });
  it('does not touch the document that it is put on', () => {
    fc.assert(
      fc.property(object, object, (a, b) => {
        const copy = structuredClone(a);
        applyDiff(a, diffDocuments(a, b));
        expect(a).toEqual(copy);
      }),
    );
  });
  it('shares with the old document what it does not touch', () => {
    const job = demoJob('LM-118');
    const next = structuredClone(job);
    barOf(next).stickOut += 1;
    const put = applyDiff(job, diffDocuments(job, next));
    expect(put).toEqual(next);
    expect(put.part).toBe(job.part);
    expect(put.operations).toBe(job.operations);
    expect(put.holdings).not.toBe(job.holdings);
    expect(barOf(job).stickOut).toBe(barOf(next).stickOut - 1);
  });
  it('of diffs one after another is the whole way', () => {
    fc.assert(
      fc.property(object, object, object, (a, b, c) => {
        const through = applyDiff(applyDiff(a, diffDocuments(a, b)), diffDocuments(b, c));
        expect(through).toEqual(c);
      }),
    );
  });
  it('of one edit in a job names one place', () => {
    const job = demoJob('LM-118');
    const next = structuredClone(job);
    barOf(next).stickOut += 1;
    const d = diffDocuments(job, next);
    expect(d).toEqual({
      added: {},
      removed: {},
      updated: { '/holdings/h1/stock/stickOut': [barOf(job).stickOut, barOf(next).stickOut] },
    });
    expect(JSON.stringify(d).length).toBeLessThan(120);
  });
  it('counts a list as one value, for its order has a meaning', () => {
    const d = diffDocuments({ order: { '1': ['a', 'b'] } }, { order: { '1': ['b', 'a'] } });
    expect(Object.keys(d.updated)).toEqual(['/order/1']);
  });
  it('through something that is not there says where', () => {
    expect(() => applyDiff({ a: 1 }, { added: { '/b/c': 2 }, updated: {}, removed: {} })).toThrow('nothing at b');
    expect(() => applyDiff({ a: [1] }, { added: {}, updated: { '/a/0': [1, 2] }, removed: {} })).toThrow(
      'nothing at a',
    );
    expect(() => applyDiff({}, { added: { '/__proto__': 2 }, updated: {}, removed: {} })).toThrow('not allowed');
    expect(() => applyDiff({ x: {} }, { added: { '/x/__proto__/y': 2 }, updated: {}, removed: {} })).toThrow();
    expect(({} as { y?: number }).y).toBeUndefined();
  });
  it('made of values puts them at their places and keeps the rest', () => {
    const job = demoJob('LM-101');
    const next = withValues(job, { '/holdings/h1/safeDistance': 2, '/operations/op3/cutting/coolant': false });
    expect(holdingOf(next).safeDistance).toBe(2);
    expect(holdingOf(job).safeDistance).not.toBe(2);
    expect(Object.keys(diffDocuments(job, next).updated).sort()).toEqual([
      '/holdings/h1/safeDistance',
      '/operations/op3/cutting/coolant',
    ]);
    expect(withValues(job, {})).toBe(job);
  });
});

/** Keys in one order, so that only contents count. */
const sorted = (v: unknown): unknown =>
  typeof v === 'object' && v !== null && !Array.isArray(v)
    ? Object.fromEntries(
        Object.entries(v)
          .sort(([p], [q]) => (p < q ? -1 : 1))
          .map(([k, x]) => [k, sorted(x)]),
      )
    : v;
