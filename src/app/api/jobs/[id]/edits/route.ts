import { EditSchema } from '@/house/edits';
import { bodyOf, route } from '@/server/door';
import { answer, problem } from '@/server/http';
import { byOf, type EditOutcome, saveEdit } from '@/server/jobs';

/** An edit's outcome as it is sent. */
const answered = (outcome: EditOutcome): Response => {
  switch (outcome.kind) {
    case 'saved':
      return answer({ version: outcome.version });
    case 'conflict':
      return problem(409, 'Somebody else has changed this job.', {
        version: outcome.version,
        document: outcome.document,
        updatedBy: outcome.updatedBy,
      });
    case 'missing':
      return problem(404, 'This job is not there any more. Save your version as a new job.');
    case 'invalid':
      return problem(422, outcome.message, { problems: outcome.problems });
    default:
      return outcome satisfies never;
  }
};

export const POST = route<{ id: string }>('program', async ({ request, params, person, address }) => {
  // its texts are looked through with their places in the document
  const body = await bodyOf(request, EditSchema, { texts: false });
  if (!body.ok) return body.response;
  return answered(await saveEdit(params.id, body.value, byOf(person, address)));
});
