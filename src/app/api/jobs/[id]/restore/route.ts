import { route } from '@/server/door';
import { answer, problem } from '@/server/http';
import { byOf, putAway } from '@/server/jobs';

export const POST = route<{ id: string }>('program', async ({ params, person, address }) =>
  (await putAway(params.id, false, byOf(person, address)))
    ? answer({ id: params.id })
    : problem(404, 'This job is not there any more.'),
);
