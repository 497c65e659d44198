'use client';
import { proxy, type Remote, wrap } from 'comlink';
import type { CoreApi, EarlyPath } from '@/workers/core.worker';

/** A single operation that takes longer than this is given up with the worker, ms; whole jobs give themselves up before. */
const PATIENCE = 75_000;

let api: Remote<CoreApi> | null = null;
let worker: Worker | null = null;
let lost: () => void = () => undefined;

/** What to do when the worker has died of itself. */
export const onCoreLost = (call: () => void): void => {
  lost = call;
};

let progressed: (done: number, all: number) => void = () => undefined;

/** Who hears how far the running derive is. The way back is made once for a worker: to make one for a call takes 20 ms. */
export const onProgress = (call: (done: number, all: number) => void): void => {
  progressed = call;
};

let came: (path: EarlyPath) => void = () => undefined;

/** Who hears the path that is looked at, before the answer that it belongs to. */
export const onEarlyPath = (call: (path: EarlyPath) => void): void => {
  came = call;
};

const end = (): void => {
  worker?.terminate();
  worker = null;
  api = null;
};

/** Runs a call that tells when it goes on; ends the worker when nothing was heard for too long. */
export const patiently = <T>(call: (heard: () => void) => Promise<T>): Promise<T> =>
  new Promise<T>((resolve, reject) => {
    const giveUp = (): void => {
      end();
      reject(
        new Error(
          `Planning gave no sign for ${PATIENCE / 1000} s and was stopped. Take back the last change, or look for a number that cannot be meant.`,
        ),
      );
    };
    let clock = setTimeout(giveUp, PATIENCE);
    const heard = (): void => {
      clearTimeout(clock);
      clock = setTimeout(giveUp, PATIENCE);
    };
    call(heard)
      .then(resolve, reject)
      .finally(() => clearTimeout(clock));
  });

/** The core in its worker; made at the first use in the browser. */
export const core = (): Remote<CoreApi> => {
  if (api) return api;
  const made = new Worker(new URL('../../workers/core.worker.ts', import.meta.url), { type: 'module' });
  made.addEventListener('error', () => {
    end();
    lost();
  });
  worker = made;
  api = wrap<CoreApi>(made);
  void api.listen(
    callback((done: number, all: number) => progressed(done, all)),
    callback((path: EarlyPath) => came(path)),
  );
  return api;
};

export const callback = <T extends (...args: never[]) => unknown>(f: T): T => proxy(f) as unknown as T;
