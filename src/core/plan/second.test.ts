import { describe, expect, it } from 'vitest';
import { twoChannelJob } from '../../../tests/fixtures/twoChannel';
import { regionArea, subtractRegion } from '../geometry';
import { isMove, type MoveEvent } from '../motion';
import { postJob, programText, proveJob } from '../nc';
import { ToolSchema, usualMount } from '../tooling';
import { type Derived, type DerivedOperation, derive } from './derive';
import { type Job, readJob } from './document';
import { laneOf, secondTools } from './second';
import { unsynchronised } from './sequence';

/** Two turrets on one spindle; the roughing outside is done by both, each with the same insert. */
const bothJob = (change: (job: Job) => void = () => undefined): Job =>
  twoChannelJob((job) => {
    const tool = job.tools[job.operations.op3.tool as string];
    job.tools.twin = { ...structuredClone(tool), id: 'twin', name: 'the same below' };
    job.mounts = { ...job.mounts, lower: { ...job.mounts.lower, 5: { 1: usualMount('twin') } } };
    Object.assign((job.operations.op3 as { params: object }).params, { second: 'twin' });
    change(job);
  });
const alone = twoChannelJob();
const both = bothJob();
const made = derive(both);
const op = (d: Derived, id: string): DerivedOperation => {
  const found = d.operations.find((o) => o.id === id);
  if (!found) throw new Error(`no ${id}`);
  return found;
};
const moves = (d: DerivedOperation): MoveEvent[] => d.events.filter(isMove);
const serious = (d: Derived): string[] => d.findings.flatMap((f) => (f.severity === 'blocking' ? [f.code] : []));

describe('one operation with two tools', () => {
  it('takes the same passes with both, at the feed of both together', () => {
    const [first, second] = [op(made, 'op3'), op(made, 'op3~2')];
    expect(serious(made)).toEqual([]);
    expect(moves(second).map((m) => m.to)).toEqual(moves(first).map((m) => m.to));
    const one = moves(op(derive(alone), 'op3'));
    expect(moves(first).map((m) => m.to)).toEqual(one.map((m) => m.to));
    moves(first).forEach((m, i) => {
      const was = one[i];
      if (m.kind === 'feed' && was.kind === 'feed') expect(m.feed.value).toBeCloseTo(2 * was.feed.value, 12);
    });
    expect(second).toMatchObject({ channel: '2', station: 5, operation: 'op3', removed: 0 });
    expect(second.events.find((e) => e.kind === 'tool')).toMatchObject({ carrier: 'lower', station: 5, tool: 'twin' });
  });

  it('leaves the same stock in about half the time, with twice the power and no bending', () => {
    const single = derive(alone);
    const [a, b] = [op(single, 'op3'), op(made, 'op3')];
    const apart = (p: Derived, q: Derived): number =>
      regionArea(subtractRegion(p.finished.turnedOutline, q.finished.turnedOutline));
    expect(apart(single, made) + apart(made, single)).toBeLessThan(1e-3);
    expect(op(made, 'op3~2').after).toBe(b.after);
    expect(b.times.cutting / a.times.cutting).toBeGreaterThan(0.48);
    expect(b.times.cutting / a.times.cutting).toBeLessThan(0.55);
    expect((b.load?.power ?? 0) / (a.load?.power ?? 1)).toBeCloseTo(2, 9);
    expect((b.load?.torque ?? 0) / (a.load?.torque ?? 1)).toBeCloseTo(2, 9);
    expect(b.load?.force).toBeCloseTo(a.load?.force ?? 0, 9);
    expect(b.load?.bend).toBe(0);
  });

  it('keeps both in step: every cut begins at one moment in both channels', () => {
    const cuts = made.timeline.channels.map((c) =>
      c.events.filter((t) => isMove(t.event) && t.event.kind !== 'rapid' && t.event.op.startsWith('op3')),
    );
    expect(cuts[0].length).toBeGreaterThan(20);
    expect(cuts[1].length).toBe(cuts[0].length);
    cuts[0].forEach((t, i) => {
      expect(Math.abs(t.start - cuts[1][i].start)).toBeLessThan(1e-6);
      expect(Math.abs(t.end - cuts[1][i].end)).toBeLessThan(1e-6);
    });
    // a slower slide below holds the other up, no more
    const slow = bothJob((job) => {
      const link = job.machine.links.find((l) => l.id === 'lower-z');
      if (link?.joint) link.joint.rapid /= 3;
    });
    const d = derive(slow);
    const begun = d.timeline.channels.map((c) =>
      c.events.flatMap((t) =>
        isMove(t.event) && t.event.purpose === 'lead-in' && t.event.op.startsWith('op3') ? [t.start] : [],
      ),
    );
    expect(Math.max(...begun[0].map((t, i) => Math.abs(t - begun[1][i])))).toBeLessThan(1e-6);
    expect(op(d, 'op3').times.end).toBeGreaterThan(op(made, 'op3').times.end);
  });

  it('keeps both in step at constant surface speed too, in both texts', () => {
    const surface = bothJob((job) => {
      const { cutting } = job.operations.op3 as { cutting: { speed: unknown } };
      cutting.speed = { mode: 'surface', value: 150, clamp: null };
    });
    const d = derive(surface);
    const begun = (purpose: string) =>
      d.timeline.channels.map((c) =>
        c.events.flatMap((t) =>
          isMove(t.event) && t.event.purpose === purpose && t.event.op.startsWith('op3') ? [t.start] : [],
        ),
      );
    const apart = ([a, b]: number[][]): number => Math.max(...a.map((t, i) => Math.abs(t - b[i])));
    expect(apart(begun('lead-in'))).toBeLessThan(1e-6);
    // within a pass each channel is timed by its own tool's way from axis to axis: a tenth of a second at the most
    expect(apart(begun('cut'))).toBeLessThan(0.1);
    const proof = proveJob(surface, d, postJob(surface, d, '').map(programText));
    expect(proof.channels.flatMap((c) => [...c.problems, ...c.differences])).toEqual([]);
    expect(proof.agrees).toBe(true);
  });

  it('is posted for both channels with waits, read back and proved', () => {
    const texts = postJob(both, made, '').map(programText);
    expect(texts[1]).toContain('T0505');
    expect(texts[1]).toContain('(T05 THE SAME BELOW');
    expect(texts[1]).toMatch(/^N\d+ \(.* SECOND TOOL\)$/m);
    expect(texts.map((t) => t.match(/M999 P3/g)?.length)).toEqual([
      texts[0].match(/M999 P3/g)?.length,
      texts[0].match(/M999 P3/g)?.length,
    ]);
    const proof = proveJob(both, made, texts);
    expect(proof.channels.flatMap((c) => [...c.problems, ...c.differences])).toEqual([]);
    expect(Math.max(...proof.channels.map((c) => c.maxDeviation))).toBeLessThan(1e-3);
    expect(proof.ok && proof.agrees).toBe(true);
    // a wait too few, and one channel stands for ever
    const lost = proveJob(both, made, [texts[0], texts[1].replace('M999 P3\n', '')]);
    expect(lost.agrees).toBe(false);
    // the other tool is called
    expect(proveJob(both, made, [texts[0], texts[1].replaceAll('T0505', 'T0202')]).agrees).toBe(false);
  });

  it('comes into the other lane as early as the marks let it', () => {
    expect(laneOf(both, '2').map((i) => (i.second ? `${i.operation}~2` : i.operation))).toEqual([
      'w1b',
      'op3~2',
      'op2',
      'w2b',
      'op4',
      'op6',
      'w3b',
    ]);
    expect(laneOf(both, '1').map((i) => i.operation)).toEqual(both.order['1']);
    // what comes after both in each channel still needs a mark of its own
    const open = bothJob((job) => {
      job.order = { 1: ['op1', 'op3', 'op5', 'op7'], 2: ['op2', 'op4', 'op6'] };
      for (const id of ['w1a', 'w1b', 'w2a', 'w2b', 'w3a', 'w3b']) delete job.operations[id];
    });
    expect(unsynchronised(open).map((f) => f.operation)).toEqual(['op2']);
    const last = bothJob((job) => {
      job.order = { 1: ['op3'], 2: [] };
      for (const id of Object.keys(job.operations)) if (id !== 'op3') delete job.operations[id];
    });
    expect(unsynchronised(last)).toEqual([]);
    expect(serious(derive(last))).toEqual([]);
    expect(op(derive(last), 'op3~2').events.length).toBeGreaterThan(20);
  });

  it('is the same from the cache as from scratch when the second tool is taken away and put back', () => {
    const off = bothJob(
      (job) => void Object.assign((job.operations.op3 as { params: object }).params, { second: null }),
    );
    expect(derive(off).operations.map((o) => o.id)).not.toContain('op3~2');
    expect(derive(off).timeline.total).toBeGreaterThan(made.timeline.total);
  });
});

describe('two tools that cannot work together', () => {
  const codes = (change: (job: Job) => void): { codes: string[]; words: string } => {
    const d = derive(bothJob(change));
    const f = d.findings.filter((k) => k.operation === 'op3' && k.severity === 'blocking');
    expect(op(d, 'op3').events).toEqual([]);
    return { codes: f.map((k) => k.code), words: JSON.stringify(f.map((k) => k.numbers)) };
  };
  it('are told: another nose, another edge, another direction of the spindle', () => {
    const insert = (designation: string) => (job: Job) => {
      const { twin } = job.tools;
      job.tools.twin = ToolSchema.parse({ ...twin, cutter: { ...(twin as { cutter: object }).cutter, designation } });
    };
    const nose = codes(insert('CNMG120404'));
    expect(nose.codes).toEqual(['second-differs']);
    expect(nose.words).toContain('nose');
    const turned = codes((job) => {
      job.mounts = { ...job.mounts, lower: { 5: { 1: { ...usualMount('twin'), wayUp: 'turned' } } } };
    });
    expect(turned.codes).toEqual(['second-differs']);
    expect(turned.words).toContain('the other way');
  });
  it('are told: on one carrier, in no station, a drill', () => {
    const upper = codes((job) => {
      job.mounts = { upper: { ...job.mounts.upper, 11: { 1: usualMount('twin') } }, lower: {} };
    });
    expect(upper.codes).toEqual(['second-alone']);
    expect(codes((job) => void (job.mounts = { ...job.mounts, lower: {} })).codes).toEqual(['second-alone']);
    const drill = codes((job) => {
      Object.assign((job.operations.op3 as { params: object }).params, { second: 'drill-16' });
    });
    expect(drill.codes).toEqual(['wrong-tool']);
  });
  it('are told: in a repeat, with the button that takes the second one away', () => {
    const repeated = (job: Job): void => {
      job.repeats.r = {
        id: 'r',
        name: 'twice',
        operations: ['op3'],
        count: 2,
        pitch: 5,
        first: 1,
        zeros: 'one',
        by: 'part',
        output: 'moves',
      };
    };
    const told = codes(repeated);
    expect(told.codes).toEqual(['second-repeated']);
    const d = derive(bothJob(repeated));
    expect(d.findings.find((f) => f.code === 'second-repeated')?.remedy?.set).toEqual({
      '/operations/op3/params/second': null,
    });
  });
  it('are told: the second one meets something, in its own lane', () => {
    const short = bothJob((job) => {
      const link = job.machine.links.find((l) => l.id === 'lower-z');
      if (link?.joint) link.joint.max = (link.joint.min ?? 0) + 40;
    });
    const d = derive(short);
    expect(op(d, 'op3').findings.filter((f) => f.severity === 'blocking')).toEqual([]);
    expect(op(d, 'op3~2').findings.map((f) => f.code)).toContain('travel-z');
    expect(op(d, 'op3~2').state).toBe('blocked');
  });
  it('offers what could: turning tools of the other carrier that come to this work', () => {
    const found = (job: Job) => secondTools(job, job.operations.op3 as never).map((t) => t.id);
    expect(found(both)).toEqual(['twin']);
    expect(found(alone)).toEqual([]);
    const read = readJob(JSON.parse(JSON.stringify(both)));
    expect(read.ok && (read.job.operations.op3 as { params: { second: string } }).params.second).toBe('twin');
  });
});
