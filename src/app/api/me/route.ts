import { putPreferences } from '@/db/people';
import { PreferencesSchema } from '@/house/rights';
import { bodyOf, route } from '@/server/door';
import { answer } from '@/server/http';

export const dynamic = 'force-dynamic';

export const GET = route('view', async ({ person }) => answer(person));

export const PUT = route('view', async ({ request, person }) => {
  const body = await bodyOf(request, PreferencesSchema);
  if (!body.ok) return body.response;
  await putPreferences(person.id, body.value);
  return answer(body.value);
});
