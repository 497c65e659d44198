import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { applyDiff, type Job } from '@/core/plan';
import { barOf, withBar } from '../../../tests/fixtures/holding';
import { demoJob } from '../../../tests/fixtures/jobs';
import {
  type Conflict,
  type EditAnswer,
  type EditRequest,
  type Refusal,
  Saver,
  type Saving,
  type Unsaved,
} from './saver';

/** A server of one job that takes each edit once, and a clock that is turned by hand. */
class World {
  job: Job;
  version = 1;
  readonly taken = new Map<string, number>();
  saving: Saving = { kind: 'saving' };
  conflict: Conflict | null = null;
  /** What the browser keeps. */
  kept: Unsaved | null = null;
  readonly requests: EditRequest[] = [];
  /** What happens to the next requests; none = the server answers as it should. */
  fate: ((r: EditRequest) => Promise<EditAnswer>)[] = [];
  private timers: { call: () => void; at: number }[] = [];
  private clock = 0;
  private ids = 0;
  saver: Saver;

  constructor(start: Job) {
    this.job = start;
    this.saver = this.open(start, 1);
  }

  /** A page that opens the job at a version. */
  open(job: Job, version: number): Saver {
    return new Saver(job, version, {
      send: (r) => {
        this.requests.push(r);
        const fate = this.fate.shift();
        return fate ? fate(r) : Promise.resolve(this.take(r));
      },
      later: (ms, call) => {
        const timer = { call, at: this.clock + ms };
        this.timers.push(timer);
        return () => {
          this.timers = this.timers.filter((t) => t !== timer);
        };
      },
      newId: () => `edit-${++this.ids}`,
      now: () => this.clock,
      changed: (s) => {
        this.saving = s.saving;
        this.conflict = s.conflict;
      },
      keep: (unsaved) => {
        this.kept = structuredClone(unsaved);
      },
    });
  }

  take(r: EditRequest): EditAnswer {
    const known = this.taken.get(r.edit);
    if (known !== undefined) return { kind: 'taken', version: known };
    if (r.base !== this.version)
      return { kind: 'conflict', version: this.version, theirs: this.job, updatedBy: 'Piet Larkin' };
    this.job = applyDiff(this.job, r.diff);
    this.version++;
    this.taken.set(r.edit, this.version);
    return { kind: 'taken', version: this.version };
  }

  /** Somebody else saves. */
  elsewhere(change: (j: Job) => Job): void {
    this.job = change(structuredClone(this.job));
    this.version++;
  }

  /** Runs timers and answers until all is quiet or `ms` are over. */
  async run(ms = 10_000): Promise<void> {
    const end = this.clock + ms;
    for (;;) {
      for (let i = 0; i < 8; i++) await Promise.resolve();
      const next = [...this.timers].sort((a, b) => a.at - b.at)[0];
      if (!next || next.at > end) return;
      this.clock = next.at;
      this.timers = this.timers.filter((t) => t !== next);
      next.call();
    }
  }
}

const withNote = (job: Job, note: string): Job => ({ ...job, header: { ...job.header, note } });
const first = (): Job => demoJob('LM-118');

describe('saving', () => {
  it('waits for a rest and sends several changes as one edit', async () => {
    const w = new World(first());
    for (const n of ['a', 'ab', 'abc']) w.saver.touch(withNote(w.job, n), 'note');
    expect(w.saving.kind).toBe('saving');
    expect(w.saver.unsaved).toBe(true);
    await w.run();
    expect(w.requests).toHaveLength(1);
    expect(w.job.header.note).toBe('abc');
    expect(w.saving.kind).toBe('saved');
    expect(w.saver.unsaved).toBe(false);
  });
  it('sends nothing for a change that was taken back', async () => {
    const w = new World(first());
    w.saver.touch(withNote(w.job, 'a'), 'note');
    w.saver.touch(first(), 'undo');
    await w.run();
    expect(w.requests).toHaveLength(0);
    expect(w.saving.kind).toBe('saved');
  });
  it('sends the same edit again when the answer was lost, and it is done once', async () => {
    const w = new World(first());
    w.fate = [
      async (r) => {
        w.take(r);
        return { kind: 'lost', reason: 'no connection' };
      },
      async () => {
        throw new Error('gone');
      },
    ];
    const mine = withNote(w.job, 'kept');
    w.saver.touch(mine, 'note');
    await w.run(400);
    expect(w.saving).toEqual({ kind: 'waiting', reason: 'no connection' });
    await w.run();
    expect(new Set(w.requests.map((r) => r.edit)).size).toBe(1);
    expect(w.requests).toHaveLength(3);
    expect(w.version).toBe(2);
    expect(w.job).toEqual(mine);
    expect(w.saving.kind).toBe('saved');
  });
  it('is not saved while a later change is on its way', async () => {
    const w = new World(first());
    let answer: (a: EditAnswer) => void = () => undefined;
    w.fate = [(r) => new Promise((resolve) => (answer = () => resolve(w.take(r))))];
    w.saver.touch(withNote(w.job, 'one'), 'note');
    await w.run(400);
    w.saver.touch(withNote(w.job, 'two'), 'note');
    answer({ kind: 'lost', reason: '' });
    for (let i = 0; i < 8; i++) await Promise.resolve();
    expect(w.job.header.note).toBe('one');
    expect(w.saving.kind).toBe('saving');
    await w.run();
    expect(w.job.header.note).toBe('two');
    expect(w.saving.kind).toBe('saved');
  });
  it('says why a change is refused, and goes on when it is mended', async () => {
    const w = new World(first());
    w.fate = [async () => ({ kind: 'refused', reason: 'stock.diameter: it must be at most 1500 mm', problems: [] })];
    w.saver.touch(withBar(w.job, { diameter: 6200 }), 'stock');
    await w.run();
    expect(w.saving).toEqual({ kind: 'refused', reason: 'stock.diameter: it must be at most 1500 mm' });
    expect(w.saver.unsaved).toBe(true);
    w.saver.touch(withBar(w.job, { diameter: 62 }), 'stock');
    await w.run();
    expect(barOf(w.job).diameter).toBe(62);
    expect(w.saving.kind).toBe('saved');
  });
  it('stops at a conflict until somebody chooses; theirs can be taken', async () => {
    const w = new World(first());
    w.elsewhere((j) => withNote(j, 'theirs'));
    w.saver.touch(withNote(first(), 'mine'), 'note');
    await w.run();
    expect(w.conflict?.updatedBy).toBe('Piet Larkin');
    w.saver.touch(withNote(first(), 'mine still'), 'note');
    await w.run();
    expect(w.requests).toHaveLength(1);
    expect(w.job.header.note).toBe('theirs');
    const theirs = w.saver.takeTheirs();
    expect(theirs?.header.note).toBe('theirs');
    expect(w.conflict).toBeNull();
    expect(w.saver.unsaved).toBe(false);
  });
  it('undo over a conflict: taking theirs and undoing it writes mine over them as a new version', async () => {
    const w = new World(first());
    const mine = withNote(first(), 'mine');
    w.elsewhere((j) => withNote(j, 'theirs'));
    w.saver.touch(mine, 'note');
    await w.run();
    w.saver.takeTheirs();
    w.saver.touch(mine, 'undo');
    await w.run();
    expect(w.job).toEqual(mine);
    expect(w.version).toBe(3);
    expect(w.saving.kind).toBe('saved');
  });
  it('mine on top of theirs meets a third version as a conflict again', async () => {
    const w = new World(first());
    w.elsewhere((j) => withNote(j, 'theirs'));
    w.saver.touch(withNote(first(), 'mine'), 'note');
    await w.run();
    w.elsewhere((j) => withNote(j, 'third'));
    w.saver.putMineOnTop();
    await w.run();
    expect(w.conflict?.theirs.header.note).toBe('third');
    w.saver.putMineOnTop();
    await w.run();
    expect(w.conflict).toBeNull();
    expect(w.job.header.note).toBe('mine');
  });
  it('sets a refused value aside with its reason: what else there is, and what comes later, is saved', async () => {
    const w = new World(first());
    const refuses: Refusal = { path: '/header/note', message: 'the note has half a character' };
    const strict = async (r: EditRequest): Promise<EditAnswer> =>
      refuses.path in r.diff.updated && String(r.diff.updated[refuses.path][1]).includes('!')
        ? { kind: 'refused', reason: refuses.message, problems: [refuses] }
        : w.take(r);
    w.fate = Array.from({ length: 20 }, () => strict);
    const renamed = { ...first(), header: { ...first().header, note: 'bad!', revision: 'K' } };
    w.saver.touch(renamed, 'both');
    await w.run();
    expect(w.job.header.revision).toBe('K');
    expect(w.job.header.note).toBe(first().header.note);
    expect(w.saving).toEqual({ kind: 'refused', reason: refuses.message });
    expect(w.kept?.diff.updated).toHaveProperty(['/header/note']);
    const later = { ...renamed, header: { ...renamed.header, batch: 77 } };
    w.saver.touch(later, 'batch');
    await w.run();
    expect(w.job.header.batch).toBe(77);
    expect(w.saving.kind).toBe('refused');
    w.saver.touch({ ...later, header: { ...later.header, note: 'good' } }, 'note');
    await w.run();
    expect(w.job.header.note).toBe('good');
    expect(w.saving.kind).toBe('saved');
    expect(w.kept).toBeNull();
  });
  it('keeps in the browser what is not saved, and a page that opens anew goes on with it once', async () => {
    const w = new World(first());
    // the server takes the edit, the answer is lost, and the window crashes
    w.fate = [
      async (r) => {
        w.take(r);
        return new Promise(() => undefined);
      },
    ];
    w.saver.touch(withNote(w.job, 'one'), 'note');
    await w.run(400);
    const more = { ...withNote(first(), 'one'), units: 'inch' as const };
    w.saver.touch(more, 'units');
    const { kept } = w;
    w.saver.close();
    expect(w.version).toBe(2);
    w.saver = w.open(first(), kept?.base ?? 0);
    expect(kept && w.saver.resume(kept)).toEqual(more);
    await w.run();
    expect(w.job).toEqual(more);
    expect(w.version).toBe(3);
    expect(w.saving.kind).toBe('saved');
    expect(w.kept).toBeNull();
  });
  it('what was kept meets what others made since as a conflict, never over it', async () => {
    const w = new World(first());
    w.fate = [async () => new Promise(() => undefined)];
    w.saver.touch(withNote(w.job, 'mine'), 'note');
    await w.run(400);
    const { kept } = w;
    w.saver.close();
    w.elsewhere((j) => withNote(j, 'theirs'));
    w.saver = w.open(first(), kept?.base ?? 0);
    if (kept) w.saver.resume(kept);
    await w.run();
    expect(w.conflict?.theirs.header.note).toBe('theirs');
    expect(w.kept?.diff.updated).toHaveProperty(['/header/note']);
    w.saver.takeTheirs();
    expect(w.kept).toBeNull();
  });
  it('follows others while nothing is unsaved, and leaves it to the saving when something is', async () => {
    const w = new World(first());
    w.elsewhere((j) => withNote(j, 'theirs'));
    expect(w.saver.follow(w.job, w.version)).toBe(true);
    const mine = { ...w.job, header: { ...w.job.header, revision: 'Q' } };
    w.saver.touch(mine, 'revision');
    await w.run();
    expect(w.job).toEqual(mine);
    w.elsewhere((j) => withNote(j, 'again'));
    w.saver.touch(withNote(mine, 'mine'), 'note');
    expect(w.saver.follow(w.job, w.version)).toBe(false);
    await w.run();
    expect(w.conflict?.theirs.header.note).toBe('again');
  });
  it('takes no version again that it has acknowledged: what was changed and taken back since stays so', async () => {
    const w = new World(first());
    const before = w.job;
    w.saver.touch(withNote(before, 'mine'), 'note');
    await w.run();
    // the server's word of it was asked for while it was on its way, and comes late
    const late = { job: w.job, version: w.version };
    w.saver.touch(before, 'undo');
    await w.run();
    expect(w.saver.follow(late.job, late.version)).toBe(false);
    expect(w.saver.follow(w.job, w.version)).toBe(false);
    await w.run();
    expect(w.job).toEqual(before);
  });
  it('waits for a sign-in without trying, and goes on at once after it', async () => {
    const w = new World(first());
    w.fate = [async () => ({ kind: 'signed-out' })];
    const mine = withNote(w.job, 'kept');
    w.saver.touch(mine, 'note');
    await w.run(120_000);
    expect(w.saving.kind).toBe('signed-out');
    expect(w.requests).toHaveLength(1);
    w.saver.hurry();
    await w.run();
    expect(w.job).toEqual(mine);
    expect(new Set(w.requests.map((r) => r.edit)).size).toBe(1);
  });
  it('tries ever more seldom while nothing answers, up to half a minute', async () => {
    const w = new World(first());
    w.fate = Array.from({ length: 400 }, () => async () => ({ kind: 'lost' as const, reason: 'gone' }));
    w.saver.touch(withNote(w.job, 'kept'), 'note');
    await w.run(10 * 60_000);
    // 1.5, 3, 6, 12, 24, then 30 s each
    expect(w.requests.length).toBeGreaterThan(18);
    expect(w.requests.length).toBeLessThan(28);
  });
  it('takes no answer after it was closed', async () => {
    const w = new World(first());
    let answer: () => void = () => undefined;
    w.fate = [(r) => new Promise((resolve) => (answer = () => resolve(w.take(r))))];
    w.saver.touch(withNote(w.job, 'late'), 'note');
    await w.run(400);
    const before = w.saving;
    w.saver.close();
    answer();
    await w.run();
    expect(w.saving).toBe(before);
  });
  it('whatever is lost, late or refused: in the end the server has the document, and saved is said only then', async () => {
    const fate = fc.constantFrom('ok', 'lost-before', 'lost-after', 'throws', 'refused');
    await fc.assert(
      fc.asyncProperty(
        fc.array(fc.tuple(fc.integer({ min: 0, max: 2000 }), fc.integer({ min: 0, max: 9 })), { maxLength: 12 }),
        fc.array(fate, { maxLength: 12 }),
        async (edits, fates) => {
          const w = new World(first());
          w.fate = fates.map((f) => async (r: EditRequest): Promise<EditAnswer> => {
            // a server that has taken an edit says so whenever it is asked
            if (f === 'ok' || (f === 'refused' && w.taken.has(r.edit))) return w.take(r);
            if (f === 'refused') return { kind: 'refused', reason: 'no', problems: [] };
            if (f === 'lost-after') w.take(r);
            if (f === 'throws') throw new Error('broken');
            return { kind: 'lost', reason: 'gone' };
          });
          let mine = first();
          for (const [pause, n] of edits) {
            mine = withNote(mine, `note ${n}`);
            w.saver.touch(mine, 'note');
            await w.run(pause);
            if (w.saving.kind === 'saved') expect(w.job).toEqual(mine);
          }
          await w.run(60_000);
          // a last change always finds a server that answers
          w.fate = [];
          mine = withNote(mine, 'last');
          w.saver.touch(mine, 'note');
          await w.run(60_000);
          expect(w.job).toEqual(mine);
          expect(w.saving.kind).toBe('saved');
          expect(w.saver.unsaved).toBe(false);
        },
      ),
      { numRuns: 60 },
    );
  });
});
