import { versionOf } from '@/db/jobs';
import { route } from '@/server/door';
import { isUuid, problem } from '@/server/http';
import { watch } from '@/server/watch';

export const dynamic = 'force-dynamic';

/** What happens to a job, as it happens (server-sent events); a tab that listens counts as having the job open. */
export const GET = route<{ id: string }>('view', async ({ request, params, person, url }) => {
  const tab = url.searchParams.get('tab') ?? '';
  if (!isUuid(params.id) || !(await versionOf(params.id))) return problem(404, 'This job is not there any more.');
  if (!isUuid(tab)) return problem(400, 'The tab has no name. Load the page again.');
  return new Response(watch(params.id, tab, person, request.signal), {
    headers: {
      'content-type': 'text/event-stream; charset=utf-8',
      'cache-control': 'no-store, no-transform',
      'x-accel-buffering': 'no',
    },
  });
});
