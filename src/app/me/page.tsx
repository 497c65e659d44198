import { Me } from '@/ui/house/Me';
import { signedIn } from '../person';

export const dynamic = 'force-dynamic';

const Page = async () => {
  await signedIn('/me');
  return <Me />;
};

export default Page;
