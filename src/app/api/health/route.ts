import { pool } from '@/db/pool';

export const dynamic = 'force-dynamic';

/** Ready or not, and nothing else. */
export const GET = async (): Promise<Response> => {
  const ready = await pool()
    .query('select 1 from shop')
    .then(
      () => true,
      () => false,
    );
  return Response.json({ ready }, { status: ready ? 200 : 503, headers: { 'cache-control': 'no-store' } });
};
