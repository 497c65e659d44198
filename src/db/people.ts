import type { PoolClient } from 'pg';
import type { Preferences, Right } from '../house/rights';
import { pool } from './pool';

export interface PersonRow {
  readonly id: string;
  readonly name: string;
  readonly rights: readonly Right[];
  readonly active: boolean;
  readonly createdAt: string;
  /** When the person was last seen signed in; null if never. */
  readonly seenAt: string | null;
}

export interface Credentials {
  readonly id: string;
  readonly name: string;
  readonly password: string;
  readonly active: boolean;
}

export const listPeople = async (): Promise<PersonRow[]> => {
  const { rows } = await pool().query(`
    select p.id, p.name, p.rights, p.active, p.created_at as "createdAt",
           (select max(s.seen_at) from sessions s where s.person = p.id) as "seenAt"
      from people p
     order by p.active desc, lower(p.name)`);
  return rows;
};

export const countPeople = async (): Promise<number> =>
  (await pool().query('select count(*)::integer as n from people')).rows[0].n;

export const credentialsOf = async (name: string): Promise<Credentials | null> => {
  const { rows } = await pool().query<Credentials>(
    'select id, name, password, active from people where lower(name) = lower($1::text)',
    [name],
  );
  return rows[0] ?? null;
};

export const passwordOf = async (id: string): Promise<string | null> =>
  (await pool().query('select password from people where id = $1::uuid and active', [id])).rows[0]?.password ?? null;

export const insertPerson = async (
  client: PoolClient,
  p: { name: string; password: string; rights: readonly Right[] },
): Promise<string> => {
  const { rows } = await client.query(
    'insert into people (name, password, rights) values ($1::text, $2::text, $3::text[]) returning id',
    [p.name, p.password, p.rights],
  );
  return rows[0].id;
};

/** Everybody who may administer, locked, so that two of them cannot remove each other at once. */
export const lockAdministrators = async (client: PoolClient): Promise<{ id: string; name: string }[]> => {
  const { rows } = await client.query(
    `select id, name from people where active and 'administer' = any (rights) order by id for update`,
  );
  return rows;
};

export const lockPerson = async (
  client: PoolClient,
  id: string,
): Promise<{ id: string; name: string; rights: Right[]; active: boolean } | null> => {
  const { rows } = await client.query('select id, name, rights, active from people where id = $1::uuid for update', [
    id,
  ]);
  return rows[0] ?? null;
};

export const updatePerson = async (
  client: PoolClient,
  id: string,
  p: { name: string; rights: readonly Right[]; active: boolean },
): Promise<void> => {
  await client.query(
    'update people set name = $2::text, rights = $3::text[], active = $4::boolean where id = $1::uuid',
    [id, p.name, p.rights, p.active],
  );
};

export const putPassword = async (client: PoolClient, id: string, password: string): Promise<void> => {
  await client.query('update people set password = $2::text, password_at = now() where id = $1::uuid', [id, password]);
};

export const putPreferences = async (id: string, preferences: Preferences): Promise<void> => {
  await pool().query('update people set preferences = $2::jsonb where id = $1::uuid', [
    id,
    JSON.stringify(preferences),
  ]);
};
