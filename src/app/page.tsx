import { listJobs } from '@/db/jobs';
import { Jobs } from '@/ui/jobs/Jobs';

export const dynamic = 'force-dynamic';

const Page = async () => <Jobs jobs={await listJobs()} now={Date.now()} />;

export default Page;
