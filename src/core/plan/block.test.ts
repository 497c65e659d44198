import { describe, expect, it } from 'vitest';
import { demoJob } from '../../../tests/fixtures/jobs';
import { postJob, programText, proveJob } from '../nc';
import { mountedAt, usualMount } from '../tooling';
import { derive } from './derive';
import type { Job } from './document';

/** LM-118 with a second tool in the block of its facing tool. */
const withBlock = (at: { x: number; z: number }, second = 'groove'): { job: Job; station: string; facing: string } => {
  const job = structuredClone(demoJob('LM-118')) as Job;
  const facing = Object.values(job.operations).find((o) => o.kind === 'face')?.tool as string;
  const place = mountedAt(job.mounts, facing);
  if (!place) throw new Error('the facing tool stands nowhere');
  job.tools[second] = { ...structuredClone(job.tools[facing]), id: second, name: 'second in the block' };
  // mounts are never changed in place
  job.mounts = structuredClone(job.mounts);
  job.mounts[place.carrier][place.station]['2'] = { ...usualMount(second), offset: 21, at };
  return { job, station: place.station, facing };
};
const codes = (job: Job, id: string): string[] =>
  derive(job)
    .operations.filter((o) => o.operation === id)
    .flatMap((o) => o.findings.map((f) => f.code));

describe('several tools in one block', () => {
  const face = (job: Job): string => Object.values(job.operations).find((o) => o.kind === 'face')?.id as string;

  it('a tool beside the one that cuts must keep clear of the work like any other', () => {
    // 12 mm further back along Z it reaches into the bar while its neighbour faces
    const { job } = withBlock({ x: 0, z: -12 });
    expect(codes(job, face(job))).toContain('turret-meets-stock');
    // 150 mm further out it stands in front of everything
    const { job: clear } = withBlock({ x: 0, z: 150 });
    expect(codes(clear, face(clear))).not.toContain('turret-meets-stock');
  });

  it('is called by its station with an offset of its own, the slide standing where the block puts it', () => {
    const { job, facing } = withBlock({ x: 0, z: 150 });
    const id = face(job);
    // the second tool faces in the place of the first; the slide stands 150 mm further back for that
    const other = structuredClone(job);
    other.operations[id].tool = 'groove';
    const derived = derive(other);
    const first = derive(job).operations.find((o) => o.operation === id);
    const made = derived.operations.find((o) => o.operation === id);
    expect(made?.section?.gauge.x).toBeCloseTo((first?.section?.gauge.x ?? 0) - 150, 9);
    // so far back the turret itself comes over the work: that is told
    expect(made?.findings.map((f) => f.code)).toContain('turret-meets-stock');
    const call = made?.events.find((e) => e.kind === 'tool');
    expect(call).toMatchObject({ station: Number(mountedAt(other.mounts, facing)?.station), offset: 21 });
  });

  it('a tool that stands nearer to the chuck than its neighbour works, and the program is the plan', () => {
    const { job, facing } = withBlock({ x: 0, z: 0 });
    const id = face(job);
    const place = mountedAt(job.mounts, facing);
    const carrier = place?.carrier as string;
    const station = place?.station as string;
    // a block of its own: an idle tool in front, the one that faces 60 mm nearer to the chuck
    const { 2: second, ...first } = job.mounts[carrier][station];
    job.tools.idle = { ...structuredClone(job.tools.groove), id: 'idle', name: 'idle' };
    job.mounts = {
      ...job.mounts,
      [carrier]: {
        ...job.mounts[carrier],
        [station]: first,
        11: { 1: usualMount('idle'), 2: { ...second, at: { x: 0, z: -60 } } },
      },
    };
    job.operations[id].tool = 'groove';
    const derived = derive(job);
    const blocking = derived.findings.filter((f) => f.severity === 'blocking').map((f) => f.code);
    expect(blocking).toEqual([]);
    const texts = postJob(job, derived, '').map(programText);
    expect(texts[0]).toContain('T1121');
    const proof = proveJob(job, derived, texts);
    expect(proof.channels.flatMap((c) => c.problems)).toEqual([]);
    expect(Math.max(...proof.channels.map((c) => c.maxDeviation))).toBeLessThan(1e-3);
    // called with the offset of its neighbour it is another tool
    const wrong = proveJob(
      job,
      derived,
      texts.map((t) => t.replaceAll('T1121', 'T1111')),
    );
    expect(wrong.channels[0].differences.length + wrong.channels[0].problems.length).toBeGreaterThan(0);
  });

  it('two tools of one block with one offset are told by their places', () => {
    const { job, station } = withBlock({ x: 0, z: 150 });
    job.mounts[Object.keys(job.mounts)[0]][station]['2'].offset = null;
    const found = derive(job).findings.find((f) => f.code === 'duplicate-station');
    expect(found?.numbers).toMatchObject({ stations: `${station}, position 1 and ${station}, position 2` });
  });
});
