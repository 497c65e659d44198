import { z } from 'zod';
import { NewPassword, PASSWORD_MOST } from '@/house/rights';
import { bodyOf, route } from '@/server/door';
import { answer, problem } from '@/server/http';
import { changePassword } from '@/server/signIn';

const Change = z.object({ old: z.string().max(PASSWORD_MOST), next: NewPassword });

export const POST = route('view', async ({ request, person, token, address, agent }) => {
  const body = await bodyOf(request, Change);
  if (!body.ok) return body.response;
  const reason = await changePassword(person, token, body.value.old, body.value.next, { address, agent });
  return reason ? problem(422, reason) : answer({});
});
