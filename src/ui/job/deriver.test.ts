import { describe, expect, it } from 'vitest';
import { DeriveCache, type Derived, derive, type Job, type ViewChanges, ViewSender } from '@/core/plan';
import { demoJob } from '../../../tests/fixtures/jobs';
import { Deriver, type DeriverState } from './deriver';

const cache = new DeriveCache();
const feed = (job: Job, id: string, value: number): Job => {
  const next = structuredClone(job);
  Object.assign((next.operations[id] as unknown as { cutting: object }).cutting, { feed: value });
  return next;
};

/** A worker that answers when it is told to. */
const bench = () => {
  let sender = new ViewSender();
  const waiting: { job: Job; fresh: boolean; answer: (c: ViewChanges | null) => void; fail: (e: Error) => void }[] = [];
  let state: DeriverState = { view: null, viewFor: null, progress: null, failure: null, candidates: null };
  const deriver = new Deriver({
    derive: (job, fresh, onProgress) =>
      new Promise((resolve, reject) => {
        onProgress(0, 7);
        waiting.push({ job, fresh, answer: resolve, fail: reject });
      }),
    changed: (s) => {
      state = { ...state, ...s };
    },
  });
  const settle = async (): Promise<void> => {
    for (let i = 0; i < 6; i++) await Promise.resolve();
  };
  return {
    deriver,
    state: () => state,
    answer: async (how: 'real' | 'overtaken' | Error): Promise<Derived | null> => {
      const w = waiting.shift();
      if (!w) throw new Error('nobody asked');
      if (how instanceof Error) {
        w.fail(how);
        await settle();
        return null;
      }
      if (how === 'overtaken') {
        w.answer(null);
        await settle();
        return null;
      }
      if (w.fresh) sender = new ViewSender();
      const made = derive(w.job, cache);
      w.answer(sender.changes(made));
      await settle();
      return made;
    },
  };
};

describe('derived results in the page', () => {
  it('follow the job, and what did not change stays the same object', async () => {
    const b = bench();
    const job = demoJob('LM-118');
    void b.deriver.ask(job);
    expect(b.state().progress).toEqual({ done: 0, all: 7 });
    const made = await b.answer('real');
    const before = b.state().view;
    expect(b.state().viewFor).toBe(job);
    expect(b.state().progress).toBeNull();
    expect(before?.operations.map((o) => o.id)).toEqual(made?.operations.map((o) => o.id));
    const next = feed(job, 'op5', 0.08);
    void b.deriver.ask(next);
    const again = await b.answer('real');
    const after = b.state().view;
    expect(after?.part).toBe(before?.part);
    expect(after?.total).toBe(again?.timeline.total);
    expect(after?.operations.find((o) => o.id === 'op1')?.load).toBe(
      before?.operations.find((o) => o.id === 'op1')?.load,
    );
  });
  it('an answer for an older job counts as a step, but is not taken for the present one', async () => {
    const b = bench();
    const job = demoJob('LM-118');
    const next = feed(job, 'op5', 0.07);
    void b.deriver.ask(job);
    void b.deriver.ask(next);
    await b.answer('real');
    expect(b.state().viewFor).toBe(job);
    expect(b.state().progress).not.toBeNull();
    const made = await b.answer('real');
    expect(b.state().viewFor).toBe(next);
    expect(b.state().view?.total).toBe(made?.timeline.total);
  });
  it('an overtaken first question leaves the next one to tell everything', async () => {
    const b = bench();
    const job = demoJob('LM-118');
    void b.deriver.ask(job);
    await b.answer('overtaken');
    void b.deriver.ask(feed(job, 'op5', 0.06));
    await b.answer('real');
    expect(b.state().view?.operations).toHaveLength(7);
  });
  it('a question that overtakes the first one before it is answered asks for everything too', async () => {
    const b = bench();
    // the worker has told another job before
    void b.deriver.ask(demoJob('LM-101'));
    await b.answer('real');
    b.deriver.reset();
    const job = demoJob('LM-118');
    const newest = feed(job, 'op5', 0.06);
    void b.deriver.ask(job);
    void b.deriver.ask(newest);
    await b.answer('overtaken');
    await b.answer('real');
    expect(b.state().failure).toBeNull();
    expect(b.state().viewFor).toBe(newest);
    expect(b.state().view?.operations).toHaveLength(7);
  });
  it('an answer about a job that is no longer open is nobody’s', async () => {
    const b = bench();
    const old = demoJob('LM-101');
    void b.deriver.ask(old);
    b.deriver.reset();
    const job = demoJob('LM-118');
    void b.deriver.ask(job);
    await b.answer('real');
    expect(b.state().view).toBeNull();
    const made = await b.answer('real');
    expect(b.state().viewFor).toBe(job);
    expect(b.state().view?.total).toBe(made?.timeline.total);
    void b.deriver.ask(feed(job, 'op5', 0.07));
    b.deriver.reset();
    await b.answer(new Error('gone'));
    expect(b.state().failure).toBeNull();
  });
  it('a failure is told, and the next answer is whole again', async () => {
    const b = bench();
    const job = demoJob('LM-118');
    void b.deriver.ask(job);
    await b.answer('real');
    void b.deriver.ask(feed(job, 'op5', 0.05));
    await b.answer(new Error('Planning took longer than 60 s'));
    expect(b.state().failure).toContain('60 s');
    void b.deriver.ask(job);
    await b.answer('real');
    expect(b.state().failure).toBeNull();
    expect(b.state().viewFor).toBe(job);
  });
  it('nothing of a job is left when another is opened', async () => {
    const b = bench();
    void b.deriver.ask(demoJob('LM-118'));
    await b.answer('real');
    b.deriver.reset();
    expect(b.state().view).toBeNull();
    void b.deriver.ask(demoJob('LM-101'));
    const made = await b.answer('real');
    expect(b.state().view?.operations.map((o) => o.id)).toEqual(made?.operations.map((o) => o.id));
  });
});
