import { describe, expect, it } from 'vitest';
import { DEMO_JOBS, demoJob } from '../../../tests/fixtures/jobs';
import { FIRST_POSITION, usualMount } from '../tooling';
import { derive } from './derive';
import type { Job } from './document';
import { radiusBeside } from './neighbours';

/** LM-118 with a drill that sticks out far in the station beside the working one, on a turret of some size. */
const crowded = (radius: number, station: number, out = 150): Job => {
  const job = demoJob('LM-118');
  const { index } = job.machine.carriers[0];
  if (index.kind !== 'turret') throw new Error('no turret');
  index.radius = radius;
  const drill = Object.values(job.tools).find((t) => t.kind === 'drill');
  if (drill?.kind !== 'drill') throw new Error('no drill');
  const long = structuredClone(drill);
  long.id = 'long-drill';
  long.name = 'Long drill';
  long.stickOut = out;
  long.cutter.fluteLength = out - 20;
  job.tools[long.id] = long;
  const working = Object.entries(job.mounts.upper).find(([, b]) =>
    Object.values(b).some((m) => m.tool === job.operations.op1.tool),
  );
  job.mounts.upper = {
    ...job.mounts.upper,
    [String(((Number(working?.[0]) - 1 + station + 12) % 12) + 1)]: { [FIRST_POSITION]: usualMount(long.id) },
  };
  return job;
};
/** What stands beside the tool of the first operation. */
const told = (job: Job) => derive(job).findings.filter((f) => f.code === 'neighbour-meets' && f.operation === 'op1');

describe('tools beside the working one', () => {
  it('stand where turning them about the turret puts them in space', () => {
    // Rodrigues about the turret's axis, in space: (0, 0) is the spindle's axis, the turret's lies above it
    for (const [height, rho, angle] of [
      [175, 150, Math.PI / 6],
      [160, 175, -Math.PI / 6],
      [210, 160, Math.PI / 3],
    ]) {
      const down = { x: -rho, y: 0 };
      const turned = {
        x: down.x * Math.cos(angle) - down.y * Math.sin(angle),
        y: down.x * Math.sin(angle) + down.y * Math.cos(angle),
      };
      const near = Math.max(0, Math.abs(turned.y) - 12.5);
      expect(radiusBeside(height, rho, angle)).toBeCloseTo(Math.hypot(height + turned.x, near), 9);
    }
    // by hand: 175 − 150·cos 30° = 45.096; 150·sin 30° − 12.5 = 62.5; together 77.07
    expect(radiusBeside(175, 150, Math.PI / 6)).toBeCloseTo(77.071, 3);
  });
  it('are told when they meet the chuck, and a station further off is offered that is free', () => {
    const job = crowded(100, 1);
    const [finding] = told(job);
    expect(finding?.numbers).toMatchObject({ tool: 'Long drill' });
    expect(finding?.remedy?.label).toMatch(/^Move it to station \d+$/);
    const [[path, value]] = Object.entries(finding?.remedy?.set ?? {});
    expect(path).toBe('/mounts/upper');
    job.mounts.upper = value as Job['mounts'][string];
    expect(told(job)).toEqual([]);
  });
  it('are free on a large turret, across it, short, or where the machine does not say its size', () => {
    expect(told(crowded(300, 1))).toEqual([]);
    expect(told(crowded(100, 6))).toEqual([]);
    const unknown = crowded(100, 1);
    Object.assign(unknown.machine.carriers[0].index, { radius: null });
    expect(told(unknown)).toEqual([]);
  });
  it.each(DEMO_JOBS)('%s: nothing meets anything', (name) => {
    expect(derive(demoJob(name)).findings.filter((f) => f.code === 'neighbour-meets')).toEqual([]);
  });
});
