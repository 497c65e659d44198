import { sha256 as digest } from '@noble/hashes/sha2.js';

/**
 * Names that browsers give only to pages of this machine or of a secured address; a page that is open over the shop's
 * network (bin/start --host) has to make them itself.
 */

/** A random UUID, version 4. */
export const newId = (): string => {
  const b = crypto.getRandomValues(new Uint8Array(16));
  b[6] = (b[6] & 0x0f) | 0x40;
  b[8] = (b[8] & 0x3f) | 0x80;
  const hex = hexOf(b);
  return `${hex.slice(0, 8)}-${hex.slice(8, 12)}-${hex.slice(12, 16)}-${hex.slice(16, 20)}-${hex.slice(20)}`;
};

const hexOf = (bytes: Uint8Array): string => [...bytes].map((b) => b.toString(16).padStart(2, '0')).join('');

/** SHA-256 of a file, as 64 hexadecimal digits. */
export const sha256 = (bytes: Uint8Array): string => hexOf(digest(bytes));
