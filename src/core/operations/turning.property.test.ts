import { describe, expect, it } from 'vitest';
import { longestAir } from '../../../tests/fixtures/air';
import { demoJob, withOperations } from '../../../tests/fixtures/jobs';
import { randomOuterRows, seeded } from '../../../tests/fixtures/random';
import type { Job } from '../plan';
import { derive } from '../plan';
import { ToolSchema } from '../tooling';
import { type Operation, OperationSchema } from './registry';

/** Random outside tools: shape, nose, approach angle, hand stays right. */
const TOOLS = [
  ['CNMG120408', 95],
  ['CNMG120404', 95],
  ['WNMG080408', 95],
  ['DCMT11T304', 93],
  ['DCMT11T308', 93],
  ['VBMT160404', 93],
  ['TNMG160404', 91],
  ['RCMT0803M0', 90],
  ['SNMG120408', 95],
] as const;

const CASES = Number(process.env.PROPERTY_CASES ?? 1000);
const FIRST_SEED = Number(process.env.PROPERTY_SEED ?? 1);

const jobFor = (seed: number): { job: Job; label: string } => {
  const random = seeded(seed);
  const steady = random() < 0.4;
  const { rows, greatest, length } = randomOuterRows(random, steady);
  const base = demoJob('LM-155');
  const bar = Math.ceil(greatest * 2 + 0.5 + random() * 3);
  const pick = () => TOOLS[Math.floor(random() * TOOLS.length)];
  const tool = (id: string) => {
    const [insert, approachAngle] = pick();
    return ToolSchema.parse({ id, name: id, kind: 'turning', insert, approachAngle, overhang: 60 });
  };
  const tools = { rough: tool('rough'), finish: tool('finish') };
  const op = (value: Record<string, unknown>): Operation =>
    OperationSchema.parse({ channel: '1', name: String(value.id), cutting: { speedMode: 'surface', speed: 200, feed: 0.2 }, ...value });
  const undercuts = random() < 0.7 ? 'enter' : 'bridge';
  const job = withOperations(
    {
      ...base,
      part: { outer: { start: { diameter: 0, z: 0 }, rows }, inner: null },
      stock: { form: 'bar', diameter: bar, bore: 0, frontAllowance: 0.5 },
      holding: { ...base.holding, stickOut: length + 25, safeDistance: 1 + random() },
      tools,
      stations: { upper: { '1': 'rough', '2': 'finish' } },
    },
    [
      op({
        id: 'rough',
        kind: 'outer-rough',
        tool: 'rough',
        params: { depth: 0.8 + random() * 2, allowanceX: 0.4, allowanceZ: random() < 0.5 ? 0.2 : 0.1, undercuts, extendBehind: 2 },
      }),
      op({ id: 'finish', kind: 'outer-finish', tool: 'finish', params: { undercuts, extendBehind: 2 } }),
    ],
  );
  return {
    job,
    label: `seed ${seed} (${steady ? 'steady' : 'free'}, rough ${tools.rough.kind === 'turning' ? tools.rough.insert : ''}, finish ${tools.finish.kind === 'turning' ? tools.finish.insert : ''}, ${undercuts})`,
  };
};

describe('turning over random contours', () => {
  it(`never gouges, never runs a rapid through stock and never feeds in air beyond the safe distance (${CASES} cases from seed ${FIRST_SEED})`, { timeout: 1_200_000 }, () => {
    const failures: string[] = [];
    let planned = 0;
    for (let seed = FIRST_SEED; seed < FIRST_SEED + CASES; seed++) {
      const { job, label } = jobFor(seed);
      const derived = derive(job);
      if (derived.part.region.length === 0) continue;
      for (const o of derived.operations) {
        if (o.events.length > 0) planned++;
        for (const f of o.findings)
          if (['gouge', 'rapid-in-stock', 'holder-meets-stock', 'internal'].includes(f.code))
            failures.push(`${label} ${o.id}: ${f.code} ${JSON.stringify(f.numbers)} at ${f.at?.x.toFixed(2)},${f.at?.y.toFixed(2)} event ${f.event}`);
        if (o.section && o.events.length > 0) {
          const { air, run } = longestAir(o.events, o.section, o.before);
          const limit = job.holding.safeDistance + 0.5;
          if (air > limit) failures.push(`${label} ${o.id}: feeds ${air.toFixed(2)} mm in air (limit ${limit.toFixed(2)}) in the run at event ${run}`);
        }
      }
    }
    expect(failures.slice(0, 20)).toEqual([]);
    // most random cases must really cut, else this proves nothing
    expect(planned).toBeGreaterThan(CASES * 1.2);
  });
});
