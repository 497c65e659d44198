import { z } from 'zod';
import { readJob } from '@/core/plan';
import { listJobs } from '@/db/jobs';
import { guarded, problem, readBody } from '@/server/http';
import { createJob } from '@/server/jobs';

export const dynamic = 'force-dynamic';

export const GET = guarded(async () => Response.json({ jobs: await listJobs() }));

const NewJob = z.object({ document: z.unknown(), author: z.string().min(1).max(120) });

export const POST = guarded(async (request: Request) => {
  const body = await readBody(request);
  if (!body.ok) return body.response;
  const parsed = NewJob.safeParse(body.value);
  if (!parsed.success) return problem(400, 'The request names no job document. Load the page again.');
  const read = readJob(parsed.data.document);
  if (!read.ok) return problem(422, read.problems.map((p) => p.message).join(' '), { problems: read.problems });
  return Response.json(await createJob(read.job, parsed.data.author), { status: 201 });
});
