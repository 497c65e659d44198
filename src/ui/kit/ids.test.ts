import { createHash } from 'node:crypto';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { newId, sha256 } from './ids';

describe('names made in the page', () => {
  it('are UUIDs of version 4, each another', () => {
    const made = Array.from({ length: 200 }, newId);
    for (const id of made) expect(id).toMatch(/^[0-9a-f]{8}-[0-9a-f]{4}-4[0-9a-f]{3}-[89ab][0-9a-f]{3}-[0-9a-f]{12}$/);
    expect(new Set(made).size).toBe(200);
  });
  it('are the SHA-256 that the server makes of the same bytes', () => {
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 400 }), (bytes) => {
        expect(sha256(bytes)).toBe(createHash('sha256').update(bytes).digest('hex'));
      }),
    );
  });
});
