import Link from 'next/link';
import { loadJob } from '@/server/jobs';
import { Workspace } from '@/ui/job/Workspace';

export const dynamic = 'force-dynamic';

const Page = async ({
  params,
  searchParams,
}: {
  params: Promise<{ id: string }>;
  searchParams: Promise<{ phase?: string }>;
}) => {
  const row = await loadJob((await params).id);
  if (!row)
    return (
      <main className="p-10">
        <h1 className="mb-2 text-[18px] font-semibold">This job is not there.</h1>
        <p className="mb-4 text-soft">It may have been deleted, or the address is not complete.</p>
        <Link href="/" className="text-woad underline">
          Back to the jobs
        </Link>
      </main>
    );
  if ('unreadable' in row)
    return (
      <main className="p-10">
        <h1 className="mb-2 text-[18px] font-semibold">This job cannot be read.</h1>
        <p className="mb-4 text-soft">It is kept as it is. {row.unreadable}</p>
        <Link href="/" className="text-woad underline">
          Back to the jobs
        </Link>
      </main>
    );
  return (
    <Workspace id={row.id} initial={row.document} version={row.version} phase={(await searchParams).phase ?? null} />
  );
};

export default Page;
