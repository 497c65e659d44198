import { describe, expect, it } from 'vitest';
import { postJob } from '@/core/nc';
import { markName } from '@/core/operations';
import { derive, type Job } from '@/core/plan';
import { demoJob } from '../../../tests/fixtures/jobs';
import { twoChannelJob } from '../../../tests/fixtures/twoChannel';
import { linedUp } from './linedUp';

/** Row of every wait of a column once the empty rows stand in it, by its mark. */
const rows = (job: Job) => {
  const programs = postJob(job, derive(job), '');
  const gaps = linedUp(programs, job);
  return programs.map((p, i) => {
    const at = new Map<string, number>();
    p.lines.forEach((l, k) => {
      const op = l.op === null ? undefined : job.operations[l.op];
      const pushed = gaps[i].filter((g) => g.line <= k + 1).reduce((s, g) => s + g.rows, 0);
      if (op?.kind === 'wait' && l.event !== null) at.set(markName(op.params), k + 1 + pushed);
    });
    return at;
  });
};

describe('columns of a program', () => {
  it.each([
    ['two turrets', twoChannelJob(), 3],
    ['LM-212', demoJob('LM-212'), 4],
  ])('stand side by side at every mark: %s', (_name, job, marks) => {
    const [one, two] = rows(job);
    expect(one.size).toBe(marks);
    expect([...one]).toEqual([...two]);
  });
  it('have no empty rows where there is one channel, and leave a mark that nobody meets alone', () => {
    const single = demoJob('LM-101');
    expect(linedUp(postJob(single, derive(single), ''), single)).toEqual([[]]);
    const crossed = twoChannelJob((j) => {
      const o = j.order['2'];
      const [a, b] = [o.indexOf('w1b'), o.indexOf('w2b')];
      [o[a], o[b]] = [o[b], o[a]];
    });
    expect(linedUp(postJob(crossed, derive(crossed), ''), crossed).every((g) => g.length <= 1)).toBe(true);
  });
});
