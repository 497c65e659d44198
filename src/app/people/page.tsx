import { listPeople } from '@/db/people';
import { People } from '@/ui/house/People';
import { signedIn } from '../person';

export const dynamic = 'force-dynamic';

const Page = async () => {
  await signedIn('/people', 'administer');
  return <People people={await listPeople()} now={Date.now()} />;
};

export default Page;
