import { pool } from '@/db/pool';
import { guarded } from '@/server/http';

export const dynamic = 'force-dynamic';

export const GET = guarded(async () => {
  await pool().query('select 1');
  // the folder tells one checkout's server from another's
  return Response.json({ program: 'lively-spindle', ok: true, folder: process.cwd() });
});
