import { loadJob } from '@/server/jobs';
import { History } from '@/ui/history/History';
import { signedIn } from '../../../person';
import { Gone, NOT_THERE } from '../gone';

export const dynamic = 'force-dynamic';

const Page = async ({ params }: { params: Promise<{ id: string }> }) => {
  const { id } = await params;
  await signedIn(`/jobs/${id}/history`);
  const row = await loadJob(id);
  if (!row) return <Gone {...NOT_THERE} />;
  if ('unreadable' in row)
    return <Gone head="This job cannot be read." why={`It is kept as it is. ${row.unreadable}`} />;
  const { number, name } = row.document.header;
  return <History job={row.id} title={`${number} ${name}`} version={row.version} />;
};

export default Page;
