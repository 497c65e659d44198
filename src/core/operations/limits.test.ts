import { describe, expect, it } from 'vitest';
import { groovedJob } from '../../../tests/fixtures/grooves';
import { demoJob, lineRow, shopTool } from '../../../tests/fixtures/jobs';
import { randomBore, randomOutside } from '../../../tests/fixtures/randomJobs';
import { regionArea, subtractRegion } from '../geometry';
import { movesOf } from '../motion';
import { postJob, programText, proveJob } from '../nc';
import { candidatesFor, derive, type Job } from '../plan';

const FIRST = Number(process.env.PROPERTY_SEED ?? 1 + Math.floor(Math.random() * 1e6));
const cutsOf = (job: Job, id: string) =>
  movesOf(derive(job).operations.find((o) => o.id === id)?.events ?? []).filter((m) => m.event.kind !== 'rapid');

describe('a limit on diameter', () => {
  const limited = (job: Job, kinds: string, limit: number): Job => {
    const made = structuredClone(job);
    for (const o of Object.values(made.operations))
      if (o.kind.startsWith(kinds) && 'diameterLimit' in o.params) Object.assign(o.params, { diameterLimit: limit });
    return made;
  };
  it('is not passed by the tip, outside toward the axis', () => {
    for (let seed = FIRST; seed < FIRST + 6; seed++) {
      const job = limited(randomOutside(seed, seed % 2 ? 'right' : 'left', ['moves', 'computed']), 'outer', 24);
      const d = derive(job);
      if (d.part.region.length === 0) continue;
      expect(d.findings.filter((f) => f.severity === 'blocking')).toEqual([]);
      for (const id of ['rough', 'finish'])
        for (const m of cutsOf(job, id)) expect(m.to.X).toBeGreaterThanOrEqual(12 - 1e-6);
      expect(proveJob(job, d, postJob(job, d, '').map(programText)).agrees).toBe(true);
    }
  });
  it('is not passed in a bore, away from the axis', () => {
    for (let seed = FIRST; seed < FIRST + 4; seed++) {
      const job = limited(randomBore(seed, ['moves', 'computed']), 'inner', 20);
      for (const o of Object.values(job.operations))
        if (o.kind.startsWith('inner'))
          for (const m of cutsOf(job, o.id)) expect(m.to.X).toBeLessThanOrEqual(10 + 1e-6);
    }
  });
  it('is kept by passes across the axis too', () => {
    const job = limited(randomOutside(FIRST, 'right', ['moves', 'computed']), 'outer', 30);
    for (const o of Object.values(job.operations)) if (o.kind === 'outer-rough') o.params.along = 'x';
    for (const m of cutsOf(job, 'rough')) expect(m.to.X).toBeGreaterThanOrEqual(15 - 1e-6);
  });
  it('is nothing that a cycle of the control knows', () => {
    const d = derive(limited(demoJob('LM-101'), 'outer', 40));
    const rough = d.operations.find((o) => o.id === 'op3');
    expect(rough?.events.some((e) => e.kind === 'cycle')).toBe(false);
    expect(rough?.findings.map((f) => f.code)).toContain('cycle-not-possible');
  });
});

describe('a back limit in front of the bottom of a bore', () => {
  const roughed = (seed: number, along: 'contour' | 'z', backLimit: number) => {
    const job = randomBore(seed, ['moves', 'computed']);
    const op = Object.values(job.operations).find((o) => o.kind === 'inner-rough');
    Object.assign(op?.params ?? {}, { along, backLimit });
    return derive(job).operations.find((o) => o.id === op?.id);
  };
  const leftBy = (seed: number, backLimit: number): number => {
    const [contour, levels] = (['contour', 'z'] as const).map((a) => roughed(seed, a, backLimit));
    const left = subtractRegion(contour?.after.turnedOutline ?? [], levels?.after.turnedOutline ?? []);
    return regionArea(left);
  };
  it('is faced by passes along the contour as by levels: nothing stays between their bottoms and the limit', () => {
    for (const [seed, limit] of [
      [1038, -9.2],
      [964, -13.3],
      [5114, -19.9],
    ])
      expect(leftBy(seed, limit), `${seed}`).toBeLessThan(0.1);
  });
  it('is left straight away: a cut that ends on a wall does not go back the way it came', () => {
    const events = roughed(1038, 'contour', -9.2)?.events ?? [];
    const outs = movesOf(events).filter((m) => m.event.kind !== 'rapid' && m.event.purpose === 'lead-out');
    expect(outs.length).toBeGreaterThan(5);
    for (const m of outs) expect(Math.hypot(m.to.X - m.from.X, m.to.Z - m.from.Z)).toBeLessThan(0.51);
  });
});

describe('a recess that lacks its rear wall', () => {
  /** ⌀50 collar in front, ⌀42 behind it to the back end. */
  const job = (): Job =>
    groovedJob(
      {
        diameter: 50,
        length: 30,
        outer: [lineRow('c', 50, -10), lineRow('w', 42, -10), lineRow('r', 42, -24), lineRow('u', 50, -24)],
      },
      { kind: 'outer-groove', tool: shopTool('groove-3'), span: { from: 'w', to: 'r' } },
    );
  it('is closed where the span ends, and cut', () => {
    const made = job();
    const d = derive(made);
    expect(d.findings.filter((f) => f.severity === 'blocking')).toEqual([]);
    const left = d.coverage.filter((c) => c.element === 'w' || c.element === 'r').map((c) => c.left);
    expect(Math.max(...left)).toBeLessThan(0.21);
    expect(proveJob(made, d, postJob(made, d, '').map(programText)).agrees).toBe(true);
  });
  it('is offered to blades when its floor is picked', () => {
    const made = job();
    delete made.operations.groove;
    made.order['1'] = made.order['1'].filter((id) => id !== 'groove');
    made.part.outer.rows = made.part.outer.rows.filter((r) => r.id !== 'u');
    const last = made.part.outer.rows.find((r) => r.id === 'y');
    if (last) last.diameter = 42;
    const found = candidatesFor(made, { from: 'r', to: 'r' }, 'outer', 'h1');
    expect(found.some((c) => c.kind === 'outer-groove' && c.reach > 0.9)).toBe(true);
  });
});
