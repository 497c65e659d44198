import { describe, expect, it } from 'vitest';
import { seeded } from '../../../tests/fixtures/random';
import { twoChannelJob } from '../../../tests/fixtures/twoChannel';
import { type Operation, OperationSchema } from '../operations';
import type { Job } from './document';
import { markOrder, unsynchronised } from './sequence';

const base = twoChannelJob();
const cut = (id: string, channel: string): Operation =>
  ({ ...base.operations.op1, id, name: id, channel }) as Operation;
const wait = (id: string, channel: string, mark: number, channels: string[]): Operation =>
  OperationSchema.parse({ id, kind: 'wait', name: id, channel, params: { mark, channels } });

/** A job from words: letters cut, digits wait for the mark together with all channels that have it. */
const jobOf = (...channels: string[]): Job => {
  const operations: Record<string, Operation> = {};
  const order: Record<string, string[]> = {};
  channels.forEach((text, i) => {
    const channel = String(i + 1);
    order[channel] = [...text].map((c, k) => {
      const id = `${c}${channel}${k}`;
      const tied = channels.flatMap((t, j) => (t.includes(c) ? [String(j + 1)] : []));
      operations[id] = /\d/.test(c) ? wait(id, channel, Number(c), tied) : cut(id, channel);
      return id;
    });
  });
  return {
    ...base,
    machine: {
      ...base.machine,
      channels: channels.map((_, i) => ({ ...base.machine.channels[0], id: String(i + 1), name: `Channel ${i + 1}` })),
    },
    operations,
    order,
  };
};
const said = (job: Job): string[] =>
  unsynchronised(job).map((f) => `${(f.numbers as { other: string }).other} ${f.operation}`);

describe('the order in which operations change the stock', () => {
  it('of one channel is its own', () => {
    expect(markOrder(jobOf('abc')).map((t) => t.id)).toEqual(['a10', 'b11', 'c12']);
  });
  it('of several keeps what lies before a mark before what lies behind it', () => {
    const order = markOrder(jobOf('a1b', 'c1d')).map((t) => t.id[0]);
    for (const first of ['a', 'c'])
      for (const then of ['b', 'd']) expect(order.indexOf(first)).toBeLessThan(order.indexOf(then));
  });
  it('has every operation once, in the order of its channel, on random jobs', () => {
    const random = seeded(5);
    for (let k = 0; k < 60; k++) {
      const marks = Math.floor(random() * 4);
      const text = (letters: string): string => {
        let t = '';
        for (let m = 0; m <= marks; m++) {
          if (m > 0) t += m;
          const n = Math.floor(random() * 3);
          for (let i = 0; i < n; i++) t += letters[Math.floor(random() * letters.length)];
        }
        return t;
      };
      const job = jobOf(text('abcde'), text('vwxyz'));
      const order = markOrder(job);
      expect(order).toHaveLength(Object.keys(job.operations).length);
      for (const channel of ['1', '2'])
        expect(order.filter((t) => t.channel === channel).map((t) => t.id)).toEqual(job.order[channel]);
      for (let m = 1; m <= marks; m++) {
        const at = order.findIndex((t) => t.id[0] === String(m));
        const last = order.map((t) => t.id[0]).lastIndexOf(String(m));
        // what follows a mark in either channel comes after both have reached it
        for (const channel of ['1', '2']) {
          const own = job.order[channel];
          const mark = own.findIndex((id) => id[0] === String(m));
          const next = own[mark + 1];
          if (next) expect(order.findIndex((t) => t.id === next)).toBeGreaterThan(at);
          const before = own[mark - 1];
          if (before) expect(order.findIndex((t) => t.id === before)).toBeLessThan(last);
        }
      }
    }
  });
});

describe('two channels on one body', () => {
  it('with no marks are unsynchronised, with a mark between them are not', () => {
    expect(said(jobOf('ab', 'c'))).toEqual(['a10 c20']);
    expect(said(jobOf('a1', '1c'))).toEqual([]);
    expect(said(jobOf('1a', 'c1'))).toEqual([]);
  });
  it('that begin together at a mark are meant to cut side by side', () => {
    expect(said(jobOf('1a', '1c'))).toEqual([]);
    expect(said(jobOf('x1a', '1c'))).toEqual([]);
    // before the mark both cut, with nothing to say who is first
    expect(said(jobOf('x1a', 'y1c'))).toEqual(['x10 y20']);
  });
  it('one of which does nothing are in order', () => {
    expect(said(jobOf('ab', ''))).toEqual([]);
    expect(said(jobOf('a1b', '1'))).toEqual([]);
  });
  it('that are off do not count', () => {
    const job = jobOf('a', 'c');
    expect(said({ ...job, operations: { ...job.operations, c20: { ...job.operations.c20, on: false } } })).toEqual([]);
  });
  it('tied to others only are not in order with one another', () => {
    // 1 waits for 3, 2 waits for 3: nothing ties 1 and 2
    const job = jobOf('a5', 'c6', '56');
    expect(said(job)).toContain('a10 c20');
  });
});
