import { listJobs } from '@/db/jobs';
import { findShop } from '@/db/shop';
import { Jobs } from '@/ui/jobs/Jobs';
import { signedIn } from './person';

export const dynamic = 'force-dynamic';

const Page = async () => {
  await signedIn('/');
  const [first, shop] = await Promise.all([listJobs(), findShop()]);
  return <Jobs first={first} shop={shop.name} now={Date.now()} />;
};

export default Page;
