import type { PoolClient } from 'pg';
import type { Diff, Job } from '../core/plan';
import { pool } from './pool';
import type { ReleaseProof } from './releases';

export interface RevisionRow {
  readonly version: number;
  readonly author: string;
  readonly label: string;
  readonly name: string | null;
  readonly namedBy: string | null;
  readonly releasedAt: string | null;
  readonly at: string;
  readonly release: ReleaseRow | null;
}

/** What came of asking for a revision's release. */
export interface ReleaseRow {
  readonly state: 'waiting' | 'released' | 'refused';
  readonly by: string;
  readonly reason: string | null;
  readonly proof: ReleaseProof | null;
  readonly programs: readonly { readonly name: string; readonly hash: string }[];
}

const PAGE = 60;

/** Revisions of a job, the newest first, below a version. */
export const listRevisions = async (
  job: string,
  below: number | null,
  namedOnly: boolean,
): Promise<{ rows: RevisionRow[]; next: number | null }> => {
  const { rows } = await pool().query<RevisionRow>(
    `select r.version, r.author, r.label, r.name, r.named_by as "namedBy", r.released_at as "releasedAt",
            r.created_at as at,
            case when l.state is null then null else json_build_object(
              'state', l.state, 'by', l.name, 'reason', l.reason, 'proof', l.proof,
              'programs', coalesce((select json_agg(json_build_object('name', p.name, 'hash', p.hash) order by p.place)
                                      from released_programs p
                                     where p.job_id = r.job_id and p.version = r.version), '[]'::json)) end as release
       from revisions r
       left join releases l on l.job_id = r.job_id and l.version = r.version
      where r.job_id = $1::uuid and ($2::integer is null or r.version < $2::integer)
        and (not $3::boolean or r.name is not null)
      order by r.version desc
      limit $4::integer`,
    [job, below, namedOnly, PAGE + 1],
  );
  return { rows: rows.slice(0, PAGE), next: rows.length > PAGE ? rows[PAGE - 1].version : null };
};

export const insertRevision = async (
  client: PoolClient,
  r: {
    job: string;
    version: number;
    edit: string;
    diff: Diff;
    snapshot: Job | null;
    author: string;
    person: string | null;
    label: string;
  },
): Promise<void> => {
  await client.query(
    `insert into revisions (job_id, version, edit_id, diff, snapshot, author, label, person)
     values ($1::uuid, $2::integer, $3::uuid, $4::jsonb, $5::jsonb, $6::text, $7::text, $8::uuid)`,
    [
      r.job,
      r.version,
      r.edit,
      JSON.stringify(r.diff),
      r.snapshot === null ? null : JSON.stringify(r.snapshot),
      r.author,
      r.label,
      r.person,
    ],
  );
};

/** Version that an edit made when it was first taken, or null. */
export const versionOfEdit = async (job: string, edit: string): Promise<number | null> => {
  const { rows } = await pool().query('select version from revisions where job_id = $1::uuid and edit_id = $2::uuid', [
    job,
    edit,
  ]);
  return rows[0]?.version ?? null;
};

/** The last whole document at or before a version, and the diffs from there to it, in order. */
export const chainTo = async (
  job: string,
  version: number,
  client?: PoolClient,
): Promise<{ snapshot: unknown; diffs: Diff[] } | null> => {
  const { rows } = await (client ?? pool()).query(
    `select version, diff, snapshot
       from revisions
      where job_id = $1::uuid and version <= $2::integer
        and version >= (select max(version) from revisions
                         where job_id = $1::uuid and version <= $2::integer and snapshot is not null)
      order by version`,
    [job, version],
  );
  if (rows.length === 0 || rows[rows.length - 1].version !== version) return null;
  return { snapshot: rows[0].snapshot, diffs: rows.slice(1).map((r) => r.diff as Diff) };
};

export const nameRevision = async (
  client: PoolClient,
  job: string,
  version: number,
  name: string | null,
  by: string,
): Promise<boolean> => {
  const { rowCount } = await client.query(
    `update revisions set name = $3::text, named_by = case when $3::text is null then null else $4::text end
      where job_id = $1::uuid and version = $2::integer`,
    [job, version, name, by],
  );
  return (rowCount ?? 0) > 0;
};

/**
 * Versions of a job that the rule of thinning gives up: older than 30 days, all but the last of each day; older than a
 * year, all but the last of each month. The first, the present, named and released ones stay.
 */
export const thinnable = async (client: PoolClient, job: string): Promise<number[]> => {
  const { rows } = await client.query(
    `with aged as (
       select version, name, released_at,
              case when created_at < now() - interval '1 year' then date_trunc('month', created_at)
                   when created_at < now() - interval '30 days' then date_trunc('day', created_at) end as span
         from revisions where job_id = $1::uuid)
     select version from (
       select version, name, released_at, span, max(version) over (partition by span) as last from aged) a
      where span is not null and version <> last and name is null and released_at is null and version > 1
        and version <> (select version from jobs where id = $1::uuid)
      order by version`,
    [job],
  );
  return rows.map((r) => r.version as number);
};

export const jobsWithOldRevisions = async (): Promise<string[]> => {
  const { rows } = await pool().query(
    `select distinct job_id from revisions where created_at < now() - interval '30 days'`,
  );
  return rows.map((r) => r.job_id as string);
};

export const putSnapshot = async (
  client: PoolClient,
  job: string,
  version: number,
  document: unknown,
): Promise<void> => {
  await client.query('update revisions set snapshot = $3::jsonb where job_id = $1::uuid and version = $2::integer', [
    job,
    version,
    JSON.stringify(document),
  ]);
};

export const versionsOf = async (client: PoolClient, job: string): Promise<number[]> =>
  (await client.query('select version from revisions where job_id = $1::uuid order by version', [job])).rows.map(
    (r) => r.version as number,
  );

export const deleteRevisions = async (client: PoolClient, job: string, versions: readonly number[]): Promise<void> => {
  await client.query('delete from revisions where job_id = $1::uuid and version = any ($2::integer[])', [
    job,
    versions,
  ]);
};
