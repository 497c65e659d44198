import { describe, expect, it } from 'vitest';
import { ONE_SPINDLE } from '../../../../tests/fixtures/reader';
import { isMove, type MotionEvent } from '../../motion';
import { familyOf, findDialect } from '..';
import type { Dialect } from './data';

const settings = {
  toolTable: new Map([[1, { noseRadius: 0.8, tip: { x: -1, y: -1 } }]] as const),
  channels: ['1'],
  carrier: 'upper',
  spindle: 'main',
  peckClearance: 0.5,
  ...ONE_SPINDLE,
};
const read = (id: string, body: string) => {
  const d = findDialect(id) as Dialect;
  const text = [
    '%',
    'O0001',
    'G18 G21 G40 G99',
    'T0101',
    'G54',
    'G97 S800 M3',
    ...body.split('\n'),
    'G0 X100. Z50.',
    'M5',
    'M30',
  ];
  return familyOf(d).read(text.join('\n'), d, settings);
};
/** Places of moves as [kind, diameter, Z]; the last one leaves the work. */
const ways = (events: readonly MotionEvent[]): (string | number)[][] => {
  let [x, z] = [0, 0];
  return events
    .filter(isMove)
    .map((e) => {
      x = e.to.X ?? x;
      z = e.to.Z ?? z;
      return [e.kind, Math.round(x * 2e4) / 1e4, Math.round(z * 1e4) / 1e4];
    })
    .slice(0, -1);
};
/** Of two heads the one that a control reads. */
const BOTH = (two: string, one: string) => [['tarn-2', two] as const, ['tarn-1', one] as const];

describe.each(BOTH('G72 W2. R0.5\nG72 P100 Q103 U0.4 W0.1 F0.2', 'G72 P100 Q103 U0.4 W0.1 D2. F0.2'))(
  'G72 on %s',
  (id, head) => {
    // steps ⌀30 at Z−6 and ⌀10 at Z−2 faced from ⌀40 in passes of 2
    const made = read(id, `G0 X42. Z1.\n${head}\nN100 G0 Z-6.\nN101 G1 X30.\nN102 Z-2.\nN103 X10.`);
    it('takes levels toward the chuck, each to the moved contour, and then the contour', () => {
      expect(made.problems).toEqual([]);
      expect(ways(made.events)).toEqual([
        ['rapid', 42, 1],
        // level −1: in front of the contour's end at Z−1.9, so as far as its end, ⌀10.4
        ['rapid', 42, -1],
        ['feed', 10.4, -1],
        ['feed', 11.4, -0.5],
        ['rapid', 42, -0.5],
        // level −3: to the wall at ⌀30.4
        ['rapid', 42, -3],
        ['feed', 30.4, -3],
        ['feed', 31.4, -2.5],
        ['rapid', 42, -2.5],
        ['rapid', 42, -5],
        ['feed', 30.4, -5],
        ['feed', 31.4, -4.5],
        ['rapid', 42, -4.5],
        ['rapid', 42, -5.9],
        ['feed', 30.4, -5.9],
        ['feed', 30.4, -1.9],
        ['feed', 10.4, -1.9],
        ['rapid', 10.4, 1],
        ['rapid', 42, 1],
      ]);
    });
    it('is finished by G70 over the same blocks: out of the work along Z, then to the start', () => {
      const both = read(
        id,
        `G0 X42. Z1.\n${head}\nN100 G0 Z-6.\nN101 G1 X30.\nN102 Z-2.\nN103 X10.\nG0 X42. Z2.\nG70 P100 Q103 F0.1`,
      );
      expect(both.problems).toEqual([]);
      expect(ways(both.events).slice(-7)).toEqual([
        ['rapid', 42, 2],
        ['rapid', 42, -6],
        ['feed', 30, -6],
        ['feed', 30, -2],
        ['feed', 10, -2],
        ['rapid', 10, 2],
        ['rapid', 42, 2],
      ]);
    });
    it('wants its first block along Z only, and a contour that does not turn back', () => {
      const said = (body: string): string =>
        read(id, `G0 X42. Z1.\n${head}\n${body}`)
          .problems.map((p) => p.message)
          .join(' ');
      expect(said('N100 G0 X40. Z-6.\nN101 G1 X30.\nN102 Z-2.\nN103 X10.')).toContain('Let it move in Z only');
      expect(said('N100 G0 Z-6.\nN101 G1 X30.\nN102 Z-7.\nN103 X10.')).toContain('which G72 does not follow');
    });
  },
);

describe.each(BOTH('G73 U4. W2. R3\nG73 P100 Q102 U0.4 W0.1 F0.2', 'G73 P100 Q102 U0.4 W0.1 I4. K2. D3 F0.2'))(
  'G73 on %s',
  (id, head) => {
    const made = read(id, `G0 X50. Z2.\n${head}\nN100 G0 X20.\nN101 G1 Z-10.\nN102 X30. Z-15.`);
    it('runs the contour three times, from 4 and 2 away to its own place, the start with it', () => {
      expect(made.problems).toEqual([]);
      const pass = (x: number, z: number) => [
        ['rapid', 50.4 + x, 2.1 + z],
        ['rapid', 20.4 + x, 2.1 + z],
        ['feed', 20.4 + x, -9.9 + z],
        ['feed', 30.4 + x, -14.9 + z],
        ['rapid', 50.4 + x, -14.9 + z],
        ['rapid', 50.4 + x, 2.1 + z],
      ];
      expect(ways(made.events)).toEqual([
        ['rapid', 50, 2],
        ...pass(8, 2),
        ...pass(4, 1),
        ...pass(0, 0),
        ['rapid', 50, 2],
      ]);
    });
    it('wants a whole number of passes', () => {
      const bad = read(id, `G0 X50. Z2.\n${head.replace(/ R3| D3/, '')}\nN100 G0 X20.\nN101 G1 Z-10.\nN102 X30.`);
      expect(bad.problems.map((p) => p.message).join(' ')).toContain('number of passes');
    });
  },
);

describe.each(BOTH('G74 R0.5\nG74 Z-13. Q6000 F0.1', 'G74 Z-13. K6. F0.1'))('G74 on %s', (id, body) => {
  it('breaks the chip after each peck and comes out at the end', () => {
    const made = read(id, `G0 X0. Z2.\n${body}`);
    expect(made.problems).toEqual([]);
    expect(ways(made.events)).toEqual([
      ['rapid', 0, 2],
      ['feed', 0, -4],
      ['rapid', 0, -3.5],
      ['feed', 0, -10],
      ['rapid', 0, -9.5],
      ['feed', 0, -13],
      ['rapid', 0, 2],
    ]);
  });
  it('says what is missing', () => {
    const said = (change: (s: string) => string): string =>
      read(id, `G0 X0. Z2.\n${change(body)}`)
        .problems.map((p) => p.message)
        .join(' ');
    expect(said((s) => s.replace(/ Q6000| K6\./, ''))).toContain('needs a peck');
    expect(said((s) => s.replace('Z-13.', 'Z9.'))).toContain('in front of its start');
    if (id === 'tarn-2') expect(said((s) => s.replace('G74 R0.5\n', ''))).toContain('first G74 block');
  });
});

describe.each(BOTH('G74 R0.5\nG74 X30. Z-4. P2000 Q3000 F0.1', 'G74 X30. Z-4. I2. K3. F0.1'))(
  'G74 with steps on %s',
  (id, body) => {
    it('plunges side by side toward X, the last time at X itself, and goes back to the start', () => {
      const made = read(id, `G0 X40. Z1.\n${body}`);
      expect(made.problems).toEqual([]);
      const plunge = (x: number) => [
        ['feed', x, -2],
        ['rapid', x, -1.5],
        ['feed', x, -4],
        ['rapid', x, 1],
      ];
      expect(ways(made.events)).toEqual([
        ['rapid', 40, 1],
        ['rapid', 40, 1],
        ...plunge(40),
        ['rapid', 36, 1],
        ...plunge(36),
        ['rapid', 32, 1],
        ...plunge(32),
        ['rapid', 30, 1],
        ...plunge(30),
        ['rapid', 40, 1],
      ]);
    });
    it('wants a step where it names X', () => {
      const made = read(id, `G0 X40. Z1.\n${body.replace(/ P2000| I2\./, '')}`);
      expect(made.problems.map((p) => p.message).join(' ')).toContain('needs a step');
    });
  },
);

describe.each(BOTH('G75 R0.5\nG75 X20. Z-14. P3000 Q2500 F0.1', 'G75 X20. Z-14. I3. K2.5 F0.1'))(
  'G75 on %s',
  (id, body) => {
    const plunge = (z: number) => [
      ['feed', 26, z],
      ['rapid', 27, z],
      ['feed', 20, z],
      ['rapid', 32, z],
    ];
    it('plunges from its start toward Z, the last time at Z itself, peck by peck, and goes back to the start', () => {
      const made = read(id, `G0 X32. Z-8.\n${body}`);
      expect(made.problems).toEqual([]);
      expect(ways(made.events)).toEqual([
        ['rapid', 32, -8],
        ['rapid', 32, -8],
        ...plunge(-8),
        ['rapid', 32, -10.5],
        ...plunge(-10.5),
        ['rapid', 32, -13],
        ...plunge(-13),
        ['rapid', 32, -14],
        ...plunge(-14),
        ['rapid', 32, -8],
      ]);
    });
    it('is one plunge without Z, outward too', () => {
      const made = read(id, `G0 X18. Z-8.\n${body.replace(' Z-14.', '')}`);
      expect(made.problems).toEqual([]);
      expect(ways(made.events).slice(2)).toEqual([
        ['feed', 20, -8],
        ['rapid', 18, -8],
        ['rapid', 18, -8],
      ]);
    });
    it('says what is missing', () => {
      const said = (change: (s: string) => string): string =>
        read(id, `G0 X32. Z-8.\n${change(body)}`)
          .problems.map((p) => p.message)
          .join(' ');
      expect(said((s) => s.replace(/ P3000| I3\./, ''))).toContain('needs a peck');
      expect(said((s) => s.replace(/ Q2500| K2\.5/, ''))).toContain('needs a step');
      expect(said((s) => s.replace(' X20.', ''))).toContain('names no depth');
      expect(said((s) => s.replace(/P3000|I3\./, id === 'tarn-2' ? 'P400' : 'I0.4'))).toContain('comes back by 0.5');
      if (id === 'tarn-2') expect(said((s) => s.replace('G75 R0.5\n', ''))).toContain('first G75 block');
    });
  },
);

describe('G92', () => {
  it('is a pass a block: to the depth, along, out and back, until another motion', () => {
    const made = read('tarn-2', 'G0 X20. Z3.\nG92 X15.4 Z-20. F1.5\nX14.8\nX14.4\nG0 X30.');
    expect(made.problems).toEqual([]);
    const pass = (x: number) => [
      ['rapid', x, 3],
      ['thread', x, -20],
      ['rapid', 20, -20],
      ['rapid', 20, 3],
    ];
    expect(ways(made.events)).toEqual([
      ['rapid', 20, 3],
      ...pass(15.4),
      ...pass(14.8),
      ...pass(14.4),
      ['rapid', 30, 3],
    ]);
    const [thread] = made.events.filter((e) => e.kind === 'thread');
    expect(thread).toMatchObject({ lead: 1.5 });
  });
  it('runs a taper from its start, and keeps the feed of other moves', () => {
    const made = read('tarn-2', 'G0 X30. Z4.\nG1 X29. F0.3\nG92 X20.4 Z-16. R-0.625 F1.814\nG1 X40.');
    expect(ways(made.events).slice(2, 4)).toEqual([
      ['rapid', 19.15, 4],
      ['thread', 20.4, -16],
    ]);
    const last = made.events.filter((e) => e.kind === 'feed').at(-1);
    expect(last).toMatchObject({ feed: { mode: 'perRev', value: 0.3 } });
  });
  it('wants one speed, an end and a lead', () => {
    const said = (body: string): string =>
      read('tarn-2', body)
        .problems.map((p) => p.message)
        .join(' ');
    expect(said('G0 X20. Z3.\nG92 X15.4 F1.5')).toContain('needs the end of the pass');
    expect(said('G0 X20. Z3.\nG92 X15.4 Z-9.')).toContain('and the lead');
    expect(said('G96 S100\nG0 X20. Z3.\nG92 X15.4 Z-9. F1.')).toContain('one speed');
  });
});

describe('G52 and sub-programs', () => {
  const program = (main: string, subs: string) => {
    const d = findDialect('tarn-2') as Dialect;
    const head = 'O0001\nG18 G21 G40 G99\nT0101\nG54\nG97 S800 M3\n';
    return familyOf(d).read(`${head}${main}\nM30\n${subs}`, d, settings);
  };
  it('count from the moved zero, the slides stay where they are', () => {
    const made = program('G0 X40. Z2.\nG52 Z-10.\nG1 W-3. F0.2\nZ0.\nG52 Z0.\nZ0.', '');
    expect(made.problems).toEqual([]);
    expect(made.events.filter(isMove).map((e) => e.to.Z)).toEqual([2, -1, -10, 0]);
  });
  it('move arcs and cycles with the zero', () => {
    const made = program(
      'G0 X40. Z2.\nG52 Z-10.\nG1 Z0. F0.2\nG2 X44. Z-2. I2. K0.\nG0 X0. Z1.\nG83 Z-5. R0. Q2000 F0.1\nG80',
      '',
    );
    const arc = made.events.find((e) => e.kind === 'arc');
    expect(arc).toMatchObject({ to: { X: 22, Z: -12 }, centre: { X: 22, Z: -10 } });
    expect(Math.min(...made.events.filter(isMove).map((e) => e.to.Z ?? 0))).toBe(-15);
  });
  it('run as often as they are called, also from one another', () => {
    const made = program('G0 X40. Z2.\nM98 P10\nM98 P11', 'O10\nG1 W-1. F0.2\nM99\nO11\nM98 P10\nM98 P10\nM99');
    expect(made.problems).toEqual([]);
    expect(made.events.filter(isMove).map((e) => e.to.Z)).toEqual([2, 1, 0, -1]);
  });
  it('are told where they are torn, and never run without end', () => {
    const said = (main: string, subs: string): string =>
      program(main, subs)
        .problems.map((p) => p.message)
        .join(' ');
    expect(said('M98 P10', 'O10\nM98 P10\nM99')).toContain('more than 4 deep');
    expect(said('M98 P10', 'O10\nG0 X1.')).toContain('has no end');
    expect(said('M98 P10\nM98 P10', 'O10\nM99\nO10\nM99')).toContain('stands twice');
    expect(said('M98', 'O10\nM99')).toContain('calls nothing');
    expect(said('M99', '')).toContain('none is running');
    expect(said('G52 X3.', '')).toContain('along Z only');
    const calls = (n: number): string => Array.from({ length: 30 }, () => `M98 P${n}`).join('\n');
    const deep = [10, 11, 12].map((n) => `O${n}\n${calls(n + 1)}\nM99`).join('\n');
    expect(said(calls(10), `${deep}\nO13\n${'G1 W-0.1 F0.2\n'.repeat(40)}M99`)).toContain('more than 3000000 blocks');
  });
});
