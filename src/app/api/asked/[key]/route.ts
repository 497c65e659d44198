import { askedResult, askedState } from '@/db/asked';
import { route } from '@/server/door';
import { answer, isHash, problem } from '@/server/http';

export const dynamic = 'force-dynamic';

/** How far a worker is with what was asked; with `result` what came out of it. */
export const GET = route<{ key: string }>('program', async ({ request, params }) => {
  const found = isHash(params.key) ? await askedState(params.key) : null;
  if (!found) return problem(404, 'Nobody has asked for this, or it was more than a day ago. Ask again.');
  if (!new URL(request.url).searchParams.has('result')) return answer(found);
  const result = await askedResult(params.key);
  if (!result) return problem(409, 'It is not made yet.');
  return new Response(new Uint8Array(result), {
    headers: { 'content-type': 'application/octet-stream', 'cache-control': 'no-store' },
  });
});
