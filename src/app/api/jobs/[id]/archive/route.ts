import { archiveOf } from '@/server/archive';
import { route } from '@/server/door';
import { problem } from '@/server/http';

export const dynamic = 'force-dynamic';

/** A job with its history's list and the files that its part came from, as one archive. */
export const GET = route<{ id: string }>('view', async ({ params }) => {
  const made = await archiveOf(params.id);
  if (!made) return problem(404, 'This job is not there any more.');
  return new Response(new Uint8Array(made.bytes), {
    headers: {
      'content-type': 'application/zip',
      'content-disposition': `attachment; filename="${made.name}"`,
      'cache-control': 'no-store',
    },
  });
});
