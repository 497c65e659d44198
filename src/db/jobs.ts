import type { PoolClient } from 'pg';
import type { Diff, Job } from '../core/plan';
import { NEWS_CHANNEL, pool, writePool } from './pool';
import { GONE_AFTER } from './presence';
import { QUEUE_SUMMARY } from './queue';

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
  readonly labels: readonly string[];
  readonly updatedAt: string;
  readonly updatedBy: string;
  /** Names of those who have it open now. */
  readonly present: readonly string[];
}

export interface JobPage {
  readonly jobs: readonly JobListRow[];
  /** Asks for what follows; null at the end. */
  readonly next: string | null;
  /** How many there are altogether under this search. */
  readonly count: number;
}

export interface JobSearch {
  readonly words?: string;
  readonly label?: string | null;
  readonly after?: string | null;
  readonly limit?: number;
}

const MOST_A_PAGE = 100;
const CURSOR = /^(\d{4}-\d\d-\d\d \d\d:\d\d:\d\d(?:\.\d{1,6})?\+00)~([0-9a-f-]{36})$/;

/** Whether a text may be a place in the list, as a page of it gave it. */
export const isCursor = (text: string): boolean => CURSOR.test(text);

const FOUND = `
  j.deleted_at is null
  and (j.words || ' ' || lower(array_to_string(j.labels, ' '))) like all ($1::text[])
  and ($2::text is null or $2::text = any (j.labels))`;

/** Jobs by the last change, a page at a time; the search looks at all of them, word by word. */
export const listJobs = async (search: JobSearch = {}): Promise<JobPage> => {
  const limit = Math.min(search.limit ?? 50, MOST_A_PAGE);
  const patterns = (search.words ?? '')
    .toLowerCase()
    .split(/\s+/)
    .filter(Boolean)
    .slice(0, 12)
    .map((w) => `%${w.replace(/[\\%_]/g, '\\$&')}%`);
  const at = CURSOR.exec(search.after ?? '');
  const label = search.label ?? null;
  const [{ rows }, counted] = await Promise.all([
    pool().query(
      `select j.id, j.version, j.summary, j.labels, j.updated_at, j.updated_by,
              (j.updated_at at time zone 'UTC')::text || '+00~' || j.id as cursor,
              array(select distinct p.name from presence r join people p on p.id = r.person
                     where r.job = j.id and r.seen_at > now() - make_interval(secs => $6::integer) order by p.name) as present
         from jobs j
        where ${FOUND}
          and ($3::timestamptz is null or (j.updated_at, j.id) < ($3::timestamptz, $4::uuid))
        order by j.updated_at desc, j.id desc
        limit $5::integer`,
      [patterns, label, at?.[1] ?? null, at?.[2] ?? null, limit + 1, GONE_AFTER],
    ),
    pool().query(`select count(*)::integer as n from jobs j where ${FOUND}`, [patterns, label]),
  ]);
  const page = rows.slice(0, limit);
  return {
    jobs: page.map((r) => ({
      id: r.id,
      version: r.version,
      summary: r.summary,
      labels: r.labels,
      updatedAt: r.updated_at,
      updatedBy: r.updated_by,
      present: r.present,
    })),
    next: rows.length > limit ? page[page.length - 1].cursor : null,
    count: counted.rows[0].n,
  };
};

/** All labels that jobs carry, with how many carry each. */
export const listLabels = async (): Promise<{ label: string; count: number }[]> => {
  const { rows } = await pool().query(
    `select label, count(*)::integer as count
       from jobs, unnest(labels) as label
      where deleted_at is null
      group by label order by lower(label) limit 200`,
  );
  return rows;
};

export const putLabels = async (client: PoolClient, id: string, labels: readonly string[]): Promise<boolean> => {
  const { rowCount } = await client.query(
    'update jobs set labels = $2::text[] where id = $1::uuid and deleted_at is null',
    [id, labels],
  );
  return (rowCount ?? 0) > 0;
};

export const findJob = async (id: string): Promise<JobRow | null> => {
  const { rows } = await pool().query(
    'select id, version, document, updated_at, updated_by from jobs where id = $1::uuid and deleted_at is null',
    [id],
  );
  const r = rows[0];
  return r
    ? { id: r.id, version: r.version, document: r.document, updatedAt: r.updated_at, updatedBy: r.updated_by }
    : null;
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

export interface Advance {
  readonly id: string;
  /** The version that it follows: nothing happens when the job stands at another. */
  readonly base: number;
  readonly edit: string;
  readonly diff: Diff;
  readonly document: Job;
  /** Keep the whole document with the revision. */
  readonly whole: boolean;
  /** What is known of the summary without planning; the rest follows. */
  readonly summary: Partial<JobSummary>;
  readonly author: string;
  readonly person: string | null;
  readonly label: string;
}

/**
 * Takes a job on by one version, with its revision, the work that follows and the word to those who listen, all in one
 * statement: it is done whole or, when the job does not stand at `base`, not at all. Says which.
 */
export const advanceJob = async (a: Advance): Promise<boolean> => {
  const { rows } = await writePool().query(
    `with moved as (
       update jobs
          set version = $2::integer + 1, document = $3::jsonb, summary = summary || $4::jsonb, updated_by = $5::text,
              updated_at = now()
        where id = $1::uuid and version = $2::integer and deleted_at is null
        returning id, version),
     noted as (
       insert into revisions (job_id, version, edit_id, diff, snapshot, author, label, person)
       select id, version, $6::uuid, $7::jsonb, case when $8::boolean then $3::jsonb end, $5::text, $9::text, $10::uuid
         from moved)
     select ${QUEUE_SUMMARY}, pg_notify($11::text, $12::text) from moved`,
    [
      a.id,
      a.base,
      JSON.stringify(a.document),
      JSON.stringify(a.summary),
      a.author,
      a.edit,
      JSON.stringify(a.diff),
      a.whole,
      a.label,
      a.person,
      NEWS_CHANNEL,
      JSON.stringify({ job: a.id, news: { kind: 'version', version: a.base + 1, by: a.author, edit: a.edit } }),
    ],
  );
  return rows.length > 0;
};

/** Puts the summary of a version in its place, unless a newer version has come. */
export const putSummary = async (id: string, version: number, summary: JobSummary): Promise<void> => {
  await pool().query('update jobs set summary = $3::jsonb where id = $1::uuid and version = $2::integer', [
    id,
    version,
    JSON.stringify(summary),
  ]);
};

/** Puts a job away, or brings it back; gives what it is called, or null when it is not there. */
export const markDeleted = async (
  client: PoolClient,
  id: string,
  deleted: boolean,
): Promise<{ number: string; name: string } | null> => {
  const { rows } = await client.query(
    `update jobs set deleted_at = case when $2::boolean then now() else null end
      where id = $1::uuid and (deleted_at is null or not $2::boolean)
      returning summary ->> 'number' as number, summary ->> 'name' as name`,
    [id, deleted],
  );
  return rows[0] ?? null;
};

/** The version at which a job stands; null when it is not there. */
export const versionOf = async (id: string): Promise<{ version: number; updatedBy: string } | null> => {
  const { rows } = await pool().query(
    'select version, updated_by as "updatedBy" from jobs where id = $1::uuid and deleted_at is null',
    [id],
  );
  return rows[0] ?? null;
};
