import { sweepAsked } from '../db/asked';
import { sweepFiles } from '../db/files';
import { transaction } from '../db/pool';
import { chainTo, deleteRevisions, jobsWithOldRevisions, putSnapshot, thinnable, versionsOf } from '../db/revisions';
import { sweepSessions } from '../db/sessions';
import { replayed } from './history';

/**
 * Thins the old revisions of a job by the rule (see `thinnable`). A revision that loses the one before it is kept whole, so
 * that every one that stays can still be shown. Gives how many were removed.
 */
export const thin = async (job: string): Promise<number> =>
  transaction(async (client) => {
    await client.query('select 1 from jobs where id = $1::uuid for update', [job]);
    const gone = new Set(await thinnable(client, job));
    if (gone.size === 0) return 0;
    const versions = await versionsOf(client, job);
    for (const [i, version] of versions.entries()) {
      if (gone.has(version) || i === 0 || !gone.has(versions[i - 1])) continue;
      const chain = await chainTo(job, version, client);
      const document = chain && replayed(chain);
      // what cannot be replayed is not touched, nor what it stands on
      if (!document) for (let k = i - 1; k >= 0 && gone.has(versions[k]); k--) gone.delete(versions[k]);
      else await putSnapshot(client, job, version, document);
    }
    await deleteRevisions(client, job, [...gone]);
    return gone.size;
  });

/** The nightly round: old revisions, files that nothing names, sessions that have ended. */
export const keepHouse = async (): Promise<{ revisions: number; files: number }> => {
  let revisions = 0;
  for (const job of await jobsWithOldRevisions()) revisions += await thin(job);
  const files = await sweepFiles();
  await sweepSessions();
  await sweepAsked();
  return { revisions, files };
};
