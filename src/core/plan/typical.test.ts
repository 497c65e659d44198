import { describe, expect, it } from 'vitest';
import { seeded } from '../../../tests/fixtures/random';
import { programmed, TYPICAL_PARTS, unmade } from '../../../tests/fixtures/typical';
import { postJob, programText, proveJob } from '../nc';

const SEED = Number(process.env.PROPERTY_SEED ?? Math.floor(Math.random() * 1e6));
/** Each takes a second or two: some of them each time, all of them once in a while. */
const random = seeded(SEED);
const names = Object.keys(TYPICAL_PARTS)
  .map((name) => ({ name, at: random() }))
  .sort((a, b) => a.at - b.at)
  .slice(0, process.env.DEEP ? undefined : 5)
  .map((k) => k.name);

describe(`parts programmed from what is offered first (seed ${SEED})`, () => {
  it.each(names)('%s: made whole, nothing blocks, the text is the plan', (name) => {
    const { job, derived, took } = programmed(TYPICAL_PARTS[name]);
    expect(derived.part.problems).toEqual([]);
    expect(derived.findings.filter((f) => f.severity === 'blocking')).toEqual([]);
    expect(took.at(-1)).toMatch(/^cutoff /);
    expect(unmade(derived), took.join(', ')).toEqual([]);
    const proof = proveJob(job, derived, postJob(job, derived, '').map(programText));
    expect(proof.channels.flatMap((c) => [...c.problems, ...c.differences])).toEqual([]);
    expect(proof.agrees).toBe(true);
  });
});
