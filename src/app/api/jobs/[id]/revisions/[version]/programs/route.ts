import { findProgram } from '@/db/releases';
import { route } from '@/server/door';
import { isUuid, problem } from '@/server/http';
import { versionIn } from '@/server/places';

export const dynamic = 'force-dynamic';

/** A program as it was released, byte for byte: `?name=`. */
export const GET = route<{ id: string; version: string }>('view', async ({ params, url }) => {
  const name = url.searchParams.get('name') ?? '';
  const text =
    isUuid(params.id) && name.length <= 200 && !name.includes('\u0000')
      ? await findProgram(params.id, versionIn(params.version), name)
      : null;
  if (text === null) return problem(404, 'No program of this name was released with this revision.');
  return new Response(text, {
    headers: {
      'content-type': 'text/plain; charset=utf-8',
      'content-disposition': `attachment; filename*=UTF-8''${encodeURIComponent(name)}`,
      'cache-control': 'private, max-age=86400',
    },
  });
});
