// Plans, posts, proves and reads files in a thread of its own, so that what is slow keeps nobody waiting.
import { setPriority } from 'node:os';
import { parentPort } from 'node:worker_threads';
import { register } from 'tsx/esm/api';

register();
try {
  // on Linux this is the thread's own: nobody who saves waits for a picture in the list
  setPriority(0, 10);
} catch {
  // then it works as everybody
}
const { summarise } = await import(new URL('./summary.ts', import.meta.url).href);
const { proveRelease } = await import(new URL('./proveRelease.ts', import.meta.url).href);
const { bestOrder } = await import(new URL('../core/plan/order/index.ts', import.meta.url).href);
const tasks = {
  summary: summarise,
  release: proveRelease,
  order: bestOrder,
  // the solid kernel's library is large: it is loaded for a file only
  bring: async (file) => (await import(new URL('./bringPart.ts', import.meta.url).href)).bringPart(file),
};

parentPort.on('message', async ({ ticket, task, of }) => {
  try {
    parentPort.postMessage({ ticket, made: await tasks[task](of) });
  } catch (error) {
    parentPort.postMessage({ ticket, error: error instanceof Error ? error.message : String(error) });
  }
});
parentPort.postMessage({ ready: true });
