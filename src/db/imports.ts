import { pool, transaction } from './pool';

export interface AskedImport {
  readonly hash: string;
  readonly kind: string;
  readonly wishes: unknown;
}

export interface ImportState {
  readonly state: 'waiting' | 'made' | 'failed';
  readonly reason: string | null;
}

/** One that has waited longer than this belongs to a worker that is no more: it is asked for again. */
const LOST = '6 minutes';

/**
 * Has a file read by whichever worker is free. What was read within a day is not read again, what failed or was lost is. False
 * when the file is not here.
 */
export const askImport = async (key: string, asked: AskedImport, person: string | null): Promise<boolean> =>
  transaction(async (client) => {
    const { rowCount } = await client.query('select 1 from files where hash = $1::text', [asked.hash]);
    if (rowCount === 0) return false;
    const { rowCount: fresh } = await client.query(
      `insert into imports (key, hash, kind, wishes, state, person)
       values ($1::text, $2::text, $3::text, $4::jsonb, 'waiting', $5::uuid)
       on conflict (key) do update
         set state = 'waiting', asked_at = now(), done_at = null, reason = null, result = null, person = excluded.person
       where imports.state = 'failed' or (imports.state = 'waiting' and imports.asked_at < now() - interval '${LOST}')`,
      [key, asked.hash, asked.kind, JSON.stringify(asked.wishes), person],
    );
    if (fresh)
      await client.query(
        `select graphile_worker.add_job('import', json_build_object('key', $1::text), max_attempts := 2,
                 job_key := 'import:' || $1::text)`,
        [key],
      );
    return true;
  });

export const importState = async (key: string): Promise<ImportState | null> => {
  const { rows } = await pool().query<ImportState>('select state, reason from imports where key = $1::text', [key]);
  return rows[0] ?? null;
};

/** What a worker has made of a file, packed; null while there is nothing. */
export const importResult = async (key: string): Promise<Buffer | null> => {
  const { rows } = await pool().query<{ result: Buffer | null }>('select result from imports where key = $1::text', [
    key,
  ]);
  return rows[0]?.result ?? null;
};

/** An import that still waits. */
export const waitingImport = async (key: string): Promise<AskedImport | null> => {
  const { rows } = await pool().query<AskedImport>(
    `select hash, kind, wishes from imports where key = $1::text and state = 'waiting'`,
    [key],
  );
  return rows[0] ?? null;
};

export const settleImport = async (key: string, result: Buffer | null, reason: string | null): Promise<void> => {
  await pool().query(
    `update imports set state = case when $2::bytea is null then 'failed' else 'made' end, result = $2::bytea,
            reason = left($3::text, 2000), done_at = now()
      where key = $1::text and state = 'waiting'`,
    [key, result, reason],
  );
};

/** Imports are kept a day; gives how many went. */
export const sweepImports = async (): Promise<number> => {
  const { rowCount } = await pool().query(`delete from imports where asked_at < now() - interval '1 day'`);
  return rowCount ?? 0;
};
