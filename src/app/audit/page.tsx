import { listPeople } from '@/db/people';
import { Audit } from '@/ui/house/Audit';
import { signedIn } from '../person';

export const dynamic = 'force-dynamic';

const Page = async () => {
  await signedIn('/audit', 'administer');
  return <Audit people={await listPeople()} />;
};

export default Page;
