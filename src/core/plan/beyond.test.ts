import { describe, expect, it } from 'vitest';
import { lineRow } from '../../../tests/fixtures/jobs';
import { operation, steppedPin, tool, turnedJob } from '../../../tests/fixtures/turned';
import { intersectRegions, rectangle, regionArea, subtractRegion } from '../geometry';
import { isMove } from '../motion';
import { postJob, programText, proveJob } from '../nc';
import { beyondAxis, toolSection, worksFrom } from '../tooling';
import { candidatesFor } from './candidates';
import { derive } from './derive';
import type { Job } from './document';

const BAR = tool({
  id: 'bar',
  kind: 'boring',
  insert: 'CCMT060204',
  approachAngle: 95,
  barDiameter: 12,
  noseToAxis: 7,
  overhang: 60,
});
const FINE = tool({ id: 'fine', kind: 'turning', insert: 'DCMT11T304', approachAngle: 93, overhang: 60 });
const FACING = tool({ id: 'facing', kind: 'turning', insert: 'CNMG120408', approachAngle: 95, overhang: 60 });

/** A stepped pin ⌀20/⌀30 that is finished by one of two tools, the boring bar beyond the centre line. */
const pin = (
  by: 'bar' | 'fine',
  params: Record<string, unknown> = {},
  change: (job: Job) => void = () => undefined,
): Job => {
  const job = steppedPin({ tools: [BAR], by, rough: { allowanceX: 0.8 }, finish: params });
  job.mounts.upper['3']['1'].beyond = true;
  change(job);
  return job;
};
const made = (job: Job) => {
  const d = derive(job);
  const op = d.operations.find((o) => o.id === 'finish');
  if (!op) throw new Error('no finish');
  const texts = postJob(job, d, '').map(programText);
  return { d, op, text: texts[0], proof: proveJob(job, d, texts) };
};
const serious = (job: Job): string[] =>
  derive(job).findings.flatMap((f) => (f.severity === 'info' ? [] : [`${f.operation} ${f.code}`]));

describe('a tool beyond the centre line', () => {
  it('is the tool mirrored about the axis: a boring bar works from outside, reversed, and twice mirrored it is itself', () => {
    const own = toolSection(BAR, 'usual');
    if (!own.ok) throw new Error('no section');
    const there = beyondAxis(own.section);
    expect([worksFrom(own.section), worksFrom(there)]).toEqual(['inner', 'outer']);
    expect([own.section.tipNumber, there.tipNumber]).toEqual([2, 3]);
    expect(there.spindle).not.toBe(own.section.spindle);
    const back = beyondAxis(there);
    expect([back.tip, back.gauge, back.tipNumber, worksFrom(back)]).toEqual([
      own.section.tip,
      own.section.gauge,
      2,
      'inner',
    ]);
  });
  it.each(['computed', 'control'])(
    'turns an outside with X negative and the spindle reversed, proved, nose %s',
    (compensation) => {
      const job = pin('bar', { compensation });
      const { d, op, text, proof } = made(job);
      expect(d.findings.filter((f) => f.severity === 'blocking')).toEqual([]);
      const cuts = op.events.filter((e) => isMove(e) && e.purpose === 'cut');
      expect(cuts.length).toBeGreaterThan(3);
      for (const e of cuts) if (isMove(e) && e.to.X !== undefined) expect(e.to.X).toBeLessThan(0);
      // the tool change stays on the slide's own side
      for (const e of op.events)
        if (e.kind === 'rapid' && e.purpose === 'tool-change') expect(e.to.X).toBeGreaterThan(0);
      const own = text.slice(text.lastIndexOf('T03'));
      expect(own).toMatch(/G96 S180 M4/);
      expect(own).toMatch(/X-20\.?\n|X-20\. /);
      if (compensation === 'control') expect(own).toMatch(/G41/);
      expect(proof.channels.flatMap((c) => [...c.problems, ...c.differences])).toEqual([]);
      expect(proof.maxDeviation).toBeLessThanOrEqual(0.001);
      expect(proof.stock.thickness).toBeLessThanOrEqual(0.002);
    },
  );
  it('leaves what an outside tool leaves', () => {
    const leftBy = (by: 'bar' | 'fine') =>
      intersectRegions(made(pin(by)).op.after.turnedOutline, rectangle(-24, 0, 1, 40));
    const [a, b] = [leftBy('bar'), leftBy('fine')];
    // both noses are 0.4; they differ in the corner at the shoulder alone, where neither comes in
    expect(regionArea(subtractRegion(a, b)) + regionArea(subtractRegion(b, a))).toBeLessThan(0.05);
  });
  it('is held by the travel of the slide beyond the axis', () => {
    const tight = pin('bar', {}, (job) => {
      const link = job.machine.links.find((l) => l.joint?.axis === 'X');
      if (link?.joint) link.joint.min = 0;
    });
    expect(serious(tight)).toContain('finish travel-x');
  });
  it('is offered for what it can do there, and refused for what it cannot', () => {
    const job = pin('bar');
    delete job.operations.finish;
    job.order['1'] = ['face', 'rough'];
    const found = candidatesFor(job, null, 'outer', job.holdingOrder[0]);
    expect(found.filter((c) => c.tool === 'bar' && c.reach > 0.5).map((c) => c.kind)).toContain('outer-finish');
    expect(found.filter((c) => c.tool === 'bar').map((c) => c.kind)).not.toContain('inner-finish');
    const here = pin('bar', {}, (j) => {
      j.mounts.upper['3']['1'].beyond = false;
    });
    expect(serious(here)).toContain('finish wrong-tool');
  });
  it('an outside tool does not come into a through bore there: its shank would stand in the wall in front of the axis', () => {
    const ring = (bore: number): Job => {
      const job = turnedJob({
        start: bore,
        outer: [lineRow('a', 120, 0), lineRow('b', 120, -14), lineRow('c', bore, -14)],
        inner: [lineRow('i', bore, -14)],
        bar: 122,
        length: 14,
        frontAllowance: 1,
        tools: [
          // long enough to come over the ring
          { ...FACING, stickOut: 75 },
          { ...FINE, stickOut: 130 },
          tool({ id: 'drill', kind: 'drill', diameter: 20, pointAngle: 140, fluteLength: 70, overhang: 90 }),
          BAR,
        ],
        operations: [
          operation({ id: 'face', kind: 'face', tool: 'facing', params: { depth: 1 } }),
          operation({
            id: 'drill',
            kind: 'drill',
            tool: 'drill',
            cutting: { speed: { mode: 'fixed', value: 800 }, feed: 0.15 },
            params: { depth: null, breakThrough: 3, peck: 5, output: 'moves' },
          }),
          operation({ id: 'rough', kind: 'inner-rough', tool: 'bar', params: { depth: 2, allowanceX: 0.6 } }),
          operation({ id: 'finish', kind: 'inner-finish', tool: 'fine', params: {} }),
        ],
      });
      job.mounts.upper['2']['1'].beyond = true;
      return job;
    };
    const { d, op } = made(ring(60));
    expect(d.findings.flatMap((f) => (f.severity === 'blocking' ? [`${f.operation} ${f.code}`] : []))).toEqual([
      'finish bar-too-thick',
    ]);
    expect(op.events).toEqual([]);
  });
});
