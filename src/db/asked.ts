import { pool } from './pool';
import { SOMEBODY_WAITS } from './queue';

/** What a worker can be asked for: the file or the job that it is about, and the rest of the question. */
export type Asked =
  | { readonly task: 'import'; readonly file: string; readonly job: null; readonly of: Record<string, unknown> }
  | { readonly task: 'order'; readonly file: null; readonly job: string; readonly of: Record<string, unknown> };

export interface AskedState {
  readonly state: 'waiting' | 'made' | 'failed';
  readonly reason: string | null;
}

/** One that has waited longer than this belongs to a worker that is no more: it is asked for again. */
const LOST = '6 minutes';

/**
 * Has something made by whichever worker is free. What was made within a day is not made again, what failed or was lost is.
 * False when the file or the job is not here.
 */
export const ask = async (key: string, asked: Asked, person: string | null): Promise<boolean> => {
  const { rowCount } = await pool().query(
    `with here as (select 1 from files where hash = $3::text union all select 1 from jobs where id = $4::uuid),
          fresh as (
            insert into asked (key, task, file, job, of, state, person)
            select $1::text, $2::text, $3::text, $4::uuid, $5::jsonb, 'waiting', $6::uuid from here
            on conflict (key) do update
              set state = 'waiting', asked_at = now(), done_at = null, reason = null, result = null, person = excluded.person
            where asked.state = 'failed' or (asked.state = 'waiting' and asked.asked_at < now() - interval '${LOST}')
            returning key),
          queued as (
            select graphile_worker.add_job($2::text, json_build_object('key', key), max_attempts := 2,
                     priority := ${SOMEBODY_WAITS}, job_key := 'asked:' || key)
              from fresh)
     select (select count(*) from queued) from here`,
    [key, asked.task, asked.file, asked.job, JSON.stringify(asked.of), person],
  );
  return rowCount === 1;
};

export const askedState = async (key: string): Promise<AskedState | null> => {
  const { rows } = await pool().query<AskedState>('select state, reason from asked where key = $1::text', [key]);
  return rows[0] ?? null;
};

/** What a worker has made, packed; null while there is nothing. */
export const askedResult = async (key: string): Promise<Buffer | null> => {
  const { rows } = await pool().query<{ result: Buffer | null }>('select result from asked where key = $1::text', [
    key,
  ]);
  return rows[0]?.result ?? null;
};

/** Something that still waits. */
export const waitingAsked = async (key: string): Promise<Asked | null> => {
  const { rows } = await pool().query<Asked>(
    `select task, file, job, of from asked where key = $1::text and state = 'waiting'`,
    [key],
  );
  return rows[0] ?? null;
};

export const settleAsked = async (key: string, result: Buffer | null, reason: string | null): Promise<void> => {
  await pool().query(
    `update asked set state = case when $2::bytea is null then 'failed' else 'made' end, result = $2::bytea,
            reason = left($3::text, 2000), done_at = now()
      where key = $1::text and state = 'waiting'`,
    [key, result, reason],
  );
};

/** What was asked is kept a day; gives how many went. */
export const sweepAsked = async (): Promise<number> => {
  const { rowCount } = await pool().query(`delete from asked where asked_at < now() - interval '1 day'`);
  return rowCount ?? 0;
};
