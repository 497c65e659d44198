import { z } from 'zod';
import { readJob } from '@/core/plan';
import { isCursor, listJobs } from '@/db/jobs';
import { bodyOf, route } from '@/server/door';
import { answer, problem } from '@/server/http';
import { byOf, createJob } from '@/server/jobs';

export const dynamic = 'force-dynamic';

/** A page of the list: `words`, `label`, `after` (as the page before gave it), `limit`. */
export const GET = route('view', async ({ url }) => {
  const words = url.searchParams.get('words') ?? '';
  const label = url.searchParams.get('label');
  const after = url.searchParams.get('after');
  const limit = Number(url.searchParams.get('limit') ?? 50);
  if (after !== null && !isCursor(after))
    return problem(400, 'The place in the list cannot be read. Begin at its top.');
  if (!Number.isInteger(limit) || limit < 1 || limit > 100) return problem(400, 'A page has 1 to 100 jobs.');
  if ([words, label ?? ''].some((t) => t.length > 200 || t.includes('\u0000') || !t.isWellFormed()))
    return problem(400, 'The search has characters that cannot be looked for.');
  return answer(await listJobs({ words, label, after, limit }));
});

const NewJob = z.object({ document: z.unknown() });

export const POST = route('program', async ({ request, person, address }) => {
  const body = await bodyOf(request, NewJob);
  if (!body.ok) return body.response;
  const read = readJob(body.value.document);
  if (!read.ok) return problem(422, read.problems.map((p) => p.message).join(' '), { problems: read.problems });
  return answer(await createJob(read.job, byOf(person, address)), 201);
});
