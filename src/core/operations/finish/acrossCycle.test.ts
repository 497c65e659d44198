import { describe, expect, it } from 'vitest';
import { lineRow, shopTool } from '../../../../tests/fixtures/jobs';
import { randomBore, randomOutside, slimBar } from '../../../../tests/fixtures/randomJobs';
import { operation, tool, turnedJob } from '../../../../tests/fixtures/turned';
import { postJob, programText, proveJob } from '../../nc';
import { coverageOf, derive, type Job, rawStockOf } from '../../plan';

/** Roughing and finishing along X by the control's cycles: G72, and G70 over the same blocks. */

const CASES = Math.ceil(Number(process.env.PROVED_CASES ?? 200) / 20);
const FIRST = Number(process.env.PROPERTY_SEED ?? 1 + Math.floor(Math.random() * 1e6));

const byCycles = (job: Job, dialect: string): Job => {
  job.machine.dialect = dialect;
  for (const o of Object.values(job.operations))
    if (/-(rough|finish)$/.test(o.kind)) Object.assign(o.params, { along: 'x', output: 'cycle' });
  return job;
};

/** A disk ⌀60 with steps ⌀20 at Z−3 and ⌀44 at Z−8, its front a hub with a chamfer. */
const disk = (): Job =>
  turnedJob({
    outer: [
      lineRow('a', 18, 0),
      lineRow('b', 20, -1),
      lineRow('c', 20, -3),
      lineRow('d', 44, -3),
      lineRow('e', 44, -8),
      lineRow('f', 60, -8),
      lineRow('g', 60, -20),
      lineRow('h', 0, -20),
    ],
    bar: 62,
    length: 20,
    frontAllowance: 1,
    tools: ['face-rough-80-04', 'undercut-35'].map(shopTool),
    operations: [
      operation({ id: 'face', kind: 'face', tool: 'face-rough-80-04', params: { depth: 1 } }),
      operation({
        id: 'rough',
        kind: 'outer-rough',
        tool: 'face-rough-80-04',
        span: { from: 'b', to: 'f' },
        params: { depth: 1.5, allowanceX: 0.4, allowanceZ: 0.2 },
      }),
      operation({ id: 'finish', kind: 'outer-finish', tool: 'undercut-35', span: { from: 'b', to: 'f' }, params: {} }),
    ],
  });

/** A bore ⌀40 × 10 with a flat bottom and a chamfered mouth around a drilled hole ⌀24. */
const bore = (): Job =>
  turnedJob({
    start: 42,
    outer: [lineRow('o1', 60, 0), lineRow('o2', 60, -20), lineRow('o3', 24, -20)],
    inner: [lineRow('m', 40, -1), lineRow('n', 40, -10), lineRow('o', 24, -10), lineRow('p', 24, -20)],
    bar: 60,
    length: 20,
    tools: [
      tool({ id: 'drill', kind: 'drill', diameter: 24, pointAngle: 118, fluteLength: 70, overhang: 90 }),
      slimBar(),
    ],
    operations: [
      operation({ id: 'drill', kind: 'drill', tool: 'drill', params: { depth: null, breakThrough: 2, peck: 5 } }),
      operation({
        id: 'rough',
        kind: 'inner-rough',
        tool: 'bar',
        span: { from: 'm', to: 'o' },
        params: { depth: 1, allowanceX: 0.4, allowanceZ: 0.1 },
      }),
      operation({ id: 'finish', kind: 'inner-finish', tool: 'bar', span: { from: 'm', to: 'o' }, params: {} }),
    ],
  });

describe.each(['tarn-1', 'tarn-2', 'tarn-5'])('finishing along X as G70 on %s', (dialect) => {
  it.each([
    ['a disk', disk, 'outer', ['c', 'd', 'e', 'f'], 'G41'],
    ['a bore', bore, 'inner', ['m', 'n', 'o'], 'G42'],
  ] as const)('runs the blocks of the roughing of %s, and leaves what moves leave', (_name, make, side, ids, code) => {
    const job = byCycles(make(), dialect);
    const d = derive(job);
    expect(d.findings.map((f) => f.code)).not.toContain('cycle-not-possible');
    expect(d.findings.filter((f) => f.severity === 'blocking')).toEqual([]);
    const posted = postJob(job, d, '').map(programText);
    expect(posted[0]).toMatch(/^G72 /m);
    expect(posted[0]).toMatch(/^G70 P100 Q\d+ F/m);
    expect(posted[0]).toMatch(new RegExp(`^N100 G0 ${code} Z`, 'm'));
    const proof = proveJob(job, d, posted);
    expect(proof.channels.flatMap((c) => [...c.problems, ...c.differences])).toEqual([]);
    expect(proof.stock.thickness).toBeLessThan(1e-3);
    const cover = coverageOf(d.part, d.operations.at(-1)?.after.turnedOutline ?? [], rawStockOf(d).turnedOutline, [
      side,
    ]);
    const moves = make();
    for (const o of Object.values(moves.operations))
      if (/-(rough|finish)$/.test(o.kind)) Object.assign(o.params, { along: 'x' });
    const plain = derive(moves);
    const other = coverageOf(
      plain.part,
      plain.operations.at(-1)?.after.turnedOutline ?? [],
      rawStockOf(plain).turnedOutline,
      [side],
    );
    for (const id of ids) {
      const of = (list: typeof cover) => list.find((c) => c.element === id)?.left ?? Number.NaN;
      expect(of(cover), id).toBeCloseTo(of(other), 2);
    }
  });

  it(`is the plan on random work, or says why it is none (${CASES} cases from seed ${FIRST})`, {
    timeout: 300_000,
  }, () => {
    const failures: string[] = [];
    let cycles = 0;
    // in the first one a level meets a slope so shallow that half a step along Z is more than a whole one in X
    for (const seed of [313499, ...Array.from({ length: CASES }, (_, i) => FIRST + i)]) {
      const made =
        seed % 2 ? randomOutside(seed, 'right', ['cycle', 'control']) : randomBore(seed, ['cycle', 'control']);
      const job = byCycles(made, dialect);
      const d = derive(job);
      if (d.part.region.length === 0) continue;
      for (const f of d.findings)
        if (f.severity === 'blocking')
          failures.push(`seed ${seed} ${f.operation}: ${f.code} ${JSON.stringify(f.numbers)}`);
      const posted = postJob(job, d, '').map(programText);
      if (/^G70 /m.test(posted[0])) cycles++;
      const proof = proveJob(job, d, posted);
      if (!proof.agrees)
        failures.push(`seed ${seed}: ${JSON.stringify(proof.channels[0].problems[0] ?? proof.maxDeviation)}`);
    }
    expect(failures).toEqual([]);
    if (CASES > 8) expect(cycles).toBeGreaterThan(0);
  });
});

describe('finishing along X as a cycle', () => {
  it('wants an earlier G72 over the same contour, and says so', () => {
    const job = byCycles(disk(), 'tarn-2');
    Object.assign(job.operations.rough.params, { output: 'moves' });
    const d = derive(job);
    const told = d.findings.find((f) => f.operation === 'finish' && f.code === 'cycle-not-possible');
    expect(told?.numbers).toEqual({ reason: 'there is no earlier roughing cycle over the same contour' });
  });
  it('is none of a span the tool does not reach whole', () => {
    const job = byCycles(disk(), 'tarn-2');
    // 75° to the axis leave the walls to others
    job.tools['undercut-35'] = {
      ...tool({ id: 'x', kind: 'turning', insert: 'SNMG120404', approachAngle: 75, overhang: 60 }),
      id: 'undercut-35',
    };
    const d = derive(job);
    expect(d.findings.filter((f) => f.severity === 'blocking')).toEqual([]);
    const told = d.findings.find((f) => f.operation === 'finish' && f.code === 'cycle-not-possible');
    expect(told?.numbers).toEqual({ reason: 'the tool does not reach all of it' });
  });
});
