import { expose, transfer } from 'comlink';
import type { MotionEvent } from '../core/motion';
import { type PostedProgram, type Proof, postJob, programText, proveJob, type ZeroToSet, zerosToSet } from '../core/nc';
import {
  bodyAfter,
  type Candidate,
  type Cycle,
  candidateSteps,
  cycleOf,
  DeriveCache,
  type Derived,
  type DerivedOperation,
  deriveSteps,
  eventTimes,
  type Job,
  moveEnds,
  rankCandidates,
  speedLine,
  type Track,
  trackOf,
  type ViewChanges,
  ViewSender,
} from '../core/plan';
import type { Tool } from '../core/tooling';

/** A derive that takes longer than this is given up, ms: no job of the sizes that the schema allows comes near. */
const LONGEST = 60_000;
/** Only what takes longer than this lets others in between, ms, and only what takes longer than that tells how far it is. */
const AT_ONE_GO = 60;
const WORTH_TELLING = 200;

const cache = new DeriveCache();
let sender = new ViewSender();
/** What the page was told last; its questions are about this. */
let derived: Derived | null = null;
let latest = 0;
let searching = 0;
/** Whole searches that were made so far, and so many after which the next one is no faster. */
let searches = 0;
const PRACTICE = 3;

/** Lets what was asked meanwhile in; a timer would wait some milliseconds each time. */
const breathe = (): Promise<void> =>
  new Promise((resolve) => {
    const { port1, port2 } = new MessageChannel();
    port1.onmessage = () => {
      port1.close();
      resolve();
    };
    port2.postMessage(null);
  });

const runDerive = async (
  job: Job,
  stopped: () => boolean,
  onProgress?: (done: number, all: number) => void,
  onMade?: (op: DerivedOperation) => void,
): Promise<Derived | null> => {
  const steps = deriveSteps(job, cache);
  const started = performance.now();
  let breath = started;
  for (;;) {
    const next = steps.next();
    if (next.done) return next.value;
    if (next.value.made) onMade?.(next.value.made);
    const now = performance.now();
    if (now - started > LONGEST)
      throw new Error(
        `Planning took longer than ${LONGEST / 1000} s and was stopped at operation ${next.value.done + 1} of ${next.value.all}. Look for a number there that cannot be meant.`,
      );
    // a long one lets a newer request in, which makes it stop
    if (now - breath < AT_ONE_GO) continue;
    if (now - started > WORTH_TELLING) onProgress?.(next.value.done, next.value.all);
    await breathe();
    breath = performance.now();
    if (stopped()) return null;
  }
};

/** Planning runs several times faster once the browser has compiled it: that is done ahead, while nobody waits. */
const WARM_UP = { after: 1500, runs: 8, searches: 2, most: 2500 };
let warm = false;

/** The same part and tools with nothing planned yet. */
const unplanned = (job: Job): Job => ({
  ...job,
  operations: {},
  repeats: {},
  order: Object.fromEntries(Object.keys(job.order).map((channel) => [channel, []])),
});

/** Derives a job again and again with nothing kept and tries its tools on the raw bar, until it is enough or something is asked for. */
const warmUp = async (job: Job): Promise<void> => {
  const ticket = latest;
  const search = searching;
  const started = performance.now();
  const over = (): boolean => ticket !== latest || search !== searching || performance.now() - started > WARM_UP.most;
  for (let k = 0; k < WARM_UP.runs; k++)
    for (const _ of deriveSteps(job, new DeriveCache())) {
      await breathe();
      if (over()) return;
    }
  const { outer } = derived?.part ?? { outer: [] };
  const bare = unplanned(job);
  for (let k = 0; k < WARM_UP.searches && outer.length > 0; k++) {
    const span = { from: outer[0].id, to: outer[outer.length - 1].id };
    for (const _ of candidateSteps(bare, span, 'outer', job.holdingOrder[0], new DeriveCache())) {
      await breathe();
      if (over()) return;
    }
  }
  warm = true;
};

/** The new path of an operation that is being looked at, before all that follows from it is worked out. */
export interface EarlyPath {
  readonly id: string;
  readonly events: readonly MotionEvent[];
}

export interface Released {
  readonly programs: readonly PostedProgram[];
  readonly texts: readonly string[];
  readonly proof: Proof;
  /** What the operator sets before. */
  readonly zeros: readonly ZeroToSet[];
  /** For each channel: index, start and end of every event. */
  readonly times: readonly Float64Array[];
}

let progress: (done: number, all: number) => void = () => undefined;
let early: (path: EarlyPath) => void = () => undefined;

export const coreApi = {
  /** Who is told how far a long derive is, and the path that is looked at as soon as it is planned anew. */
  listen(onProgress: (done: number, all: number) => void, onEarly: (path: EarlyPath) => void): void {
    progress = onProgress;
    early = onEarly;
  },
  /**
   * Derives and says what is new since the last answer, or everything to a page that is `fresh`; null when a newer call or
   * `cancel` has overtaken it. The path of one operation that is being looked at comes along.
   */
  async derive(
    job: Job,
    fresh: boolean,
    watched: string | null,
  ): Promise<{ readonly changes: ViewChanges; readonly track: Track | null } | null> {
    const ticket = ++latest;
    const before = fresh ? undefined : derived?.operations.find((o) => o.id === watched)?.key;
    const made = await runDerive(
      job,
      () => ticket !== latest,
      (done, all) => progress(done, all),
      (op) => {
        if (before !== undefined && op.id === watched && op.key !== before) early({ id: op.id, events: op.events });
      },
    );
    if (!made || ticket !== latest) return null;
    derived = made;
    if (fresh) sender = new ViewSender();
    const changes = sender.changes(made);
    const answer = { changes, track: watched === null ? null : trackOf(made, watched) };
    if (!warm)
      setTimeout(() => {
        if (!warm && ticket === latest) warmUp(job).catch(() => undefined);
      }, WARM_UP.after);
    return changes.times ? transfer(answer, [changes.times.buffer]) : answer;
  },
  cancel(): void {
    latest++;
  },
  /** Timed path and stock of one operation of the job as last told. */
  track(id: string): Track | null {
    return derived ? trackOf(derived, id) : null;
  },
  /** Stock after an operation, or the raw stock. */
  body(id: string | null) {
    return derived ? bodyAfter(derived, id).turnedOutline : [];
  },
  speeds(channel: string, step: number): Float64Array {
    return derived ? speedLine(derived, channel, step) : new Float64Array();
  },
  /** Time from part to part, and how busy channels and spindles are; null while nothing runs. */
  cycle(job: Job): Cycle | null {
    return derived ? cycleOf(job, derived) : null;
  },
  moveEnds(): Float64Array {
    return derived ? moveEnds(derived) : new Float64Array();
  },
  /** Ranked as far as they are found, again and again until all are; a newer search ends this one. */
  async candidates(
    job: Job,
    span: { from: string; to: string } | null,
    side: 'outer' | 'inner',
    holding: string,
    shelf: readonly Tool[] = [],
    onFound?: (candidates: Candidate[]) => void,
  ): Promise<Candidate[] | null> {
    const ticket = ++searching;
    const found: Candidate[] = [];
    const began = performance.now();
    let rested = began;
    let tellAt = began;
    for (const c of candidateSteps(job, span, side, holding, cache, shelf)) {
      found.push(c);
      const now = performance.now();
      if (found.length > 1 && now - rested < AT_ONE_GO) continue;
      // the first at once, the others ever less often: what is told is copied and drawn each time
      if (now >= tellAt) {
        onFound?.(rankCandidates(job, found));
        tellAt = now + AT_ONE_GO + (now - began) / 2;
      }
      await breathe();
      rested = performance.now();
      if (ticket !== searching) return null;
    }
    searches++;
    return rankCandidates(job, found);
  },
  /**
   * Tries a few times what can cut a whole outside and keeps nothing of it: the first real question is answered three times as
   * fast. Whatever is asked meanwhile ends it, until nothing is asked again.
   */
  async practise(job: Job, holding: string, shelf: readonly Tool[] = []): Promise<void> {
    const [asked, planned] = [searching, latest];
    const whole = derived?.part.outer ?? [];
    if (whole.length === 0) return;
    const span = { from: whole[0].id, to: whole[whole.length - 1].id };
    for (; searches < PRACTICE; searches++)
      for (const _ of candidateSteps(job, span, 'outer', holding, cache, shelf)) {
        await breathe();
        if (asked !== searching || planned !== latest) return;
      }
  },
  async release(job: Job, date: string): Promise<Released | null> {
    const made = await runDerive(job, () => false);
    if (!made) return null;
    const programs = postJob(job, made, date);
    const texts = programs.map(programText);
    return {
      programs,
      texts,
      proof: proveJob(job, made, texts),
      zeros: zerosToSet(job, made),
      times: programs.map((p) => eventTimes(made, p.channel)),
    };
  },
};

export type CoreApi = typeof coreApi;

expose(coreApi);
