import { readFileSync } from 'node:fs';
import { beforeAll, describe, expect, it } from 'vitest';
import { demoJob } from '../../../tests/fixtures/jobs';
import { testKernel } from '../../../tests/fixtures/kernel';
import { demoFile } from '../../../tests/fixtures/parts';
import { bringSolid } from '../../solid/bring';
import { allElements, buildPart, type PartDocument, partFromHalf } from '../part';
import { derive } from './derive';
import type { Job } from './document';
import { reviseJob } from './revise';

const parts: Record<string, PartDocument> = {};
beforeAll(async () => {
  const oc = await testKernel();
  for (const name of ['LM-101', 'LM-101-B']) {
    const b = bringSolid(oc, readFileSync(demoFile(`solids/${name}.step`), 'utf8'));
    parts[name] = {
      ...(partFromHalf(b.half as NonNullable<typeof b.half>) as PartDocument),
      features: [...b.features],
    };
  }
});

/** The demo job's plan over the part as the solid gives it: rim, bore and face operations with spans of their own. */
const planned = (): Job => {
  const job = demoJob('LM-101');
  job.part = parts['LM-101'];
  for (const op of Object.values(job.operations)) if ('span' in op) op.span = null;
  const elements = buildPart(job.part).outer;
  const at = (z: number, d: number) =>
    elements.find((e) => Math.abs(e.curve.to.x - z) < 1e-6 && Math.abs(e.curve.to.y * 2 - d) < 1e-6)?.id as string;
  const [hub, rim] = [job.operations.op3, job.operations.op4];
  // hub: its face, chamfer and ⌀26; a span in the smaller belt groove; the V groove's first wall
  if ('span' in hub) hub.span = { from: at(0, 25), to: at(-1, 26) };
  if ('span' in rim) rim.span = { from: at(-7.2, 60), to: at(-8.7, 60) };
  return job;
};

describe('revision B of LM-101: rim ⌀58, V groove moved, small belt groove removed', () => {
  it('says what was kept, moved and lost', () => {
    const job = planned();
    const r = reviseJob(job, parts['LM-101-B'], 'B');
    const how = (id: string) => r.reattached.elements.find((e) => e.id === id)?.how;
    const before = buildPart(job.part).outer;
    const find = (d: number, z: number) =>
      before.find((e) => Math.abs(e.curve.to.x - z) < 1e-3 && Math.abs(e.curve.to.y * 2 - d) < 1e-3)?.id as string;
    // hub, recess and bore are as they were
    for (const [d, z] of [
      [25, 0],
      [26, -0.5],
      [26, -1],
      [34, -1],
      [46, -1],
    ])
      expect(how(find(d, z))).toBe('kept');
    expect(r.reattached.elements.filter((e) => e.side === 'inner').map((e) => e.how)).toEqual(['kept']);
    // rim and V groove moved, belt groove lost
    expect(how(find(60, -22 + 0.3))).toBe('moved');
    expect(how(find(60, -7.2))).toBe('lost');
    expect(r.reattached.features.filter((f) => f.how === 'lost').map((f) => f.feature.kind)).toContain('groove');
    const grooves = r.reattached.features.filter((f) => f.feature.kind === 'groove').map((f) => f.how);
    expect(grooves.sort()).toEqual(['lost', 'moved', 'moved']);
    expect(r.reattached.features.find((f) => f.feature.kind === 'face-groove')?.how).toBe('kept');
    expect(r.job.header.revision).toBe('B');
    expect(r.job.part.previous?.revision).toBe('A');
  });
  it('blocks only the operation that lost its span, with the reason; untouched ones are planned move for move as before', () => {
    const job = planned();
    const r = reviseJob(job, parts['LM-101-B'], 'B');
    const by = Object.fromEntries(r.operations.map((o) => [o.operation, o.how]));
    expect(by.op3).toBe('kept');
    expect(by.op4).toBe('lost');
    const old = derive(job);
    const now = derive(r.job);
    const events = (d: typeof old, id: string) => JSON.stringify(d.operations.find((o) => o.id === id)?.events);
    for (const [id, op] of Object.entries(job.operations)) {
      if (id === 'op4') continue;
      if (['face', 'drill', 'outer-rough', 'inner-rough', 'inner-finish'].includes(op.kind) && by[id] !== 'moved')
        expect(events(now, id), id).toBe(events(old, id));
    }
    const blocked = now.operations.find((o) => o.id === 'op4');
    expect(blocked?.state).toBe('blocked');
    expect(blocked?.findings.map((f) => f.code)).toContain('span-lost');
  });
  it('the same revision again keeps everything, ids too', () => {
    const job = planned();
    const r = reviseJob(job, parts['LM-101'], 'A2');
    expect(r.reattached.elements.every((e) => e.how === 'kept' && e.to === e.id)).toBe(true);
    expect(r.reattached.added).toEqual([]);
    expect(allElements(buildPart(r.job.part)).map((e) => e.id)).toEqual(
      allElements(buildPart(job.part)).map((e) => e.id),
    );
  });
  it('carries names and marks of features along', () => {
    const job = planned();
    const id = 'face-groove:-10:460';
    job.part = {
      ...job.part,
      notes: { [id]: { name: 'Spring seat', ignored: false, tolerance: 'H9', roughness: 1.6 } },
    };
    const r = reviseJob(job, parts['LM-101-B'], 'B');
    expect(r.job.part.notes?.[id]?.name).toBe('Spring seat');
  });
});
