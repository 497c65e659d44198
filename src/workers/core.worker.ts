import { expose } from 'comlink';
import { type PostedProgram, type Proof, postJob, programText, proveJob } from '../core/nc';
import { type Candidate, candidatesFor, DeriveCache, type Derived, deriveSteps, type Job } from '../core/plan';

const cache = new DeriveCache();
let latest = 0;

const breathe = (): Promise<void> => new Promise((resolve) => setTimeout(resolve, 0));

const runDerive = async (
  job: Job,
  ticket: number,
  onProgress?: (done: number, all: number) => void,
): Promise<Derived | null> => {
  const steps = deriveSteps(job, cache);
  for (;;) {
    const next = steps.next();
    if (next.done) return next.value;
    onProgress?.(next.value.done, next.value.all);
    // let a newer request in: it makes this one stop
    await breathe();
    if (ticket !== latest) return null;
  }
};

export interface Released {
  readonly programs: readonly PostedProgram[];
  readonly texts: readonly string[];
  readonly proof: Proof;
}

export const coreApi = {
  /** Derives; null when a newer call or `cancel` has overtaken it. */
  async derive(job: Job, onProgress?: (done: number, all: number) => void): Promise<Derived | null> {
    latest++;
    return runDerive(job, latest, onProgress);
  },
  cancel(): void {
    latest++;
  },
  candidates(job: Job, span: { from: string; to: string } | null, side: 'outer' | 'inner'): Candidate[] {
    return candidatesFor(job, span, side, cache);
  },
  async release(job: Job, date: string): Promise<Released | null> {
    const derived = await runDerive(job, latest);
    if (!derived) return null;
    const programs = postJob(job, derived, date);
    const texts = programs.map(programText);
    return { programs, texts, proof: proveJob(job, derived, texts) };
  },
};

export type CoreApi = typeof coreApi;

expose(coreApi);
