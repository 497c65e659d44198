import { describe, expect, it } from 'vitest';
import { demoJob, shopTools } from '../../../tests/fixtures/jobs';
import { candidatesFor } from './candidates';
import { derive } from './derive';
import type { Job } from './document';
import { landingPlace } from './landing';
import { placed, withPlaced } from './placing';

const shelf = shopTools();
const tool = (id: string) => {
  const found = shelf.find((t) => t.id === id);
  if (!found) throw new Error(`no tool ${id}`);
  return found;
};

describe('a tool of the library', () => {
  it('goes into the first free station of the carrier that already works there', () => {
    const job = demoJob('LM-212');
    // the lower turret works at the sub-spindle
    const found = placed(job, tool('finish-35'), 'h2');
    expect(found?.put).toMatchObject({ carrier: 'lower', station: 1, mount: { facing: 'main' } });
    expect(placed(job, tool('drill-7'), 'h2')?.put.mount.facing).toBe('sub');
    expect(placed(job, tool('drill-7'), 'h1')?.put).toMatchObject({ carrier: 'upper', mount: { facing: 'main' } });
    // taken stations are passed over, in order
    const taken = Object.keys(job.mounts.upper).map(Number);
    expect(taken).not.toContain(placed(job, tool('drill-7'), 'h1')?.put.station);
  });
  it('that could do it with a remedy is offered with that, where nothing else of its kind can', () => {
    // the bar stands out too little for any blade, and none is in a station
    const job = demoJob('LM-101', (j) => {
      const cut = Object.values(j.operations).find((o) => o.kind === 'cutoff');
      if (!cut) throw new Error('another demo');
      delete j.operations[cut.id];
      j.order['1'] = j.order['1'].filter((id) => id !== cut.id);
      for (const [station, block] of Object.entries(j.mounts.upper))
        if (Object.values(block).some((m) => j.tools[m.tool]?.kind === 'cutoff')) delete j.mounts.upper[station];
      for (const t of Object.values(j.tools)) if (t.kind === 'cutoff') delete j.tools[t.id];
      Object.assign(j.holdings.h1.stock, { stickOut: 26 });
    });
    const back = derive(job).part.outer.at(-1)?.id ?? '';
    const cutoffs = candidatesFor(job, { from: back, to: back }, 'outer', 'h1', undefined, shelf).filter(
      (c) => c.kind === 'cutoff',
    );
    expect(cutoffs).toHaveLength(1);
    expect(cutoffs[0]).toMatchObject({ reach: 0, cure: expect.stringMatching(/^Stick-out [\d.]+ mm$/) });
    expect(cutoffs[0].put).not.toBeNull();
    // and with it, it can
    const longer = structuredClone(job);
    Object.assign(longer.holdings.h1.stock, { stickOut: Number(/[\d.]+/.exec(cutoffs[0].cure ?? '')?.[0]) });
    const then = candidatesFor(longer, { from: back, to: back }, 'outer', 'h1', undefined, shelf);
    expect(then.find((c) => c.kind === 'cutoff')).toMatchObject({ reach: 1, cure: null });
  });
  it('finds no room on a full carrier, and no carrier where none comes', () => {
    const job = demoJob('LM-101');
    const full: Job = {
      ...job,
      machine: { ...job.machine, carriers: [{ ...job.machine.carriers[0], stations: 1 }] },
    };
    expect(placed(full, tool('drill-7'), 'h1')).toBeNull();
    const nowhere: Job = {
      ...job,
      machine: { ...job.machine, carriers: [{ ...job.machine.carriers[0], reaches: ['sub'] }] },
    };
    expect(placed(nowhere, tool('drill-7'), 'h1')).toBeNull();
  });
  it('takes the place of one that works nowhere, the last of a full carrier; what works stays', () => {
    const job = demoJob('LM-101');
    const idle = tool('finish-35-small');
    const taken = job.mounts.upper;
    const [first] = Object.keys(taken);
    const count = Math.max(...Object.keys(taken).map(Number));
    const full: Job = {
      ...job,
      machine: { ...job.machine, carriers: [{ ...job.machine.carriers[0], stations: count }] },
    };
    // every free station gets a copy of a tool that nothing uses
    full.tools = { ...job.tools };
    full.mounts = { upper: { ...taken } };
    for (let n = 1; n <= count; n++)
      if (!taken[String(n)]) {
        const id = `idle-${n}`;
        full.tools[id] = { ...idle, id, name: `Idle ${n}` };
        full.mounts.upper[String(n)] = { main: { ...Object.values(taken[first])[0], tool: id } };
      }
    const used = new Set(Object.values(job.operations).flatMap((op) => ('tool' in op ? [op.tool] : [])));
    const last = Object.entries(full.mounts.upper)
      .filter(([, block]) => Object.values(block).every((m) => !used.has(m.tool)))
      .map(([n]) => Number(n))
      .sort((a, b) => b - a)[0];
    const found = placed(full, tool('drill-7'), 'h1');
    expect(found?.put.station).toBe(last);
    expect(found?.put.replaces).toBe(full.tools[Object.values(full.mounts.upper[String(last)])[0].tool].name);
    expect(Object.values(found?.job.mounts.upper[String(last)] ?? {}).map((m) => m.tool)).toEqual(['drill-7']);
    // what works stands where it stood
    for (const [n, block] of Object.entries(taken))
      if (Object.values(block).some((m) => used.has(m.tool))) expect(found?.job.mounts.upper[n]).toEqual(block);
  });
  it('is among what can cut a span, marked with its station; those of the job come first and stay where they are', () => {
    const job = demoJob('LM-101', (j) => {
      for (const id of ['op2', 'op3', 'op4', 'op5', 'op6', 'op7']) {
        delete j.operations[id];
        j.order['1'] = j.order['1'].filter((k) => k !== id);
      }
    });
    const own = candidatesFor(job, { from: 'o2', to: 'o6' }, 'outer', 'h1');
    const all = candidatesFor(job, { from: 'o2', to: 'o6' }, 'outer', 'h1', undefined, shelf);
    expect(own.every((c) => c.put === null)).toBe(true);
    expect(all.filter((c) => c.put === null).map((c) => [c.kind, c.tool, c.reach])).toEqual(
      own.map((c) => [c.kind, c.tool, c.reach]),
    );
    const loose = all.filter((c) => c.put !== null);
    expect(loose.length).toBeGreaterThan(0);
    for (const c of loose) {
      expect(job.tools[c.tool]).toBeUndefined();
      expect(c.put?.station).toBe(c.station);
      expect(c.reach).toBeGreaterThan(0);
    }
  });
  it('can be taken: the operation plans with it as it was tried', () => {
    const job = demoJob('LM-212', (j) => {
      for (const id of ['b1', 'b2']) {
        delete j.operations[id];
        j.order['2'] = j.order['2'].filter((k) => k !== id);
      }
      for (const station of ['7', '9']) delete j.mounts.lower[station];
      for (const id of ['face-rough-80-left', 'finish-55-left']) delete j.tools[id];
    });
    const found = candidatesFor(job, { from: 'o7', to: 'o7' }, 'outer', 'h2', undefined, shelf);
    const face = found.find((c) => c.kind === 'face' && c.tool === 'face-rough-80-left');
    if (!face?.put) throw new Error('the left-hand tool is offered');
    expect(face.put.carrier).toBe('lower');
    const taken = withPlaced(job, face.put);
    const op = { ...face.operation, id: 'b9' };
    const order = taken.order['2'];
    const at = landingPlace(taken, 'face', 'h2', '2');
    const done: Job = {
      ...taken,
      operations: { ...taken.operations, b9: op },
      order: { ...taken.order, '2': [...order.slice(0, at), 'b9', ...order.slice(at)] },
    };
    const d = derive(done).operations.find((o) => o.id === 'b9');
    expect(d?.station).toBe(face.station);
    expect(d?.events.length).toBeGreaterThan(0);
    expect(d?.findings.filter((f) => f.severity === 'blocking')).toEqual([]);
  });
});
