import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { groovedJob, grooveRows } from '../../../tests/fixtures/grooves';
import { demoJob, shopTool } from '../../../tests/fixtures/jobs';
import { regionBounds, regionVolume, subtractRegion } from '../geometry';
import { isMove, movesOf } from '../motion';
import { postJob, programText, proveJob } from '../nc';
import { inStations } from '../tooling';
import { derive } from './derive';
import { type Job, readJob } from './document';
import { writtenOut } from './repeats';

/** The collar, several from one stick-out: part 7.2, blade 2, allowance 0.5. */
const collars = (count: number, say: Partial<Job['repeats'][string]> = {}, stickOut = 90): Job => {
  const job = structuredClone(demoJob('LM-155'));
  const { stock } = job.holdings.h1;
  if (stock.form === 'bar') stock.stickOut = stickOut;
  const operations = [...job.order['1']];
  job.repeats = {
    r1: {
      id: 'r1',
      name: 'Parts',
      operations,
      count,
      pitch: null,
      first: 1,
      zeros: 'one',
      by: 'part',
      output: 'moves',
      ...say,
    },
  };
  return job;
};
const PITCH = 9.7;
const proved = (job: Job) => {
  const derived = derive(job);
  const posted = postJob(job, derived, '2026-01-01');
  return { derived, posted, text: programText(posted[0]), proof: proveJob(job, derived, posted.map(programText)) };
};
const codes = (job: Job): string[] =>
  derive(job)
    .findings.filter((f) => f.severity === 'blocking')
    .map((f) => f.code);

describe('a group that runs again and again along Z', () => {
  it('is written out in its place, the first time under its own name', () => {
    const job = collars(3);
    const ids = writtenOut(job, job.order['1']).map((i) => i.id);
    const own = job.order['1'];
    expect(ids).toEqual([...own, ...own.map((id) => `${id}#2`), ...own.map((id) => `${id}#3`)]);
    const [first, second] = own;
    job.repeats.r1.operations = [first, second];
    expect(writtenOut(job, own).map((i) => i.id)).toEqual([
      first,
      second,
      `${first}#2`,
      `${second}#2`,
      `${first}#3`,
      `${second}#3`,
      ...own.slice(2),
    ]);
  });

  it('works one pitch further on each time: part, blade, and what is faced off', () => {
    const d = derive(collars(4));
    const cutoff = d.operations.filter((o) => o.operation === d.operations[d.operations.length - 1].operation);
    const ends = cutoff.map((o) => Math.min(...movesOf(o.events).map((m) => m.to.Z)));
    expect(cutoff.length).toBe(4);
    for (const [k, z] of ends.entries()) expect(z).toBeCloseTo(ends[0] - k * PITCH, 9);
  });

  it('makes a part each time, all alike, and leaves the bar shorter', () => {
    const d = derive(collars(5));
    expect(d.findings.filter((f) => f.severity === 'blocking')).toEqual([]);
    expect(d.leftoverVolume).toBeLessThan(0.05);
    expect(d.gouge).toEqual([]);
    const bar = regionBounds(d.finalStock.turnedOutline);
    expect(bar.maxX).toBeCloseTo(-(7.2 + 2) - 4 * PITCH, 3);
    // five times what the part and its chips take of the bar, and what the drill and the outside run on behind the last
    const taken = regionVolume(d.holdings[0].rawStock.turnedOutline) - regionVolume(d.finalStock.turnedOutline);
    const least = Math.PI * 9.25 ** 2 * (0.5 + 5 * 9.2 + 4 * 0.5);
    expect(taken).toBeGreaterThan(least);
    expect(taken).toBeLessThan(least + 100);
  });

  it.each(['one', 'each'] as const)('is posted, read back and proved with %s zero', (zeros) => {
    const { proof, text } = proved(collars(4, { zeros }));
    expect(proof.channels[0].problems).toEqual([]);
    expect(proof.ok).toBe(true);
    expect(proof.maxDeviation).toBeLessThan(0.001);
    const zerosNamed = new Set(text.match(/^G5\d$/gm));
    expect([...zerosNamed].sort()).toEqual(zeros === 'one' ? ['G54'] : ['G54', 'G55', 'G56', 'G57']);
  });

  it('is a sub-program that the zero is moved for, called as often as it runs', () => {
    const { proof, text, posted } = proved(collars(6, { output: 'sub-program' }));
    expect(proof.ok).toBe(true);
    expect(text.match(/^M98 P8001$/gm)?.length).toBe(5);
    expect(text.match(/^G52 Z-?[\d.]+$/gm)).toEqual([
      'G52 Z-9.7',
      'G52 Z-19.4',
      'G52 Z-29.1',
      'G52 Z-38.8',
      'G52 Z-48.5',
      'G52 Z0.',
    ]);
    expect(text.length).toBeLessThan(programText(proved(collars(6)).posted[0]).length * 0.45);
    expect(posted[0].problems).toEqual([]);
  });

  it('is found out when the sub-program, its call or the moved zero is not what was planned', () => {
    const job = collars(4, { output: 'sub-program' });
    const { derived, text } = proved(job);
    const spoilt = (change: (t: string) => string) => proveJob(job, derived, [change(text)]);
    expect(spoilt((t) => t.replace('G52 Z-19.4', 'G52 Z-19.5')).agrees).toBe(false);
    expect(spoilt((t) => t.replace('G52 Z-9.7\nM98 P8001\n', '')).agrees).toBe(false);
    const said = (t: (s: string) => string): string =>
      spoilt(t)
        .channels[0].problems.map((p) => p.message)
        .join(' ');
    expect(said((t) => t.replace('M98 P8001', 'M98 P8002'))).toContain('O8002, which is not there');
    expect(said((t) => t.replace('\nM99\n', '\n'))).toContain('has no end');
    expect(said((t) => t.replaceAll('M98 P8001', ''))).toContain('never called');
    expect(said((t) => t.replace('\nM99\n', '\nM98 P8001\nM99\n'))).toContain('call one another');
  });

  it('goes on where it was broken off: the bar is shorter by what is made', () => {
    const whole = derive(collars(5));
    const rest = derive(collars(5, { first: 3 }));
    expect(rest.operations.length).toBe((whole.operations.length * 3) / 5);
    expect(regionBounds(rest.holdings[0].rawStock.turnedOutline).maxX).toBeCloseTo(0.5 - 2 * PITCH, 6);
    expect(regionVolume(subtractRegion(rest.finalStock.turnedOutline, whole.finalStock.turnedOutline))).toBeLessThan(
      0.01,
    );
    expect(proved(collars(5, { first: 3 })).proof.ok).toBe(true);
    const times = new Set(rest.operations.map((o) => o.time?.number));
    expect([...times]).toEqual([3, 4, 5]);
  });

  it('cuts the same thing at several places of one part, and tells at which place it cuts too deep', () => {
    const three = [0, 1, 2].flatMap((k) =>
      grooveRows(-8 - 8 * k, { width: 4, depth: 3, diameter: 50 }).map((r) => ({ ...r, id: `${r.id}-${k}` })),
    );
    const job = (pitch: number): Job =>
      groovedJob(
        { diameter: 50, length: 36, outer: three },
        { kind: 'outer-groove', tool: shopTool('groove-3'), span: { from: 'g1-0', to: 'g3-0' } },
        (j) => {
          const say = { id: 'r1', name: 'Grooves', operations: ['groove'], count: 3, pitch, first: 1 };
          j.repeats = { r1: { ...say, zeros: 'one', by: 'part', output: 'moves' } };
        },
      );
    const { derived, proof } = proved(job(8));
    expect(derived.findings.filter((f) => f.severity === 'blocking')).toEqual([]);
    expect(proof.agrees).toBe(true);
    const left = (d: typeof derived): number =>
      Math.max(...d.coverage.filter((c) => c.element.startsWith('g')).map((c) => c.left));
    expect(left(derived)).toBeLessThan(0.01);
    const wrong = derive(job(8.5)).findings.find((f) => f.code === 'gouge');
    expect(wrong?.operation).toBe('groove');
    expect(wrong?.time).toEqual({ number: 2, count: 3 });
    // half a millimetre too far, told at the first way that takes any of it
    const depth = wrong?.code === 'gouge' ? wrong.numbers.depth : 0;
    expect(depth).toBeGreaterThan(0.2);
    expect(depth).toBeLessThan(0.55);
  });

  it('runs by tool: each operation at all places before the next one, with fewer tool changes, proved', () => {
    const three = [0, 1, 2].flatMap((k) =>
      grooveRows(-8 - 8 * k, { width: 4, depth: 3, diameter: 50 }).map((r) => ({ ...r, id: `${r.id}-${k}` })),
    );
    const job = (by: 'part' | 'tool', output: 'moves' | 'sub-program'): Job =>
      groovedJob(
        { diameter: 50, length: 36, outer: three },
        {
          kind: 'outer-groove',
          tool: shopTool('groove-3'),
          span: { from: 'g1-0', to: 'g3-0' },
          params: { passes: 'plunge' },
        },
        (j) => {
          const { groove } = j.operations;
          if (groove.kind !== 'outer-groove') throw new Error('a groove');
          j.tools['groove-2'] = shopTool('groove-2');
          Object.assign(j.mounts.upper, inStations({ '11': 'groove-2' }));
          j.operations.walls = {
            ...groove,
            id: 'walls',
            tool: 'groove-2',
            params: { ...groove.params, passes: 'finish' },
          };
          j.order['1'].push('walls');
          const say = { id: 'r1', name: 'Grooves', operations: ['groove', 'walls'], count: 3, pitch: 8, first: 1 };
          j.repeats = { r1: { ...say, zeros: 'one', by, output } };
        },
      );
    const own = (j: Job): string[] =>
      derive(j)
        .operations.map((o) => o.id)
        .filter((id) => /groove|walls/.test(id));
    expect(own(job('part', 'moves'))).toEqual(['groove', 'walls', 'groove#2', 'walls#2', 'groove#3', 'walls#3']);
    expect(own(job('tool', 'moves'))).toEqual(['groove', 'groove#2', 'groove#3', 'walls', 'walls#2', 'walls#3']);
    const changes = (text: string): number => {
      const tools = text.match(/^T\d+$/gm) ?? [];
      return tools.filter((t, i) => t !== tools[i - 1]).length;
    };
    const [parts, tools, subs] = [job('part', 'moves'), job('tool', 'moves'), job('tool', 'sub-program')].map(proved);
    for (const { derived, proof } of [parts, tools, subs]) {
      expect(derived.findings.filter((f) => f.severity === 'blocking')).toEqual([]);
      expect(proof.ok).toBe(true);
    }
    expect(changes(parts.text) - changes(tools.text)).toBe(4);
    expect(tools.derived.timeline.total).toBeLessThan(parts.derived.timeline.total);
    // the same metal comes off
    const [a, b] = [parts.derived, tools.derived].map((d) => d.finalStock.turnedOutline);
    expect(regionVolume(subtractRegion(a, b)) + regionVolume(subtractRegion(b, a))).toBeLessThan(0.05);
  });

  it('by tool takes nothing off parts that still stand in the bar', () => {
    // facing the second collar would take the first one away
    const d = derive(collars(3, { by: 'tool' }));
    expect(d.findings.some((f) => f.code === 'gouge' && f.operation === 'op1')).toBe(true);
    const told = d.findings.find((f) => f.code === 'repeat-in-the-way');
    expect(told?.remedy?.set).toEqual({ '/repeats/r1/by': 'part' });
    expect(derive(collars(3)).findings.some((f) => f.code === 'gouge')).toBe(false);
  });

  it.each([
    ['repeat-too-long', collars(8, {}, 60)],
    ['repeat-pitch', collars(3, { pitch: 8 })],
    ['repeat-zeros', collars(7, { zeros: 'each' })],
    ['repeat-first', collars(2, { first: 3 })],
    ['repeat-no-pitch', collars(3, { operations: demoJob('LM-155').order['1'].slice(0, 2) })],
    ['repeat-parted', collars(3, { operations: demoJob('LM-155').order['1'].filter((_, i) => i !== 2) })],
  ] as const)('says %s', (code, job) => {
    expect(codes(job)).toContain(code);
  });

  it('says of too many parts that they are too many, and not of each where it would strike', () => {
    expect(codes(collars(14, {}, 60))).toEqual(['repeat-too-long']);
    // what is wrong with one that fits is still told
    const job = collars(14, {}, 60);
    const rough = Object.values(job.operations).find((op) => op.kind === 'outer-rough');
    if (rough?.kind === 'outer-rough') rough.params.depth = 0.001;
    expect(codes(job).length).toBeGreaterThan(1);
  });

  it('offers a stick-out that is long enough', () => {
    const job = collars(8, {}, 60);
    const told = derive(job).findings.find((f) => f.code === 'repeat-too-long');
    const [[pointer, value]] = Object.entries(told?.remedy?.set ?? {});
    expect(pointer).toBe('/holdings/h1/stock/stickOut');
    expect(codes(collars(8, {}, Number(value)))).toEqual([]);
    expect(codes(collars(8, {}, Number(value) - 0.3))).not.toEqual([]);
  });

  it('reads a file that names an operation twice or one that is not there with the place', () => {
    const broken = collars(2);
    broken.repeats.r2 = { ...broken.repeats.r1, id: 'r2', operations: ['nothing', broken.order['1'][0]] };
    const read = readJob(broken);
    expect(read.ok ? [] : read.problems.map((p) => p.place)).toEqual([
      'repeats.r2.operations.0',
      'repeats.r2.operations.1',
    ]);
  });

  it('is the same from the cache as from scratch, whatever is changed', () => {
    const cases = fc.record({
      count: fc.integer({ min: 1, max: 4 }),
      pitch: fc.constantFrom(null, 10, 9.4, 12.5),
      output: fc.constantFrom('moves' as const, 'sub-program' as const),
      zeros: fc.constantFrom('one' as const, 'each' as const),
    });
    fc.assert(
      fc.property(cases, (say) => {
        const { proof, derived } = proved(collars(say.count, say));
        expect(proof.agrees).toBe(true);
        expect(derived.findings.filter((f) => f.severity === 'blocking')).toEqual([]);
        const cutting = derived.operations.filter((o) => o.events.some(isMove)).length;
        expect(cutting).toBe(6 * say.count);
      }),
      { numRuns: 8 },
    );
  });
});
