import { describe, expect, it } from 'vitest';
import { demoJob } from '../../../tests/fixtures/jobs';
import { twoChannelJob } from '../../../tests/fixtures/twoChannel';
import { postJob, programText, proveJob } from '../nc';
import { derive } from './derive';
import { withValues } from './diff';
import type { Job } from './document';
import { markBetween, meaningOf } from './marks';

const bare = (): Job =>
  twoChannelJob((j) => {
    for (const c of ['1', '2']) j.order[c] = j.order[c].filter((id) => j.operations[id].kind !== 'wait');
    for (const [id, op] of Object.entries(j.operations)) if (op.kind === 'wait') delete j.operations[id];
  });
const tied = (job: Job, ...edges: Parameters<typeof markBetween> extends [Job, ...infer E] ? E : never): Job => {
  const values = markBetween(job, ...edges);
  if (!values) throw new Error('the edges lie in one channel');
  return withValues(job, values);
};
const start = (operation: string) => ({ operation, side: 'start' as const });
const end = (operation: string) => ({ operation, side: 'end' as const });
const times = (job: Job, id: string) => {
  const found = derive(job).operations.find((o) => o.id === id);
  if (!found) throw new Error(id);
  return found.times;
};

describe('a mark between two edges', () => {
  it('lets two operations begin together', () => {
    const job = tied(bare(), start('op3'), start('op2'));
    expect(meaningOf(bare(), start('op3'), start('op2'))).toBe('begin together');
    expect(job.order['1']).toEqual(['op1', 'mark1-1', 'op3', 'op5', 'op7']);
    expect(job.order['2']).toEqual(['mark1-2', 'op2', 'op4', 'op6']);
    expect(times(job, 'op3').start).toBeCloseTo(times(job, 'op2').start, 9);
  });
  it('lets two operations end together: what follows both waits for both', () => {
    const job = tied(bare(), end('op3'), end('op2'));
    expect(times(job, 'op5').start).toBeCloseTo(times(job, 'op4').start, 9);
    expect(times(job, 'op5').start).toBeGreaterThanOrEqual(Math.max(times(job, 'op3').end, times(job, 'op2').end));
  });
  it('lets one follow another', () => {
    const job = tied(bare(), end('op1'), start('op2'));
    expect(meaningOf(bare(), end('op1'), start('op2'))).toBe('after');
    expect(times(job, 'op2').start).toBeGreaterThanOrEqual(times(job, 'op1').end);
    expect(times(job, 'op2').start).toBeCloseTo(times(job, 'op3').start, 9);
  });
  it('ties nothing within one channel, and takes a number of its own', () => {
    expect(markBetween(bare(), end('op1'), start('op3'))).toBeNull();
    const twice = tied(tied(bare(), start('op3'), start('op2')), end('op3'), end('op2'));
    const marks = Object.values(twice.operations).flatMap((o) => (o.kind === 'wait' ? [o.params.mark] : []));
    expect(marks.sort()).toEqual([1, 1, 2, 2]);
  });
  it('is offered where the order is open, and cures it', () => {
    const job = bare();
    const f = derive(job).findings.find((k) => k.code === 'unsynchronised');
    expect(f?.remedy?.label).toBe('Let both begin together');
    const cured = withValues(job, f?.remedy?.set ?? {});
    expect(derive(cured).findings.some((k) => k.code === 'unsynchronised')).toBe(false);
  });
  it('is offered where the back begins before the part is there, and cures it', () => {
    const job = demoJob('LM-212');
    for (const [c, id] of [
      ['1', 'm4a'],
      ['2', 'm4b'],
    ]) {
      job.order[c] = job.order[c].filter((k) => k !== id);
      delete job.operations[id];
    }
    const f = derive(job).findings.find((k) => k.code === 'before-handover');
    const cured = withValues(job, f?.remedy?.set ?? {});
    const d = derive(cured);
    expect(d.findings.filter((k) => k.severity !== 'info')).toEqual([]);
    expect(proveJob(cured, d, postJob(cured, d, '').map(programText)).ok).toBe(true);
  });
});

describe('a mark whose partner is missing', () => {
  const without = (id: string): Job =>
    twoChannelJob((j) => {
      const channel = j.operations[id].channel;
      j.order[channel] = j.order[channel].filter((k) => k !== id);
      delete j.operations[id];
    });
  it.each(['w1b', 'w2b', 'w3b', 'w1a', 'w2a', 'w3a'])(
    '%s is told, and tying it leaves nothing against the job',
    (id) => {
      const job = without(id);
      const d = derive(job);
      const found = d.findings.filter((f) => f.code === 'mark-partner');
      expect(found.map((f) => f.operation)).toEqual([id.replace(/[ab]$/, (k) => (k === 'a' ? 'b' : 'a'))]);
      expect(d.findings.some((f) => f.code === 'deadlock')).toBe(false);
      const cured = withValues(job, found[0].remedy?.set ?? {});
      const again = derive(cured);
      expect(again.findings.filter((f) => f.severity === 'blocking')).toEqual([]);
      expect(again.timeline.kind).toBe('timed');
    },
  );
  it('of a channel that the machine does not have can only be taken out', () => {
    const job = twoChannelJob((j) => {
      const op = j.operations.w1a;
      if (op.kind === 'wait') op.params.channels = ['1', '7'];
    });
    const found = derive(job).findings.find((f) => f.code === 'mark-partner' && f.operation === 'w1a');
    expect(found?.remedy).toEqual({ label: 'Switch mark 1 off', set: { '/operations/w1a/on': false } });
  });
});
