import { describe, expect, it } from 'vitest';
import { lineRow } from '../../../../tests/fixtures/jobs';
import { operation, turnedJob } from '../../../../tests/fixtures/turned';
import { isMove } from '../../motion';
import { postJob, programText, proveJob } from '../../nc';
import { derive, type Job } from '../../plan';
import { centringDepth, type ToolOf, ToolSchema } from '../../tooling';

const drill = ToolSchema.parse({
  id: 'centre',
  name: 'Centre drill 2',
  kind: 'centring',
  cutter: { kind: 'centre-drill', pilot: 2, pilotLength: 2.5, body: 5 },
  holder: { kind: 'sleeve', diameter: 20, length: 30 },
  stickOut: 22,
}) as ToolOf<'centring'>;

/** A pin whose front has a centre hole DIN 332 A2 × 4.25. */
const pin = (params: Record<string, unknown> = {}, times = 1): Job => {
  const depth = centringDepth(drill.cutter, 4.25);
  const tip = 1 / Math.tan((59 * Math.PI) / 180);
  return turnedJob({
    start: 4.25,
    outer: [lineRow('o1', 20, 0), lineRow('o2', 20, -30), lineRow('o3', 0, -30)],
    inner: [lineRow('i1', 2, -(depth - 2.5)), lineRow('i2', 2, -(depth - tip)), lineRow('i3', 0, -depth)],
    bar: 20,
    length: 30,
    tools: [drill],
    operations: Array.from({ length: times }, (_, i) =>
      operation({
        id: `c${i}`,
        kind: 'centre',
        tool: 'centre',
        cutting: { speed: { mode: 'fixed', value: 2000 }, feed: 0.05 },
        params,
      }),
    ),
  });
};

describe('centre drilling', () => {
  it('goes so deep that the 60° seat has the mouth of DIN 332 at the face', () => {
    const d = derive(pin());
    expect(d.findings.filter((f) => f.severity === 'blocking')).toEqual([]);
    const depths = d.operations[0].events.flatMap((e) => (isMove(e) && e.kind === 'feed' ? [e.to.Z ?? 0] : []));
    // 2.5 + (4.25 − 2)/2 / tan 30°
    expect(Math.min(...depths)).toBeCloseTo(-4.448557, 5);
  });
  it('takes a cone, a cylinder and a cone’s frustum', () => {
    const tip = 1 / Math.tan((59 * Math.PI) / 180);
    const seat = (4.25 - 2) / 2 / Math.tan(Math.PI / 6);
    const point = (Math.PI * tip) / 3;
    const pilot = Math.PI * (2.5 - tip);
    const frustum = ((Math.PI * seat) / 12) * (4.25 ** 2 + 4.25 * 2 + 4);
    expect(derive(pin()).operations[0].removed).toBeCloseTo(point + pilot + frustum, 3);
  });
  it('posts and reads back the same', () => {
    const job = pin();
    const d = derive(job);
    const proof = proveJob(job, d, postJob(job, d, '').map(programText));
    expect(proof.agrees).toBe(true);
    expect(proof.maxDeviation).toBeLessThanOrEqual(0.001);
  });
  it('refuses a mouth that the body is too thin for, and the remedy cures it', () => {
    const job = pin({ mouth: 6 });
    const f = derive(job).findings.find((k) => k.code === 'centre-mouth');
    expect(f?.numbers).toEqual({ mouth: 6, least: 2, most: 5 });
    expect(f?.remedy?.set).toEqual({ '/operations/c0/params/mouth': null });
    expect(derive(pin()).findings.some((k) => k.code === 'centre-mouth')).toBe(false);
  });
  it('is a gouge where the part has no centre hole', () => {
    const job = pin();
    job.part.inner = null;
    job.part.outer.start.diameter = 0;
    expect(derive(job).findings.map((f) => f.code)).toContain('gouge');
  });
  it('says that nothing is left the second time', () => {
    expect(derive(pin({}, 2)).findings.map((f) => f.code)).toContain('nothing-to-cut');
    // nor in a hole that is wider and deeper than its seat
    const job = pin();
    const hole = ToolSchema.parse({
      id: 'hole',
      name: 'Drill 8',
      kind: 'drill',
      cutter: { kind: 'drill', diameter: 8, pointAngle: 118, fluteLength: 40 },
      holder: { kind: 'sleeve', diameter: 20, length: 30 },
      stickOut: 60,
    });
    job.tools.hole = hole;
    job.mounts.upper['2'] = { '1': { ...job.mounts.upper['1']['1'], tool: 'hole' } };
    job.operations.d = operation({ id: 'd', kind: 'drill', tool: 'hole', params: { depth: 20 } });
    job.order['1'].unshift('d');
    const c = derive(job).operations.find((o) => o.id === 'c0');
    expect(c?.findings.map((f) => f.code)).toEqual(['nothing-to-cut']);
    expect(c?.events).toEqual([]);
  });
});
