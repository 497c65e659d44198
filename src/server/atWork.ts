import { closePool, pool } from '../db/pool';

/** Names of those who have jobs open, for bin/start --reset; nothing when nobody has. */
const { rows } = await pool().query(
  `select distinct p.name from presence r join people p on p.id = r.person
    where r.seen_at > now() - interval '1 minute' order by p.name`,
);
process.stdout.write(rows.map((r) => r.name).join(', '));
await closePool();
