import { describe, expect, it } from 'vitest';
import { lineRow } from '../../../tests/fixtures/jobs';
import { randomOuterRows, seeded } from '../../../tests/fixtures/random';
import { operation, tool, turnedJob } from '../../../tests/fixtures/turned';
import { derive, type Job } from '../plan';

/**
 * Tools of both hands after one another over one contour, in any order, either way along either axis, with every kind of lead: each
 * finds what the others have left, lips and steps included.
 */

const CASES = Number(process.env.PROPERTY_CASES ?? 120);
const FIRST = Number(process.env.PROPERTY_SEED ?? 1 + Math.floor(Math.random() * 1e6));
const round = (v: number): number => Math.round(v * 100) / 100;

const INSERTS = [
  ['CNMG120408', 95],
  ['DCMT11T304', 93],
  ['VBMT160404', 93],
  ['TNMG160404', 91],
  ['VCMT160404', 72],
  ['RCMT0803M0', 90],
  ['DNMG150608', 93],
  ['CCMT09T304', 75],
] as const;
const LEADS = ['as-fits', 'tangent', 'square', 'arc'] as const;

const handsJob = (seed: number): Job => {
  const random = seeded(seed);
  const of = <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)];
  const { rows, greatest, length } = randomOuterRows(random, random() < 0.5);
  const count = 2 + Math.floor(random() * 4);
  const tools = Array.from({ length: count }, (_, i) => {
    const [insert, approachAngle] = of(INSERTS);
    return tool({ id: `t${i}`, kind: 'turning', insert, approachAngle, overhang: 60, hand: of(['right', 'left']) });
  });
  const operations = tools.map((t, i) => {
    const rough = i < count - 1 && random() < 0.7;
    const common = { undercuts: of(['enter', 'bridge']), extendBehind: of([0, 2]), output: 'moves' };
    const own = rough
      ? {
          depth: round(0.6 + random() * 2),
          allowanceX: round(random()),
          allowanceZ: 0.1,
          along: of(['z', 'z', 'x', 'contour']),
        }
      : {
          compensation: of(['computed', 'control']),
          lead: of(LEADS),
          leadOut: of(LEADS),
          along: of(['z', 'z', 'x', 'corner']),
          direction: of(['tool', 'tool', 'toward', 'away']),
        };
    return operation({
      id: `x${i}`,
      kind: rough ? 'outer-rough' : 'outer-finish',
      tool: t.id,
      params: { ...common, ...own },
    });
  });
  return turnedJob({
    outer: [...rows.slice(0, -1), lineRow('back', 0, -length)],
    bar: Math.ceil(greatest * 2 + 0.5 + random() * 3),
    length,
    frontAllowance: round(random() * 1.5),
    safeDistance: round(0.5 + random() * 2),
    tools: [tool({ id: 'facing', kind: 'turning', insert: 'CNMG120408', approachAngle: 95, overhang: 60 }), ...tools],
    operations: [operation({ id: 'face', kind: 'face', tool: 'facing', params: { depth: 1 } }), ...operations],
  });
};

/** What no plan may ever contain, whatever it is asked for. */
const NEVER = ['gouge', 'rapid-in-stock', 'holder-meets-stock', 'tool-meets-jaws', 'tool-meets-chuck', 'internal'];

describe('tools of both hands after one another', () => {
  it(`never gouge and never meet metal in a rapid (${CASES} cases from seed ${FIRST})`, { timeout: 600_000 }, () => {
    const failures: string[] = [];
    let cut = 0;
    for (let seed = FIRST; seed < FIRST + CASES; seed++) {
      const d = derive(handsJob(seed));
      if (d.part.region.length === 0) continue;
      cut += d.operations.filter((o) => o.events.length > 0).length;
      for (const f of d.findings)
        if (NEVER.includes(f.code))
          failures.push(
            `seed ${seed} ${f.operation}: ${f.code} ${JSON.stringify(f.numbers)} at ${JSON.stringify(f.at)}`,
          );
    }
    expect(failures).toEqual([]);
    expect(cut).toBeGreaterThan(CASES * 2);
  });
});
