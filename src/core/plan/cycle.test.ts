import { describe, expect, it } from 'vitest';
import { demoJob } from '../../../tests/fixtures/jobs';
import { type ChannelProgram, type MotionEvent, timeProgram } from '../motion';
import { cycleOf } from './cycle';
import { derive } from './derive';

const job = demoJob('LM-212');
job.machine.waitTime = 0;
job.machine.mCodeTime = 0;

/** A channel that works for so many seconds, waits at marks, and works on. */
const channel = (id: string, ...steps: (number | string)[]): ChannelProgram => ({
  channel: id,
  events: steps.map((s): MotionEvent => {
    const common = { op: `${id}`, purpose: 'cut' as const };
    return typeof s === 'number'
      ? { ...common, kind: 'dwell', seconds: s }
      : { ...common, kind: 'wait', mark: Number(s.slice(1)), channels: ['1', '2'] };
  }),
});
const cycle = (...channels: ChannelProgram[]) => {
  const program = { channels };
  return cycleOf(job, { program, timeline: timeProgram(program, job.machine) });
};

describe('the time from part to part', () => {
  it('is the longer channel where one mark ties both', () => {
    // first part: they meet at 10; the second: channel 1 comes at 25, channel 2 at 22
    const c = cycle(channel('1', 10, 'm1', 5), channel('2', 4, 'm1', 8));
    expect(c?.time).toBeCloseTo(15, 9);
    expect(c?.bound).toBeCloseTo(15, 9);
    expect(c?.channels).toEqual({ '1': 1, '2': 12 / 15 });
  });
  it('is that of the other one where that has more to do, though it waits at first', () => {
    const c = cycle(channel('1', 4, 'm1', 3), channel('2', 2, 'm1', 9));
    expect(c?.time).toBeCloseTo(11, 9);
    expect(c?.channels['1']).toBeCloseTo(7 / 11, 9);
  });
  it('is longer than either where they work in turn: nobody is busy all the time', () => {
    const c = cycle(channel('1', 5, 'm1', 'm2', 5), channel('2', 'm1', 10, 'm2'));
    expect(c?.time).toBeCloseTo(20, 9);
    expect(c?.bound).toBeCloseTo(10, 9);
    expect(c?.channels).toEqual({ '1': 0.5, '2': 0.5 });
  });
  it('overlaps what nothing ties: the back of one part while the next one begins', () => {
    // 30 s in the main spindle, handed over, 20 s in the sub-spindle: the second part comes 30 s after the first
    const c = cycle(channel('1', 30, 'm1'), channel('2', 'm1', 20));
    expect(c?.time).toBeCloseTo(30, 9);
    expect(cycle(channel('1', 30, 'm1', 20), channel('2', 'm1'))?.time).toBeCloseTo(50, 9);
    // at 30 s channel 1 begins with the next part, while channel 2 works on this one until 50 s
    const next = cycle(channel('1', 30, 'm1'), channel('2', 'm1', 20))?.next ?? [];
    expect(next).toEqual([{ operation: '1', channel: '1', start: 30, end: 60 }]);
    expect(cycle(channel('1', 30, 'm1', 20), channel('2', 'm1'))?.next).toEqual([]);
  });
  it('is nothing where the channels wait for each other', () => {
    expect(cycle(channel('1', 1, 'm1', 'm2'), channel('2', 'm2', 'm1'))).toBeNull();
  });
  it('of LM-212 lies between its bound and its first part', () => {
    const sound = demoJob('LM-212');
    const d = derive(sound);
    const c = cycleOf(sound, d);
    if (!c) throw new Error('LM-212 runs');
    expect(c.time).toBeGreaterThanOrEqual(c.bound - 1e-9);
    expect(c.time).toBeLessThan(d.timeline.total);
    for (const share of [...Object.values(c.channels), ...Object.values(c.spindles)]) {
      expect(share).toBeGreaterThan(0);
      expect(share).toBeLessThanOrEqual(1);
    }
  });
});
