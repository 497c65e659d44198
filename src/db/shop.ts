import type { PoolClient } from 'pg';
import { pool } from './pool';

/** Tables of single documents; the name is fixed here and never comes from outside. */
const SELECT = {
  machines: 'select document from machines order by id',
  tools: 'select document from tools order by id',
  materials: 'select document from materials order by id',
  dialects: 'select document from dialects order by id',
} as const;

const UPSERT = {
  machines:
    'insert into machines (id, document) values ($1::text, $2::jsonb) on conflict (id) do update set document = excluded.document, updated_at = now()',
  tools:
    'insert into tools (id, document) values ($1::text, $2::jsonb) on conflict (id) do update set document = excluded.document, updated_at = now()',
  materials:
    'insert into materials (id, document) values ($1::text, $2::jsonb) on conflict (id) do update set document = excluded.document, updated_at = now()',
  dialects:
    'insert into dialects (id, document) values ($1::text, $2::jsonb) on conflict (id) do update set document = excluded.document, updated_at = now()',
} as const;

export type ShopTable = keyof typeof SELECT;

export const listShop = async (table: ShopTable): Promise<unknown[]> =>
  (await pool().query(SELECT[table])).rows.map((r) => r.document);

export const putShop = async (client: PoolClient, table: ShopTable, id: string, document: unknown): Promise<void> => {
  await client.query(UPSERT[table], [id, JSON.stringify(document)]);
};

export interface ShopRow {
  readonly name: string;
  readonly demo: boolean;
  readonly identity: string;
  readonly firstCode: Buffer | null;
}

export const findShop = async (): Promise<ShopRow> => {
  const { rows } = await pool().query<ShopRow>(
    'select name, demo, identity, first_code as "firstCode" from shop where single',
  );
  if (!rows[0]) throw new Error('The database has no shop. Start the program with bin/start.');
  return rows[0];
};
