import type { Metadata } from 'next';
import type { ReactNode } from 'react';
import { Toaster } from 'sonner';
import { PersonProvider } from '@/ui/house/person';
import { SignedOutDialog } from '@/ui/house/SignIn';
import { askedBy } from './person';
import './globals.css';

export const metadata: Metadata = { title: 'Lively Spindle', description: 'Plan, prove and post turning programs' };

const Layout = async ({ children }: { children: ReactNode }) => {
  // a database that is away must not keep the page from saying so
  const person = await askedBy().catch(() => null);
  return (
    <html lang="en" data-ground={person?.preferences.ground ?? 'light'}>
      <body>
        <PersonProvider person={person}>
          {children}
          <SignedOutDialog />
        </PersonProvider>
        <Toaster
          position="bottom-center"
          toastOptions={{
            style: {
              background: 'var(--color-paper)',
              color: 'var(--color-ink)',
              border: '1px solid var(--color-soft)',
              borderRadius: 4,
              fontFamily: 'var(--font-text)',
            },
          }}
        />
      </body>
    </html>
  );
};

export default Layout;
