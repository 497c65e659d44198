import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { groovedJob } from '../../../../tests/fixtures/grooves';
import { lineRow } from '../../../../tests/fixtures/jobs';
import { movesOf } from '../../motion';
import { postJob, programText, proveJob } from '../../nc';
import type { Cut, Row } from '../../part';
import { candidatesFor, derive, type Job } from '../../plan';
import { type Tool, ToolSchema } from '../../tooling';

const formTool = (profile: string, radius: number, reach = 14): Tool =>
  ToolSchema.parse({
    id: 'form',
    name: 'form',
    kind: 'form',
    cutter: { kind: 'profile', profile, radius, reach },
    holder: { kind: 'shank' },
    stickOut: 44,
  });
/** Edge of a V of that angle whose nose runs on the given centres. */
const vee = (angle: number, high = 6): string => {
  const half = (Math.tan((angle * Math.PI) / 360) * high).toFixed(4);
  return `-${half} ${high}; 0 0; ${half} ${high}`;
};
const V = (angle: number, depth: number, radius: number, tool: Tool, params: Record<string, unknown> = {}): Job => {
  const rim = {
    ...lineRow('rim', 60, -24),
    cuts: [{ id: 'v', kind: 'v', z: -8, depth, angle, radius }] as Cut[],
  } as Row;
  return groovedJob(
    { diameter: 60, length: 30, outer: [rim] },
    { kind: 'form', tool, span: { from: 'rim/v.1', to: 'rim/v.3' }, params },
  );
};
const made = (job: Job) => {
  const d = derive(job);
  const op = d.operations.find((o) => o.id === 'groove');
  if (!op) throw new Error('no form');
  const left = Math.max(0, ...d.coverage.filter((c) => c.element.includes('/v.')).map((c) => c.left));
  const proof = proveJob(job, d, postJob(job, d, '').map(programText));
  return { d, op, left, proof, codes: op.findings.filter((f) => f.severity !== 'info').map((f) => f.code) };
};

describe('a form tool', () => {
  it('makes the groove of its own profile, by two plunges at one place', () => {
    const { op, left, proof, codes } = made(V(60, 4, 0.2, formTool(vee(60), 0.2)));
    expect(codes).toEqual([]);
    expect(left).toBeLessThan(0.005);
    expect(proof.agrees).toBe(true);
    const cuts = movesOf(op.events).filter((m) => m.event.purpose === 'cut');
    expect(new Set(cuts.map((m) => Math.round(m.to.Z * 1e4))).size).toBe(1);
    // 4 deep on ⌀60 to the sharp bottom; the round of 0.2 ends 0.2/sin 30° − 0.2 above that
    expect(2 * cuts[cuts.length - 1].to.X).toBeCloseTo(52.4, 3);
    expect(cuts[cuts.length - 1].from.X - cuts[cuts.length - 1].to.X).toBeCloseTo(0.2, 6);
    expect(op.events.some((e) => e.kind === 'dwell')).toBe(true);
  });
  it('goes back after each peck, and never out of the groove', () => {
    const { op, codes } = made(V(60, 4, 0.2, formTool(vee(60), 0.2), { peck: 0.7, allowance: 0 }));
    expect(codes).toEqual([]);
    const up = movesOf(op.events).filter((m) => m.event.purpose === 'cut' && m.to.X > m.from.X + 1e-6);
    expect(up.length).toBeGreaterThanOrEqual(5);
    for (const m of up) expect(m.to.X - m.from.X).toBeCloseTo(0.3, 6);
  });
  it('stays out of the part where its profile does not fit, and says by how much', () => {
    const { d, op, codes } = made(V(60, 4, 0.2, formTool(vee(90), 0.2)));
    expect(codes).toEqual(['form-does-not-fit']);
    expect(d.findings.map((f) => f.code)).not.toContain('gouge');
    const told = op.findings.find((f) => f.code === 'form-does-not-fit');
    // a 90° V rests on the mouth of a 60° one: half a mouth of 2.4…, 45° up from its tip
    expect(told?.code === 'form-does-not-fit' ? told.numbers.left : 0).toBeGreaterThan(1);
  });
  it('does not go deeper than it is high', () => {
    expect(made(V(60, 7, 0.2, formTool(vee(60, 4), 0.2, 5))).codes).toContain('blade-too-short');
  });
  it('never cuts into the part, whatever its profile and the groove', () => {
    const step = fc.tuple(fc.integer({ min: 0, max: 300 }), fc.integer({ min: 0, max: 500 }));
    fc.assert(
      fc.property(
        fc.array(step, { minLength: 2, maxLength: 6 }),
        fc.integer({ min: 0, max: 40 }),
        fc.integer({ min: 30, max: 120 }),
        fc.integer({ min: 10, max: 60 }),
        (steps, radius, angle, depth) => {
          let z = 0;
          const profile = steps.map(([dz, x]) => {
            z += dz / 100 + 0.05;
            return `${z.toFixed(2)} ${(x / 100).toFixed(2)}`;
          });
          const job = V(angle, depth / 10, 0.2, formTool(profile.join('; '), radius / 100));
          const { d, proof } = made(job);
          const bad = d.findings.filter((f) =>
            ['gouge', 'rapid-in-stock', 'internal', 'metal-missing'].includes(f.code),
          );
          expect(bad).toEqual([]);
          expect(proof.agrees).toBe(true);
        },
      ),
      { numRuns: Number(process.env.PROPERTY_CASES ?? 120) },
    );
  });
  it.each(['', '1 2', 'a b; c d', '0 0; -1 1', '0 0; 1', '0 0; 1 20'])(
    'is refused with the profile “%s”',
    (profile) => {
      expect(made(V(60, 4, 0.2, formTool(profile, 0))).codes).toEqual(['tool-unreadable']);
    },
  );
  it('is among what can cut a groove that it fits', () => {
    const job = V(60, 4, 0.2, formTool(vee(60), 0.2));
    delete job.operations.groove;
    job.order['1'] = job.order['1'].filter((id) => id !== 'groove');
    const found = candidatesFor(job, { from: 'rim/v.2', to: 'rim/v.2' }, 'outer', 'h1');
    expect(found.find((c) => c.kind === 'form')?.reach).toBeGreaterThan(0.98);
  });
});
