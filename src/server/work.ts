import { makeWorkerUtils, type Runner, run, type TaskList, type WorkerSharedOptions } from 'graphile-worker';
import { Pool } from 'pg';
import { putSummary } from '../db/jobs';
import { databaseUrl, LIMITS } from '../db/pool';
import { askLostAgain } from '../db/releases';
import { makeAsked } from './asked';
import { summariseApart } from './heavy';
import { keepHouse } from './housekeeping';
import { loadJob } from './jobs';
import { makeRelease } from './releases';

const asked: TaskList[string] = async (payload) => {
  await makeAsked((payload as { key: string }).key);
};

/** A file may take minutes to read: it has a place of its own, so that no plan waits behind it. */
const readsFiles: TaskList = { import: asked };

const plansJobs: TaskList = {
  summary: async (payload) => {
    const { job } = payload as { job: string };
    const opened = await loadJob(job);
    if (!opened || 'unreadable' in opened) return;
    const made = await summariseApart(opened.document);
    if (made.kind === 'made') await putSummary(job, opened.version, made.made);
    else console.error(`job ${job}: no summary (${made.kind})`);
  },
  release: async (payload) => {
    const { job, version } = payload as { job: string; version: number };
    await makeRelease(job, version);
  },
  order: asked,
  'lost-releases': async (_payload, { logger }) => {
    const lost = await askLostAgain();
    if (lost > 0) logger.info(`${lost} releases that nobody would have made any more are tried again`);
  },
  'keep-house': async (_payload, { logger }) => {
    const done = await keepHouse();
    logger.info(`house kept: ${done.revisions} revisions thinned, ${done.files} files without owners removed`);
  },
};

const quiet = {
  concurrency: 1,
  pollInterval: 2000,
  noHandleSignals: true,
} as const;

const connected = (max: number): Pool => {
  const p = new Pool({
    connectionString: databaseUrl(),
    max,
    application_name: 'lively-spindle worker',
    // nobody waits for it as for an answer: a busy machine may take its time
    connectionTimeoutMillis: 10 * LIMITS.connect,
    keepAlive: true,
  });
  const lost = (e: Error): void => console.error(`worker's database connection lost: ${e.message}`);
  p.on('error', lost);
  p.on('connect', (client) => client.on('error', lost));
  return p;
};

/** Brings the tables of the queue up to date; the role that works owns them. */
export const prepareQueue = async (connectionString: string): Promise<void> => {
  const options: WorkerSharedOptions = { connectionString };
  const utils = await makeWorkerUtils(options);
  await utils.migrate();
  await utils.release();
};

/**
 * The queue leaves a job's last step to itself: where the database is away for long, that step fails with nobody to hear it. It
 * is written down; the process has others to serve, and what was not marked as done is found and tried again.
 */
export const outliveQueue = (): void => {
  process.on('unhandledRejection', (reason) => {
    console.error(`left undone: ${reason instanceof Error ? (reason.stack ?? reason.message) : String(reason)}`);
  });
};

/** Takes heavy work from the database until it is told to stop. Now and then it looks for what was lost; once a night the house is kept. */
export const startWorker = async (): Promise<{ readonly stop: () => Promise<void>; readonly ended: Promise<void> }> => {
  const pgPool = connected(8);
  const begun = await Promise.allSettled([
    run({
      ...quiet,
      pgPool,
      taskList: plansJobs,
      crontab: '17 3 * * * keep-house ?max=3\n*/2 * * * * lost-releases ?max=1',
    }),
    run({ ...quiet, pgPool, taskList: readsFiles, crontab: '' }),
  ]);
  const runners: Runner[] = begun.flatMap((b) => (b.status === 'fulfilled' ? [b.value] : []));
  const stop = async (): Promise<void> => {
    await Promise.all(runners.map((r) => r.stop().catch(() => undefined)));
    // the last step of a job is nobody's to wait for: it keeps its connection until it is done
    const busy = (): boolean => pgPool.waitingCount > 0 || pgPool.idleCount < pgPool.totalCount;
    for (let i = 0; i < 60 && busy(); i++) await new Promise((r) => setTimeout(r, 50));
    await pgPool.end();
  };
  // one alone would work on beside the next start
  const failed = begun.find((b) => b.status === 'rejected');
  if (failed) {
    await stop();
    throw failed.reason;
  }
  return { ended: Promise.all(runners.map((r) => r.promise)).then(() => undefined), stop };
};
