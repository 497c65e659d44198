import { z } from 'zod';
import { listPeople } from '@/db/people';
import { NewPassword, PersonName, RIGHTS } from '@/house/rights';
import { bodyOf, route } from '@/server/door';
import { answer, problem } from '@/server/http';
import { addPerson } from '@/server/people';

export const dynamic = 'force-dynamic';

export const GET = route('administer', async () => answer({ people: await listPeople() }));

const NewPerson = z.object({
  name: PersonName,
  rights: z.array(z.enum(RIGHTS)).max(RIGHTS.length),
  password: NewPassword,
});

export const POST = route('administer', async ({ request, person, address }) => {
  const body = await bodyOf(request, NewPerson);
  if (!body.ok) return body.response;
  const done = await addPerson(person, address, body.value);
  return done.kind === 'done' ? answer({ id: done.id }, 201) : problem(done.status, done.message);
});
