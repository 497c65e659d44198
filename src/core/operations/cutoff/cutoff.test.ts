import { describe, expect, it } from 'vitest';
import { demoJob } from '../../../../tests/fixtures/jobs';
import { postJob, programText, proveJob } from '../../nc';
import { derive, type Job } from '../../plan';

const cutoffIn = (job: Job) => Object.values(job.operations).find((o) => o.kind === 'cutoff');
const made = (change: (params: Record<string, unknown>, job: Job) => void, name = 'LM-101') => {
  const job = structuredClone(demoJob(name));
  const op = cutoffIn(job);
  if (!op) throw new Error('no cutoff');
  change(op.params, job);
  const d = derive(job);
  const posted = postJob(job, d, '');
  return {
    op: d.operations.find((o) => o.id === op.id),
    text: programText(posted[0]),
    proof: proveJob(job, d, posted.map(programText)),
  };
};

describe('cutting off', () => {
  it('swings the catcher out before the part comes off, and in after, and waits each time', () => {
    const { op, text, proof } = made((p) => Object.assign(p, { catcher: true, catcherTime: 1.5 }));
    expect(proof.ok).toBe(true);
    const what = (op?.events ?? []).flatMap((e): (string | number)[] =>
      e.kind === 'device' ? [e.action] : e.kind === 'dwell' ? [e.seconds] : e.kind === 'feed' ? ['feed'] : [],
    );
    // the slow end of the cut lies between the two
    expect(what.slice(-5)).toEqual(['out', 1.5, 'feed', 'in', 1.5]);
    expect(text).toMatch(/M77\nG4 P1500\n[\s\S]*M78\nG4 P1500\n/);
  });
  it('is found out when the catcher is left out of the text', () => {
    const job = structuredClone(demoJob('LM-101'));
    Object.assign(cutoffIn(job)?.params ?? {}, { catcher: true });
    const d = derive(job);
    const text = programText(postJob(job, d, '')[0]).replace('M77\n', '');
    expect(proveJob(job, d, [text]).agrees).toBe(false);
  });
  it('wants a machine that has a catcher, and one button does without', () => {
    const { op } = made((p, job) => {
      p.catcher = true;
      job.machine.devices = [];
      for (const c of job.machine.channels) c.devices = [];
    });
    const told = op?.findings.find((f) => f.code === 'no-catcher');
    expect(told?.remedy?.set).toEqual({ [`/operations/${op?.id}/params/catcher`]: false });
  });
  it('says when the feed is much for the blade', () => {
    const codes = (feed: number): string[] =>
      made((_, job) => {
        const op = cutoffIn(job);
        if (op) op.cutting.feed = feed;
      }).op?.findings.map((f) => f.code) ?? [];
    expect(codes(0.24)).not.toContain('feed-over-blade');
    expect(codes(0.25)).toContain('feed-over-blade');
  });
  it('comes down slowly where more metal stands than the rim of the part', () => {
    // the bar behind a journal of smaller diameter that another tool has opened only part of the way
    const job = structuredClone(demoJob('LM-140'));
    const d = derive(job);
    expect(d.findings.filter((f) => f.severity === 'blocking')).toEqual([]);
    for (const o of Object.values(job.operations))
      if (o.id === 'op4' || o.id === 'op6') Object.assign(o.params, { extendBehind: 5 });
    expect(derive(job).findings.map((f) => f.code)).not.toContain('rapid-in-stock');
  });
});
