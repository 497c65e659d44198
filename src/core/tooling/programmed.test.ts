import { describe, expect, it } from 'vitest';
import { groovedJob, grooveRows } from '../../../tests/fixtures/grooves';
import { demoJob, shopTool } from '../../../tests/fixtures/jobs';
import { regionVolume } from '../geometry';
import { movesOf } from '../motion';
import { postJob, programText, proveJob } from '../nc';
import { derive, type Job } from '../plan';
import type { Mount } from './mount';
import { programmedAt } from './section';
import { toolSection } from './tool';

const grooved = (point: Mount['point']): Job =>
  groovedJob(
    { diameter: 50, length: 36, outer: grooveRows(-10, { width: 8, depth: 4, diameter: 50 }) },
    { kind: 'outer-groove', tool: shopTool('groove-3'), span: { from: 'g1', to: 'g3' } },
    (j) => {
      j.mounts.upper['9']['1'].point = point;
    },
  );
const placesOf = (job: Job, id: string) => {
  const d = derive(job);
  const proof = proveJob(job, d, postJob(job, d, '').map(programText));
  expect(d.findings.filter((f) => f.severity === 'blocking')).toEqual([]);
  expect(proof.channels.flatMap((c) => [...c.problems, ...c.differences])).toEqual([]);
  expect(proof.agrees).toBe(true);
  const op = d.operations.find((o) => o.id === id);
  const at = movesOf(op?.events ?? [])
    .filter((m) => m.event.purpose === 'cut')
    .map((m) => m.to);
  return { at, after: op?.after.turnedOutline ?? [], limits: op?.findings ?? [] };
};

describe('the point that a program names', () => {
  it('is a blade’s other corner: all places lie one blade further on, the groove is the same', () => {
    const [first, other] = [placesOf(grooved('tip'), 'groove'), placesOf(grooved('other'), 'groove')];
    expect(other.at.length).toBe(first.at.length);
    for (const [i, p] of other.at.entries()) {
      expect(p.Z - first.at[i].Z).toBeCloseTo(3, 9);
      expect(p.X).toBeCloseTo(first.at[i].X, 9);
    }
    expect(regionVolume(other.after)).toBeCloseTo(regionVolume(first.after), 6);
  });
  it('is the centre of the nose: all places lie one nose radius off', () => {
    const [tip, centre] = [placesOf(grooved('tip'), 'groove'), placesOf(grooved('centre'), 'groove')];
    const rho = 0.2;
    for (const [i, p] of centre.at.entries()) {
      expect(p.Z - tip.at[i].Z).toBeCloseTo(rho, 9);
      expect(p.X - tip.at[i].X).toBeCloseTo(rho, 9);
    }
  });
  it.each(['computed', 'control'])('may be the centre for turning too, nose %s, and bores', (compensation) => {
    for (const name of ['LM-101', 'LM-118', 'LM-155']) {
      const job = structuredClone(demoJob(name));
      for (const stations of Object.values(job.mounts))
        for (const positions of Object.values(stations)) for (const m of Object.values(positions)) m.point = 'centre';
      for (const o of Object.values(job.operations))
        if ('compensation' in o.params) Object.assign(o.params, { compensation, output: 'moves' });
      const [last] = job.order['1'].slice(-1);
      expect(placesOf(job, last).at.length).toBeGreaterThan(0);
    }
  });
  it('moves the gauge point with it, so that the slide stands where it stood', () => {
    const made = toolSection(shopTool('groove-3'));
    if (!made.ok) throw new Error('unreadable');
    for (const which of ['other', 'centre'] as const) {
      const s = programmedAt(made.section, which);
      expect(s.tip.x + s.gauge.x).toBeCloseTo(made.section.tip.x + made.section.gauge.x, 9);
      expect(s.tip.y + s.gauge.y).toBeCloseTo(made.section.tip.y + made.section.gauge.y, 9);
      expect(s.works).toBe('outer');
    }
    expect(programmedAt(made.section, 'other').tipNumber).toBe(4);
    expect(programmedAt(made.section, 'centre').tipNumber).toBe(9);
  });
  it('stays the tip where there is no other', () => {
    const made = toolSection(shopTool('drill-7'));
    if (made.ok)
      for (const which of ['other', 'centre'] as const) expect(programmedAt(made.section, which)).toBe(made.section);
  });
});
