import { describe, expect, it } from 'vitest';
import { demoJob } from '../../../tests/fixtures/jobs';
import { derive, type Job } from '../plan';
import { postJob, programText, proveJob } from './release';

const proved = (name: string, dialect: string, change: (job: Job) => void) => {
  const job = structuredClone(demoJob(name));
  job.machine.dialect = dialect;
  change(job);
  const d = derive(job);
  const posted = postJob(job, d, '');
  const proof = proveJob(job, d, posted.map(programText));
  expect(proof.channels.flatMap((c) => [...c.problems, ...c.differences])).toEqual([]);
  expect(proof.agrees).toBe(true);
  expect(proof.stock.thickness).toBeLessThan(0.001);
  return { text: programText(posted[0]), codes: d.findings.map((f) => f.code) };
};
const drills = (job: Job, params: Record<string, unknown>): void => {
  for (const o of Object.values(job.operations))
    if (o.kind === 'drill') Object.assign(o.params, { output: 'cycle', ...params });
};
const threads = (job: Job, params: Record<string, unknown>): void => {
  for (const o of Object.values(job.operations))
    if (o.kind === 'outer-thread' || o.kind === 'inner-thread') Object.assign(o.params, params);
};

describe('cycles that break chips, and threads a pass a block, from the plan through the text', () => {
  it('G74 in two blocks, with any way back', () => {
    const { text } = proved('LM-101', 'tarn-2', (j) => drills(j, { peck: 5, chips: 'break', back: 0.8 }));
    expect(text).toMatch(/G74 R0\.8\nG74 Z-[\d.]+ Q5000 F/);
  });
  it('G74 in one block where the way back is the control’s, and moves where it is not', () => {
    expect(proved('LM-101', 'tarn-1', (j) => drills(j, { peck: 5, chips: 'break', back: 0.5 })).text).toMatch(
      /G74 Z-[\d.]+ K5\. F/,
    );
    const other = proved('LM-101', 'tarn-1', (j) => drills(j, { peck: 5, chips: 'break', back: 0.8 }));
    expect(other.text).not.toContain('G74');
    expect(other.codes).toContain('cycle-not-possible');
  });
  it('as many pecks as the control counts, where the depth is whole pecks but for less than a step of its words', () => {
    for (const dialect of ['tarn-1', 'tarn-2'])
      for (const chips of ['clear', 'break'])
        for (const peck of [0.5, 1.00004, 3.33333])
          for (const off of [-0.0011, -0.0006, -0.0003, 0, 0.0002, 0.0004, 0.0007])
            proved('LM-101', dialect, (j) => {
              for (const id of Object.keys(j.operations)) j.operations[id].on = j.operations[id].kind === 'drill';
              drills(j, { peck, chips, back: 0.5, depth: 9 + off, depthTo: 'point' });
            });
  });
  it('pecks that become shorter are moves, with the reason', () => {
    const { text, codes } = proved('LM-101', 'tarn-2', (j) => drills(j, { peck: 8, keep: 80 }));
    expect(text).not.toMatch(/G83|G74/);
    expect(codes).toContain('cycle-not-possible');
  });
  it.each(['tarn-1', 'tarn-2', 'tarn-5'])('G92 outside and inside, %s', (dialect) => {
    const { text } = proved('LM-104', dialect, (j) => threads(j, { output: 'passes', infeed: 'straight' }));
    expect(text.match(/^G92 X[\d.]+ Z-[\d.]+ F1\.5$/gm)?.length).toBe(2);
  });
  it('G92 cannot come in along a flank: G32 moves, with the reason', () => {
    const { text, codes } = proved('LM-104', 'tarn-2', (j) => threads(j, { output: 'passes', infeed: 'flank' }));
    expect(text).not.toContain('G92');
    expect(text).toContain('G32');
    expect(codes).toContain('cycle-not-possible');
  });
});
