import { z } from 'zod';
import { NewPassword, PersonName, RIGHTS } from '@/house/rights';
import { bodyOf, route } from '@/server/door';
import { answer, isUuid, problem } from '@/server/http';
import { changePerson } from '@/server/people';

const Change = z.object({
  name: PersonName,
  rights: z.array(z.enum(RIGHTS)).max(RIGHTS.length),
  active: z.boolean(),
  password: NewPassword.nullable(),
});

export const PUT = route<{ id: string }>('administer', async ({ request, params, person, address }) => {
  const body = await bodyOf(request, Change);
  if (!body.ok) return body.response;
  if (!isUuid(params.id)) return problem(404, 'This person is not here. Load the page again.');
  const done = await changePerson(person, address, params.id, body.value);
  return done.kind === 'done' ? answer({ id: done.id }) : problem(done.status, done.message);
});
