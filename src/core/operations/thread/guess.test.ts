import { describe, expect, it } from 'vitest';
import { shopTool, shopTools } from '../../../../tests/fixtures/jobs';
import { insideThreadJob, threadedJob } from '../../../../tests/fixtures/threads';
import { candidatesFor, derive, type Job, newOperation } from '../../plan';
import { withValues } from '../../plan/diff';
import { pitchWithin, STANDARD_NAMES, threadByName } from '../../threads';

/** A pin without a relief: nothing of its shape says which thread is meant. */
const pin = (diameter: number, tool: string, params: object = {}, change: (job: Job) => void = () => undefined): Job =>
  threadedJob({ diameter, tool, relief: null, params: { ...params } }, change);

const span = { from: 'b', to: 'b' };
const guessed = (job: Job, tool: string, kind: 'outer-thread' | 'inner-thread' = 'outer-thread'): string => {
  const { params } = newOperation(job, kind, shopTool(tool), span, 'x', 'h1');
  return 'thread' in params ? String(params.thread) : '';
};

describe('the thread that a new operation begins with', () => {
  it.each([
    [20, 'thread-60-coarse', 'M20'],
    [19.7, 'thread-60-coarse', 'M20'],
    [20, 'thread-60-1.5-full', 'M20x1.5'],
    [14, 'thread-60-1.5-full', 'M14x1.5'],
    [36, 'thread-60-coarse', 'M36x3'],
    [19.05, 'thread-60-coarse', '3/4-10 UN'],
    // a hundredth beside it is an M16 that was turned smaller
    [15.875, 'thread-60-coarse', '5/8-11 UN'],
    [15.85, 'thread-60-coarse', 'M16'],
    [20.955, 'thread-55', 'G 1/2'],
    [20.955, 'thread-55-14-full', 'G 1/2'],
    [20, 'thread-30-4', 'Tr20x4'],
    [20, 'thread-55', ''],
    [21.4, 'thread-60-fine', ''],
  ])('on ⌀%d with %s is “%s”', (diameter, tool, name) => {
    expect(guessed(pin(diameter, tool), tool)).toBe(name);
  });
  it('on a cone of 1:16 is a pipe thread that begins there in front', () => {
    const coned = (name: string, tool: string): Job => {
      const front = threadByName(name)?.major ?? 0;
      return pin(front, tool, {}, (j) => {
        const rows = j.part.outer.rows as { id: string; diameter: number; z: number; corner: unknown }[];
        rows[0].corner = null;
        rows[1].diameter = front - rows[1].z / 16;
      });
    };
    expect(guessed(coned('NPT1/2', 'thread-60-14-full'), 'thread-60-14-full')).toBe('NPT 1/2');
    expect(guessed(coned('R1/2', 'thread-55-14-full'), 'thread-55-14-full')).toBe('R 1/2');
    expect(guessed(coned('R1/2', 'thread-55-14-full'), 'thread-30-4')).toBe('');
  });
  it('in a bore that narrows 1:16 toward the chuck is a taper pipe thread', () => {
    const minor = threadByName('R1/2')?.minor ?? 0;
    const bored = (slope: number): Job => {
      const job = insideThreadJob({ bore: 24, tool: 'thread-bar-55-12', params: {} });
      const row = { id: 'b', kind: 'line', diameter: minor + slope * 16, z: -16, corner: null };
      job.part.inner = { start: { diameter: minor, z: 0 }, rows: [row] } as never;
      return job;
    };
    expect(guessed(bored(-1 / 16), 'thread-bar-55-12', 'inner-thread')).toBe('R 1/2');
    expect(guessed(bored(1 / 16), 'thread-bar-55-12', 'inner-thread')).toBe('');
  });
  it('in a bore fits by its crest, the minor diameter', () => {
    const minor = threadByName('M24x1.5')?.minor ?? 0;
    const job = insideThreadJob({ bore: 24, tool: 'thread-bar-60-16', params: {} });
    job.part.inner = {
      start: { diameter: minor, z: 0 },
      rows: [{ id: 'b', kind: 'line', diameter: minor, z: -20, corner: null } as never],
    };
    expect(guessed(job, 'thread-bar-60-16', 'inner-thread')).toBe('M24x1.5');
  });
});

describe('threads that are offered for a plain diameter', () => {
  it('begin with the coarse one', () => {
    const job = pin(20, 'thread-60-coarse', { thread: 'M20' }, (j) => {
      for (const id of ['thread-60-1.5-full', 'thread-60-fine']) {
        j.tools[id] = shopTool(id);
        j.mounts.upper[String(5 + Object.keys(j.tools).length)] = { '1': { ...j.mounts.upper['3']['1'], tool: id } };
      }
      delete (j.operations as Record<string, unknown>).thread;
      j.order['1'] = j.order['1'].filter((id) => id !== 'thread');
    });
    const found = candidatesFor(job, span, 'outer', 'h1').filter((c) => c.kind === 'outer-thread');
    expect(found.map((c) => c.makes).slice(0, 2)).toEqual(['M20', 'M20x1.5']);
  });
});

describe('a pipe thread that the part shows', () => {
  it('is not held against itself', () => {
    const front = threadByName('NPT1/2')?.major ?? 0;
    const job = threadedJob({ diameter: front, tool: 'thread-60-14-full', params: {} }, (j) => {
      const rows = j.part.outer.rows as { diameter: number; z: number; corner: unknown }[];
      rows[0].corner = null;
      rows[1].diameter = front - rows[1].z / 16;
      delete (j.operations as Record<string, unknown>).thread;
      j.order['1'] = j.order['1'].filter((id) => id !== 'thread');
    });
    const found = candidatesFor(job, span, 'outer', 'h1').find((c) => c.kind === 'outer-thread');
    expect(found?.makes).toBe('NPT 1/2');
    expect(found?.reason).toBeNull();
  });
});

describe('a thread that the part shows and nothing can cut', () => {
  it('is told with the reason, though something else can do something there', () => {
    const bore = 28.376;
    const job = insideThreadJob({ bore, tool: 'thread-bar-60-12', params: {} }, (j) => {
      // a chamfer to start on says that a thread is meant
      const row = (id: string, diameter: number, z: number) => ({ id, kind: 'line', diameter, z, corner: null });
      j.part.outer.start.diameter = bore + 2.2;
      j.part.inner = {
        start: { diameter: bore + 2.2, z: 0 },
        rows: [row('i0', bore, -1.1), row('i', bore, -30)],
      } as never;
      for (const id of ['thread', 'finish']) delete (j.operations as Record<string, unknown>)[id];
      j.order['1'] = j.order['1'].filter((id) => id in j.operations);
      delete (j.tools as Record<string, unknown>)['thread-bar-60-12'];
      delete (j.mounts.upper as Record<string, unknown>)['10'];
    });
    // so short that the turret comes up against the work
    const shelf = [{ ...shopTool('thread-bar-60-12'), stickOut: 12 }];
    const found = candidatesFor(job, { from: 'i', to: 'i' }, 'inner', 'h1', undefined, shelf);
    expect(found.some((c) => c.kind === 'inner-finish' && c.reach > 0)).toBe(true);
    const thread = found.find((c) => c.kind === 'inner-thread');
    expect(thread).toMatchObject({ makes: 'M30x1.5', reach: 0 });
    expect(thread?.reason).toBeTruthy();
  });
});

describe('an insert of full form', () => {
  it('of the library cuts a standard thread of its pitch, inch pitches too', () => {
    const names = STANDARD_NAMES.flat();
    for (const { kind, cutter, id } of shopTools()) {
      if (kind !== 'threading' && kind !== 'threading-bar') continue;
      if (cutter.profile !== 'full') continue;
      const able = names.filter((n) => {
        const form = threadByName(n);
        return form && form.angle === cutter.angle && pitchWithin(form.pitch, cutter);
      });
      expect(able.length, id).toBeGreaterThan(0);
    }
    expect(pitchWithin(25.4 / 14, { pitchMin: 1.814, pitchMax: 1.814 })).toBe(true);
    expect(pitchWithin(1.75, { pitchMin: 1.814, pitchMax: 1.814 })).toBe(false);
  });
  it('cuts G 1/2, which has 14 turns on an inch', () => {
    const job = threadedJob({ diameter: 20.955, tool: 'thread-55-14-full', params: { thread: 'G1/2' } });
    const own = derive(job).findings.filter((f) => f.operation === 'thread' && f.severity === 'blocking');
    expect(own).toEqual([]);
  });
});

describe('remarks on a thread', () => {
  it('that runs 1:16 on a cylinder tell how the surface should be drawn', () => {
    const job = pin(20.6, 'thread-60-14-full', { thread: 'NPT1/2', length: 12 });
    const found = derive(job).findings.find((f) => f.code === 'thread-taper');
    // from the chamfer of 1 to the shoulder at 24
    expect(found?.numbers).toMatchObject({ thread: 'NPT 1/2', found: 0, wanted: 23 / 16, length: 23 });
    const parallel = pin(20.955, 'thread-55', { thread: 'G1/2', length: 12 });
    expect(derive(parallel).findings.map((f) => f.code)).not.toContain('thread-taper');
  });
  it('that has too little room to run in name a speed for which there is enough', () => {
    // a collar stands 4.5 mm in front of the thread
    const job = threadedJob({ diameter: 16, tool: 'thread-60-coarse', params: { thread: 'M16' }, speed: 4000 }, (j) => {
      const rows = j.part.outer.rows as unknown[];
      const row = (id: string, diameter: number, z: number) => ({ id, kind: 'line', diameter, z, corner: null });
      rows.splice(0, 1, row('p', 19, 0), row('q', 19, -2), row('r', 13, -2), row('s', 13, -6.5), row('a', 16, -6.5));
    });
    const found = derive(job).findings.find((f) => f.code === 'thread-run-in');
    expect(found?.severity).toBe('blocking');
    const speed = Number(Object.values(found?.remedy?.set ?? {})[0]);
    // v² grows with the room: 2.0 − 0.1 of what 4000 rev/min want, and down to tens
    expect(speed).toBeGreaterThan(3500);
    expect(speed).toBeLessThan(4000);
    const cured = withValues(structuredClone(job), found?.remedy?.set ?? {});
    expect(derive(cured).findings.map((f) => f.code)).not.toContain('thread-run-in');
  });
});
