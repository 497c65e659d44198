import { describe, expect, it } from 'vitest';
import { holdingOf } from '../../../../tests/fixtures/holding';
import { demoJob } from '../../../../tests/fixtures/jobs';
import { ONE_SPINDLE } from '../../../../tests/fixtures/reader';
import { isMove, type MotionEvent } from '../../motion';
import { postJob, programText, proveJob } from '../../nc';
import { derive, type Job } from '../../plan';
import { familyOf, findDialect } from '..';
import type { Dialect } from './data';

const dialect = (id: string): Dialect => {
  const d = findDialect(id);
  if (!d) throw new Error(id);
  return d;
};
const settings = {
  toolTable: new Map([[1, { noseRadius: 0.8, tip: { x: -1, y: -1 } }]] as const),
  channels: ['1'],
  carrier: 'upper',
  spindle: 'main',
  peckClearance: 0.5,
  ...ONE_SPINDLE,
};
const read = (text: string, id = 'tarn-1') => familyOf(dialect(id)).read(text, dialect(id), settings);

/** Steps ⌀20 and ⌀30 turned from ⌀40 in passes of 2.5, worked by hand below. */
const program = (head: string): string =>
  [
    '%',
    'O0001',
    'G18 G21 G40 G99',
    'G28 U0. W0.',
    'T0101',
    'G54',
    'G97 S800 M3',
    'G0 X42. Z2.',
    ...head.split('\n'),
    'N100 G0 X20.',
    'N101 G1 Z-10.',
    'N102 X30.',
    'N103 Z-20.',
    'G0 X100. Z50.',
    'M5',
    'M30',
    '%',
  ].join('\n');
const ONE = 'G71 P100 Q103 U0.4 W0.1 D2.5 F0.2';
const TWO = 'G71 U2.5 R0.5\nG71 P100 Q103 U0.4 W0.1 F0.2';

/** Places of moves as [kind, diameter, Z]. */
const places = (events: readonly MotionEvent[]): (string | number)[][] => {
  let x = 0;
  let z = 0;
  return events.filter(isMove).map((e) => {
    x = e.to.X ?? x;
    z = e.to.Z ?? z;
    return [e.kind, Math.round(x * 2e4) / 1e4, Math.round(z * 1e4) / 1e4];
  });
};

describe('roughing with its head in one block', () => {
  it('runs the levels that the page says: 5 mm on diameter a pass, to the contour moved by its allowances, back by 0.5', () => {
    const { events, problems } = read(program(ONE));
    expect(problems).toEqual([]);
    const cut = places(events).slice(1, -1);
    expect(cut).toEqual([
      // ⌀37 and ⌀32 lie above the contour’s end at ⌀30.4: as far as its end, −20 + 0.1
      ['rapid', 37, 2],
      ['feed', 37, -19.9],
      ['feed', 38, -19.4],
      ['rapid', 38, 2],
      ['rapid', 32, 2],
      ['feed', 32, -19.9],
      ['feed', 33, -19.4],
      ['rapid', 33, 2],
      // ⌀27 and ⌀22 meet the step at −10 + 0.1
      ['rapid', 27, 2],
      ['feed', 27, -9.9],
      ['feed', 28, -9.4],
      ['rapid', 28, 2],
      ['rapid', 22, 2],
      ['feed', 22, -9.9],
      ['feed', 23, -9.4],
      ['rapid', 23, 2],
      // one pass along the moved contour, and back to the start
      ['rapid', 20.4, 2],
      ['feed', 20.4, -9.9],
      ['feed', 30.4, -9.9],
      ['feed', 30.4, -19.9],
      ['rapid', 42, -19.9],
      ['rapid', 42, 2],
    ]);
  });
  it('is the same cut as two blocks are for the controls that have them', () => {
    const one = read(program(ONE));
    const two = read(program(TWO), 'tarn-2');
    expect(two.problems).toEqual([]);
    expect(places(two.events)).toEqual(places(one.events));
  });
  it('names what is wrong: no depth, no contour, a head of two blocks, a depth without its point, D where it is unknown', () => {
    const said = (head: string, id?: string): string[] =>
      read(program(head), id).problems.map((p) => `${p.line}: ${p.message}`);
    expect(said('G71 P100 Q103 U0.4 W0.1 F0.2')[0]).toMatch(/^9: G71 names no depth/);
    expect(said('G71 P100 Q103 U0.4 W0.1 D0. F0.2')[0]).toMatch(/^9: G71 names no depth/);
    expect(said(TWO)[0]).toMatch(/^9: G71 names no contour/);
    expect(said('G71 P100 Q103 U0.4 W0.1 D2 F0.2')[0]).toMatch(/^9: .*point/);
    expect(said('G71 P100 Q103 U0.4 W0.1 D0.001 F0.2')[0]).toMatch(/^9: A depth of 0.001 would need more than/);
    expect(said(ONE, 'tarn-2')[0]).toMatch(/^9: The word D is not known/);
  });
});

describe('a job for a control with one block', () => {
  const on = (id: string, change: (j: Job) => void = () => undefined): Job => {
    const job = demoJob('LM-101');
    job.machine = { ...job.machine, dialect: id };
    change(job);
    return job;
  };
  it('is posted so and proved', () => {
    const job = on('tarn-1');
    const d = derive(job);
    const texts = postJob(job, d, '').map(programText);
    const heads = texts[0].split('\n').filter((l) => l.startsWith('G71'));
    expect(heads.length).toBeGreaterThan(0);
    for (const h of heads) expect(h).toMatch(/^G71 P\d+ Q\d+ U-?[\d.]+ W-?[\d.]+ D[\d.]+ F[\d.]+$/);
    const proof = proveJob(job, d, texts);
    expect(proof.ok).toBe(true);
    expect(proof.maxDeviation).toBeLessThanOrEqual(0.001);
    expect(d.findings.filter((f) => f.severity === 'blocking')).toEqual([]);
  });
  it('retracts as the control does, however small the safe distance', () => {
    const close = (j: Job): void => void (holdingOf(j).safeDistance = 0.3);
    for (const [id, retract] of [
      ['tarn-1', 0.5],
      ['tarn-2', 0.3],
    ] as const) {
      const job = on(id, close);
      const d = derive(job);
      const cycle = d.operations
        .flatMap((o) => o.events)
        .find((e) => e.kind === 'cycle' && e.cycle.kind === 'rough-levels');
      expect(cycle?.kind === 'cycle' && cycle.cycle.kind === 'rough-levels' && cycle.cycle.retract).toBe(retract);
      expect(proveJob(job, d, postJob(job, d, '').map(programText)).agrees).toBe(true);
    }
  });
  it('says so when a plan asks for another retract than the control has', () => {
    const job = on('tarn-1');
    const d = derive(job);
    const events = d.program.channels[0].events.map((e) =>
      e.kind === 'cycle' && e.cycle.kind === 'rough-levels' ? { ...e, cycle: { ...e.cycle, retract: 0.4 } } : e,
    );
    const head = {
      programNumber: 1,
      comments: [],
      holdingName: String,
      spindle: 'main',
      turned: () => false,
      operationComment: () => '',
      subProgram: () => null,
    };
    const posted = familyOf(dialect('tarn-1')).post('1', events, dialect('tarn-1'), head, ['1']);
    expect(posted.problems.map((p) => p.what)).toContainEqual(expect.stringContaining('retract of 0.4'));
  });
});
