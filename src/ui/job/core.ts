'use client';
import { proxy, type Remote, wrap } from 'comlink';
import type { CoreApi } from '@/workers/core.worker';

let api: Remote<CoreApi> | null = null;
let lost: () => void = () => undefined;

/** What to do when the worker has died of itself. */
export const onCoreLost = (call: () => void): void => {
  lost = call;
};

/** The core in its worker; made at the first use in the browser. */
export const core = (): Remote<CoreApi> => {
  if (api) return api;
  const worker = new Worker(new URL('../../workers/core.worker.ts', import.meta.url), { type: 'module' });
  worker.addEventListener('error', () => {
    worker.terminate();
    api = null;
    lost();
  });
  api = wrap<CoreApi>(worker);
  return api;
};

export const callback = <T extends (...args: never[]) => unknown>(f: T): T => proxy(f) as unknown as T;
