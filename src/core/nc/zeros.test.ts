import { describe, expect, it } from 'vitest';
import { demoJob } from '../../../tests/fixtures/jobs';
import { derive } from '../plan';
import { postJob, programText } from './release';
import { zerosToSet } from './zeros';

describe('zeros that the operator sets', () => {
  it('are one for each holding, measured from the chuck’s face, and stand in the head of the program', () => {
    const job = demoJob('LM-101');
    const d = derive(job);
    const zeros = zerosToSet(job, d);
    expect(zeros.map((z) => [z.code, z.holding, z.shift])).toEqual([['G54', 'h1', 0]]);
    // the part's front lies an allowance behind the end of the bar, which stands out of jaws in front of the face
    const { stock, jaws, seat } = { ...job.holdings.h1, seat: d.holdings[0].seat };
    const front = stock.form === 'bar' ? stock.stickOut - stock.frontAllowance : 0;
    expect(zeros[0].fromFace).toBeGreaterThan(front);
    expect(zeros[0].fromFace).toBeCloseTo(front + jaws.steps.reduce((sum, k) => sum + k.length, 0), 6);
    expect(seat.front).toBeGreaterThan(0);
    expect(programText(postJob(job, d, '')[0])).toMatch(/\(ZERO G54 [A-Z ]+, [\d.]+ FROM CHUCK FACE\)/);
  });
  it('of repeats with zeros of their own are told by how far they lie from the first', () => {
    const job = demoJob('LM-155-8');
    const [repeat] = Object.values(job.repeats);
    const own = (zeros: 'one' | 'each') => {
      const j = structuredClone(job);
      Object.assign(j.repeats[repeat.id], { zeros, output: 'moves', count: 3 });
      return zerosToSet(j, derive(j));
    };
    const one = own('one');
    expect(one.length).toBe(1);
    const each = own('each');
    expect(each.map((z) => z.code)).toEqual(['G54', 'G55', 'G56']);
    expect(each[2].shift).toBeCloseTo(2 * each[1].shift, 9);
    expect(each[1].shift).toBeLessThan(0);
    expect(each[1].fromFace).toBeCloseTo(each[0].fromFace + each[1].shift, 9);
  });
});
