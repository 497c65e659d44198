import type { Metadata } from 'next';
import type { ReactNode } from 'react';
import { Toaster } from 'sonner';
import './globals.css';

export const metadata: Metadata = { title: 'Lively Spindle', description: 'Plan, prove and post turning programs' };

const Layout = ({ children }: { children: ReactNode }) => (
  <html lang="en">
    <body>
      {children}
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

export default Layout;
