import { pool } from '@/db/pool';
import { guarded } from '@/server/http';

export const dynamic = 'force-dynamic';

export const GET = guarded(async () => {
  await pool().query('select 1');
  return Response.json({ program: 'lively-spindle', ok: true });
});
