import { redirect } from 'next/navigation';
import { isUnpeopled } from '@/server/signIn';
import { FirstPage } from '@/ui/house/SignIn';

export const dynamic = 'force-dynamic';

const Page = async ({ searchParams }: { searchParams: Promise<{ code?: string | string[] }> }) => {
  if (!(await isUnpeopled())) redirect('/sign-in');
  const { code } = await searchParams;
  return <FirstPage code={typeof code === 'string' ? code : ''} />;
};

export default Page;
