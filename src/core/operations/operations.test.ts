import { describe, expect, it } from 'vitest';
import { demoJob, lineRow } from '../../../tests/fixtures/jobs';
import { operation, tool, turnedJob } from '../../../tests/fixtures/turned';
import { intersectRegions, rectangle, regionBounds, regionVolume } from '../geometry';
import { isMove, type MotionEvent } from '../motion';
import { postJob, programText, proveJob } from '../nc';
import { derive, type Job } from '../plan';

const params = (j: Job, id: string): Record<string, unknown> =>
  (j.operations[id] as unknown as { params: Record<string, unknown> }).params;
const feedsOf = (events: readonly MotionEvent[]) =>
  events.flatMap((e) => ((e.kind === 'feed' || e.kind === 'arc') && e.purpose === 'cut' ? [e] : []));

describe('drilling into the part itself', () => {
  it.each([1, 2, 3.3, 5, 6, 7.1, 8, 10, 12, 13.7])('with ⌀%s is a gouge', (diameter) => {
    const job = turnedJob({
      outer: [lineRow('o1', 20, 0), lineRow('o2', 20, -30), lineRow('o3', 0, -30)],
      bar: 20,
      length: 30,
      tools: [tool({ id: 'd', kind: 'drill', diameter, fluteLength: 40, overhang: 60 })],
      operations: [operation({ id: 'a', kind: 'drill', tool: 'd', params: { depth: 5 } })],
    });
    expect(derive(job).findings.map((f) => f.code)).toContain('gouge');
  });
});

describe('facing', () => {
  it('goes past the centre by the nose radius and leaves a plane face', () => {
    const d = derive(demoJob('LM-118'));
    const face = d.operations[0];
    expect(Math.min(...feedsOf(face.events).map((e) => e.to.X ?? 0)) * 2).toBeLessThanOrEqual(-1.6);
    expect(regionBounds(face.after.turnedOutline).maxX).toBeCloseTo(0, 4);
    expect(face.removed).toBeCloseTo(Math.PI * 25 * 25 * 1, 0);
  });
  it('takes the last pass at its own feed', () => {
    const face = derive(demoJob('LM-101')).operations[0];
    expect(new Set(feedsOf(face.events).map((e) => e.feed.value))).toEqual(new Set([0.3, 0.12]));
  });
});

describe('drilling', () => {
  it('goes through by the break-through and the point: (D/2)/tan(σ/2)', () => {
    const d = derive(demoJob('LM-101')).operations[1];
    expect(Math.min(...feedsOf(d.events).map((e) => e.to.Z ?? 0))).toBeCloseTo(
      -22 - 3 - 5.5 / Math.tan((70 * Math.PI) / 180),
      6,
    );
  });
  it('takes a depth to the full diameter or to the point', () => {
    const job = demoJob('LM-118');
    const bottom = (): number => Math.min(...feedsOf(derive(job).operations[1].events).map((e) => e.to.Z ?? 0));
    expect(bottom()).toBeCloseTo(-20 - 8 / Math.tan((70 * Math.PI) / 180), 6);
    params(job, 'op2').depthTo = 'point';
    expect(bottom()).toBeCloseTo(-20, 6);
  });
  it('removes cylinder and cone', () => {
    const d = derive(demoJob('LM-118')).operations[1];
    const h = 8 / Math.tan((70 * Math.PI) / 180);
    expect(d.removed).toBeCloseTo(Math.PI * 64 * (20 + h / 3), 0);
  });
  it('pecks no deeper than asked', () => {
    const d = derive(demoJob('LM-101')).operations[1];
    const zs = feedsOf(d.events).map((e) => e.to.Z ?? 0);
    for (const [i, z] of zs.entries()) expect((i === 0 ? 1 : zs[i - 1]) - z).toBeLessThanOrEqual(8 + 1e-9);
  });
});

describe('roughing', () => {
  it('leaves the allowance on faces and diameters', () => {
    const job = demoJob('LM-118');
    const d = derive(job);
    const rough = d.operations[2];
    expect(
      regionBounds(intersectRegions(rough.after.turnedOutline, rectangle(-32.01, 0, -31.99, 100))).maxY,
    ).toBeCloseTo(23 + 0.3, 3);
    // the shoulder at Z-26 keeps 0.2 in front of it
    expect(regionBounds(intersectRegions(rough.after.turnedOutline, rectangle(-30, 21.59, 0, 21.61))).maxX).toBeCloseTo(
      -26 + 0.2,
      2,
    );
  });
  it('makes equal passes within the depth', () => {
    const job = demoJob('LM-118');
    const d = derive(job);
    const levels = d.operations[2].events.flatMap((e) =>
      e.kind === 'feed' && e.purpose === 'lead-in' ? [e.to.X ?? 0] : [],
    );
    const steps = [25, ...levels].slice(1).map((x, i) => [25, ...levels][i] - x);
    for (const s of steps) expect(s).toBeCloseTo(steps[0], 1);
    expect(steps[0]).toBeLessThanOrEqual(2.5);
    // one pass fewer would have to be deeper than asked
    expect((steps[0] * steps.length) / (steps.length - 1)).toBeGreaterThan(2.5);
  });
  it('cuts only what is still there', () => {
    const job = demoJob('LM-118');
    job.operations.again = {
      ...structuredClone(job.operations.op3),
      id: 'again',
      name: 'again',
    } as Job['operations'][string];
    job.order['1'].splice(3, 0, 'again');
    const d = derive(job);
    const again = d.operations[3];
    expect(again.events).toEqual([]);
    expect(again.findings.map((f) => f.code)).toEqual(['nothing-to-cut']);
  });
  it('keeps to limits', () => {
    const job = demoJob('LM-118');
    Object.assign(params(job, 'op3'), { backLimit: -20 });
    const zs = derive(job).operations[2].events.flatMap((e) => (isMove(e) && e.kind !== 'rapid' ? [e.to.Z ?? 0] : []));
    expect(Math.min(...zs)).toBeCloseTo(-20, 6);
  });
  it('says why a cycle cannot take a contour and posts moves instead', () => {
    const job = demoJob('LM-118');
    job.part.outer.rows[1].diameter = 30; // a neck: the contour falls
    Object.assign(params(job, 'op3'), { output: 'cycle' });
    const rough = derive(job).operations[2];
    expect(rough.findings.find((f) => f.code === 'cycle-not-possible')?.numbers.reason).toBe('it is not steady');
    expect(rough.events.some((e) => e.kind === 'cycle')).toBe(false);
    expect(rough.events.length).toBeGreaterThan(10);
  });
  it('bridges a hollow or enters it as far as the trailing edge allows', () => {
    const hollow = (undercuts: string): number => {
      const job = demoJob('LM-118');
      job.part.outer.rows.splice(
        1,
        1,
        { id: 'h1', kind: 'line', diameter: 34, z: -3, corner: null },
        { id: 'h2', kind: 'line', diameter: 30, z: -6, corner: null },
        { id: 'h3', kind: 'line', diameter: 30, z: -14, corner: null },
      );
      Object.assign(params(job, 'op5'), { undercuts, compensation: 'computed' });
      job.order['1'] = ['op1', 'op3', 'op5'];
      const d = derive(job);
      expect(d.gouge).toEqual([]);
      return regionVolume(d.operations[2].after.turnedOutline);
    };
    expect(hollow('enter')).toBeLessThan(hollow('bridge') - 500);
  });
});

describe('cutoff', () => {
  it('breaks the back edge, slows down, and passes the wall of the bore', () => {
    const d = derive(demoJob('LM-101')).operations[6];
    const feeds = feedsOf(d.events);
    expect(feeds.some((e) => Math.abs(e.feed.value - 0.04) < 1e-9)).toBe(true);
    const deepest = Math.min(...feeds.map((e) => e.to.X ?? 0));
    expect(deepest).toBeCloseTo(6 - 0.3 - 0.2 - 0.5, 0);
    expect(deepest).toBeLessThan(6);
  });
  it('goes past the centre of a solid part', () => {
    const d = derive(demoJob('LM-118')).operations[6];
    expect(Math.min(...feedsOf(d.events).map((e) => e.to.X ?? 0))).toBeCloseTo(-0.3, 6);
  });
});

describe('the way in of a finishing pass', () => {
  const pin = (allowanceZ: number): Job =>
    turnedJob({
      outer: [
        lineRow('o1', 20, 0),
        lineRow('o2', 20, -10),
        lineRow('o3', 40, -10, { kind: 'chamfer', size: 2 }),
        lineRow('o4', 40, -25),
        lineRow('o5', 0, -25),
      ],
      bar: 42,
      length: 25,
      frontAllowance: 0,
      tools: [tool({ id: 't', kind: 'turning', insert: 'DCMT11T304', approachAngle: 93, overhang: 60 })],
      operations: [
        operation({
          id: 'r',
          kind: 'outer-rough',
          tool: 't',
          params: { depth: 1, allowanceX: 0.6, allowanceZ, undercuts: 'bridge' },
        }),
        operation({
          id: 'f',
          kind: 'outer-finish',
          tool: 't',
          span: { from: 'o3/corner', to: 'o4' },
          params: { undercuts: 'enter' },
        }),
      ],
    });
  it.each([0.1, 0.2, 0.3])('runs along a chamfer that still has %s of stock on it', (allowanceZ) => {
    const job = pin(allowanceZ);
    const d = derive(job);
    expect(d.findings.filter((f) => f.severity === 'blocking')).toEqual([]);
    const events = d.operations[1].events;
    const lead = events.findIndex((e) => e.kind === 'feed' && e.purpose === 'lead-in');
    const [from, to] = [events[lead - 1], events[lead]];
    if (from.kind !== 'rapid' || to.kind !== 'feed') throw new Error('no lead-in');
    const dx = (to.to.X ?? 0) - (from.to.X ?? to.to.X ?? 0);
    const dz = (to.to.Z ?? 0) - (from.to.Z ?? to.to.Z ?? 0);
    // outward and toward the chuck at 45°, as the chamfer runs
    expect(dx).toBeGreaterThan(0.1);
    expect(dx / -dz).toBeCloseTo(1, 6);
    expect(d.coverage.find((c) => c.element === 'o3/corner')?.state).toBe('finished');
  });
});

describe('spring passes of finishing', () => {
  const sprung = (id: string, n: number, more: object = {}) =>
    demoJob('LM-101', (j) => Object.assign(params(j, id), { springPasses: n, output: 'moves', ...more }));
  it.each([
    ['op4', 'outside by the control', {}],
    ['op4', 'outside computed', { compensation: 'computed' }],
    ['op6', 'in a bore', { compensation: 'computed' }],
  ])('of %s run the same contour again, %s, and leave the same metal', (id, _how, more) => {
    const [once, thrice] = [derive(sprung(id, 0, more)), derive(sprung(id, 2, more))];
    const of = (d: typeof once) => d.operations.find((o) => o.id === id);
    const [a, b] = [of(once), of(thrice)];
    expect(feedsOf(b?.events ?? []).length).toBe(3 * feedsOf(a?.events ?? []).length);
    expect(regionVolume(b?.after.turnedOutline ?? [])).toBeCloseTo(regionVolume(a?.after.turnedOutline ?? []), 2);
    expect(b?.findings.filter((f) => f.severity !== 'info')).toEqual([]);
    expect((b?.times.cutting ?? 0) / (a?.times.cutting ?? 1)).toBeCloseTo(3, 0);
    const job = sprung(id, 2, more);
    expect(proveJob(job, thrice, postJob(job, thrice, '').map(programText)).ok).toBe(true);
  });
  it('cannot be left to the cycle, and have to be a whole number', () => {
    const job = sprung('op4', 1, { output: 'cycle' });
    const found = derive(job).operations.find((o) => o.id === 'op4')?.findings ?? [];
    expect(found.find((f) => f.code === 'cycle-not-possible')?.numbers).toEqual({
      reason: 'the cycle runs the contour once',
    });
    const half = derive(sprung('op4', 1.5)).operations.find((o) => o.id === 'op4')?.findings ?? [];
    expect(half.map((f) => f.code)).toContain('bad-number');
  });
});
