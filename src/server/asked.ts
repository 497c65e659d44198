import { createHash } from 'node:crypto';
import { z } from 'zod';
import { type Asked, settleAsked, waitingAsked } from '../db/asked';
import { findFile } from '../db/files';
import type { FileKind, Wishes } from '../solid/wishes';
import { bringApart, orderApart } from './heavy';
import { isHash } from './http';
import { loadJob } from './jobs';

/** What of a file is asked: wishes are told apart by their text, and bounded in size. */
export const ImportSchema = z.object({
  hash: z.string().refine(isHash, 'it must be the SHA-256 of the file'),
  kind: z.enum(['step', 'stl', 'dxf']),
  wishes: z
    .record(z.string().max(20), z.record(z.string().max(40), z.unknown()))
    .refine((w) => JSON.stringify(w).length < 4000, 'they are too long'),
});

/** Which state of a job is asked about. */
export const OrderSchema = z.object({ version: z.number().int().min(1) });

export const importAsked = ({ hash, kind, wishes }: z.infer<typeof ImportSchema>): Asked => ({
  task: 'import',
  file: hash,
  job: null,
  of: { kind, wishes },
});

export const orderAsked = (job: string, version: number): Asked => ({
  task: 'order',
  file: null,
  job,
  of: { version },
});

/** One name for what is asked. */
export const askedKey = (asked: Asked): string =>
  createHash('sha256')
    .update(JSON.stringify([asked.task, asked.file ?? asked.job, asked.of]))
    .digest('hex');

type Made = { readonly made: Uint8Array } | { readonly reason: string };

const readFile = async (hash: string, of: Asked['of']): Promise<Made> => {
  const file = await findFile(hash);
  if (!file) return { reason: 'The file is not kept here any more. Bring it in again.' };
  const { kind, wishes } = of as { kind: FileKind; wishes: Partial<Wishes> };
  const made = await bringApart({ kind, bytes: file.bytes, wishes });
  if (made.kind === 'made') return made;
  return {
    reason:
      made.kind === 'late'
        ? 'Reading took too long on the server too and was stopped. Export a simpler solid: the single part, without threads and lettering.'
        : `The server could not read it (${made.reason.slice(0, 200)}). Heal the part where it was drawn and export it again.`,
  };
};

const findOrder = async (job: string, of: Asked['of']): Promise<Made> => {
  const opened = await loadJob(job);
  if (!opened || 'unreadable' in opened) return { reason: 'The job cannot be opened any more.' };
  if (opened.version !== of.version) return { reason: 'The job was changed meanwhile. Ask again.' };
  const made = await orderApart(opened.document);
  if (made.kind === 'made') return { made: Buffer.from(JSON.stringify(made.made)) };
  return {
    reason:
      made.kind === 'late'
        ? 'Trying orders took too long and was stopped. Put a stop between parts of the job: nothing is moved across it.'
        : `No order could be tried (${made.reason.slice(0, 200)}). See the findings of the job first.`,
  };
};

/** Makes what was asked, and keeps what comes out, or why nothing does. */
export const makeAsked = async (key: string): Promise<void> => {
  const asked = await waitingAsked(key);
  if (!asked) return;
  const made = asked.task === 'import' ? await readFile(asked.file, asked.of) : await findOrder(asked.job, asked.of);
  if ('made' in made) await settleAsked(key, Buffer.from(made.made), null);
  else await settleAsked(key, null, made.reason);
};
