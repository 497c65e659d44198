import { ask } from '@/db/asked';
import { askedKey, ImportSchema, importAsked } from '@/server/asked';
import { bodyOf, route } from '@/server/door';
import { answer, problem } from '@/server/http';
import { RATES, rates } from '@/server/rates';

/** Has a file that is kept here read by a worker, for a browser that could not. */
export const POST = route('program', async ({ request, person }) => {
  const wait = rates().take(`upload:${person.id}`, RATES.upload);
  if (wait > 0) return problem(429, `Too many files at once. Wait ${wait} s and bring it in again.`);
  const body = await bodyOf(request, ImportSchema);
  if (!body.ok) return body.response;
  const asked = importAsked(body.value);
  const key = askedKey(asked);
  if (!(await ask(key, asked, person.id))) return problem(404, 'The file is not kept here. Bring it in again.');
  return answer({ key }, 202);
});
