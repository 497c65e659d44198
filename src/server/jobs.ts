import { randomUUID } from 'node:crypto';
import { z } from 'zod';
import { applyDiff, type Diff, type Job, readJob } from '../core/plan';
import { findJob, insertJob, insertRevision, type JobRow, lockJob, updateJob, versionOfEdit } from '../db/jobs';
import { transaction } from '../db/pool';
import { summarise } from './summary';

/** A whole document is kept with every so many edits. */
const SNAPSHOT_EVERY = 25;

export const EditSchema = z.object({
  edit: z.uuid(),
  base: z.number().int().min(1),
  author: z.string().min(1).max(120),
  label: z.string().max(200).default(''),
  diff: z.object({
    added: z.record(z.string(), z.unknown()),
    updated: z.record(z.string(), z.tuple([z.unknown(), z.unknown()])),
    removed: z.record(z.string(), z.unknown()),
  }),
});
export type Edit = Omit<z.infer<typeof EditSchema>, 'diff'> & { readonly diff: Diff };

export type EditOutcome =
  | { readonly kind: 'saved'; readonly version: number }
  | { readonly kind: 'conflict'; readonly version: number; readonly document: Job; readonly updatedBy: string }
  | { readonly kind: 'missing' }
  | { readonly kind: 'invalid'; readonly message: string };

/**
 * Takes an edit made on version `base`. The same edit sent again (its answer was lost) counts once. An edit made on an
 * older version is not taken: the sender gets the present document and keeps its own.
 */
export const saveEdit = async (id: string, edit: Edit): Promise<EditOutcome> => {
  if (!z.uuid().safeParse(id).success) return { kind: 'missing' };
  return transaction(async (client): Promise<EditOutcome> => {
    const row = await lockJob(client, id);
    if (!row) return { kind: 'missing' };
    const before = await versionOfEdit(client, id, edit.edit);
    if (before !== null) return { kind: 'saved', version: before };
    if (row.version !== edit.base) {
      return { kind: 'conflict', version: row.version, document: row.document, updatedBy: row.updatedBy };
    }
    let changed: unknown;
    try {
      changed = applyDiff(row.document, edit.diff);
    } catch (error) {
      return {
        kind: 'invalid',
        message: error instanceof Error ? error.message : 'The change does not fit the document.',
      };
    }
    const read = readJob(changed);
    if (!read.ok) return { kind: 'invalid', message: read.problems.map((p) => p.message).join(' ') };
    const version = row.version + 1;
    await insertRevision(client, {
      job: id,
      version,
      edit: edit.edit,
      diff: edit.diff,
      snapshot: version % SNAPSHOT_EVERY === 0 ? read.job : null,
      author: edit.author,
      label: edit.label,
    });
    await updateJob(client, id, version, read.job, summarise(read.job), edit.author);
    return { kind: 'saved', version };
  });
};

/** A new job with its first revision. */
export const createJob = async (
  job: Job,
  author: string,
  id: string = randomUUID(),
): Promise<{ id: string; version: number }> => {
  const summary = summarise(job);
  await transaction(async (client) => {
    await insertJob(client, id, job, summary, author);
    await insertRevision(client, {
      job: id,
      version: 1,
      edit: randomUUID(),
      diff: { added: {}, updated: {}, removed: {} },
      snapshot: job,
      author,
      label: 'made',
    });
  });
  return { id, version: 1 };
};

export const loadJob = async (id: string): Promise<JobRow | null> =>
  z.uuid().safeParse(id).success ? findJob(id) : null;
