import { guarded, problem, readBody } from '@/server/http';
import { EditSchema, saveEdit } from '@/server/jobs';

export const POST = guarded(async (request: Request, context: { params: Promise<{ id: string }> }) => {
  const { id } = await context.params;
  const body = await readBody(request);
  if (!body.ok) return body.response;
  const parsed = EditSchema.safeParse(body.value);
  if (!parsed.success)
    return problem(400, `The change is not readable (${parsed.error.issues[0]?.path.join('.')}). Load the page again.`);
  const outcome = await saveEdit(id, parsed.data);
  switch (outcome.kind) {
    case 'saved':
      return Response.json({ version: outcome.version });
    case 'conflict':
      return problem(409, 'Somebody else has changed this job.', {
        version: outcome.version,
        document: outcome.document,
        updatedBy: outcome.updatedBy,
      });
    case 'missing':
      return problem(404, 'This job is not there any more. Save your version as a new job.');
    case 'invalid':
      return problem(422, outcome.message);
    default:
      return outcome satisfies never;
  }
});
