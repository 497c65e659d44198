import { describe, expect, it } from 'vitest';
import { barOf } from '../../../tests/fixtures/holding';
import { DEMO_JOBS, demoJob } from '../../../tests/fixtures/jobs';
import { seeded } from '../../../tests/fixtures/random';
import { twoChannelJob } from '../../../tests/fixtures/twoChannel';
import { DeriveCache } from './cache';
import { type Derived, derive, rawStockOf } from './derive';
import type { Job } from './document';
import { applyChanges, bodyAfter, type DerivedView, moveEnds, speedLine, trackOf, ViewSender } from './view';

/** Everything that a view shows, taken from the derived job itself. */
const expected = (d: Derived) => ({
  part: d.part,
  holdings: d.holdings.map(({ fixtures: _, zeroZ: __, rawStock, ...h }) => ({
    ...h,
    rawStock: rawStock.turnedOutline,
  })),
  findings: d.findings,
  coverage: d.coverage,
  end: { leftover: d.leftover, gouge: d.gouge, leftoverVolume: d.leftoverVolume },
  total: d.timeline.total,
});
const shown = ({ operations: _, ...rest }: DerivedView) => rest;

/** Edits of every sort that a screen makes. */
const EDITS: ((j: Job, r: () => number) => void)[] = [
  (j, r) => void Object.assign((j.operations.op3 as unknown as { cutting: object }).cutting, { feed: 0.1 + r() / 5 }),
  (j, r) => void Object.assign((j.operations.op3 as unknown as { params: object }).params, { depth: 1 + r() }),
  (j) => void (j.operations.op5.on = !j.operations.op5.on),
  (j) => {
    j.operations.op5.name += '!';
  },
  (j, r) => void (barOf(j).stickOut = 60 + Math.round(r() * 10)),
  (j, r) => void (barOf(j).diameter = 40 + Math.round(r() * 30)),
  (j) => void j.order['1'].reverse(),
  (j) => {
    delete j.operations.op7;
    j.order['1'] = j.order['1'].filter((id) => id !== 'op7');
  },
  (j) => void (j.units = j.units === 'mm' ? 'inch' : 'mm'),
  (j) => void delete j.mounts.upper['1'],
];

describe('what a screen is told', () => {
  it('adds up to the derived job over runs of random edits', () => {
    for (const name of ['LM-101', 'LM-118'] as const)
      for (let seed = 1; seed <= 3; seed++) {
        const random = seeded(seed);
        const cache = new DeriveCache();
        const sender = new ViewSender();
        const job = demoJob(name);
        let view: DerivedView | null = null;
        for (let i = 0; i < 10; i++) {
          const d = derive(structuredClone(job), cache);
          view = applyChanges(view, structuredClone(sender.changes(d)));
          expect(shown(view), `seed ${seed}, step ${i}`).toEqual(structuredClone(expected(d)));
          expect(view.operations.map((o) => [o.id, o.state, o.station, o.removed, o.moves, o.times])).toEqual(
            d.operations.map((o) => [o.id, o.state, o.station, o.removed, o.events.length > 0, o.times]),
          );
          EDITS[Math.floor(random() * EDITS.length)](job, random);
        }
      }
  });
  it('says nothing about what did not change', () => {
    const sender = new ViewSender();
    const job = demoJob('LM-101');
    sender.changes(derive(job));
    expect(sender.changes(derive(structuredClone(job)))).toEqual({ operations: [] });
    const renamed = structuredClone(job);
    renamed.operations.op3.name = 'another name';
    expect(sender.changes(derive(renamed))).toEqual({ operations: [] });
  });
  it('leaves operations before an edit the objects that they were, so that nothing of them is drawn again', () => {
    const sender = new ViewSender();
    const cache = new DeriveCache();
    const job = demoJob('LM-101');
    const first = applyChanges(null, structuredClone(sender.changes(derive(job, cache))));
    const edited = structuredClone(job);
    Object.assign((edited.operations.op3 as unknown as { cutting: object }).cutting, { feed: 0.21 });
    const second = applyChanges(first, structuredClone(sender.changes(derive(edited, cache))));
    const at = first.operations.findIndex((o) => o.id === 'op3');
    first.operations.forEach((o, i) => {
      if (i < at) expect(second.operations[i]).toBe(o);
      // what follows begins at another time
      else expect(second.operations[i]).not.toBe(o);
    });
  });
  it('tells a few kilobytes for an edit of a feed', () => {
    const sender = new ViewSender();
    const job = demoJob('LM-101');
    sender.changes(derive(job));
    Object.assign((job.operations.op3 as unknown as { cutting: object }).cutting, { feed: 0.21 });
    const told = sender.changes(derive(job));
    expect(told.part).toBeUndefined();
    expect(told.operations.map((o) => o.id)).toContain('op3');
    expect(JSON.stringify(told).length).toBeLessThan(8000);
  });
  it.each(DEMO_JOBS)('%s: tracks hold the timed events of each operation from its own start', (name) => {
    const d = derive(demoJob(name));
    for (const op of d.operations) {
      const track = trackOf(d, op.id);
      if (op.events.length === 0) continue;
      // the first operation of a program begins with the slides going home
      expect(track?.timed.map((t) => t.event).filter((e) => e.kind !== 'home')).toEqual(op.events);
      expect(track?.timed[0].start).toBeGreaterThanOrEqual(-1e-9);
      expect(track?.timed.at(-1)?.end).toBeCloseTo(op.times.end - op.times.start, 9);
      expect(track?.before).toBe(op.before.turnedOutline);
      expect(bodyAfter(d, op.id)).toBe(op.after);
    }
    expect(bodyAfter(d, null)).toBe(rawStockOf(d));
  });
  it('a track asked for before an edit is not taken for one after it', () => {
    const cache = new DeriveCache();
    const job = demoJob('LM-118');
    const first = trackOf(derive(job, cache), 'op5');
    const same = trackOf(derive(structuredClone(job), cache), 'op5');
    expect(same?.key).toBe(first?.key);
    Object.assign((job.operations.op3 as unknown as { params: object }).params, { allowanceX: 0.9 });
    expect(trackOf(derive(job, cache), 'op5')?.key).not.toBe(first?.key);
  });
  it('speed lines keep the greatest speed and end with the job; steps stand at ends of moves', () => {
    const d = derive(twoChannelJob());
    for (const c of ['1', '2']) {
      const line = speedLine(d, c, d.timeline.total / 400);
      const all = d.timeline.channels.find((k) => k.id === c)?.events.map((t) => t.speedEnd) ?? [];
      const told = [...line].filter((_, i) => i % 2 === 1);
      expect(Math.max(...told)).toBeGreaterThan(Math.max(...all) * 0.95);
      expect(line.at(-2)).toBe(d.timeline.total);
    }
    const ends = moveEnds(d);
    expect([...ends].every((t, i) => i === 0 || t >= ends[i - 1])).toBe(true);
    expect(ends.length).toBeGreaterThan(50);
  });
});
