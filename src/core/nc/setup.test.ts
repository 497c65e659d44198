import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { demoJob } from '../../../tests/fixtures/jobs';
import type { ControlSetup } from '../machine';
import { derive, type Job, JobSchema } from '../plan';
import { postJob, programText, proveJob } from './release';

const withSetup = (name: string, setup: ControlSetup, dialect?: string): Job => {
  const job = demoJob(name);
  job.machine = { ...job.machine, setup, ...(dialect ? { dialect } : {}) };
  return job;
};

const postedAndProved = (job: Job): { texts: string[]; wrong: string[] } => {
  const d = derive(job);
  const texts = postJob(job, d, '').map(programText);
  const proof = proveJob(job, d, texts);
  const wrong = proof.channels.flatMap((c) => [
    ...c.problems.map((p) => `line ${p.line}: ${p.message}`),
    ...c.differences.map((k) => `${k.what}: planned ${k.planned}, read ${k.read}`),
  ]);
  return { texts, wrong: proof.ok ? wrong : ['not proved', ...wrong] };
};
/** Codes G of a text, comments left out. */
const codesIn = (texts: readonly string[]): Set<string> =>
  new Set(
    texts
      .join('\n')
      .replace(/\([^)]*\)/g, '')
      .match(/G\d+/g) ?? [],
  );

describe('a control as it is set up in one machine', () => {
  it('writes its numbers with so many decimals', () => {
    const { texts, wrong } = postedAndProved(withSetup('LM-101', { decimals: 5, feedDecimals: 5 }));
    expect(wrong).toEqual([]);
    expect(texts[0]).toMatch(/[XZ]-?\d+\.\d{5}\b/);
    expect(postedAndProved(withSetup('LM-101', {})).texts[0]).not.toMatch(/[XZ]-?\d+\.\d{4}/);
  });
  it('writes heads of cycles as it reads them, and none that it does not have', () => {
    const one = postedAndProved(withSetup('LM-101', { roughing: 'one-block', retract: 0.5 }));
    expect(one.wrong).toEqual([]);
    expect(one.texts[0]).toMatch(/G71 P\d+ Q\d+ .*D\d/);
    const two = postedAndProved(withSetup('LM-101', { roughing: 'two-block' }, 'tarn-1'));
    expect(two.wrong).toEqual([]);
    expect(two.texts[0]).toMatch(/G71 U\S+ R\S+\n/);
    const cycles = ['G70', 'G71', 'G72', 'G73', 'G74', 'G75', 'G76', 'G83', 'G92'];
    const used = new Set<string>();
    for (const name of ['LM-101', 'LM-104', 'LM-140']) {
      for (const g of codesIn(postedAndProved(withSetup(name, {})).texts)) used.add(g);
      const none = postedAndProved(withSetup(name, { roughing: 'none', threading: 'none', peck: false }));
      expect(none.wrong).toEqual([]);
      for (const g of cycles) expect(codesIn(none.texts)).not.toContain(g);
    }
    for (const g of ['G71', 'G76', 'G83']) expect(used).toContain(g);
  });
  it('marks its waits from where it is set up to', () => {
    const { texts, wrong } = postedAndProved(withSetup('LM-212', { waitBase: 400 }));
    expect(wrong).toEqual([]);
    expect(texts.every((t) => /\bM401\b/.test(t) && !/\bM101\b/.test(t))).toBe(true);
  });
  it('refuses a cycle that it is set up without, with the line', () => {
    const whole = withSetup('LM-101', {});
    const d = derive(whole);
    const texts = postJob(whole, d, '').map(programText);
    const bare = withSetup('LM-101', { roughing: 'none' });
    const proof = proveJob(bare, derive(bare), texts);
    expect(proof.ok).toBe(false);
    const [said] = proof.channels[0].problems;
    expect(said.message).toContain('set up without the cycle G71');
    expect(texts[0].split('\n')[said.line - 1]).toContain('G71');
  });
  it('is refused with the place where a number is impossible', () => {
    for (const setup of [{ decimals: 1 }, { retract: 50 }, { waitBase: 30 }, { roughing: 'three-block' }]) {
      const read = JobSchema.safeParse({ ...demoJob('LM-101'), machine: { ...demoJob('LM-101').machine, setup } });
      expect(read.success).toBe(false);
      expect(read.error?.issues[0].path.slice(0, 2)).toEqual(['machine', 'setup']);
    }
  });
  it('is posted and read back whatever it is set up to', () => {
    const setup = fc.record(
      {
        decimals: fc.integer({ min: 3, max: 5 }),
        feedDecimals: fc.integer({ min: 3, max: 5 }),
        roughing: fc.constantFrom('two-block' as const, 'one-block' as const, 'none' as const),
        threading: fc.constantFrom('two-block' as const, 'one-block' as const, 'none' as const),
        peck: fc.boolean(),
        waitBase: fc.integer({ min: 100, max: 900 }),
      },
      { requiredKeys: [] },
    );
    fc.assert(
      fc.property(
        setup,
        fc.constantFrom('LM-101', 'LM-104', 'LM-118', 'LM-140', 'LM-155', 'LM-212'),
        fc.constantFrom('tarn-1', 'tarn-2', 'tarn-5'),
        (made, name, dialect) => {
          const { wrong } = postedAndProved(withSetup(name, made, name === 'LM-212' ? 'tarn-5' : dialect));
          expect(wrong).toEqual([]);
        },
      ),
      { numRuns: Math.max(10, Math.round(Number(process.env.PROPERTY_CASES ?? 120) / 6)) },
    );
  });
});
