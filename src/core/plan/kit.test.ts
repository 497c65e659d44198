import { describe, expect, it } from 'vitest';
import { demoJob } from '../../../tests/fixtures/jobs';
import { inStations, mountList, offsetOf } from '../tooling';
import { derive } from './derive';
import type { Job } from './document';
import { numberedOffsets, takeTools } from './kit';

const bare = (job: Job, keep: readonly string[]): Job => {
  const upper = Object.entries(job.mounts.upper).filter(([, block]) =>
    Object.values(block).some((m) => keep.includes(m.tool)),
  );
  return {
    ...job,
    mounts: { ...job.mounts, upper: Object.fromEntries(upper) },
    tools: Object.fromEntries(Object.entries(job.tools).filter(([id]) => keep.includes(id))),
  };
};

describe('tools taken over from another job', () => {
  const other = demoJob('LM-101');
  const ids = mountList(other.mounts).map((m) => m.mount.tool);
  it('go into their own stations where those are free, and nothing that stands here is moved', () => {
    const own = bare(demoJob('LM-101'), [ids[0]]);
    const { job, taken } = takeTools(own, other);
    expect(job.mounts.upper).toEqual(other.mounts.upper);
    expect(taken.filter((t) => t.why === 'stands here').map((t) => t.tool.id)).toEqual([ids[0]]);
    expect(taken.filter((t) => t.station !== null)).toHaveLength(ids.length - 1);
    // and the operations that wanted them are planned again
    const blocked = (j: Job): number => derive(j).operations.filter((o) => o.state === 'blocked').length;
    expect(blocked(own)).toBeGreaterThan(0);
    expect(blocked(job)).toBe(0);
  });
  it('take the first free station where theirs is not, and say what stayed behind', () => {
    const own = demoJob('LM-118');
    own.machine.carriers[0] = { ...own.machine.carriers[0], stations: 4 };
    const tool = { ...Object.values(own.tools)[0], id: 'own-tool' };
    own.tools = { [tool.id]: tool };
    own.mounts = { upper: inStations({ 1: tool.id }) };
    const { job, taken } = takeTools(own, other);
    expect(job.mounts.upper['1']).toEqual(own.mounts.upper['1']);
    const put = taken.filter((t) => t.station !== null).map((t) => t.station);
    expect(new Set(put)).toEqual(new Set(['2', '3', '4']));
    expect(taken.filter((t) => t.why === 'no free station')).toHaveLength(ids.length - 3);
    expect(takeTools({ ...own, machine: { ...own.machine, carriers: [] } }, other).taken[0].why).toBe('no carrier');
  });
  it('keeps the tools of one block together', () => {
    const from = demoJob('LM-101');
    const [first, second] = ids;
    const mount = from.mounts.upper[String(mountList(from.mounts)[0].station)]['1'];
    from.mounts = { upper: { 7: { 1: mount, 2: { ...mount, tool: second, at: { x: 0, z: 40 }, offset: 13 } } } };
    const { job } = takeTools(bare(demoJob('LM-101'), []), from);
    expect(Object.values(job.mounts.upper['7']).map((m) => m.tool)).toEqual([first, second]);
    expect(job.mounts.upper['7']['2'].at.z).toBe(40);
  });
});

describe('offset numbers', () => {
  it('run with the stations, or in turn, and are never the same twice', () => {
    const job = demoJob('LM-101');
    const [carrier] = job.machine.carriers;
    const station = mountList(job.mounts)[0].station;
    const block = job.mounts.upper[station];
    block['2'] = { ...block['1'], tool: 'another' };
    const numbers = (j: Job): number[] => mountList(j.mounts).map(offsetOf);
    const inTurn = numbers(numberedOffsets(job, carrier, 'sequence'));
    expect([...inTurn].sort((a, b) => a - b)).toEqual(inTurn.map((_, i) => i + 1));
    const byStation = numberedOffsets(job, carrier, 'stations');
    expect(byStation.mounts.upper[station]['1'].offset).toBeNull();
    expect(byStation.mounts.upper[station]['2'].offset).toBe(carrier.stations + 1);
    expect(new Set(numbers(byStation)).size).toBe(numbers(byStation).length);
  });
});
