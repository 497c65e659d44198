import { route } from '@/server/door';
import { documentAt } from '@/server/history';
import { problem } from '@/server/http';
import { versionIn } from '@/server/places';
import { sectionOf } from '@/server/section';

export const dynamic = 'force-dynamic';

/** The part's section at a revision; a revision never changes, so that the browser may keep it. */
export const GET = route<{ id: string; version: string }>('view', async ({ params }) => {
  const old = await documentAt(params.id, versionIn(params.version));
  if (!old.ok) return problem(old.status, old.message);
  return Response.json(sectionOf(old.job), { headers: { 'cache-control': 'private, max-age=86400' } });
});
