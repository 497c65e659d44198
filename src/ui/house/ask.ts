'use client';
import { create } from 'zustand';

/** What the server answered, or that it did not. */
export type Answered<T> =
  | { readonly ok: true; readonly status: number; readonly body: T }
  | { readonly ok: false; readonly status: number; readonly message: string; readonly body: Record<string, unknown> };

/** True when the session has ended: a dialog asks to sign in on the spot, and nothing is lost. */
export const useSignedOut = create<{ readonly out: boolean; readonly again: readonly (() => void)[] }>(() => ({
  out: false,
  again: [],
}));

/** Has the sign-in shown; what is given is called when somebody has signed in. */
export const askToSignIn = (again: () => void = () => undefined): void =>
  useSignedOut.setState((s) => ({ out: true, again: [...s.again, again] }));

export const signedInAgain = (): void => {
  const { again } = useSignedOut.getState();
  useSignedOut.setState({ out: false, again: [] });
  for (const call of again) call();
};

/** ms after which a request counts as lost. */
const PATIENCE = 15_000;

/** A request that expects JSON, with a time limit; status 0 says that there was no answer. */
export const ask = async <T>(
  method: 'GET' | 'POST' | 'PUT' | 'DELETE',
  url: string,
  body?: unknown,
  patience = PATIENCE,
): Promise<Answered<T>> => {
  let response: Response;
  try {
    response = await fetch(url, {
      method,
      cache: 'no-store',
      signal: AbortSignal.timeout(patience),
      ...(method === 'GET'
        ? {}
        : { headers: { 'content-type': 'application/json' }, body: JSON.stringify(body ?? {}) }),
    });
  } catch (error) {
    const late = error instanceof DOMException && error.name === 'TimeoutError';
    const message = late ? `no answer within ${patience / 1000} s` : 'no connection to the server';
    return { ok: false, status: 0, message, body: {} };
  }
  const value = (await response.json().catch(() => null)) as (T & { message?: string }) | null;
  if (response.ok && value !== null) return { ok: true, status: response.status, body: value };
  if (response.status === 401 && !url.startsWith('/api/session')) askToSignIn();
  return {
    ok: false,
    status: response.ok ? 0 : response.status,
    message: value?.message ?? `The server answered ${response.status}.`,
    body: (value ?? {}) as Record<string, unknown>,
  };
};
