import { z } from 'zod';
import { may } from '@/house/rights';
import { bodyOf, route } from '@/server/door';
import { answer, isUuid, problem } from '@/server/http';
import { byOf, callRevision } from '@/server/jobs';
import { versionIn } from '@/server/places';

const Called = z.object({ name: z.string().trim().min(1).max(120).nullable(), released: z.boolean().default(false) });

export const PUT = route<{ id: string; version: string }>('view', async ({ request, params, person, address }) => {
  const body = await bodyOf(request, Called);
  if (!body.ok) return body.response;
  const { name, released } = body.value;
  if (!may(person, 'release') && (released || !may(person, 'program')))
    return problem(
      403,
      `${person.name} may not ${released ? 'release' : 'name revisions'}. Somebody with the right can.`,
    );
  if (released && name === null) return problem(422, 'A released revision has a name: give it one.');
  const version = versionIn(params.version);
  if (!isUuid(params.id) || !(await callRevision(params.id, version, name, released, byOf(person, address))))
    return problem(404, `Revision ${params.version} is not kept any more.`);
  return answer({ version, name });
});
