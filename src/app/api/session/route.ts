import { z } from 'zod';
import { LONGEST_DAYS } from '@/db/sessions';
import { PASSWORD_MOST } from '@/house/rights';
import { bodyOf, cookieOf, open, route } from '@/server/door';
import { answer, problem } from '@/server/http';
import { signIn, signOut } from '@/server/signIn';

export const dynamic = 'force-dynamic';

const SignIn = z.object({ name: z.string().max(120), password: z.string().max(PASSWORD_MOST) });

/** Signs in: the session's token goes into a cookie that no script can read. */
export const POST = open(async ({ request, address, agent }) => {
  const body = await bodyOf(request, SignIn);
  if (!body.ok) return body.response;
  const done = await signIn(body.value.name, body.value.password, { address, agent });
  if (done.kind === 'wait') {
    const r = problem(
      429,
      `Too many wrong passwords for this name or from this place. Try again in ${done.seconds} s.`,
    );
    r.headers.set('retry-after', String(done.seconds));
    return r;
  }
  if (done.kind === 'wrong')
    return problem(401, 'Name and password do not belong together. Passwords tell capital from small letters.');
  const r = answer({ name: done.name });
  r.headers.set('set-cookie', cookieOf(done.token, LONGEST_DAYS * 86_400));
  return r;
});

export const DELETE = route('view', async ({ token, person, address }) => {
  await signOut(token, person, address);
  const r = answer({});
  r.headers.set('set-cookie', cookieOf('', 0));
  return r;
});
