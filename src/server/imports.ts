import { createHash } from 'node:crypto';
import { z } from 'zod';
import { findFile } from '../db/files';
import { settleImport, waitingImport } from '../db/imports';
import type { FileKind, Wishes } from '../solid/wishes';
import { bringApart } from './heavy';
import { isHash } from './http';

/** What of a file is asked: wishes are told apart by their text, and bounded in size. */
export const ImportSchema = z.object({
  hash: z.string().refine(isHash, 'it must be the SHA-256 of the file'),
  kind: z.enum(['step', 'stl', 'dxf']),
  wishes: z
    .record(z.string().max(20), z.record(z.string().max(40), z.unknown()))
    .refine((w) => JSON.stringify(w).length < 4000, 'they are too long'),
});

/** One name for a file read with certain wishes. */
export const importKey = (asked: z.infer<typeof ImportSchema>): string =>
  createHash('sha256')
    .update(JSON.stringify([asked.kind, asked.hash, asked.wishes]))
    .digest('hex');

/** Reads a file that a browser could not, and keeps what comes out, or why nothing does. */
export const makeImport = async (key: string): Promise<void> => {
  const asked = await waitingImport(key);
  if (!asked) return;
  const file = await findFile(asked.hash);
  if (!file) {
    await settleImport(key, null, 'The file is not kept here any more. Bring it in again.');
    return;
  }
  const wishes = asked.wishes as Partial<Wishes>;
  const made = await bringApart({ kind: asked.kind as FileKind, bytes: file.bytes, wishes });
  if (made.kind === 'made') await settleImport(key, Buffer.from(made.made), null);
  else
    await settleImport(
      key,
      null,
      made.kind === 'late'
        ? 'Reading took too long on the server too and was stopped. Export a simpler solid: the single part, without threads and lettering.'
        : `The server could not read it (${made.reason.slice(0, 200)}). Heal the part where it was drawn and export it again.`,
    );
};
