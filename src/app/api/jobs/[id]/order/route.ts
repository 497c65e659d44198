import { ask } from '@/db/asked';
import { askedKey, OrderSchema, orderAsked } from '@/server/asked';
import { bodyOf, route } from '@/server/door';
import { answer, isUuid, problem } from '@/server/http';
import { RATES, rates } from '@/server/rates';

/** Has a worker look for an order of this job with fewer tool changes. */
export const POST = route<{ id: string }>('program', async ({ request, params, person }) => {
  const wait = rates().take(`order:${person.id}`, RATES.order);
  if (wait > 0) return problem(429, `Too many orders are asked for at once. Wait ${wait} s and ask again.`);
  const body = await bodyOf(request, OrderSchema);
  if (!body.ok) return body.response;
  const asked = orderAsked(params.id, body.value.version);
  const key = askedKey(asked);
  if (!isUuid(params.id) || !(await ask(key, asked, person.id)))
    return problem(404, 'This job is not there any more. Save your version as a new job.');
  return answer({ key }, 202);
});
