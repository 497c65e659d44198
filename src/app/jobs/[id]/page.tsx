import { loadJob } from '@/server/jobs';
import { Workspace } from '@/ui/job/Workspace';
import { signedIn } from '../../person';
import { Gone, NOT_THERE } from './gone';

export const dynamic = 'force-dynamic';

const Page = async ({
  params,
  searchParams,
}: {
  params: Promise<{ id: string }>;
  searchParams: Promise<{ phase?: string | string[] }>;
}) => {
  const { id } = await params;
  await signedIn(`/jobs/${id}`);
  const row = await loadJob(id);
  if (!row) return <Gone {...NOT_THERE} />;
  if ('unreadable' in row)
    return <Gone head="This job cannot be read." why={`It is kept as it is. ${row.unreadable}`} />;
  const { phase } = await searchParams;
  return <Workspace id={row.id} title={row.document.header.number} phase={typeof phase === 'string' ? phase : null} />;
};

export default Page;
