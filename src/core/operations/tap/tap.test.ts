import { describe, expect, it } from 'vitest';
import { demoJob, lineRow, shopTool } from '../../../../tests/fixtures/jobs';
import { postJob, programText, proveJob } from '../../nc';
import { candidatesFor, derive, type Job, threadedIn, threadsIn } from '../../plan';
import { heldIn } from '../../plan/derive';
import { partedBy, threadMesh } from '../../threads';
import { inStations, ToolSchema } from '../../tooling';
import { OperationSchema } from '../registry';

/** A block with a drilled hole on its axis, blind or through, and one operation that finishes it. */
const holeJob = (
  p: { drill: string; diameter: number; depth: number | null; tool: string; op: Record<string, unknown> },
  change: (job: Job) => void = () => undefined,
): Job =>
  demoJob('LM-101', (job) => {
    const deep = p.depth ?? 30;
    const cone = p.diameter / 2 / Math.tan((70 * Math.PI) / 180);
    job.part = {
      ...job.part,
      outer: {
        start: { diameter: p.diameter, z: 0 },
        rows: [lineRow('a', 40, 0), lineRow('b', 40, -30), lineRow('c', p.depth === null ? p.diameter : 0, -30)],
      },
      inner: {
        start: { diameter: p.diameter, z: 0 },
        rows: [
          lineRow('i', p.diameter, -deep),
          ...(p.depth === null ? [] : [lineRow('k', 0, Number((-deep - cone).toFixed(4)))]),
        ],
      },
    } as Job['part'];
    Object.assign(job.holdings.h1.stock, { diameter: 42, stickOut: 50, frontAllowance: 1 });
    const tools = ['face-rough-80', p.drill, p.tool].map(shopTool);
    job.tools = Object.fromEntries(tools.map((t) => [t.id, t]));
    job.mounts = { upper: inStations({ '1': 'face-rough-80', '5': p.drill, '6': p.tool }) };
    const op = (value: Record<string, unknown>) =>
      OperationSchema.parse({ channel: '1', holding: 'h1', name: String(value.id), ...value });
    const list = [
      op({
        id: 'face',
        kind: 'face',
        tool: 'face-rough-80',
        cutting: { speed: { mode: 'surface', value: 300 }, feed: 0.2 },
        params: { depth: 1 },
      }),
      op({
        id: 'drill',
        kind: 'drill',
        tool: p.drill,
        cutting: { speed: { mode: 'fixed', value: 2000 }, feed: 0.15 },
        params: { depth: p.depth, peck: 6, breakThrough: 6, output: 'moves' },
      }),
      op({ id: 'x', tool: p.tool, cutting: { speed: { mode: 'fixed', value: 800 }, feed: 0.15 }, params: {}, ...p.op }),
    ];
    job.operations = Object.fromEntries(list.map((o) => [o.id, o]));
    job.order = { '1': list.map((o) => o.id) };
    change(job);
  });
const M10 = {
  drill: 'drill-8.5',
  diameter: 8.5,
  depth: 25,
  tool: 'tap-m10',
  op: { kind: 'tap', params: { depth: 16 } },
} as const;
const made = (job: Job) => {
  const d = derive(job);
  const op = d.operations.find((o) => o.id === 'x');
  if (!op) throw new Error('no operation');
  return { d, op, serious: op.findings.flatMap((f) => (f.severity === 'info' ? [] : [`${f.severity} ${f.code}`])) };
};

describe('a floating chuck', () => {
  const floating = (feedShare: number, output = 'cycle'): Job =>
    holeJob({ ...M10, op: { kind: 'tap', params: { depth: 16, chuck: 'floating', feedShare, output } } });
  it('is fed slower than the pitch and less far than the tap draws itself in', () => {
    const { op, serious } = made(floating(96));
    expect(serious).toEqual([]);
    const passes = op.events.flatMap((e) => (e.kind === 'thread' ? [[e.to.Z, e.lead]] : []));
    // from 4.5 in front to 19.75 deep are 24.25 mm; 96 % of them 23.28
    expect(passes).toEqual([
      [-18.78, 1.44],
      [4.5, 1.44],
    ]);
  });
  it.each(['cycle', 'moves'])('is proved, posted as %s', (output) => {
    const job = floating(97, output);
    const { d } = made(job);
    const text = programText(postJob(job, d, '')[0]);
    expect(text).toContain('F1.455');
    expect(proveJob(job, d, [text]).agrees).toBe(true);
  });
  it('that would have to give too much is told; an impossible share is refused', () => {
    expect(made(floating(80)).serious).toEqual([]);
    const deep = holeJob({
      ...M10,
      depth: null,
      op: { kind: 'tap', params: { depth: null, chuck: 'floating', feedShare: 80 } },
    });
    deep.tools['tap-m10'] = ToolSchema.parse({
      ...deep.tools['tap-m10'],
      cutter: { ...deep.tools['tap-m10'].cutter, threadLength: 60 },
      stickOut: 90,
    });
    expect(made(deep).serious).toContain('attention tap-float');
    expect(made(floating(130)).serious).toContain('blocking bad-number');
  });
});

describe('the thread of a tap', () => {
  it('stands in its hole as a form, as deep as it is full', () => {
    const job = holeJob(M10);
    const held = heldIn(derive(job), 'h1');
    const [t, ...more] = threadsIn(job, held);
    expect(more).toEqual([]);
    // M10: crest at ⌀8.376 by the standard, root at ⌀10
    expect([t.designation, t.side, t.hand, t.pitch]).toEqual(['M10', 'inner', 'right', 1.5]);
    expect(t.crest.map((p) => [p.x, 2 * p.y])).toEqual([
      [0, expect.closeTo(10 - 1.082532 * 1.5, 6)],
      [-16, expect.closeTo(10 - 1.082532 * 1.5, 6)],
    ]);
    expect(2 * t.root[1].y).toBeCloseTo(10, 3);
    // sixteen of the drilled 25 are under it
    const { under, rest } = partedBy(held.part.boundary, t);
    expect(under.map((c) => [c.from.y, Math.abs(c.to.x - c.from.x)])).toEqual([[4.25, 16]]);
    expect(rest.some((c) => c.from.y === 4.25 && Math.abs(c.to.x - c.from.x) === 9)).toBe(true);
    const mesh = threadMesh(t, { under, open: [false, false] });
    const far = Math.max(
      ...Array.from(mesh.positions).flatMap((_, i, all) => (i % 3 ? [] : [Math.hypot(all[i + 1], all[i + 2])])),
    );
    expect(far).toBeCloseTo(5, 2);
  });
  it('is the thread of the element on which it comes to lie, and of no other', () => {
    const job = holeJob(M10);
    expect(threadedIn(job, heldIn(derive(job), 'h1'))).toEqual(['i']);
    // in a hole much wider than its crest it lies nowhere
    job.part.inner?.rows.splice(0, 1, lineRow('i', 10.4, -25));
    if (job.part.inner) job.part.inner.start.diameter = 10.4;
    expect(threadedIn(job, heldIn(derive(job), 'h1'))).toEqual([]);
    job.operations.x.on = false;
    expect(threadedIn(job, heldIn(derive(job), 'h1'))).toEqual([]);
  });
  it('goes through where it has no depth, and is none without a tap', () => {
    const through = holeJob({ ...M10, depth: null, op: { kind: 'tap', params: { depth: null } } });
    expect(threadsIn(through, heldIn(derive(through), 'h1'))[0].crest[1].x).toBe(-30);
    through.operations.x.tool = null;
    expect(threadsIn(through, heldIn(derive(through), 'h1'))).toEqual([]);
  });
});

describe('tapping', () => {
  it('goes 16 of full thread and its chamfer deep, back in step with the spindle reversed', () => {
    const { op, serious } = made(holeJob(M10));
    expect(serious).toEqual([]);
    const passes = op.events.filter((e) => e.kind === 'thread');
    // M10 has a pitch of 1.5, and 2.5 threads of chamfer
    expect(passes.map((e) => (e.kind === 'thread' ? [e.to.Z, e.lead] : []))).toEqual([
      [-16 - 2.5 * 1.5, 1.5],
      [3 * 1.5, 1.5],
    ]);
    const spindles = op.events.flatMap((e) => (e.kind === 'spindle' ? [e.direction] : []));
    expect(spindles).toEqual(['forward', 'reverse', 'forward']);
  });
  it('takes R/n each way and n/α for each half of a reversal', () => {
    const job = holeJob(M10);
    const { d, op } = made(job);
    const timed = d.timeline.channels[0].events.filter((t) => t.event.op === 'x' && t.event.kind === 'thread');
    const [down, up] = timed;
    const revs = (16 + 3.75 + 4.5) / 1.5;
    const n = 800 / 60;
    const alpha = job.machine.spindles[0].maxSpeed / job.machine.spindles[0].runUp / 60;
    // the spindle comes to rest and up again while the tap waits: 2·n/α less the time of the code that tells it
    expect(up.waiting).toBeCloseTo((2 * n) / alpha - job.machine.mCodeTime, 3);
    expect(down.end - down.start - down.waiting).toBeCloseTo(revs / n, 1);
    expect(op.times.cutting).toBeCloseTo((2 * revs) / n, 1);
  });
  it.each([
    ['as a cycle', { depth: 16, output: 'cycle' }, /G84 Z-19\.75 R0\. F1\.5/],
    ['as moves', { depth: 16, output: 'moves' }, /G32 Z-19\.75 F1\.5\nG97 S800 M4\nG32 Z4\.5 F1\.5/],
    ['left-hand', { depth: 16, hand: 'left' }, /G97 S800 M4/],
  ])('is posted, read back and proved: %s', (_name, params, text) => {
    const job = holeJob({ ...M10, op: { kind: 'tap', params } });
    const { d } = made(job);
    const posted = postJob(job, d, '').map(programText);
    expect(posted[0]).toMatch(text);
    const proof = proveJob(job, d, posted);
    expect(proof.channels.flatMap((c) => [...c.problems, ...c.differences])).toEqual([]);
    expect(proof.agrees).toBe(true);
  });
  it('through goes a pitch beyond with its full thread', () => {
    const { op, serious } = made(holeJob({ ...M10, depth: null, op: { kind: 'tap', params: {} } }));
    expect(serious.filter((s) => s.startsWith('blocking'))).toEqual(['blocking drill-too-short']);
    expect(op.findings.find((f) => f.code === 'drill-too-short')?.numbers).toMatchObject({ flutes: 30 });
  });
  it.each<[string, Parameters<typeof holeJob>[0], string]>([
    ['a blind hole with no room', { ...M10, op: { kind: 'tap', params: { depth: 22 } } }, 'blocking tap-no-room'],
    [
      'no hole',
      { ...M10, drill: 'drill-5', diameter: 5, op: { kind: 'tap', params: { depth: 12 } } },
      'blocking tap-hole',
    ],
    [
      'a hole too wide',
      { ...M10, drill: 'drill-9.8', diameter: 9.8, op: { kind: 'tap', params: { depth: 12 } } },
      'attention tap-hole-wide',
    ],
    [
      'a hole that the tap does not touch',
      { ...M10, drill: 'drill-10.2', diameter: 10.2, op: { kind: 'tap', params: { depth: 12 } } },
      'blocking tap-hole-wide',
    ],
    [
      'constant surface speed',
      {
        ...M10,
        op: { kind: 'tap', params: { depth: 12 }, cutting: { speed: { mode: 'surface', value: 15 }, feed: 0.1 } },
      },
      'blocking thread-needs-speed',
    ],
  ])('is refused or told with %s', (_name, p, code) => {
    expect(made(holeJob(p)).serious).toContain(code);
  });
  it('offers as much thread as the hole has room for, which cures it', () => {
    const job = holeJob({ ...M10, op: { kind: 'tap', params: { depth: 22 } } });
    const remedy = made(job).op.findings.find((f) => f.code === 'tap-no-room')?.remedy;
    const depth = remedy?.set['/operations/x/params/depth'];
    expect(made(holeJob({ ...M10, op: { kind: 'tap', params: { depth } } })).serious).toEqual([]);
  });
  it('is offered for a drilled bore, with the taps that its hole fits', () => {
    const job = holeJob(M10, (j) => {
      j.order['1'] = ['face', 'drill'];
      delete j.operations.x;
    });
    // M6 and M8 would not touch it: nothing would help them
    const shelf = ['tap-m6', 'tap-m8', 'tap-m12'].map(shopTool);
    const taps = candidatesFor(job, null, 'inner', 'h1', undefined, shelf).filter((c) => c.kind === 'tap');
    expect(taps.filter((c) => c.reach > 0 && !c.doubtful).map((c) => c.makes)).toEqual([]);
    expect(taps.map((c) => [c.tool, c.reason?.slice(0, 20) ?? ''])).toContainEqual([
      'tap-m10',
      expect.stringContaining('The tap goes'),
    ]);
    for (const wide of ['tap-m6', 'tap-m8']) expect(taps.map((c) => c.tool)).not.toContain(wide);
  });
});

describe('reaming', () => {
  const H8 = {
    drill: 'drill-7.8',
    diameter: 8,
    depth: null,
    tool: 'reamer-8',
    op: { kind: 'ream', params: {} },
  } as const;
  it('takes what the drill has left and is fed out again', () => {
    const job = holeJob(H8);
    const { d, op, serious } = made(job);
    expect(serious).toEqual([]);
    const ways = op.events.flatMap((e) => (e.kind === 'feed' ? [[e.purpose, e.to.Z]] : []));
    expect(ways).toEqual([
      ['cut', -33],
      ['lead-out', 1],
    ]);
    expect(d.coverage.find((c) => c.element === 'i')?.left).toBeLessThanOrEqual(0.005);
    const posted = postJob(job, d, '').map(programText);
    expect(proveJob(job, d, posted).agrees).toBe(true);
  });
  it('is refused where the hole is not deep or wide enough, and told where it only rubs', () => {
    expect(made(holeJob({ ...H8, drill: 'drill-6.8' })).serious).toContain('blocking ream-hole');
    expect(made(holeJob({ ...H8, tool: 'reamer-8', drill: 'drill-8.5' })).serious).toContain('attention ream-thin');
  });
});
