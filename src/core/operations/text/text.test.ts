import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { demoJob } from '../../../../tests/fixtures/jobs';
import { operation } from '../../../../tests/fixtures/turned';
import { postJob, programText, proveJob } from '../../nc';
import { derive, type Job } from '../../plan';
import { remarkLines } from '.';

/** LM-101 with a remark before its third operation. */
const withRemark = (text: string): Job => {
  const job = demoJob('LM-101');
  job.operations.say = { ...operation({ id: 'say', kind: 'text', params: { text } } as never), channel: '1' } as never;
  job.order['1'] = [...job.order['1'].slice(0, 2), 'say', ...job.order['1'].slice(2)];
  return job;
};

describe('a remark to the operator', () => {
  it('is written as a control can show it', () => {
    expect(remarkLines('Bohrung ⌀12 prüfen – Lehrdorn (H7)')).toEqual(['BOHRUNG DIA 12 PRUFEN - LEHRDORN H7']);
    expect(remarkLines('45° × 2, “new” insert; Maß')).toEqual(['45 DEG X 2, NEW INSERT MASS']);
    expect(remarkLines(' \n\t ')).toEqual([]);
    expect(remarkLines(`${'long '.repeat(12)}`)).toEqual(['LONG '.repeat(10).trim(), 'LONG LONG']);
  });
  it('never breaks a program, whatever is written', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'binary', maxLength: 400 }), (text) => {
        for (const line of remarkLines(text)) {
          expect(line).toMatch(/^[A-Z0-9 .,+\-*/=?!<>#&]{1,50}$/);
          expect(line.trim()).toBe(line);
        }
      }),
    );
  });
  it('stands in the program where it stands in the plan, moves nothing, takes no time, and is proved', () => {
    const job = withRemark('Turn the jaws, then measure ⌀12');
    const [d, bare] = [derive(job), derive(demoJob('LM-101'))];
    expect(d.timeline.total).toBeCloseTo(bare.timeline.total, 9);
    const [text] = postJob(job, d, '').map(programText);
    const lines = text.split('\n');
    const at = lines.indexOf('(! TURN THE JAWS, THEN MEASURE DIA 12)');
    expect(at).toBeGreaterThan(0);
    expect(proveJob(job, d, [text])).toMatchObject({ ok: true });
    // what is said otherwise, or not at all, is another program
    for (const other of [
      text.replace('TURN THE JAWS', 'TURN THE CHUCK'),
      lines.filter((_, i) => i !== at).join('\n'),
    ]) {
      const proof = proveJob(job, d, [other]);
      expect(proof.ok).toBe(false);
      expect(proof.channels[0].differences[0].what).toBe('dwells, stops and remarks');
    }
  });
  it('that says nothing is told', () => {
    const d = derive(withRemark('  ☂  '));
    expect(d.findings.filter((f) => f.severity === 'blocking').map((f) => [f.operation, f.code])).toEqual([
      ['say', 'remark-empty'],
    ]);
  });
});
