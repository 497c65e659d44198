import { askImport } from '@/db/imports';
import { bodyOf, route } from '@/server/door';
import { answer, problem } from '@/server/http';
import { ImportSchema, importKey } from '@/server/imports';
import { RATES, rates } from '@/server/rates';

/** Has a file that is kept here read by a worker, for a browser that could not. */
export const POST = route('program', async ({ request, person }) => {
  const wait = rates().take(`upload:${person.id}`, RATES.upload);
  if (wait > 0) return problem(429, `Too many files at once. Wait ${wait} s and bring it in again.`);
  const body = await bodyOf(request, ImportSchema);
  if (!body.ok) return body.response;
  const key = importKey(body.value);
  if (!(await askImport(key, body.value, person.id)))
    return problem(404, 'The file is not kept here. Bring it in again.');
  return answer({ key }, 202);
});
