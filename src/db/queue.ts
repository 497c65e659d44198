import type { PoolClient } from 'pg';

/** Place in the queue of what somebody looks at a page for: before all that is made for lists (lower goes first, 0 by itself). */
export const SOMEBODY_WAITS = -10;

/** Seconds after an edit until its job is planned for the list: all edits that come meanwhile are planned with it. */
const REST = 2;

/** Has the job of the row at hand planned by whichever worker is free; an expression, to stand where the row is saved. */
export const QUEUE_SUMMARY = `graphile_worker.add_job('summary', json_build_object('job', id), max_attempts := 3,
         job_key := 'summary:' || id, job_key_mode := 'preserve_run_at', run_at := now() + interval '${REST} seconds')`;

/** The same for a job that has just been made; within the transaction that makes it, so that it is never lost. */
export const queueSummary = async (client: PoolClient, job: string): Promise<void> => {
  await client.query(`select ${QUEUE_SUMMARY} from jobs where id = $1::uuid`, [job]);
};
