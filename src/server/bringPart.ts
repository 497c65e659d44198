import { gzipSync } from 'node:zlib';
import { bringFile } from '../solid/bringFile';
import { kernelHere } from '../solid/kernelHere';
import { packed } from '../solid/packed';
import type { FileKind, Wishes } from '../solid/wishes';

export interface PartFile {
  readonly kind: FileKind;
  readonly bytes: Uint8Array;
  readonly wishes: Partial<Wishes>;
}

/** Reads a file into a part, as the browser would; packed, and made small. Runs in a thread. */
export const bringPart = async ({ kind, bytes, wishes }: PartFile): Promise<Uint8Array> =>
  gzipSync(packed(await bringFile(kind, bytes, wishes, kernelHere)));
