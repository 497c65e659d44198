// Plans, posts and proves in a thread of its own, so that a job that is slow to plan keeps nobody waiting.
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
const tasks = { summary: summarise, release: proveRelease };

parentPort.on('message', ({ ticket, task, job }) => {
  try {
    parentPort.postMessage({ ticket, made: tasks[task](job) });
  } catch (error) {
    parentPort.postMessage({ ticket, error: error instanceof Error ? error.message : String(error) });
  }
});
parentPort.postMessage({ ready: true });
