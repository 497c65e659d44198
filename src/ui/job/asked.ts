'use client';
import { ask } from '../house/ask';

/** How often the page asks how far a worker is, ms. */
const EVERY = 700;

/** What a worker of the shop is to make: where it is asked for, with what, and for how long the page waits, ms. */
export interface Wanted {
  readonly url: string;
  readonly body: unknown;
  readonly patience: number;
  /** Asked now and then; when it says no, nobody waits any more. */
  readonly wanted?: () => boolean;
  /** What is said when it is not made in time. */
  readonly late: string;
}

/** Has a worker make something and waits for it; null when it is nobody's any more. Throws the reason where it cannot be. */
export const madeByWorker = async ({ url, body, patience, wanted, late }: Wanted): Promise<Response | null> => {
  const asked = await ask<{ key: string }>('POST', url, body);
  if (!asked.ok) throw new Error(asked.message);
  const at = `/api/asked/${asked.body.key}`;
  const until = Date.now() + patience;
  while (Date.now() < until) {
    if (wanted && !wanted()) return null;
    const now = await ask<{ state: string; reason: string | null }>('GET', at);
    if (!now.ok) throw new Error(now.message);
    if (now.body.state === 'failed') throw new Error(now.body.reason ?? 'The server could not do it.');
    if (now.body.state === 'made') {
      const result = await fetch(`${at}?result`);
      if (!result.ok) throw new Error(`the server answered ${result.status}`);
      return result;
    }
    await new Promise((resolve) => setTimeout(resolve, EVERY));
  }
  throw new Error(late);
};
