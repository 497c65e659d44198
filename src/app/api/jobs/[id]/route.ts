import { markDeleted } from '@/db/jobs';
import { guarded, problem } from '@/server/http';
import { loadJob } from '@/server/jobs';

export const dynamic = 'force-dynamic';
type Context = { params: Promise<{ id: string }> };

export const GET = guarded(async (_request: Request, context: Context) => {
  const row = await loadJob((await context.params).id);
  if (row && 'unreadable' in row) return problem(422, row.unreadable);
  return row ? Response.json(row) : problem(404, 'This job is not there any more. Go back to the list of jobs.');
});

export const DELETE = guarded(async (_request: Request, context: Context) => {
  const { id } = await context.params;
  const row = await loadJob(id);
  if (!row) return problem(404, 'This job is not there any more.');
  await markDeleted(id, true);
  return Response.json({ id });
});
