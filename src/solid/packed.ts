import type { Brought } from './bringFile';

/** What came out of a file as text, for a way that knows no arrays of numbers: these go as bytes in base 64. */

const KINDS = { f32: Float32Array, u32: Uint32Array } as const;

const toBase64 = (bytes: Uint8Array): string => {
  let text = '';
  for (let i = 0; i < bytes.length; i += 0x8000) text += String.fromCharCode(...bytes.subarray(i, i + 0x8000));
  return btoa(text);
};

const fromBase64 = (text: string): Uint8Array => Uint8Array.from(atob(text), (c) => c.charCodeAt(0));

export const packed = (brought: Brought): string =>
  JSON.stringify(brought, (_key, value: unknown) => {
    for (const [name, made] of Object.entries(KINDS))
      if (value instanceof made)
        return { [`#${name}`]: toBase64(new Uint8Array(value.buffer, value.byteOffset, value.byteLength)) };
    return value;
  });

export const unpacked = (text: string): Brought =>
  JSON.parse(text, (_key, value: unknown) => {
    if (typeof value !== 'object' || value === null) return value;
    for (const [name, made] of Object.entries(KINDS)) {
      const bytes = (value as Record<string, unknown>)[`#${name}`];
      if (typeof bytes === 'string') return new made(fromBase64(bytes).buffer as ArrayBuffer);
    }
    return value;
  });
