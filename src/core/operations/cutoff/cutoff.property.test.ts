import { describe, expect, it } from 'vitest';
import { fromBar } from '../../../../tests/fixtures/fromBar';
import { randomOuterRows, seeded } from '../../../../tests/fixtures/random';
import { regionBounds, regionVolume } from '../../geometry';
import { postJob, programText, proveJob } from '../../nc';
import { derive, type Job } from '../../plan';
import { ToolSchema } from '../../tooling';

/** Random parts cut off with random blades, solid or from a bore, with or without an edge broken first and metal left behind. */

const CASES = Number(process.env.PROPERTY_CASES ?? 120);
const FIRST = Number(process.env.PROPERTY_SEED ?? 1 + Math.floor(Math.random() * 1e6));
const round = (v: number): number => Math.round(v * 100) / 100;

interface Made {
  readonly job: Job;
  readonly length: number;
  readonly leave: number;
  readonly bore: number;
}

const cutoffJob = (seed: number): Made => {
  const random = seeded(seed);
  const made = randomOuterRows(random, random() < 0.6);
  const rows = made.rows.slice(0, -1);
  // the edge at the back that the blade may break
  const q = random();
  const size = round(0.2 + random() * 0.8);
  const end = rows[rows.length - 1];
  if (end.kind === 'line') end.corner = q < 0.4 ? { kind: 'chamfer', size } : q < 0.6 ? { kind: 'fillet', size } : null;
  const least = Math.min(...rows.map((r) => (r.diameter ?? 0) / 2)) - 1.5;
  const bore = random() < 0.4 && least > 3 ? round(2.5 + random() * (least - 2.5)) : 0;
  const leave = random() < 0.3 ? round(random() * 1.5) : 0;
  const width = round(1.5 + random() * 2.5);
  const cornerRadius = round(0.05 + random() * 0.25);
  const bar = Math.ceil(made.greatest * 2 + 0.5 + random() * 3);
  const lead = random() < 0.4 ? round(random() * 12) : 0;
  const job = fromBar({
    rows,
    length: made.length,
    bore,
    bar,
    safeDistance: round(0.5 + random() * 2),
    breakThrough: leave + width + 2,
    compensation: 'computed',
    blade: ToolSchema.parse({
      id: 'blade',
      name: 'blade',
      kind: 'cutoff',
      stickOut: 60,
      cutter: { kind: 'blade', width, cornerRadius, reach: 45, leadAngle: lead, material: 'carbide' },
      holder: { kind: 'block', side: 20 },
    }),
    off: { edgeBreakFirst: random() < 0.7, leave, pastCentre: round(0.3 + cornerRadius + random() * 0.4) },
  });
  return { job, length: made.length, leave, bore };
};

describe('cutting off', () => {
  it(`takes every part off behind its back and never into it (${CASES} cases from seed ${FIRST})`, {
    timeout: 300_000,
  }, () => {
    const failures: string[] = [];
    let off = 0;
    for (let seed = FIRST; seed < FIRST + CASES; seed++) {
      const { job, length, leave, bore } = cutoffJob(seed);
      const d = derive(job);
      if (d.part.problems.length > 0 || d.part.region.length === 0) continue;
      const blocking = d.findings.filter((f) => f.severity === 'blocking');
      // a lead angle wants a longer way past the centre: then it says so, and the part stays on
      if (blocking.some((f) => f.code === 'not-severed')) continue;
      for (const f of blocking) failures.push(`seed ${seed} ${f.operation}: ${f.code} ${JSON.stringify(f.numbers)}`);
      const proof = proveJob(job, d, postJob(job, d, '').map(programText));
      if (!proof.agrees)
        failures.push(
          `seed ${seed}: path ${proof.maxDeviation}, stock ${proof.stock.thickness} ${JSON.stringify(proof.channels[0].problems.slice(0, 2))}`,
        );
      const piece = d.finished.turnedOutline;
      if (piece.length === 0) {
        failures.push(`seed ${seed}: nothing came off`);
        continue;
      }
      const b = regionBounds(piece);
      // as long as the part and what is left behind it; a lead angle leaves less nowhere
      if (Math.abs(b.maxX - b.minX - length - leave) > 0.01 && blocking.length === 0)
        failures.push(`seed ${seed}: the piece is ${b.maxX - b.minX} long, not ${length + leave}`);
      const part = regionVolume(d.part.region);
      if (regionVolume(piece) < part - 0.002 * part) failures.push(`seed ${seed}: less than the part, bore ${bore}`);
      off++;
    }
    expect(failures.slice(0, 8)).toEqual([]);
    expect(off).toBeGreaterThan(CASES / 2);
  });
});
