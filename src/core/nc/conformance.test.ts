import { describe, expect, it } from 'vitest';
import { DEMO_JOBS, demoJob } from '../../../tests/fixtures/jobs';
import { ONE_SPINDLE } from '../../../tests/fixtures/reader';
import { twoChannelJob } from '../../../tests/fixtures/twoChannel';
import { DIALECTS, DialectSchema, familyOf } from '../dialects';
import type { MotionEvent, MotionProgram } from '../motion';
import { derive, type Job } from '../plan';
import { comparePrograms } from './compare';
import { postJob, programText, proveJob } from './release';

/** What every dialect has to keep to: it says an event so that its reader understands it, or it refuses to. */

const own = { op: 'a', purpose: 'cut' } as const;
const perRev = { mode: 'perRev', value: 0.123 } as const;
/** One event of each sort after a beginning that every program has. */
const EVENTS: readonly (readonly [string, MotionEvent])[] = [
  ['a rapid', { ...own, kind: 'rapid', to: { X: 11.2345, Z: -3.4567 } }],
  ['a feed per revolution', { ...own, kind: 'feed', to: { X: 9, Z: -1.5 }, feed: perRev }],
  ['a feed per minute', { ...own, kind: 'feed', to: { X: 9, Z: -1.5 }, feed: { mode: 'perMin', value: 250 } }],
  ['a feed per tooth', { ...own, kind: 'feed', to: { Z: -1.5 }, feed: { mode: 'perTooth', value: 0.05, teeth: 4 } }],
  [
    'an arc',
    { ...own, kind: 'arc', to: { X: 15, Z: -5 }, centre: { X: 15, Z: 0 }, clockwise: true, plane: 'ZX', feed: perRev },
  ],
  [
    'an arc in another plane',
    { ...own, kind: 'arc', to: { X: 5, Y: 5 }, centre: { X: 5, Y: 0 }, clockwise: true, plane: 'XY', feed: perRev },
  ],
  ['a thread move', { ...own, kind: 'thread', to: { Z: -20 }, lead: 1.5, startAngle: 0 }],
  ['a dwell', { ...own, kind: 'dwell', seconds: 0.25 }],
  [
    'the spindle in reverse',
    { ...own, kind: 'spindle', spindle: 'main', direction: 'reverse', speed: { mode: 'fixed', value: 800 } },
  ],
  [
    'the spindle stopped',
    { ...own, kind: 'spindle', spindle: 'main', direction: 'stop', speed: { mode: 'fixed', value: 0 } },
  ],
  [
    'a constant surface speed',
    {
      ...own,
      kind: 'spindle',
      spindle: 'main',
      direction: 'forward',
      speed: { mode: 'surface', value: 180, clamp: 2500 },
    },
  ],
  [
    'another spindle',
    { ...own, kind: 'spindle', spindle: 'sub', direction: 'forward', speed: { mode: 'fixed', value: 500 } },
  ],
  ['another tool', { ...own, kind: 'tool', carrier: 'upper', station: 3, offset: 13, tool: 't3' }],
  ['a slide going home', { ...own, kind: 'home', axes: ['X'] }],
  ['a stop', { ...own, kind: 'stop', optional: false }],
  ['an optional stop', { ...own, kind: 'stop', optional: true }],
  ['another work offset', { ...own, kind: 'work-offset', code: 'G56' }],
  ['the coolant', { ...own, kind: 'coolant', on: true }],
  ['a wait', { ...own, kind: 'wait', mark: 7, channels: ['1', '2'] }],
  ['a device', { ...own, kind: 'device', device: 'catcher', action: 'out' }],
  ['a clamp', { ...own, kind: 'clamp', axis: 'C', on: true }],
  ['a move in Y', { ...own, kind: 'feed', to: { Y: 4 }, feed: perRev }],
  ['a move in C', { ...own, kind: 'rapid', to: { C: 90 } }],
  ['a move in B', { ...own, kind: 'rapid', to: { B: 45 } }],
];
const BEGIN: readonly MotionEvent[] = [
  { ...own, kind: 'tool', carrier: 'upper', station: 1, offset: 1, tool: 't1' },
  { ...own, kind: 'work-offset', code: 'G54' },
  { ...own, kind: 'rapid', to: { X: 10, Z: 0 } },
  { ...own, kind: 'spindle', spindle: 'main', direction: 'forward', speed: { mode: 'fixed', value: 1000 } },
];
const END: readonly MotionEvent[] = [{ ...own, kind: 'rapid', to: { X: 40, Z: 60 } }];
const CHANNELS = ['1', '2'];
const settings = {
  toolTable: new Map([1, 13].map((n) => [n, { noseRadius: 0, tip: { x: 0, y: 0 } }] as const)),
  channels: CHANNELS,
  carrier: 'upper',
  spindle: 'main',
  peckClearance: 0.5,
  ...ONE_SPINDLE,
};

describe.each(DIALECTS.map((d) => [d.name, d] as const))('the dialect %s', (_name, dialect) => {
  it('is data that its schema knows', () => {
    expect(DialectSchema.parse(JSON.parse(JSON.stringify(dialect)))).toEqual(dialect);
  });
  it.each(EVENTS)('says %s so that it is read back the same, or refuses it by name', (_what, event) => {
    const events = [...BEGIN, event, ...END];
    const head = {
      programNumber: 1,
      comments: [],
      holdingName: String,
      spindle: 'main',
      turned: () => false,
      operationComment: () => '',
      subProgram: () => null,
    };
    const posted = familyOf(dialect).post('1', events, dialect, head, CHANNELS);
    if (posted.problems.length > 0) {
      for (const p of posted.problems) expect(p.what.length).toBeGreaterThan(3);
      return;
    }
    const read = familyOf(dialect).read(programText(posted), dialect, settings);
    expect(read.problems).toEqual([]);
    const d = comparePrograms(events, read.events);
    expect(d.differences).toEqual([]);
    expect(d.deviation).toBeLessThanOrEqual(0.001);
  });
  it('never says a number that a control cannot read', () => {
    for (const v of [Number.NaN, Number.POSITIVE_INFINITY, 1e308, 123456789]) {
      const program: MotionProgram = {
        channels: [{ channel: '1', events: [...BEGIN, { ...own, kind: 'rapid', to: { X: v, Z: 0 } }, ...END] }],
      };
      const head = {
        programNumber: 1,
        comments: [],
        holdingName: String,
        spindle: 'main',
        turned: () => false,
        operationComment: () => '',
        subProgram: () => null,
      };
      const posted = familyOf(dialect).post('1', program.channels[0].events, dialect, head, CHANNELS);
      expect(posted.problems.length, String(v)).toBeGreaterThan(0);
      expect(programText(posted)).not.toMatch(/NaN|Infinity|e\+/);
    }
  });
  it('keeps its lines short, its characters plain and its text the same for the same job', () => {
    const job = { ...demoJob('LM-101'), machine: { ...demoJob('LM-101').machine, dialect: dialect.id } };
    const d = derive(job);
    const [text] = postJob(job, d, '2026-01-02').map(programText);
    expect(postJob(job, d, '2026-01-02').map(programText)).toEqual([text]);
    for (const line of text.split('\n')) {
      expect(line.length).toBeLessThanOrEqual(80);
      expect(line).toMatch(/^[\x20-\x7e]*$/);
    }
  });
  const JOBS: [string, () => Job][] = [
    ...DEMO_JOBS.map((n): [string, () => Job] => [n, () => demoJob(n)]),
    ['two channels', () => twoChannelJob()],
  ];
  it.each(JOBS)('%s proves as it was planned', (_n, make) => {
    const job = make();
    job.machine = { ...job.machine, dialect: dialect.id };
    const d = derive(job);
    const proof = proveJob(job, d, postJob(job, d, '').map(programText));
    expect(proof.agrees).toBe(true);
    expect(proof.maxDeviation).toBeLessThanOrEqual(0.001);
  });
});
