import { readFileSync } from 'node:fs';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { testKernel } from '../../tests/fixtures/kernel';
import { type Brought, bringFile } from './bringFile';
import { packed, unpacked } from './packed';

describe('what came out of a file, as text', () => {
  it('is the same again, for a solid with all it holds', async () => {
    const bytes = new Uint8Array(readFileSync('demo/solids/LM-101.step'));
    const brought = await bringFile('step', bytes, {}, testKernel);
    expect(brought.mesh?.triangles.length).toBeGreaterThan(1000);
    expect(JSON.stringify(unpacked(packed(brought)), asLists)).toBe(JSON.stringify(brought, asLists));
    expect(unpacked(packed(brought)).mesh?.positions).toEqual(brought.mesh?.positions);
    expect(unpacked(packed(brought)).part).toEqual(brought.part);
  });
  it('keeps every number of its arrays, of any length', () => {
    fc.assert(
      fc.property(fc.float32Array({ noNaN: true, maxLength: 300 }), fc.uint32Array({ maxLength: 300 }), (f, u) => {
        const mesh = { positions: f, normals: new Float32Array(0), triangles: u, groups: [], edges: f, circles: [] };
        const brought = { kind: 'stl', mesh } as unknown as Brought;
        expect(unpacked(packed(brought)).mesh).toEqual(mesh);
      }),
      { numRuns: 100 },
    );
  });
  it('keeps an array that is a window on a longer one to itself', () => {
    const window = new Float32Array([1, 2, 3, 4]).subarray(1, 3);
    const brought = { kind: 'stl', mesh: { positions: window } } as unknown as Brought;
    expect([...(unpacked(packed(brought)).mesh?.positions ?? [])]).toEqual([2, 3]);
  });
});

/** Arrays as lists of numbers with their kind: another way than the product's. */
const asLists = (_k: string, v: unknown): unknown =>
  v instanceof Float32Array || v instanceof Uint32Array ? [v.constructor.name, ...v] : v;
