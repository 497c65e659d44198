import type { PoolClient } from 'pg';
import type { AuditEntry } from './audit';
import { pool } from './pool';
import { SOMEBODY_WAITS } from './queue';

export interface ReleasedProgram {
  readonly name: string;
  readonly text: string;
}

/** What the proof of a release measured. */
export interface ReleaseProof {
  /** mm. */
  readonly maxDeviation: number;
  readonly moves: number;
  /** Greatest thickness by which the stock as read differs from the plan's, mm. */
  readonly thickness: number;
}

/** Who asks for a release, as the audit list has it. */
export type Asker = Pick<AuditEntry, 'person' | 'name' | 'address'>;

const RELEASE_KEY = `'release:' || job_id || ':' || version`;
/** Has the release of the row at hand made by whichever worker is free; an expression, to stand where the row is read. */
const QUEUE_RELEASE = `graphile_worker.add_job('release', json_build_object('job', job_id, 'version', version),
         max_attempts := 5, priority := ${SOMEBODY_WAITS}, job_key := ${RELEASE_KEY})`;

/**
 * Notes that a revision is to be released and has a worker post and prove it; one that was refused may be asked for again.
 * False when it waits or is released already.
 */
export const askRelease = async (client: PoolClient, job: string, version: number, by: Asker): Promise<boolean> => {
  const { rowCount } = await client.query(
    `insert into releases (job_id, version, state, person, name, address)
     values ($1::uuid, $2::integer, 'waiting', $3::uuid, $4::text, $5::text)
     on conflict (job_id, version) do update
       set state = 'waiting', person = excluded.person, name = excluded.name, address = excluded.address,
           asked_at = now(), done_at = null, reason = null
     where releases.state = 'refused'`,
    [job, version, by.person, by.name, by.address],
  );
  if (!rowCount) return false;
  await client.query(`select ${QUEUE_RELEASE} from releases where job_id = $1::uuid and version = $2::integer`, [
    job,
    version,
  ]);
  return true;
};

/**
 * Puts those into the queue again that wait for a release nobody will make any more: whoever tried was stopped each time, as
 * by a database that was away. Gives how many.
 */
export const askLostAgain = async (): Promise<number> => {
  const { rowCount } = await pool().query(
    `select ${QUEUE_RELEASE} from releases
      where state = 'waiting'
        and not exists (
          select 1 from graphile_worker.jobs j
           where j.key = ${RELEASE_KEY} and (j.attempts < j.max_attempts or j.locked_at is not null))`,
  );
  return rowCount ?? 0;
};

/** A release that waits to be made, with who asked; held until the transaction ends. Null when nothing waits. */
export const waitingRelease = async (client: PoolClient, job: string, version: number): Promise<Asker | null> => {
  const { rows } = await client.query(
    `select person, name, address from releases
      where job_id = $1::uuid and version = $2::integer and state = 'waiting' for update`,
    [job, version],
  );
  return rows[0] ?? null;
};

export const putReleased = async (
  client: PoolClient,
  job: string,
  version: number,
  programs: readonly ReleasedProgram[],
  proof: ReleaseProof,
): Promise<void> => {
  await client.query(
    `update releases set state = 'released', done_at = now(), proof = $3::jsonb
      where job_id = $1::uuid and version = $2::integer`,
    [job, version, JSON.stringify(proof)],
  );
  for (const [place, { name, text }] of programs.entries())
    await client.query(
      `insert into released_programs (job_id, version, place, name, hash, text)
       values ($1::uuid, $2::integer, $3::integer, $4::text, encode(sha256(convert_to($5::text, 'UTF8')), 'hex'), $5::text)`,
      [job, version, place, name, text],
    );
  await client.query(
    'update revisions set released_at = now() where job_id = $1::uuid and version = $2::integer and released_at is null',
    [job, version],
  );
};

export const putRefused = async (client: PoolClient, job: string, version: number, reason: string): Promise<void> => {
  await client.query(
    `update releases set state = 'refused', done_at = now(), reason = $3::text
      where job_id = $1::uuid and version = $2::integer and state = 'waiting'`,
    [job, version, reason.slice(0, 2000)],
  );
};

/** A program as it was released; null when there is none of this name. */
export const findProgram = async (job: string, version: number, name: string): Promise<string | null> => {
  const { rows } = await pool().query(
    'select text from released_programs where job_id = $1::uuid and version = $2::integer and name = $3::text',
    [job, version, name],
  );
  return rows[0]?.text ?? null;
};
