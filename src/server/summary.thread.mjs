// Computes summaries in a thread of its own, so that a job that is slow to plan keeps nobody waiting.
import { parentPort } from 'node:worker_threads';
import { register } from 'tsx/esm/api';

register();
const { summarise } = await import(new URL('./summary.ts', import.meta.url).href);

parentPort.on('message', ({ ticket, job }) => {
  try {
    parentPort.postMessage({ ticket, summary: summarise(job) });
  } catch (error) {
    parentPort.postMessage({ ticket, error: error instanceof Error ? error.message : String(error) });
  }
});
parentPort.postMessage({ ready: true });
