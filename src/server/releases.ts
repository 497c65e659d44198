import { insertAudit } from '../db/audit';
import { transaction } from '../db/pool';
import { putRefused, putReleased, waitingRelease } from '../db/releases';
import { proveApart } from './heavy';
import { documentAt } from './history';
import type { Proved } from './proveRelease';

const proved = async (job: string, version: number): Promise<Proved> => {
  const old = await documentAt(job, version);
  if (!old.ok) return { ok: false, reason: old.message };
  const made = await proveApart(old.job);
  if (made.kind === 'made') return made.made;
  if (made.kind === 'late') return { ok: false, reason: 'Posting and proving took too long and was stopped.' };
  return { ok: false, reason: `Posting and proving failed: ${made.reason}` };
};

/** Posts and proves a revision that waits for its release, and releases it with those programs, or says why not. */
export const makeRelease = async (job: string, version: number): Promise<void> => {
  const made = await proved(job, version);
  await transaction(async (client) => {
    // another worker may have been quicker, or the job was begun twice
    const asked = await waitingRelease(client, job, version);
    if (!asked) return;
    if (made.ok) await putReleased(client, job, version, made.programs, made.proof);
    else await putRefused(client, job, version, made.reason);
    await insertAudit(
      {
        ...asked,
        action: made.ok ? 'revision released' : 'release refused',
        subject: `revision ${version}${made.ok ? `: ${made.programs.map((p) => p.name).join(', ')}` : `: ${made.reason}`}`,
        job,
        detail: made.ok ? { version, ...made.proof } : { version },
      },
      client,
    );
  });
};
