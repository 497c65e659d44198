import { z } from 'zod';
import { isAuditCursor, listAudit } from '@/db/audit';
import { route } from '@/server/door';
import { answer, problem } from '@/server/http';

export const dynamic = 'force-dynamic';

const text = (most: number) =>
  z
    .string()
    .max(most)
    .refine((v) => !v.includes('\u0000') && v.isWellFormed())
    .nullable();
const Filter = z.object({
  person: z.uuid().nullable(),
  action: text(60),
  words: text(120),
  from: z.iso.date().nullable(),
  to: z.iso.date().nullable(),
  before: z.string().refine(isAuditCursor).nullable(),
});

export const GET = route('administer', async ({ url }) => {
  const q = (name: string): string | null => url.searchParams.get(name) || null;
  const parsed = Filter.safeParse({
    person: q('person'),
    action: q('action'),
    words: q('words'),
    from: q('from'),
    to: q('to'),
    before: q('before'),
  });
  if (!parsed.success) return problem(400, `The filter “${parsed.error.issues[0]?.path.join('.')}” cannot be read.`);
  return answer(await listAudit(parsed.data));
});
