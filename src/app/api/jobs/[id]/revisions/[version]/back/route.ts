import { z } from 'zod';
import { bodyOf, route } from '@/server/door';
import { answer, problem } from '@/server/http';
import { byOf, goBack } from '@/server/jobs';
import { versionIn } from '@/server/places';

const Back = z.object({ base: z.number().int().min(1).max(2_000_000_000), edit: z.uuid() });

export const POST = route<{ id: string; version: string }>('program', async ({ request, params, person, address }) => {
  const body = await bodyOf(request, Back);
  if (!body.ok) return body.response;
  const version = versionIn(params.version);
  const done = await goBack(params.id, version, body.value.base, body.value.edit, byOf(person, address));
  switch (done.kind) {
    case 'saved':
      return answer({ version: done.version });
    case 'conflict':
      return problem(
        409,
        `${done.updatedBy} has changed this job meanwhile. Look at the newest revision, then go back.`,
      );
    case 'missing':
      return problem(404, 'This job is not there any more.');
    case 'invalid':
    case 'unreadable':
      return problem(422, done.message);
    default:
      return done satisfies never;
  }
});
