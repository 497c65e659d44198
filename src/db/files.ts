import { pool } from './pool';

export interface FileRow {
  readonly name: string;
  readonly bytes: Buffer;
}

export const putFile = async (hash: string, name: string, bytes: Buffer): Promise<void> => {
  await pool().query(
    'insert into files (hash, name, bytes) values ($1::text, $2::text, $3::bytea) on conflict (hash) do nothing',
    [hash, name, bytes],
  );
};

export const findFile = async (hash: string): Promise<FileRow | null> => {
  const { rows } = await pool().query<FileRow>('select name, bytes from files where hash = $1::text', [hash]);
  return rows[0] ?? null;
};
