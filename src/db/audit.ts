import type { PoolClient } from 'pg';
import type { Action } from '../house/actions';
import { pool } from './pool';

export interface AuditEntry {
  readonly person: string | null;
  readonly name: string;
  readonly address: string;
  readonly action: Action;
  readonly subject?: string;
  readonly job?: string | null;
  readonly detail?: Record<string, unknown>;
}

export interface AuditRow {
  readonly id: string;
  readonly at: string;
  readonly name: string;
  readonly address: string;
  readonly action: string;
  readonly subject: string;
  readonly job: string | null;
  readonly detail: Record<string, unknown>;
}

const INSERT = `
  insert into audit (person, name, address, action, subject, job, detail)
  values ($1::uuid, $2::text, $3::text, $4::text, $5::text, $6::uuid, $7::jsonb)`;

/** Writes what was done; within the transaction that does it, where there is one. */
export const insertAudit = async (e: AuditEntry, client?: PoolClient): Promise<void> => {
  await (client ?? pool()).query(INSERT, [
    e.person,
    e.name.slice(0, 120),
    e.address.slice(0, 64),
    e.action,
    (e.subject ?? '').slice(0, 300),
    e.job ?? null,
    JSON.stringify(e.detail ?? {}),
  ]);
};

export interface AuditFilter {
  readonly person: string | null;
  readonly action: string | null;
  readonly words: string | null;
  readonly from: string | null;
  readonly to: string | null;
  /** Entries before this place, as the page before gave it. */
  readonly before: string | null;
}

const PAGE = 100;
const CURSOR = /^(\d{4}-\d\d-\d\d \d\d:\d\d:\d\d(?:\.\d{1,6})?)~(\w[\w-]{0,80})$/;

/** Whether a text may be a place in the audit list, as a page of it gave it. */
export const isAuditCursor = (text: string): boolean => CURSOR.test(text);

/**
 * What was done, the newest first: what is written here, and edits of jobs, which are told from the revisions that they
 * made. What a job began with is told as its making.
 */
export const listAudit = async (f: AuditFilter): Promise<{ rows: AuditRow[]; next: string | null }> => {
  const at = CURSOR.exec(f.before ?? '');
  const { rows } = await pool().query<AuditRow & { place: string }>(
    `with told as (
       (select 'a' || lpad(a.id::text, 19, '0') as id, a.at, a.name, a.address, a.action, a.subject, a.job, a.detail
          from audit a
         where ($1::uuid is null or a.person = $1::uuid)
           and ($2::text is null or a.action = $2::text)
           and ($3::text is null
                or position(lower($3::text) in lower(a.subject || ' ' || a.name || ' ' || a.detail::text)) > 0)
           and ($4::timestamptz is null or a.at >= $4::timestamptz)
           and ($5::timestamptz is null or a.at < $5::timestamptz)
           and ($6::timestamptz is null or (a.at, 'a' || lpad(a.id::text, 19, '0')) < ($6::timestamptz, $7::text))
         order by a.at desc, a.id desc
         limit $8::integer)
       union all
       (select 'r' || r.job_id || '-' || lpad(r.version::text, 10, '0') as id, r.created_at as at, r.author as name,
               '' as address, 'job edited' as action,
               (j.document #>> '{header,number}') || ' ' || (j.document #>> '{header,name}') as subject,
               r.job_id as job, jsonb_build_object('edit', r.label, 'revision', r.version) as detail
          from revisions r join jobs j on j.id = r.job_id
         where r.version > 1
           and ($2::text is null or $2::text = 'job edited')
           and ($1::uuid is null or r.person = $1::uuid)
           and ($3::text is null
                or position(lower($3::text) in lower(r.label || ' ' || r.author)) > 0 or position(lower($3::text) in j.words) > 0)
           and ($4::timestamptz is null or r.created_at >= $4::timestamptz)
           and ($5::timestamptz is null or r.created_at < $5::timestamptz)
           and ($6::timestamptz is null or r.created_at <= $6::timestamptz)
           and ($6::timestamptz is null
                or (r.created_at, 'r' || r.job_id || '-' || lpad(r.version::text, 10, '0')) < ($6::timestamptz, $7::text))
         order by r.created_at desc
         limit $8::integer)
     )
     select *, (at at time zone 'UTC')::text || '~' || id as place
       from told order by at desc, id desc limit $8::integer`,
    [f.person, f.action, f.words, f.from, f.to, at ? `${at[1]}+00` : null, at?.[2] ?? null, PAGE + 1],
  );
  const page = rows.slice(0, PAGE);
  return {
    rows: page.map(({ place: _, ...r }) => r),
    next: rows.length > PAGE ? page[page.length - 1].place : null,
  };
};
