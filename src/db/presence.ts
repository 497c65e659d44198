import { pool } from './pool';

/** Seconds after which a tab that says nothing counts as gone. */
export const GONE_AFTER = 25;

export interface Present {
  readonly tab: string;
  readonly person: string;
  readonly name: string;
}

export const notePresence = async (tab: string, job: string, person: string): Promise<void> => {
  await pool().query(
    `insert into presence (tab, job, person) values ($1::uuid, $2::uuid, $3::uuid)
     on conflict (tab) do update set job = excluded.job, person = excluded.person, seen_at = now()`,
    [tab, job, person],
  );
};

export const leave = async (tab: string): Promise<void> => {
  await pool().query('delete from presence where tab = $1::uuid', [tab]);
};

export const presentAt = async (job: string): Promise<Present[]> => {
  const { rows } = await pool().query<Present>(
    `select r.tab, r.person, p.name
       from presence r join people p on p.id = r.person
      where r.job = $1::uuid and r.seen_at > now() - make_interval(secs => $2::integer)
      order by p.name, r.tab`,
    [job, GONE_AFTER],
  );
  return rows;
};
