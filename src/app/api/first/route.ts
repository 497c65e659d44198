import { z } from 'zod';
import { LONGEST_DAYS } from '@/db/sessions';
import { NewPassword, PersonName } from '@/house/rights';
import { bodyOf, cookieOf, open } from '@/server/door';
import { answer, problem } from '@/server/http';
import { nameFirst } from '@/server/signIn';

export const dynamic = 'force-dynamic';

const First = z.object({ code: z.string().max(80), name: PersonName, password: NewPassword });

/** The first administrator of a shop that has nobody yet. */
export const POST = open(async ({ request, address, agent }) => {
  const body = await bodyOf(request, First);
  if (!body.ok) return body.response;
  const { code, name, password } = body.value;
  const done = await nameFirst(code, name, password, { address, agent });
  if (done.kind === 'no') return problem(403, done.message);
  const r = answer({ name });
  r.headers.set('set-cookie', cookieOf(done.token, LONGEST_DAYS * 86_400));
  return r;
});
