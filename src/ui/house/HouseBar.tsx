'use client';
import Link from 'next/link';
import type { ReactNode } from 'react';
import { Mark } from '../jobs/Mark';
import { cx } from '../kit/controls';
import { ask } from './ask';
import { useMay, usePerson } from './person';

export const signOut = async (): Promise<void> => {
  await ask('DELETE', '/api/session');
  window.location.assign('/sign-in');
};

/** The head of every page of the house: where one is, who one is, and the ways to the other pages. */
export const HouseBar = ({ here, shop, children }: { here: string; shop?: string; children?: ReactNode }) => {
  const person = usePerson();
  const administers = useMay('administer');
  const links = [
    { href: '/', name: 'Jobs' },
    ...(administers
      ? [
          { href: '/people', name: 'People' },
          { href: '/audit', name: 'Who did what' },
        ]
      : []),
  ];
  return (
    <header className="flex items-center gap-3 py-4">
      <Link href="/" aria-label="All jobs" className="flex items-center gap-3">
        <Mark size={26} />
        <span className="whitespace-nowrap text-[20px] font-semibold">Lively Spindle</span>
      </Link>
      {shop && <span className="hidden min-w-0 truncate text-soft xl:inline">{shop}</span>}
      <nav aria-label="House" className="ml-2 flex items-center gap-1">
        {links.map((l) => (
          <Link
            key={l.href}
            href={l.href}
            aria-current={here === l.name ? 'page' : undefined}
            className={cx(
              'whitespace-nowrap rounded px-2 py-1 hover:bg-paper',
              here === l.name && 'font-semibold text-woad underline underline-offset-4',
            )}
          >
            {l.name}
          </Link>
        ))}
      </nav>
      <span className="flex-1" />
      {children}
      <Link
        href="/me"
        aria-current={here === 'You' ? 'page' : undefined}
        className={cx(
          'whitespace-nowrap rounded px-2 py-1 hover:bg-paper',
          here === 'You' && 'font-semibold text-woad',
        )}
      >
        {person.name}
      </Link>
      <button
        type="button"
        className="whitespace-nowrap rounded px-2 py-1 text-soft hover:bg-paper"
        onClick={() => void signOut()}
      >
        Sign out
      </button>
    </header>
  );
};
