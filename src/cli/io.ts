import { readFileSync, statSync } from 'node:fs';
import { DeriveCache, type Derived, deriveSteps, type Job, readJobText } from '../core/plan';
import { FILE_LIMIT } from '../solid/wishes';

export const EXIT_BLOCKED = 1;
export const EXIT_BAD_INPUT = 2;

/** Where a command writes, and the code that it leaves with. */
export interface Io {
  readonly out: (text: string) => void;
  readonly err: (text: string) => void;
  readonly exit: (code: number) => void;
  readonly print: (json: boolean, value: unknown, lines: () => string[]) => void;
}

/** Bad input: told on stderr (or as JSON), exit 2. */
export class InputError extends Error {}

export const readBytes = (file: string): Uint8Array => {
  try {
    const size = statSync(file).size;
    if (size > FILE_LIMIT)
      throw new InputError(
        `${file}: ${(size / 1048576).toFixed(1)} MB are more than the ${FILE_LIMIT / 1048576} MB that are read. Choose a smaller file.`,
      );
    return readFileSync(file);
  } catch (error) {
    if (error instanceof InputError) throw error;
    throw new InputError(
      `${file}: cannot be read (${(error as NodeJS.ErrnoException).code ?? 'error'}). Check the path.`,
    );
  }
};

export const readText = (file: string): string => new TextDecoder().decode(readBytes(file));

export const loadJob = (file: string): Job => {
  const read = readJobText(readText(file));
  if (!read.ok)
    throw new InputError(read.problems.map((p) => `${file}${p.place ? `, ${p.place}` : ''}: ${p.message}`).join('\n'));
  return read.job;
};

/** Seconds that a plan may take here. */
const PLAN_LIMIT = 600;

/** Derives a job; gives up with a message when it takes too long. */
export const deriveWithin = (job: Job): Derived => {
  const until = performance.now() + PLAN_LIMIT * 1000;
  const steps = deriveSteps(job, new DeriveCache());
  for (;;) {
    const next = steps.next();
    if (next.done) return next.value;
    if (performance.now() > until)
      throw new InputError(
        `The plan takes more than ${PLAN_LIMIT} s (operation ${next.value.done} of ${next.value.all}). Look for a number that is far too large or small.`,
      );
  }
};
