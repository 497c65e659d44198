import { describe, expect, it } from 'vitest';
import { shopTools } from '../../../../tests/fixtures/jobs';
import { seeded } from '../../../../tests/fixtures/random';
import { insideThreadJob, threadedJob } from '../../../../tests/fixtures/threads';
import { postJob, programText, proveJob } from '../../nc';
import { derive, type Job } from '../../plan';
import { pitchWithin, STANDARD_NAMES, type ThreadForm, threadByName } from '../../threads';

const CASES = Math.max(20, Math.round(Number(process.env.PROPERTY_CASES ?? 120) / 4));
const FIRST = Number(process.env.PROPERTY_SEED ?? 1 + Math.floor(Math.random() * 1e6));
const NAMES = STANDARD_NAMES.flat();
/** Widest hole that the drill of the fixture leaves for the bar, and the outside that its stock bears. */
const LEAST = { outer: 8, inner: 22 };

const toolsFor = (form: ThreadForm, side: 'outer' | 'inner'): string[] =>
  shopTools().flatMap((t) =>
    (t.kind === 'threading' || t.kind === 'threading-bar') &&
    (t.kind === 'threading') === (side === 'outer') &&
    t.cutter.angle === form.angle &&
    pitchWithin(form.pitch, t.cutter)
      ? [t.id]
      : [],
  );

/** A surface that is the thread's crest, a cone where it is tapered. */
const crested = (form: ThreadForm, rows: readonly unknown[]): void => {
  const list = rows as { diameter: number; z: number; corner: unknown }[];
  if (form.taper === 0) return;
  list[0].corner = null;
  list[1].diameter = Number((form.major - list[1].z * form.taper).toFixed(4));
  for (const r of list.slice(4)) r.diameter = r.diameter === 0 ? 0 : r.diameter + 3;
};

describe('standard threads', () => {
  it.each(NAMES)('%s is known by its name', (name) => {
    const form = threadByName(name);
    expect(form).toMatchObject({ standard: true });
    expect(form?.minor).toBeLessThan(form?.major ?? 0);
    expect(threadByName(form?.designation ?? '')).toEqual(form);
  });
  it(`are cut by every insert that says so, and proved in each form (${CASES} cases from seed ${FIRST})`, {
    timeout: 600_000,
  }, () => {
    let made = 0;
    for (let seed = FIRST; seed < FIRST + CASES; seed++) {
      const random = seeded(seed);
      const pick = <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)];
      const name = pick(NAMES);
      const side = pick(['outer', 'inner'] as const);
      const form = threadByName(name);
      if (!form || (side === 'outer' ? form.major : form.minor) < LEAST[side]) continue;
      const tools = toolsFor(form, side);
      if (tools.length === 0 || (side === 'inner' && form.taper > 0)) continue;
      const tool = pick(tools);
      const params = { thread: name, passes: 14, output: pick(['moves', 'cycle', 'passes']), starts: pick([1, 1, 2]) };
      const dialect = pick(['tarn-1', 'tarn-2', 'tarn-5'] as const);
      const change = (j: Job): void => {
        j.machine.dialect = dialect;
        if (side === 'outer') {
          crested(form, j.part.outer.rows);
          Object.assign(j.holdings.h1.stock, { diameter: form.major + 16 });
        }
      };
      const common = { tool, params, speed: 300 };
      const job =
        side === 'outer'
          ? threadedJob({ ...common, diameter: form.major, relief: { diameter: form.major - 4.5, width: 10 } }, change)
          : insideThreadJob({ ...common, bore: Number(form.minor.toFixed(4)) }, change);
      const what = JSON.stringify({ seed, name, side, tool, params, dialect });
      const d = derive(job);
      const blocking = d.findings.filter((f) => f.severity === 'blocking').map((f) => f.code);
      expect(blocking, what).toEqual([]);
      const passes = d.operations.find((o) => o.id === 'thread')?.events.filter((e) => e.kind === 'thread') ?? [];
      for (const p of passes) expect(p.kind === 'thread' && p.lead, what).toBeCloseTo(form.pitch * params.starts, 9);
      expect(passes.length, what).toBeGreaterThan(params.starts);
      const proof = proveJob(job, d, postJob(job, d, '').map(programText));
      expect(proof.agrees, what).toBe(true);
      made++;
    }
    expect(made).toBeGreaterThan(CASES / 4);
  });
});
