'use client';
import { type Remote, wrap } from 'comlink';
import type { SolidApi } from '@/workers/solid.worker';

/** Longest that one file may take; then the worker is ended, whatever it does. */
const TIME_LIMIT = 120_000;

/** The worker was ended: by hand, or because it took too long. */
export class EndedError extends Error {
  constructor(
    message: string,
    readonly byHand: boolean,
  ) {
    super(message);
  }
}

let worker: Worker | null = null;
let api: Remote<SolidApi> | null = null;
let abandon: ((error: Error) => void)[] = [];

const start = (): Remote<SolidApi> => {
  if (!api) {
    worker = new Worker(new URL('../../workers/solid.worker.ts', import.meta.url), { type: 'module' });
    api = wrap<SolidApi>(worker);
  }
  return api;
};

/** Ends the worker with all that it is doing; the next call starts a fresh one. */
export const endSolids = (late: string | null = null): void => {
  worker?.terminate();
  worker = null;
  api = null;
  for (const f of abandon) f(new EndedError(late ?? 'Stopped. The part stays as it was.', late === null));
  abandon = [];
};

/** Runs a call in the solid worker with a time limit. */
export const solids = async <T>(call: (api: Remote<SolidApi>) => Promise<T>): Promise<T> => {
  const remote = start();
  return new Promise<T>((resolve, reject) => {
    const clock = setTimeout(
      () =>
        endSolids(
          `Reading took more than ${TIME_LIMIT / 1000} s and was stopped. Export a simpler solid (the single part, without threads and lettering). The part stays as it was.`,
        ),
      TIME_LIMIT,
    );
    const settle = (finish: () => void): void => {
      clearTimeout(clock);
      abandon = abandon.filter((f) => f !== reject);
      finish();
    };
    abandon.push((e) => settle(() => reject(e)));
    call(remote).then(
      (v) => settle(() => resolve(v)),
      (e: unknown) => settle(() => reject(e instanceof Error ? e : new Error(String(e)))),
    );
  });
};
