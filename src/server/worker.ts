import { closePool } from '../db/pool';
import { outliveQueue, startWorker } from './work';

/** A worker of its own: bin/worker. */
outliveQueue();
const worker = await startWorker();
console.log('working; Ctrl C ends it after the work in hand');
const end = async (): Promise<void> => {
  await worker.stop();
  await closePool();
  process.exit(0);
};
process.on('SIGTERM', () => void end());
process.on('SIGINT', () => void end());
await worker.ended;
