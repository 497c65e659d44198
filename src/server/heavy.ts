import { Worker } from 'node:worker_threads';
import type { Job } from '../core/plan';
import type { BestOrder } from '../core/plan/order';
import type { JobSummary } from '../db/jobs';
import type { PartFile } from './bringPart';
import type { Proved } from './proveRelease';

/** What the thread can make, and of what. */
interface Tasks {
  readonly summary: { readonly of: Job; readonly makes: JobSummary };
  readonly release: { readonly of: Job; readonly makes: Proved };
  readonly bring: { readonly of: PartFile; readonly makes: Uint8Array };
  readonly order: { readonly of: Job; readonly makes: BestOrder };
}
type Task = keyof Tasks;

/** Seconds that a task may take, and MB that its thread may use. */
const LIMIT_SECONDS: Readonly<Record<Task, number>> = { summary: 30, release: 300, bring: 240, order: 120 };
const LIMIT_MB = 700;

// the thread runs the sources themselves and is named by text only, so that the build of the pages leaves it alone
const BOOT = "import(require('url').pathToFileURL(process.cwd() + '/src/server/heavy.thread.mjs').href)";

type Answer<T> = { kind: 'made'; made: T } | { kind: 'failed'; reason: string } | { kind: 'late' };

interface Request {
  readonly task: Task;
  readonly of: Job | PartFile;
  readonly answer: (a: Answer<never>) => void;
}

/**
 * One thread that works for the server on one thing after another. What takes too long, or too much memory, is ended with its
 * thread; the next request gets a fresh one.
 */
class Heavy {
  private worker: Worker | null = null;
  private ready = false;
  private queue: Request[] = [];
  private current: Request | null = null;
  private timer: ReturnType<typeof setTimeout> | null = null;
  private ticket = 0;

  run<T extends Task>(task: T, of: Tasks[T]['of']): Promise<Answer<Tasks[T]['makes']>> {
    return new Promise((answer) => {
      this.queue.push({ task, of, answer });
      this.next();
    });
  }

  private start(): Worker {
    const worker = new Worker(BOOT, {
      eval: true,
      resourceLimits: { maxOldGenerationSizeMb: LIMIT_MB },
      // the server's own loaders are not the thread's
      execArgv: [],
    });
    worker.unref();
    worker.on('message', (m: { ready?: boolean; ticket?: number; made?: never; error?: string }) => {
      if (worker !== this.worker) return;
      if (m.ready) {
        this.ready = true;
        this.next();
        return;
      }
      if (m.ticket !== this.ticket) return;
      this.settle(m.made ? { kind: 'made', made: m.made } : { kind: 'failed', reason: m.error ?? 'unknown' });
    });
    const gone = (reason: string): void => {
      if (worker !== this.worker) return;
      this.worker = null;
      this.ready = false;
      if (this.current) this.settle({ kind: 'failed', reason });
    };
    worker.on('error', (e: Error) => gone(e.message));
    worker.on('exit', () => gone('the thread ended'));
    return worker;
  }

  private next(): void {
    if (this.current || this.queue.length === 0) return;
    if (!this.worker) this.worker = this.start();
    if (!this.ready) return;
    const request = this.queue.shift() as Request;
    this.current = request;
    this.ticket++;
    this.timer = setTimeout(() => this.giveUp(), LIMIT_SECONDS[request.task] * 1000);
    this.worker.postMessage({ ticket: this.ticket, task: request.task, of: request.of });
  }

  private giveUp(): void {
    const { worker } = this;
    this.worker = null;
    this.ready = false;
    void worker?.terminate();
    this.settle({ kind: 'late' });
  }

  private settle(answer: Answer<never>): void {
    if (this.timer) clearTimeout(this.timer);
    this.timer = null;
    const { current } = this;
    this.current = null;
    current?.answer(answer);
    this.next();
  }
}

/** Plans of jobs and reading of files have a thread each: nobody who asks for a plan waits for another's file. */
interface Threads {
  readonly plans: Heavy;
  readonly files: Heavy;
}

const holder = globalThis as unknown as { livelyHeavy?: Threads };

const heavy = (): Threads => (holder.livelyHeavy ??= { plans: new Heavy(), files: new Heavy() });

/** Plans a job for the list, in a thread, with a time limit. */
export const summariseApart = (job: Job): Promise<Answer<JobSummary>> => heavy().plans.run('summary', job);

/** Posts and proves a job for its release, in the same way. */
export const proveApart = (job: Job): Promise<Answer<Proved>> => heavy().plans.run('release', job);

/** Looks for an order of a job with fewer tool changes, in the same way. */
export const orderApart = (job: Job): Promise<Answer<BestOrder>> => heavy().plans.run('order', job);

/** Reads a file into a part, packed, in the same way. */
export const bringApart = (file: PartFile): Promise<Answer<Uint8Array>> => heavy().files.run('bring', file);
