import { describe, expect, it } from 'vitest';
import { OUTPUTS, randomBore, randomOutside } from '../../../tests/fixtures/randomJobs';
import { rasterOf, rasterStock } from '../../../tests/fixtures/raster';
import { derive, type Job, rawStockOf } from '../plan';
import { postJob, programText, proveJob } from './release';

const CASES = Number(process.env.PROVED_CASES ?? 200);
const FIRST = Number(process.env.PROPERTY_SEED ?? 1 + Math.floor(Math.random() * 1e6));

const KINDS: [string, (seed: number) => Job][] = [
  ['outside, right hand', (seed) => randomOutside(seed, 'right', OUTPUTS[seed % 3])],
  ['outside, left hand', (seed) => randomOutside(seed, 'left', OUTPUTS[seed % 3])],
  ['bore', (seed) => randomBore(seed, OUTPUTS[seed % 3])],
];

describe('random jobs as moves, compensated and as cycles', () => {
  it.each(KINDS)(
    `%s: nothing blocks, the text is the plan (from seed ${FIRST})`,
    { timeout: 900_000 },
    (_name, make) => {
      const failures: string[] = [];
      let cut = 0;
      for (let seed = FIRST; seed < FIRST + Math.ceil(CASES / 3); seed++) {
        const job = make(seed);
        const d = derive(job);
        if (d.part.region.length === 0) continue;
        cut += d.operations.filter((o) => o.events.length > 0).length;
        const proof = proveJob(job, d, postJob(job, d, '').map(programText));
        for (const f of d.findings)
          if (f.severity === 'blocking')
            failures.push(`seed ${seed} ${f.operation}: ${f.code} ${JSON.stringify(f.numbers)}`);
        if (!proof.agrees || proof.maxDeviation > 0.001)
          failures.push(
            `seed ${seed}: not proved, path ${proof.maxDeviation}, stock ${proof.stock.thickness} ${JSON.stringify(proof.channels[0].problems.slice(0, 2))}`,
          );
      }
      expect(failures.slice(0, 10)).toEqual([]);
      expect(cut).toBeGreaterThan(CASES / 3);
    },
  );
  it('leave the stock that a raster of 0.05 mm leaves', { timeout: 600_000 }, () => {
    const failures: string[] = [];
    for (let k = 0; k < Math.max(4, CASES / 20); k++) {
      const [name, make] = KINDS[k % 3];
      const job = make(FIRST + k);
      const d = derive(job);
      if (d.part.region.length === 0) continue;
      const apart = rasterStock(d).difference(
        rasterOf((d.operations.at(-1)?.after ?? rawStockOf(d)).turnedOutline, rawStockOf(d).turnedOutline),
      );
      // cells that the outline crosses may fall either way; a layer of two cells is a difference
      if (apart > 0) failures.push(`seed ${FIRST + k} ${name}: ${apart} cells in layers of two or more`);
    }
    expect(failures).toEqual([]);
  });
});
