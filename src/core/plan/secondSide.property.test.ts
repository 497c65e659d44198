import { describe, expect, it } from 'vitest';
import { fromBar } from '../../../tests/fixtures/fromBar';
import { randomOuterRows, seeded } from '../../../tests/fixtures/random';
import { addTo } from '../../../tests/fixtures/secondSide';
import { tool } from '../../../tests/fixtures/turned';
import { regionVolume } from '../geometry';
import { postJob, programText, proveJob } from '../nc';
import { derive } from './derive';
import type { Job } from './document';

/** Random parts made from a bar, cut off, turned round by hand, and made again from their backs: both programs are proved. */

const CASES = Number(process.env.PROPERTY_CASES ?? 120);
const FIRST = Number(process.env.PROPERTY_SEED ?? 1 + Math.floor(Math.random() * 1e6));
const round = (v: number): number => Math.round(v * 100) / 100;

const bothSides = (seed: number): Job => {
  const random = seeded(seed);
  const made = randomOuterRows(random, random() < 0.5);
  const rows = made.rows.slice(0, -1);
  const least = Math.min(...rows.map((r) => (r.diameter ?? 0) / 2)) - 1.5;
  const bore = random() < 0.5 && least > 3.5 ? round(3 + random() * (least - 3)) : 0;
  const { length } = made;
  const rough = { undercuts: 'enter', allowanceX: 0.3, allowanceZ: 0.1, output: 'moves' };
  const job = fromBar({
    rows,
    length,
    bore,
    bar: Math.ceil(made.greatest * 2 + 0.5 + random() * 3),
    safeDistance: round(0.5 + random() * 1.5),
    breakThrough: 5,
    compensation: random() < 0.5 ? 'control' : 'computed',
    blade: tool({ id: 'blade', kind: 'cutoff', width: 3, cornerRadius: 0.2, reach: 45, overhang: 60 }),
    off: { edgeBreakFirst: random() < 0.5, leave: 0.5, pastCentre: 0.6 },
  });
  const [h1] = job.holdingOrder;
  job.holdings.h2 = {
    ...structuredClone(job.holdings[h1]),
    name: 'Second side',
    stock: { form: 'from', holding: h1, by: 'hand' },
    turned: true,
    grip: round(Math.min(10, length / 3)),
    workOffset: 'G55',
  };
  job.holdingOrder = [h1, 'h2'];
  addTo(job, 'h2', 'face', 'facing', 'b1');
  addTo(job, 'h2', 'outer-rough', 'facing', 'b2', rough);
  addTo(job, 'h2', 'outer-finish', 'finish', 'b3', { undercuts: 'enter' });
  return job;
};

describe('parts made from both sides', () => {
  it(`are sound, proved and whole (${CASES} cases from seed ${FIRST})`, { timeout: 600_000 }, () => {
    const failures: string[] = [];
    for (let seed = FIRST; seed < FIRST + CASES; seed++) {
      const job = bothSides(seed);
      const d = derive(job);
      if (d.part.region.length === 0) continue;
      for (const f of d.findings)
        if (f.severity === 'blocking')
          failures.push(`seed ${seed} ${f.operation}: ${f.code} ${JSON.stringify(f.numbers)}`);
      const proof = proveJob(job, d, postJob(job, d, '').map(programText));
      if (!proof.agrees)
        failures.push(`seed ${seed}: not proved, path ${proof.maxDeviation}, stock ${proof.stock.thickness}`);
      const part = regionVolume(d.part.region);
      const whole = regionVolume(d.finished.turnedOutline);
      if (whole < part * 0.999) failures.push(`seed ${seed}: ${whole} mm³ of ${part}`);
    }
    expect(failures).toEqual([]);
  });
});
