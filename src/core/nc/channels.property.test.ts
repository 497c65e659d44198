import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { demoJob } from '../../../tests/fixtures/jobs';
import { familyOf, findDialect } from '../dialects';
import { type ChannelProgram, type MotionEvent, type MotionProgram, timeProgram } from '../motion';
import { programText } from './release';
import { lostWaits } from './waits';

/**
 * Random plans of two channels: work of so many seconds and wait marks, some of them broken. What timing, post and reader
 * make of them is held against a walk in steps of a millisecond that knows nothing of events.
 */
const { machine } = demoJob('LM-212');
machine.waitTime = 0;
machine.mCodeTime = 0;
const dialect = findDialect('tarn-5');
if (!dialect) throw new Error('Tarn 5 is there');

type Step = number | `m${number}`;
const CASES = 300;

/** Two lists that meet at the same marks in the same order. */
const sound = fc
  .array(
    fc.tuple(
      fc.array(fc.integer({ min: 1, max: 30 }), { maxLength: 3 }),
      fc.array(fc.integer({ min: 1, max: 30 }), { maxLength: 3 }),
    ),
    {
      minLength: 1,
      maxLength: 6,
    },
  )
  .map((stages): [Step[], Step[]] => {
    const join = (k: 0 | 1): Step[] =>
      stages.flatMap((s, i): Step[] => [
        ...s[k].map((v) => v / 10),
        ...(i < stages.length - 1 ? [`m${i + 1}` as const] : []),
      ]);
    return [join(0), join(1)];
  });

/** The same with one mark taken out of one channel, or two marks of one channel changed about. */
const broken = fc
  .tuple(sound, fc.nat(), fc.boolean(), fc.boolean())
  .map(([[a, b], n, second, swap]): [Step[], Step[]] => {
    const list = second ? [...b] : [...a];
    const marks = list.flatMap((s, i) => (typeof s === 'string' ? [i] : []));
    if (marks.length > 0) {
      const k = n % marks.length;
      if (swap && marks.length > 1) {
        const [p, q] = [marks[k], marks[(k + 1) % marks.length]];
        [list[p], list[q]] = [list[q], list[p]];
      } else list.splice(marks[k], 1);
    }
    return second ? [a, list] : [list, b];
  });

const eventsOf = (channel: string, steps: readonly Step[]): ChannelProgram => ({
  channel,
  events: steps.map((s, i): MotionEvent => {
    const common = { op: `${channel}-${i}`, purpose: 'cut' as const };
    return typeof s === 'number'
      ? { ...common, kind: 'dwell', seconds: s }
      : { ...common, kind: 'wait', mark: Number(s.slice(1)), channels: ['1', '2'] };
  }),
});

/** A clock that ticks in milliseconds: when both end, or null where they stand for ever. */
const ticked = (lists: readonly [readonly Step[], readonly Step[]]): number[] | null => {
  const state = lists.map(() => ({ at: 0, left: 0, begun: false, end: 0 }));
  for (let ms = 0; ms < 400_000; ms++) {
    for (let again = true; again; ) {
      again = false;
      for (const [k, s] of state.entries()) {
        const step = lists[k][s.at];
        if (typeof step !== 'number') continue;
        if (!s.begun) Object.assign(s, { left: Math.round(step * 1000), begun: true });
        if (s.left > 0) continue;
        Object.assign(s, { at: s.at + 1, begun: false, end: ms });
        again = true;
      }
      const [p, q] = state.map((s, k) => lists[k][s.at]);
      if (typeof p === 'string' && p === q) {
        for (const s of state) Object.assign(s, { at: s.at + 1, end: ms });
        again = true;
      }
    }
    if (state.every((s, k) => s.at >= lists[k].length)) return state.map((s) => s.end / 1000);
    const working = state.filter((s, k) => typeof lists[k][s.at] === 'number');
    if (working.length === 0) return null;
    for (const s of working) s.left--;
  }
  throw new Error('the clock ran out');
};

const through = (
  program: MotionProgram,
): { reads: ReturnType<ReturnType<typeof familyOf>['read']>[]; program: MotionProgram } => {
  const reads = program.channels.map((c) => {
    const posted = familyOf(dialect).post(
      c.channel,
      c.events,
      dialect,
      {
        programNumber: 1,
        comments: [],
        holdingName: String,
        spindle: 'main',
        turned: () => false,
        operationComment: () => '',
        subProgram: () => null,
      },
      ['1', '2'],
    );
    return familyOf(dialect).read(programText(posted), dialect, {
      toolTable: new Map(),
      channels: ['1', '2'],
      carrier: 'upper',
      spindle: 'main',
      turnedZeros: new Set(),
      peckClearance: 0.5,
    });
  });
  return {
    reads,
    program: { channels: reads.map((r, i) => ({ channel: program.channels[i].channel, events: r.events })) },
  };
};

const check = ([a, b]: [Step[], Step[]]): 'runs' | 'stands' => {
  const program = { channels: [eventsOf('1', a), eventsOf('2', b)] };
  const clock = ticked([a, b]);
  const timeline = timeProgram(program, machine);
  const read = through(program);
  const again = timeProgram(read.program, machine);
  expect(timeline.kind).toBe(clock ? 'timed' : 'deadlock');
  expect(again.kind).toBe(timeline.kind);
  const lost = lostWaits(read.reads, again);
  if (clock) {
    for (const [i, seconds] of clock.entries()) {
      expect(timeline.channels[i].total).toBeCloseTo(seconds, 6);
      expect(again.channels[i].total).toBeCloseTo(seconds, 6);
    }
    expect(lost.flat()).toEqual([]);
    return 'runs';
  }
  // every channel that stands is told, at the line of its wait
  if (again.kind !== 'deadlock') throw new Error('both stand');
  expect(again.waiting.length).toBeGreaterThan(0);
  for (const w of again.waiting) expect(lost[w.channel === '1' ? 0 : 1]).toHaveLength(1);
  return 'stands';
};

describe('random plans of two channels', () => {
  it('that are sound run as a clock says, in the plan and read back', () => {
    fc.assert(
      fc.property(sound, (lists) => {
        expect(check(lists)).toBe('runs');
      }),
      { numRuns: CASES },
    );
  });
  it('that are broken stand where a clock stands, and each wait without partner is told at its line', () => {
    let stood = 0;
    fc.assert(
      fc.property(broken, (lists) => {
        if (check(lists) === 'stands') stood++;
      }),
      { numRuns: CASES },
    );
    expect(stood).toBeGreaterThan(CASES / 4);
  });
});
