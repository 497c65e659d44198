import { route } from '@/server/door';
import { documentAt } from '@/server/history';
import { answer, problem } from '@/server/http';
import { versionIn } from '@/server/places';

export const dynamic = 'force-dynamic';

export const GET = route<{ id: string; version: string }>('view', async ({ params }) => {
  const old = await documentAt(params.id, versionIn(params.version));
  return old.ok ? answer({ document: old.job }) : problem(old.status, old.message);
});
