import { redirect } from 'next/navigation';
import { findShop } from '@/db/shop';
import { isUnpeopled } from '@/server/signIn';
import { SignInPage } from '@/ui/house/SignIn';
import { wayWithin } from '../person';

export const dynamic = 'force-dynamic';

const Page = async ({ searchParams }: { searchParams: Promise<{ to?: string | string[] }> }) => {
  if (await isUnpeopled()) redirect('/first');
  const { to } = await searchParams;
  const { name, demo } = await findShop();
  return <SignInPage shop={name} demo={demo} to={wayWithin(typeof to === 'string' ? to : undefined)} />;
};

export default Page;
