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
  /** Entries before this one. */
  readonly before: string | null;
}

const PAGE = 100;

export const listAudit = async (f: AuditFilter): Promise<{ rows: AuditRow[]; next: string | null }> => {
  const { rows } = await pool().query<AuditRow>(
    `select a.id::text, at, name, address, action, subject, job, detail
       from audit a
      where ($1::uuid is null or person = $1::uuid)
        and ($2::text is null or action = $2::text)
        and ($3::text is null or position(lower($3::text) in lower(subject || ' ' || name || ' ' || detail::text)) > 0)
        and ($4::timestamptz is null or at >= $4::timestamptz)
        and ($5::timestamptz is null or at < $5::timestamptz)
        and ($6::bigint is null or a.id < $6::bigint)
      order by a.id desc
      limit $7::integer`,
    [f.person, f.action, f.words, f.from, f.to, f.before, PAGE + 1],
  );
  return { rows: rows.slice(0, PAGE), next: rows.length > PAGE ? rows[PAGE - 1].id : null };
};
