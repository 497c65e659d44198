import { createHash } from 'node:crypto';
import { findFile, putFile } from '@/db/files';
import { guarded, problem, readBytes } from '@/server/http';

export const dynamic = 'force-dynamic';
type Context = { params: Promise<{ hash: string }> };

const HASH = /^[0-9a-f]{64}$/;

export const GET = guarded(async (_request: Request, context: Context) => {
  const { hash } = await context.params;
  const file = HASH.test(hash) ? await findFile(hash) : null;
  if (!file) return problem(404, 'The file that this part came from is not kept here. Bring it in again.');
  return new Response(new Uint8Array(file.bytes), {
    headers: {
      'content-type': 'application/octet-stream',
      'x-content-type-options': 'nosniff',
      'cache-control': 'private, max-age=31536000, immutable',
    },
  });
});

export const PUT = guarded(async (request: Request, context: Context) => {
  const { hash } = await context.params;
  const body = await readBytes(request, 33 * 1024 * 1024);
  if (!body.ok) return body.response;
  if (!HASH.test(hash) || createHash('sha256').update(body.value).digest('hex') !== hash)
    return problem(400, 'The file changed on its way here. Bring it in once more.');
  const name = decodeURIComponent(request.headers.get('x-file-name') ?? '').slice(0, 120);
  await putFile(hash, name, body.value);
  return Response.json({ hash });
});
