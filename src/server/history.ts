import { applyDiff, type Diff, type Job, readJob } from '../core/plan';
import { chainTo } from '../db/revisions';
import { isUuid } from './http';

/** The document that a whole one and the diffs after it come to; null when a diff does not fit. */
export const replayed = ({ snapshot, diffs }: { snapshot: unknown; diffs: readonly Diff[] }): unknown => {
  try {
    return diffs.reduce((document, diff) => applyDiff<unknown>(document, diff), snapshot);
  } catch {
    return null;
  }
};

export type OldDocument =
  | { readonly ok: true; readonly job: Job }
  | { readonly ok: false; readonly status: 404 | 422; readonly message: string };

/** A job as it was at a revision, brought up to the present form. */
export const documentAt = async (id: string, version: number): Promise<OldDocument> => {
  const chain = isUuid(id) ? await chainTo(id, version) : null;
  if (!chain)
    return {
      ok: false,
      status: 404,
      message: `Revision ${version} is not kept any more. Choose one from the history.`,
    };
  const read = readJob(replayed(chain));
  if (read.ok) return { ok: true, job: read.job };
  return {
    ok: false,
    status: 422,
    message: `Revision ${version} cannot be shown: ${read.problems.map((p) => p.message).join(' ')}`,
  };
};
