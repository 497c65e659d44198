import { createHash } from 'node:crypto';
import { findFile, putFile, QUOTA, usedBy } from '@/db/files';
import { route } from '@/server/door';
import { answer, isHash, problem, readBytes } from '@/server/http';
import { RATES, rates } from '@/server/rates';
import { fileNameOf } from '@/server/text';

export const dynamic = 'force-dynamic';

const FILE_LIMIT = 33 * 1024 * 1024;

export const GET = route<{ hash: string }>('view', async ({ params }) => {
  const file = isHash(params.hash) ? await findFile(params.hash) : null;
  if (!file) return problem(404, 'The file that this part came from is not kept here. Bring it in again.');
  return new Response(new Uint8Array(file.bytes), {
    headers: {
      'content-type': 'application/octet-stream',
      'content-disposition': 'attachment',
      'cache-control': 'private, max-age=31536000, immutable',
    },
  });
});

export const PUT = route<{ hash: string }>(
  'program',
  async ({ request, params, person }) => {
    const wait = rates().take(`upload:${person.id}`, RATES.upload);
    if (wait > 0) return problem(429, `Too many files at once. Wait ${wait} s and bring it in again.`);
    const name = fileNameOf(request.headers.get('x-file-name') ?? '');
    if (name === null)
      return problem(400, 'The file’s name (header x-file-name) cannot be read. Give it another name.');
    const body = await readBytes(request, FILE_LIMIT);
    if (!body.ok) return body.response;
    if (!isHash(params.hash) || createHash('sha256').update(body.value).digest('hex') !== params.hash)
      return problem(400, 'The file changed on its way here. Bring it in once more.');
    if (!(await findFile(params.hash))) {
      const used = await usedBy(person.id);
      const mb = body.value.length / 1048576;
      if (used.personMb + mb > QUOTA.personMb)
        return problem(
          413,
          `You have brought in ${used.personMb.toFixed(0)} MB within a day; ${QUOTA.personMb} MB is the most. Go on tomorrow.`,
        );
      if (used.shopMb + mb > QUOTA.shopMb)
        return problem(
          413,
          `The shop keeps ${QUOTA.shopMb} MB of files, and they are full. An administrator can make room.`,
        );
      await putFile(params.hash, name, body.value, person.id);
    }
    return answer({ hash: params.hash });
  },
  { bytes: true },
);
