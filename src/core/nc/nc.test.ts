import { describe, expect, it } from 'vitest';
import { barOf } from '../../../tests/fixtures/holding';
import { DEMO_JOBS, demoJob, lineRow } from '../../../tests/fixtures/jobs';
import { randomOuterRows, seeded } from '../../../tests/fixtures/random';
import { ONE_SPINDLE } from '../../../tests/fixtures/reader';
import { operation, tool, turnedJob } from '../../../tests/fixtures/turned';
import { twoChannelJob } from '../../../tests/fixtures/twoChannel';
import { safeComment } from '../dialects/tarn/post';
import { compensate } from '../dialects/tarn/reader/compensation';
import { readProgram } from '../dialects/tarn/reader/reader';
import { line, point, regionVolume } from '../geometry';
import { type Move, movesOf } from '../motion';
import { derive, type Job } from '../plan';
import { comparePrograms } from './compare';
import { postJob, programText, proveJob } from './release';

const provenTexts = (job: Job) => {
  const derived = derive(job);
  const texts = postJob(job, derived, '2026-01-02').map(programText);
  return { derived, texts, proof: proveJob(job, derived, texts) };
};

const OUTPUTS = [
  ['moves', 'computed'],
  ['moves', 'control'],
  ['cycle', 'control'],
] as const;

const withOutput = (name: string, output: 'moves' | 'cycle', compensation: 'computed' | 'control'): Job => {
  const job = demoJob(name);
  for (const op of Object.values(job.operations)) {
    if (op.kind === 'outer-rough' || op.kind === 'inner-rough') op.params.output = output;
    if (op.kind === 'outer-finish' || op.kind === 'inner-finish') Object.assign(op.params, { output, compensation });
    if (op.kind === 'drill') op.params.output = output;
  }
  return job;
};

describe('read-back', () => {
  for (const name of DEMO_JOBS)
    for (const [output, compensation] of OUTPUTS)
      it(`${name} as ${output}, nose ${compensation}: at most 0.001 mm from the plan, stock equal`, () => {
        const { derived, proof } = provenTexts(withOutput(name, output, compensation));
        expect(proof.channels.flatMap((c) => c.problems)).toEqual([]);
        expect(proof.channels.flatMap((c) => c.differences)).toEqual([]);
        expect(proof.maxDeviation).toBeLessThanOrEqual(0.001);
        expect(proof.stock.thickness).toBeLessThan(0.002);
        expect(proof.ok).toBe(true);
        expect(derived.gouge).toEqual([]);
        // what is left is the part and the leftover that is stated
        expect(
          (regionVolume(derived.finished.turnedOutline) - derived.leftoverVolume) / derived.part.volume,
        ).toBeCloseTo(1, 3);
      });

  it('writes a roll that is no longer than a hair as a line: rounded, an arc might go all the way round', () => {
    // the flank is tangent to the round in the groove but for 8 µm at its upper end
    const at = { half: Math.SQRT1_2, wall: 18 - Math.SQRT1_2 };
    const reach = at.half + (20 - at.wall);
    const job = turnedJob({
      outer: [
        lineRow('a', 39.992, 0),
        lineRow('b', 39.992, reach - 15),
        lineRow('c', 2 * at.wall, at.half - 15),
        {
          id: 'd',
          kind: 'arc',
          diameter: 2 * at.wall,
          z: -at.half - 15,
          radius: 1,
          clockwise: true,
          long: false,
          corner: null,
        },
        lineRow('e', 40, -reach - 15),
        lineRow('f', 40, -30),
        lineRow('g', 0, -30),
      ],
      bar: 40.4,
      length: 30,
      tools: [tool({ id: 't', kind: 'turning', insert: 'VBMT160404', approachAngle: 93, overhang: 60 })],
      operations: [
        operation({
          id: 'x',
          kind: 'outer-finish',
          tool: 't',
          params: { undercuts: 'enter', compensation: 'computed' },
        }),
      ],
    });
    const { derived, texts, proof } = provenTexts(job);
    const chord = (m: Move): number => Math.hypot((m.to.X ?? 0) - (m.from.X ?? 0), (m.to.Z ?? 0) - (m.from.Z ?? 0));
    const rolls = movesOf(derived.operations[0].events).filter((m) => m.event.kind === 'arc');
    // the plan has such a roll, and the text none
    expect(Math.min(...rolls.map(chord))).toBeLessThan(0.001);
    let place = { X: 0, Z: 0 };
    const chords: number[] = [];
    for (const block of texts[0].split('\n')) {
      const word = (letter: 'X' | 'Z'): number => Number(block.match(`${letter}(-?[\\d.]+)`)?.[1] ?? place[letter]);
      const next = { X: word('X'), Z: word('Z') };
      if (/I-?\d/.test(block)) chords.push(Math.hypot((next.X - place.X) / 2, next.Z - place.Z));
      place = next;
    }
    expect(chords).toHaveLength(3);
    expect(Math.min(...chords)).toBeGreaterThan(0.0019);
    expect(proof.channels.flatMap((c) => [...c.problems, ...c.differences])).toEqual([]);
    expect(proof.maxDeviation).toBeLessThan(0.001);
  });

  it('uses the cycles and compensation that were asked for', () => {
    const [text] = provenTexts(demoJob('LM-101')).texts;
    expect(text).toMatch(/G71 U[\d.]+ R[\d.]+\nG71 P100 Q\d+ U0\.4 W0\.1 F0\.3/);
    expect(text).toMatch(/G70 P100 Q\d+ F0\.12/);
    expect(text).toMatch(/N100 G0 G42 X/);
    expect(text).toContain('G83 Z-27.002 R0. Q8000');
    expect(text).toMatch(/G1 G41 /);
  });

  it('proves random contours posted as moves with and without compensation', () => {
    for (let seed = 1; seed <= 25; seed++) {
      const random = seeded(seed);
      const { rows, greatest, length } = randomOuterRows(random, random() < 0.5);
      const job = withOutput('LM-118', 'moves', seed % 2 === 0 ? 'control' : 'computed');
      job.part = { outer: { start: { diameter: 0, z: 0 }, rows }, inner: null };
      barOf(job).diameter = Math.ceil(greatest * 2 + 1);
      barOf(job).stickOut = length + 30;
      job.order['1'] = ['op1', 'op3', 'op5'];
      job.operations = { op1: job.operations.op1, op3: job.operations.op3, op5: job.operations.op5 };
      for (const id of ['op3', 'op5'])
        Object.assign((job.operations[id] as { params: object }).params, { undercuts: 'enter' });
      const { proof } = provenTexts(job);
      expect({
        seed,
        problems: proof.channels.flatMap((c) => c.problems),
        worst: proof.maxDeviation <= 0.001,
        stock: proof.stock.thickness < 0.002,
      }).toEqual({
        seed,
        problems: [],
        worst: true,
        stock: true,
      });
    }
  });

  it('sees a changed program: another depth, feed, tool or a missing line', () => {
    const job = demoJob('LM-101');
    const { derived, texts } = provenTexts(job);
    const broken = (from: string | RegExp, to: string): ReturnType<typeof proveJob> => {
      expect(texts[0]).toMatch(from);
      return proveJob(job, derived, [texts[0].replace(from, to)]);
    };
    expect(broken('N104 Z-3.', 'N104 Z-3.02').maxDeviation).toBeGreaterThan(0.015);
    expect(broken('F0.12', 'F0.13').channels[0].differences.map((d) => d.what)).toContain('feed');
    expect(broken('G96 S700 M3', 'G96 S600 M3').channels[0].differences.map((d) => d.what)).toContain('spindle');
    expect(broken('T0303', 'T0404').ok).toBe(false);
    expect(broken('G1 G41 ', 'G1 ').ok).toBe(false);
    expect(broken(/G71 P100 Q(\d+)/, 'G71 P100 Q999').channels[0].problems.length).toBeGreaterThan(0);
  });

  it('sees a tool that is called with the offset of another one', () => {
    const job = demoJob('LM-101');
    const { derived, texts } = provenTexts(job);
    const calls = [...texts[0].matchAll(/^T(\d\d)(\d\d)$/gm)].map((m) => m[1]);
    const [own, other] = [calls[0], calls.find((t) => t !== calls[0]) as string];
    const edited = texts[0].replace(`T${own}${own}`, `T${own}${other}`);
    const { problems } = proveJob(job, derived, [edited]).channels[0];
    expect(problems.map((k) => k.line)).toContain(edited.split('\n').indexOf(`T${own}${other}`) + 1);
    expect(problems[0].message).toContain(`that of the tool in station ${Number(other)}, but station ${Number(own)}`);
  });
  it('gives the same bytes for the same job and date', () => {
    expect(provenTexts(demoJob('LM-155')).texts).toEqual(provenTexts(demoJob('LM-155')).texts);
  });
});

describe('two channels', () => {
  it('derive, time, post and read back with their waits', () => {
    const { derived, texts, proof } = provenTexts(twoChannelJob());
    expect(derived.findings.filter((f) => f.severity === 'blocking')).toEqual([]);
    expect(derived.timeline.kind).toBe('timed');
    expect(texts.length).toBe(2);
    for (const t of texts)
      expect([...t.matchAll(/^M10[123] P3$/gm)].map((m) => m[0])).toEqual(['M101 P3', 'M102 P3', 'M103 P3']);
    expect(proof.ok).toBe(true);
    expect(proof.channels.map((c) => c.id)).toEqual(['1', '2']);
    expect(regionVolume(derived.finished.turnedOutline) / derived.part.volume).toBeCloseTo(1, 3);
    // work side by side is shorter than one after the other
    expect(derived.timeline.total).toBeLessThan(derive(demoJob('LM-118')).timeline.total);
  });
  it('name the line of a wait whose partner never comes, in every program that stands still', () => {
    const job = twoChannelJob();
    const { derived, texts } = provenTexts(job);
    const lineOf = (text: string, word: string): number => text.split('\n').findIndex((l) => l.startsWith(word)) + 1;
    const edited = [texts[0], texts[1].replace(/^M102 P3\n/m, '')];
    const proof = proveJob(job, derived, edited);
    expect(proof.ok).toBe(false);
    expect(proof.deadlock).toBe(true);
    expect(proof.channels.map((c) => c.problems.map((k) => k.line))).toEqual([
      [lineOf(edited[0], 'M102')],
      [lineOf(edited[1], 'M103')],
    ]);
    expect(proof.channels[0].problems[0].message).toContain('mark 2, is for channel 2, which never comes');
    expect(proof.channels[1].problems[0].message).toContain('mark 3, is for channel 1');
  });
  it('report two marks that have no partners, with channel and number', () => {
    const derived = derive(
      twoChannelJob((job) => {
        const w = job.operations.w2b;
        if (w.kind === 'wait') w.params.mark = 7;
      }),
    );
    expect(derived.timeline.kind).toBe('deadlock');
    const found = derived.findings.filter((f) => f.code === 'mark-partner');
    expect(found.map((f) => [f.numbers.channel, f.numbers.mark])).toEqual([
      ['1', 2],
      ['2', 7],
    ]);
  });
});

describe('the reader', () => {
  const settings = {
    toolTable: new Map([[1, { noseRadius: 0.8, tip: point(-1, -1) }]]),
    channels: ['1'],
    carrier: 'upper',
    spindle: 'main',
    peckClearance: 0.5,
    ...ONE_SPINDLE,
    waitBase: 100,
    roughing: { head: 'two-block' } as const,
  };
  it('compensates a chamfer as by hand: ⌀40, 1×45°, ρ 0.8 → tip X37.0627 Z0 to X40 Z−1.46863', () => {
    const contour = [
      line(point(0, 10), point(0, 19)),
      line(point(0, 19), point(-1, 20)),
      line(point(-1, 20), point(-10, 20)),
    ];
    const made = compensate(contour, 0.8, -1);
    if (!made.ok) throw new Error(made.message);
    const tips = made.path.map((c) => point(c.to.x - 0.8, c.to.y - 0.8));
    // rolls about the corners stand between the pieces; the chamfer's own ends are the worked case
    const chamfer = made.path.findIndex((c) => c.kind === 'line' && Math.abs(Math.abs(c.to.y - c.from.y) - 1) < 1e-9);
    expect(tips[chamfer - 1].y * 2).toBeCloseTo(37.5314, 3);
    const flank = made.path[chamfer];
    // drawn out to the neighbours' parallels the tip runs from Z0 to ⌀40
    const t = (0 - (flank.from.x - 0.8)) / (flank.to.x - flank.from.x);
    expect((flank.from.y - 0.8 + (flank.to.y - flank.from.y) * t) * 2).toBeCloseTo(37.0627, 4);
    const u = (20 - (flank.from.y - 0.8)) / (flank.to.y - flank.from.y);
    expect(flank.from.x - 0.8 + (flank.to.x - flank.from.x) * u).toBeCloseTo(-1.46863, 5);
  });
  it.each([
    ['G1 X10. Z-5.', 'There is no feed'],
    ['T0101\nG42\nG1 X10. Z-5. F0.1', 'without straight movement'],
    ['T0909\nG0 X10.', 'tool table'],
    ['G123 X4.', 'G123 is not known'],
    ['X10. (open', 'not closed'],
    ['G1 $5', 'not a word'],
    ['G71 P1 Q2 U0.4', 'are not there'],
    ['T0101\nG0 X20. Z5.\nG1 G42 X10. Z0. F0.1\nX20.\nM30', 'never cancelled'],
    ['G2 X10. Z-5. I9. K9. F0.1', 'off its circle'],
  ])('complains about %j', (text, message) => {
    expect(
      readProgram(text, settings)
        .problems.map((p) => p.message)
        .join(' '),
    ).toContain(message);
  });
  it('names the line', () => {
    const { problems } = readProgram('T0101 G54\nG0 X5. Z5.\nM777\nM30', { ...settings, waitBase: 1000 });
    expect(problems.map((p) => [p.line, p.message.split('.')[0]])).toEqual([[3, 'M777 is not known to this reader']]);
  });
  it('reads R and incremental words', () => {
    const { events } = readProgram('G99\nG0 X20. Z0.\nG3 X24. Z-2. R2. F0.1\nG1 U4. W-1.', settings);
    const arc = events[1];
    expect(arc.kind === 'arc' && arc.centre.X).toBeCloseTo(10, 9);
    expect(arc.kind === 'arc' && arc.centre.Z).toBeCloseTo(-2, 9);
    const inc = events[2];
    expect(inc.kind === 'feed' && inc.to).toEqual({ X: 14, Z: -3 });
  });
});

describe('comparing', () => {
  it('counts order, not only shape', () => {
    const feed = (X: number, Z: number) => ({
      op: 'a',
      purpose: 'cut' as const,
      kind: 'feed' as const,
      to: { X, Z },
      feed: { mode: 'perRev' as const, value: 0.1 },
    });
    const there = [feed(10, 0), feed(10, -5), feed(12, -5), feed(12, -20), feed(20, -20)];
    expect(comparePrograms(there, there).deviation).toBe(0);
    expect(comparePrograms(there, [there[0], there[3], there[2], there[1], there[4]]).deviation).toBeGreaterThan(0.5);
  });
});

describe('comments', () => {
  it('cannot break out of their brackets', () => {
    expect(safeComment('Ring) G0 X-500 (\nM30 %', 60)).toBe('RING G0 X-500 M30');
    expect(safeComment('⌀11 × 80° “x”', 60)).toBe('DIA 11 X 80 DEG X');
  });
});
