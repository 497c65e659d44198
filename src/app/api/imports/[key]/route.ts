import { importResult, importState } from '@/db/imports';
import { route } from '@/server/door';
import { answer, isHash, problem } from '@/server/http';

export const dynamic = 'force-dynamic';

/** How far a worker is with a file; with `result` what came out of it. */
export const GET = route<{ key: string }>('program', async ({ request, params }) => {
  const found = isHash(params.key) ? await importState(params.key) : null;
  if (!found) return problem(404, 'Nobody has asked for this file to be read. Bring it in again.');
  if (!new URL(request.url).searchParams.has('result')) return answer(found);
  const result = await importResult(params.key);
  if (!result) return problem(409, 'It is not read yet.');
  return new Response(new Uint8Array(result), {
    headers: { 'content-type': 'application/octet-stream', 'cache-control': 'no-store' },
  });
});
