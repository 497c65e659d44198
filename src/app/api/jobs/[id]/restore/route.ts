import { z } from 'zod';
import { markDeleted } from '@/db/jobs';
import { guarded, problem } from '@/server/http';

export const POST = guarded(async (_request: Request, context: { params: Promise<{ id: string }> }) => {
  const { id } = await context.params;
  if (!z.uuid().safeParse(id).success || !(await markDeleted(id, false)))
    return problem(404, 'This job is not there any more.');
  return Response.json({ id });
});
