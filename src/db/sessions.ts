import type { PoolClient } from 'pg';
import type { Right } from '../house/rights';
import { pool } from './pool';

/** Hours that a session lasts without being used, and days that it lasts at all. */
export const IDLE_HOURS = 12;
export const LONGEST_DAYS = 14;

export interface SessionPerson {
  readonly id: string;
  readonly name: string;
  readonly rights: readonly Right[];
  readonly preferences: unknown;
  /** The session was last noted as used more than a minute ago. */
  readonly stale: boolean;
}

export const insertSession = async (
  client: PoolClient,
  s: { token: Buffer; person: string; address: string; agent: string },
): Promise<void> => {
  await client.query(
    'insert into sessions (token, person, address, agent) values ($1::bytea, $2::uuid, $3::text, $4::text)',
    [s.token, s.person, s.address.slice(0, 64), s.agent.slice(0, 200)],
  );
};

/** The person of a living session. */
export const findSession = async (token: Buffer): Promise<SessionPerson | null> => {
  const { rows } = await pool().query<SessionPerson>(
    `select p.id, p.name, p.rights, p.preferences, s.seen_at < now() - interval '1 minute' as stale
       from sessions s join people p on p.id = s.person
      where s.token = $1::bytea and p.active
        and s.seen_at > now() - make_interval(hours => $2::integer)
        and s.created_at > now() - make_interval(days => $3::integer)`,
    [token, IDLE_HOURS, LONGEST_DAYS],
  );
  return rows[0] ?? null;
};

export const noteSeen = async (token: Buffer): Promise<void> => {
  await pool().query('update sessions set seen_at = now() where token = $1::bytea', [token]);
};

export const deleteSession = async (token: Buffer): Promise<void> => {
  await pool().query('delete from sessions where token = $1::bytea', [token]);
};

/** Ends all sessions of a person but one. */
export const endSessions = async (client: PoolClient, person: string, but: Buffer | null): Promise<void> => {
  await client.query('delete from sessions where person = $1::uuid and ($2::bytea is null or token <> $2::bytea)', [
    person,
    but,
  ]);
};

export const sweepSessions = async (): Promise<void> => {
  await pool().query(
    `delete from sessions
      where seen_at < now() - make_interval(hours => $1::integer) or created_at < now() - make_interval(days => $2::integer)`,
    [IDLE_HOURS, LONGEST_DAYS],
  );
  await pool().query(`delete from refusals where last_at < now() - interval '1 day'`);
  await pool().query(`delete from presence where seen_at < now() - interval '1 minute'`);
};

/** Wrong passwords under a key within the last quarter of an hour, and the seconds since the last of them. */
export const refusalsOf = async (key: string): Promise<{ count: number; seconds: number }> => {
  const { rows } = await pool().query(
    `select count, extract(epoch from now() - last_at)::float8 as seconds
       from refusals where key = $1::text and last_at > now() - interval '15 minutes'`,
    [key],
  );
  return rows[0] ?? { count: 0, seconds: 0 };
};

export const noteRefusal = async (key: string): Promise<void> => {
  await pool().query(
    `insert into refusals (key, count) values ($1::text, 1)
     on conflict (key) do update
       set count = case when refusals.last_at > now() - interval '15 minutes' then refusals.count + 1 else 1 end,
           last_at = now()`,
    [key],
  );
};

export const forgetRefusals = async (key: string): Promise<void> => {
  await pool().query('delete from refusals where key = $1::text', [key]);
};
