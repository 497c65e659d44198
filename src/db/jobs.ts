import type { PoolClient } from 'pg';
import type { Diff, Job } from '../core/plan';
import { pool } from './pool';

export interface JobSummary {
  readonly number: string;
  readonly name: string;
  readonly machine: string;
  readonly material: string;
  /** SVG path of the half-section mirrored to a full one, and its box. */
  readonly path: string;
  readonly box: readonly [number, number, number, number];
  readonly operations: number;
  readonly attention: number;
  readonly blocked: number;
  readonly seconds: number;
}

export interface JobRow {
  readonly id: string;
  readonly version: number;
  /** As it was saved: of any version, to be read by readJob. */
  readonly document: unknown;
  readonly updatedAt: string;
  readonly updatedBy: string;
}

export interface JobListRow {
  readonly id: string;
  readonly version: number;
  readonly summary: JobSummary;
  readonly updatedAt: string;
  readonly updatedBy: string;
}

const toIso = (value: unknown): string => new Date(value as string).toISOString();

export const listJobs = async (): Promise<JobListRow[]> => {
  const { rows } = await pool().query(`
    select id, version, summary, updated_at, updated_by
      from jobs
     where deleted_at is null
     order by updated_at desc, id
     limit 500`);
  return rows.map((r) => ({
    id: r.id,
    version: r.version,
    summary: r.summary,
    updatedAt: toIso(r.updated_at),
    updatedBy: r.updated_by,
  }));
};

export const findJob = async (id: string): Promise<JobRow | null> => {
  const { rows } = await pool().query(
    'select id, version, document, updated_at, updated_by from jobs where id = $1::uuid and deleted_at is null',
    [id],
  );
  const r = rows[0];
  return r
    ? { id: r.id, version: r.version, document: r.document, updatedAt: toIso(r.updated_at), updatedBy: r.updated_by }
    : null;
};

/** The row locked until the transaction ends, so that edits of one job run one after another. */
export const lockJob = async (
  client: PoolClient,
  id: string,
): Promise<{ version: number; document: unknown; updatedBy: string } | null> => {
  const { rows } = await client.query(
    'select version, document, updated_by as "updatedBy" from jobs where id = $1::uuid and deleted_at is null for update',
    [id],
  );
  return rows[0] ?? null;
};

export const insertJob = async (
  client: PoolClient,
  id: string,
  document: Job,
  summary: JobSummary,
  author: string,
): Promise<void> => {
  await client.query(
    `insert into jobs (id, version, document, summary, updated_by)
     values ($1::uuid, 1, $2::jsonb, $3::jsonb, $4::text)`,
    [id, JSON.stringify(document), JSON.stringify(summary), author],
  );
};

/** Takes a new version; of its summary only what is known without planning, the rest follows. */
export const updateJob = async (
  client: PoolClient,
  id: string,
  version: number,
  document: Job,
  summary: Partial<JobSummary>,
  author: string,
): Promise<void> => {
  await client.query(
    `update jobs
        set version = $2::integer, document = $3::jsonb, summary = summary || $4::jsonb, updated_by = $5::text, updated_at = now()
      where id = $1::uuid`,
    [id, version, JSON.stringify(document), JSON.stringify(summary), author],
  );
};

/** Puts the summary of a version in its place, unless a newer version has come. */
export const putSummary = async (id: string, version: number, summary: JobSummary): Promise<void> => {
  await pool().query('update jobs set summary = $3::jsonb where id = $1::uuid and version = $2::integer', [
    id,
    version,
    JSON.stringify(summary),
  ]);
};

export const markDeleted = async (id: string, deleted: boolean): Promise<boolean> => {
  const { rowCount } = await pool().query(
    'update jobs set deleted_at = case when $2::boolean then now() else null end where id = $1::uuid',
    [id, deleted],
  );
  return (rowCount ?? 0) > 0;
};

export const insertRevision = async (
  client: PoolClient,
  r: { job: string; version: number; edit: string; diff: Diff; snapshot: Job | null; author: string; label: string },
): Promise<void> => {
  await client.query(
    `insert into revisions (job_id, version, edit_id, diff, snapshot, author, label)
     values ($1::uuid, $2::integer, $3::uuid, $4::jsonb, $5::jsonb, $6::text, $7::text)`,
    [
      r.job,
      r.version,
      r.edit,
      JSON.stringify(r.diff),
      r.snapshot === null ? null : JSON.stringify(r.snapshot),
      r.author,
      r.label,
    ],
  );
};

/** Version that an edit made when it was first taken, or null. */
export const versionOfEdit = async (client: PoolClient, job: string, edit: string): Promise<number | null> => {
  const { rows } = await client.query('select version from revisions where job_id = $1::uuid and edit_id = $2::uuid', [
    job,
    edit,
  ]);
  return rows[0]?.version ?? null;
};
