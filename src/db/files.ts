import { pool } from './pool';

export interface FileRow {
  readonly name: string;
  readonly bytes: Buffer;
}

/** MB that one person may bring in within a day, and that the shop keeps altogether. */
export const QUOTA = { personMb: 400, shopMb: 20_000 } as const;

export interface Used {
  readonly personMb: number;
  readonly shopMb: number;
}

export const usedBy = async (person: string): Promise<Used> => {
  const { rows } = await pool().query(
    `select coalesce(sum(octet_length(bytes)) filter (where person = $1::uuid and created_at > now() - interval '1 day'), 0)::float8
              / 1048576 as "personMb",
            coalesce(sum(octet_length(bytes)), 0)::float8 / 1048576 as "shopMb"
       from files`,
    [person],
  );
  return rows[0];
};

export const putFile = async (hash: string, name: string, bytes: Buffer, person: string | null): Promise<void> => {
  await pool().query(
    `insert into files (hash, name, bytes, person) values ($1::text, $2::text, $3::bytea, $4::uuid)
     on conflict (hash) do nothing`,
    [hash, name, bytes, person],
  );
};

export const findFile = async (hash: string): Promise<FileRow | null> => {
  const { rows } = await pool().query<FileRow>('select name, bytes from files where hash = $1::text', [hash]);
  return rows[0] ?? null;
};

/** Removes files older than a week that no job and no kept revision names any more; gives how many. */
export const sweepFiles = async (): Promise<number> => {
  const { rowCount } = await pool().query(
    `delete from files f
      where f.created_at < now() - interval '7 days'
        and not exists (select 1 from jobs j where position(f.hash in j.document::text) > 0)
        and not exists (
          select 1 from revisions r
           where position(f.hash in r.diff::text) > 0 or position(f.hash in coalesce(r.snapshot::text, '')) > 0)`,
  );
  return rowCount ?? 0;
};
