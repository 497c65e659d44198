import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { Surface } from '../geometry';
import { hashOf, hashRegion, keepHash } from './hash';

const json = fc.jsonValue({ maxDepth: 3, noUnicodeString: true });

describe('a hash', () => {
  it('is the same for the same value made anew', () => {
    fc.assert(
      fc.property(json, (v) => {
        expect(hashOf(structuredClone(v))).toBe(hashOf(v));
      }),
    );
  });
  it('is another for another value', () => {
    // what JSON writes differently: −0 and 0 are one number here as there
    fc.assert(
      fc.property(json, json, (a, b) => {
        if (JSON.stringify(a) !== JSON.stringify(b)) expect(hashOf(a)).not.toBe(hashOf(b));
      }),
      { numRuns: 2000 },
    );
  });
  it('sees the last bit of a number and the last letter of a text', () => {
    expect(hashOf(0.1 + 0.2)).not.toBe(hashOf(0.3));
    expect(hashOf(1)).not.toBe(hashOf(1 + Number.EPSILON));
    expect(hashOf(-0)).toBe(hashOf(0));
    expect(hashOf('ab', 'c')).not.toBe(hashOf('a', 'bc'));
    expect(hashOf([1], [2])).not.toBe(hashOf([1, 2], []));
    expect(hashOf([[1], 2])).not.toBe(hashOf([1, [2]]));
    expect(hashOf({ a: { b: 1 }, c: 2 })).not.toBe(hashOf({ a: { b: 1, c: 2 } }));
    expect(hashOf(true)).not.toBe(hashOf(false));
    expect(hashOf(null)).not.toBe(hashOf(0));
    expect(hashOf('1')).not.toBe(hashOf(1));
    expect(hashOf('')).not.toBe(hashOf([]));
    expect(hashOf([])).not.toBe(hashOf({}));
  });
  it('of many numbers near one another never falls together', () => {
    const seen = new Set<string>();
    for (let i = 0; i < 200_000; i++) seen.add(hashOf(i / 1000, i % 7));
    expect(seen.size).toBe(200_000);
  });
  it('of a surface is that of its line', () => {
    const a = new Surface([0, 1, 2], [3, 4, 3]);
    expect(hashOf(a)).toBe(hashOf(new Surface([0, 1, 2], [3, 4, 3])));
    expect(hashOf(a)).not.toBe(hashOf(new Surface([0, 1, 2], [3, 4, 3.0000001])));
    // bins and what was changed are no part of it
    const cut = new Surface([0, 1, 2], [3, 4, 3]);
    cut.clears({ x: [0, 1], y: [9, 9] });
    expect(hashOf(cut)).toBe(hashOf(a));
  });
  it('of a region tells its corners and its rings', () => {
    const square = [
      [
        { x: 0, y: 0 },
        { x: 1, y: 0 },
        { x: 1, y: 1 },
      ],
    ];
    expect(hashRegion(square)).toBe(hashRegion(structuredClone(square)));
    expect(hashRegion(square)).not.toBe(
      hashRegion([
        ...square,
        [
          { x: 5, y: 5 },
          { x: 6, y: 5 },
          { x: 6, y: 6 },
        ],
      ]),
    );
    expect(hashRegion([])).not.toBe(hashRegion(square));
  });
  it('that is kept with a value stands for it wherever it is', () => {
    const tool = { id: 'a', sizes: [1, 2, 3] };
    const other = structuredClone(tool);
    expect(hashOf({ tool: keepHash(tool) })).toBe(hashOf({ tool: keepHash(other) }));
    const third = structuredClone(tool);
    third.sizes[2] = 4;
    expect(hashOf({ tool: keepHash(third) })).not.toBe(hashOf({ tool }));
  });
  it('of what is no plain value is refused', () => {
    expect(() => hashOf(() => 1)).toThrow('cannot be hashed');
    expect(() => hashOf({ a: [Symbol('x')] })).toThrow('cannot be hashed');
  });
});
