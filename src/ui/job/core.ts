'use client';
import { proxy, type Remote, wrap } from 'comlink';
import type { CoreApi } from '@/workers/core.worker';

let api: Remote<CoreApi> | null = null;

/** The core in its worker; made at the first use in the browser. */
export const core = (): Remote<CoreApi> => {
  if (!api)
    api = wrap<CoreApi>(new Worker(new URL('../../workers/core.worker.ts', import.meta.url), { type: 'module' }));
  return api;
};

export const callback = <T extends (...args: never[]) => unknown>(f: T): T => proxy(f) as unknown as T;
