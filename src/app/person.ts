import { cookies } from 'next/headers';
import { redirect } from 'next/navigation';
import { cache } from 'react';
import { may, type Person, type Right } from '@/house/rights';
import { COOKIE } from '@/server/door';
import { isUnpeopled, personOf } from '@/server/signIn';

/** Whoever asks for this page, or null; looked up once for page and frame together. */
export const askedBy = cache(async (): Promise<Person | null> => personOf((await cookies()).get(COOKIE)?.value ?? ''));

/** Whoever asks for this page and may see it; anybody else is led to where they can come in. */
export const signedIn = async (here: string, right: Right = 'view'): Promise<Person> => {
  const person = await askedBy();
  if (!person) redirect((await isUnpeopled()) ? '/first' : `/sign-in?to=${encodeURIComponent(here)}`);
  if (!may(person, right)) redirect('/');
  return person;
};

/** A way within this shop, and nowhere else: what a link may send somebody to after signing in. */
export const wayWithin = (to: string | undefined): string =>
  to && /^\/(?![/\\])[\w\-./?=&%]*$/.test(to) && !to.startsWith('/sign-in') ? to : '/';
