import { describe, expect, it } from 'vitest';
import { demoJob } from '../../../../tests/fixtures/jobs';
import { secondSideJob } from '../../../../tests/fixtures/secondSide';
import { twoChannelJob } from '../../../../tests/fixtures/twoChannel';
import { postJob, programText, proveJob } from '../../nc';
import { derive, type Job, newActor } from '../../plan';

/** A job with a stop behind an operation. */
const stopped = (job: Job, behind: string, params: object = {}, channel = '1'): Job => {
  const id = `stop-${behind}`;
  const { holding } = job.operations[behind];
  job.operations[id] = newActor('stop', { id, holding, channel }, params);
  job.order[channel] = job.order[channel].flatMap((k) => (k === behind ? [k, id] : [k]));
  return job;
};
const texts = (job: Job): string[] => postJob(job, derive(job), '').map(programText);
const proof = (job: Job, programs = texts(job)) => proveJob(job, derive(job), programs);

describe('a stop', () => {
  const job = stopped(demoJob('LM-118'), 'op2');
  it('stops the spindle and the program; the next operation starts the spindle again, and the program is proved', () => {
    expect(derive(job).findings.filter((f) => f.severity !== 'info')).toEqual([]);
    const [text] = texts(job);
    expect(text).toMatch(/\nM5\nM0\n/);
    const after = text.slice(text.indexOf('\nM0\n'));
    // before the first cut behind it the spindle turns
    expect(after.search(/\bM[34]\b/)).toBeGreaterThan(0);
    expect(after.search(/\bM[34]\b/)).toBeLessThan(after.search(/\bG1\b/));
    expect(proof(job)).toMatchObject({ ok: true, agrees: true });
  });
  it('takes no more time than its codes, and the spindle its run-down and run-up', () => {
    const [plain, with_] = [demoJob('LM-118'), job].map((j) => derive(j).timeline.total);
    expect(with_).toBeGreaterThan(plain);
    expect(with_ - plain).toBeLessThan(6);
  });
  it.each([
    ['left out', 'M0\n', ''],
    ['only optional', '\nM0\n', '\nM1\n'],
  ])('is found out when it is %s in the text', (_what, from, to) => {
    const [text] = texts(job);
    const changed = text.replace(from, to);
    expect(changed).not.toBe(text);
    expect(proof(job, [changed]).agrees).toBe(false);
  });
  it('may be asked for at the control only, with the spindle turning on', () => {
    const asked = stopped(demoJob('LM-118'), 'op2', { optional: true, still: false });
    const [text] = texts(asked);
    expect(text).toMatch(/\nM1\n/);
    expect(text).not.toMatch(/\nM5\nM1\n/);
    expect(proof(asked)).toMatchObject({ ok: true, agrees: true });
  });
  it('is told from the stop at which the work is held anew, also where both zeros have one name', () => {
    for (const code of ['G54', 'G55'] as const) {
      const both = secondSideJob((j) => void (j.programs = 'one'));
      both.holdings.h2.workOffset = code;
      const first = both.order['1'].find((id) => both.operations[id].holding === 'h1') ?? '';
      const made = stopped(both, first);
      expect(texts(made).length).toBe(1);
      expect(texts(made)[0].match(/\nM0\n/g)?.length).toBe(2);
      const p = proof(made);
      expect(p.agrees, code).toBe(true);
      expect(p.stock.thickness, code).toBeLessThan(0.001);
    }
  });
  it('that makes the spindle stand still under the tool of the other channel is told', () => {
    const found = (still: boolean) =>
      derive(stopped(twoChannelJob(), 'w1a', { still }))
        .findings.filter((f) => f.code === 'spindle-conflict')
        .map((f) => f.numbers);
    expect(found(true).length).toBeGreaterThan(0);
    expect(found(false)).toEqual([]);
  });
});
