import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { gzipSync } from 'node:zlib';
import { bringFile } from '../solid/bringFile';
import { loadKernel } from '../solid/kernel';
import { packed } from '../solid/packed';
import type { FileKind, Wishes } from '../solid/wishes';

export interface PartFile {
  readonly kind: FileKind;
  readonly bytes: Uint8Array;
  readonly wishes: Partial<Wishes>;
}

const kernel = () =>
  loadKernel({ bytes: readFileSync(createRequire(import.meta.url).resolve('replicad-opencascadejs/wasm')) });

/** Reads a file into a part, as the browser would; packed, and made small. Runs in a thread. */
export const bringPart = async ({ kind, bytes, wishes }: PartFile): Promise<Uint8Array> =>
  gzipSync(packed(await bringFile(kind, bytes, wishes, kernel)));
