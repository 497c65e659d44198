import { listRevisions } from '@/db/revisions';
import { route } from '@/server/door';
import { answer, isUuid, problem } from '@/server/http';

export const dynamic = 'force-dynamic';

export const GET = route<{ id: string }>('view', async ({ params, url }) => {
  const below = url.searchParams.get('below');
  if (!isUuid(params.id)) return problem(404, 'This job is not there any more.');
  if (below !== null && !/^\d{1,9}$/.test(below)) return problem(400, 'The place in the history cannot be read.');
  const named = url.searchParams.get('named') === '1';
  return answer(await listRevisions(params.id, below === null ? null : Number(below), named));
});
