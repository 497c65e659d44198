import { describe, expect, it } from 'vitest';
import { barOf, holdingOf } from '../../../tests/fixtures/holding';
import { DEMO_JOBS, demoJob, lineRow } from '../../../tests/fixtures/jobs';
import { operation, setTool, tool, turnedJob } from '../../../tests/fixtures/turned';
import type { FindingCode } from '../findings';
import { buildPart, FeatureNoteSchema, listFeatures } from '../part';
import { derive } from './derive';
import type { Job } from './document';

const find = (j: Job, code: FindingCode) => derive(j).findings.find((f) => f.code === code);
const numbers = (j: Job, code: FindingCode): Record<string, number> =>
  (find(j, code)?.numbers ?? {}) as unknown as Record<string, number>;
const cutting = (j: Job, id: string): Record<string, unknown> =>
  (j.operations[id] as unknown as { cutting: Record<string, unknown> }).cutting;

describe('grip at speed', () => {
  it('is told from where two thirds of the force are gone: F(n) = F0 − jaws·m·r·ω²', () => {
    const job = demoJob('LM-101');
    // bar ⌀62, jaws 26 high: r = 31 + 13 = 44 mm; 3 jaws of 0.6 kg
    const pull = (speed: number): number => 3 * 0.6 * 0.044 * ((speed * 2 * Math.PI) / 60) ** 2;
    const top = 4000;
    // a third of the force is left exactly at 4000 rev/min
    holdingOf(job).gripForce = 1.5 * pull(top) * 1.001;
    expect(find(job, 'grip-lost')).toBeUndefined();
    holdingOf(job).gripForce = 1.5 * pull(top) * 0.98;
    const f = find(job, 'grip-lost');
    expect(f?.numbers).toMatchObject({ speed: 4000 });
    expect(numbers(job, 'grip-lost').left).toBeCloseTo((holdingOf(job).gripForce - pull(top)) / 1000, 3);
    expect(numbers(job, 'grip-lost').most).toBe(Math.floor((4000 * Math.sqrt(0.98)) / 10) * 10);
  });
  it('counts the speed that the cuts reach, not the limit of the machine', () => {
    const job = demoJob('LM-118');
    holdingOf(job).gripForce = 12_000;
    const before = find(job, 'grip-lost')?.numbers as { speed: number } | undefined;
    for (const id of job.order['1']) cutting(job, id).speed = { mode: 'fixed', value: 600 };
    expect(before?.speed).toBeGreaterThan(600);
    expect(find(job, 'grip-lost')).toBeUndefined();
  });
});

describe('bars that stick out', () => {
  it.each([
    ['steel', 4],
    ['carbide', 6],
    ['damped', 10],
  ] as const)('of %s stay still up to %s diameters', (material, most) => {
    const job = demoJob('LM-118');
    setTool(job, 'bore-12', { holder: { material }, stickOut: 12 * most });
    expect(find(job, 'bar-overhang')).toBeUndefined();
    setTool(job, 'bore-12', { stickOut: 12 * most + 0.6 });
    expect(find(job, 'bar-overhang')?.numbers).toMatchObject({ most });
  });
  it('of stock want support beyond three diameters', () => {
    const job = demoJob('LM-155');
    barOf(job).stickOut = 3 * barOf(job).diameter;
    expect(find(job, 'unsupported')).toBeUndefined();
    barOf(job).stickOut = 3 * barOf(job).diameter + 1;
    expect(numbers(job, 'unsupported').ratio).toBeCloseTo(3 + 1 / 18.5, 6);
  });
});

describe('roughness', () => {
  /** A turned pin of which every feature is to have Ra 0.8. */
  const make = (feed: number): Job => {
    const job = turnedJob({
      outer: [lineRow('a', 24, 0), lineRow('b', 24, -20), lineRow('c', 0, -20)],
      bar: 25,
      length: 20,
      tools: [tool({ id: 't', kind: 'turning', insert: 'DCMT11T304', approachAngle: 93, overhang: 60 })],
      operations: [
        operation({
          id: 'f',
          kind: 'outer-finish',
          tool: 't',
          cutting: { speed: { mode: 'surface', value: 180 }, feed },
          params: { extendBehind: 2 },
        }),
      ],
    });
    const features = listFeatures(job.part, buildPart(job.part));
    expect(features.length).toBeGreaterThan(0);
    job.part.notes = Object.fromEntries(features.map((f) => [f.id, FeatureNoteSchema.parse({ roughness: 0.8 })]));
    return job;
  };
  // nose 0.4: Ra = 0.2566·f²/(8·0.4), so 0.8 µm are made by f = 0.09988
  it('is held against Ra = 0.2566·f²/(8ρ), and the feed of the remedy just gives what was asked', () => {
    expect(find(make(0.0998), 'too-rough')).toBeUndefined();
    const f = find(make(0.1005), 'too-rough');
    expect(f?.numbers).toMatchObject({ asked: 0.8, feed: 0.099 });
    expect(numbers(make(0.1005), 'too-rough').made).toBeCloseTo((0.2566 * 0.1005 ** 2 * 1000) / 3.2, 6);
    expect(f?.remedy?.set).toEqual({ '/operations/f/cutting/feed': 0.099 });
  });
});

describe('coolant', () => {
  it('is wanted by stainless everywhere, by steel where the chips are shut in, by brass nowhere', () => {
    const dry = (group: Job['material']['group'], id: string): boolean => {
      const job = demoJob('LM-118');
      job.material = { ...job.material, group };
      cutting(job, id).coolant = false;
      return derive(job).findings.some((f) => f.code === 'coolant-wanted' && f.operation === id);
    };
    expect([dry('M', 'op3'), dry('M', 'op2'), dry('M', 'op7')]).toEqual([true, true, true]);
    expect([dry('P', 'op3'), dry('P', 'op2'), dry('P', 'op7')]).toEqual([false, true, true]);
    expect([dry('N', 'op3'), dry('N', 'op2'), dry('N', 'op7')]).toEqual([false, false, false]);
  });
});

describe('tool change', () => {
  it('is told when a long neighbour comes within 10 mm of the metal, and the remedy gives just that room', () => {
    for (const name of DEMO_JOBS) {
      const job = demoJob(name);
      holdingOf(job).toolChange = { diameter: 40, z: 12 };
      const f = find(job, 'tool-change-close');
      if (!f) throw new Error(name);
      const { gap, needed } = f.numbers as { gap: number; needed: number };
      expect(gap).toBeLessThan(10);
      holdingOf(job).toolChange.z = needed;
      expect(find(job, 'tool-change-close')).toBeUndefined();
      holdingOf(job).toolChange.z = needed - 2;
      expect(find(job, 'tool-change-close')).toBeDefined();
    }
  });
});
