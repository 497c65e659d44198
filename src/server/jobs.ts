import { randomUUID } from 'node:crypto';
import { z } from 'zod';
import { applyDiff, type Diff, type Job, readJob } from '../core/plan';
import type { JobSummary } from '../db/jobs';
import { findJob, insertJob, insertRevision, lockJob, putSummary, updateJob, versionOfEdit } from '../db/jobs';
import { transaction } from '../db/pool';
import { summariseApart } from './heavy';
import { firstSummary, plainSummary } from './summary';

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
  let saved: { version: number; job: Job } | null = null as { version: number; job: Job } | null;
  const outcome = await transaction(async (client): Promise<EditOutcome> => {
    const row = await lockJob(client, id);
    if (!row) return { kind: 'missing' };
    // what is edited is the document as it is read today, the same that the page holds
    const present = readJob(row.document);
    if (!present.ok) return { kind: 'invalid', message: present.problems.map((p) => p.message).join(' ') };
    const before = await versionOfEdit(client, id, edit.edit);
    if (before !== null) return { kind: 'saved', version: before };
    if (row.version !== edit.base) {
      return { kind: 'conflict', version: row.version, document: present.job, updatedBy: row.updatedBy };
    }
    let changed: unknown;
    try {
      changed = applyDiff<unknown>(present.job, edit.diff);
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
    await updateJob(client, id, version, read.job, plainSummary(read.job), edit.author);
    saved = { version, job: read.job };
    return { kind: 'saved', version };
  });
  if (saved) followUp(id, saved.version, saved.job);
  return outcome;
};

/** Plans a saved version for the list of jobs, apart from the saving. */
const followUp = (id: string, version: number, job: Job): void => {
  void summariseApart(job)
    .then((a) =>
      a.kind === 'summary' ? putSummary(id, version, a.summary) : console.error(`job ${id}: no summary (${a.kind})`),
    )
    .catch((error: unknown) => console.error(error));
};

/** A new job with its first revision; its summary is given, or follows. */
export const createJob = async (
  job: Job,
  author: string,
  id: string = randomUUID(),
  summary: JobSummary | null = null,
): Promise<{ id: string; version: number }> => {
  await transaction(async (client) => {
    await insertJob(client, id, job, summary ?? firstSummary(job), author);
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
  if (!summary) followUp(id, 1, job);
  return { id, version: 1 };
};

export interface OpenedJob {
  readonly id: string;
  readonly version: number;
  readonly document: Job;
  readonly updatedAt: string;
  readonly updatedBy: string;
}

/** A job brought up to the present version of its document; or why it cannot be read, which loses nothing. */
export const loadJob = async (id: string): Promise<OpenedJob | { readonly unreadable: string } | null> => {
  const row = z.uuid().safeParse(id).success ? await findJob(id) : null;
  if (!row) return null;
  const read = readJob(row.document);
  if (!read.ok) return { unreadable: read.problems.map((p) => p.message).join(' ') };
  return { ...row, document: read.job };
};
