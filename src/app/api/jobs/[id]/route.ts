import { route } from '@/server/door';
import { answer, problem } from '@/server/http';
import { byOf, loadJob, putAway } from '@/server/jobs';

export const dynamic = 'force-dynamic';

export const GET = route<{ id: string }>('view', async ({ params }) => {
  const row = await loadJob(params.id);
  if (row && 'unreadable' in row) return problem(422, row.unreadable);
  return row ? answer(row) : problem(404, 'This job is not there any more. Go back to the list of jobs.');
});

export const DELETE = route<{ id: string }>('program', async ({ params, person, address }) =>
  (await putAway(params.id, true, byOf(person, address)))
    ? answer({ id: params.id })
    : problem(404, 'This job is not there any more.'),
);
