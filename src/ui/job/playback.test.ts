import { describe, expect, it } from 'vitest';
import { greatestHalfThickness, type Region, regionVolume, subtractRegion, unionRegions } from '@/core/geometry';
import { applyChanges, type DerivedView, derive, type Job, rawStockOf, trackOf, ViewSender } from '@/core/plan';
import { demoJob } from '../../../tests/fixtures/jobs';
import type { Fetched, Played } from './fetched';
import { momentAt } from './playback';

/** A job with everything fetched that playing could ask for. */
const loaded = (name: string) => {
  const job: Job = demoJob(name);
  const derived = derive(job);
  const view: DerivedView = applyChanges(null, new ViewSender().changes(derived));
  const tracks = new Map<string, Played>();
  const bodies = new Map<string, Region>();
  for (const o of view.operations) {
    const track = trackOf(derived, o.id);
    if (track) tracks.set(track.key, { track, stocks: [track.before] });
    const made = derived.operations.find((k) => k.id === o.id);
    if (made) bodies.set(o.key, made.after.turnedOutline);
  }
  const fetched: Fetched = { tracks, bodies };
  const at = (time: number, holding?: string) => {
    const m = momentAt(job, view, time, fetched, holding);
    if (!('stock' in m)) throw new Error('something is wanted');
    return m;
  };
  return { job, derived, view, fetched, at };
};

describe.each(['LM-101', 'LM-118', 'LM-155'])('%s under the time cursor', (name) => {
  const { derived, view, at } = loaded(name);
  it('begins with the raw stock and ends with what the plan leaves', () => {
    expect(regionVolume(at(0).stock)).toBeCloseTo(regionVolume(rawStockOf(derived).turnedOutline), 3);
    const last = derived.operations.at(-1);
    expect(at(view.total + 1).stock).toBe(last?.after.turnedOutline);
  });
  it('comes at the end of every operation to the stock that the plan has after it', () => {
    for (const o of derived.operations) {
      if (o.events.length === 0) continue;
      const { stock } = at(o.times.end - 1e-6);
      const apart = unionRegions(
        subtractRegion(stock, o.after.turnedOutline),
        subtractRegion(o.after.turnedOutline, stock),
      );
      // two ways of taking metal off, and pieces that fall at the end of an operation
      expect(2 * greatestHalfThickness(apart), o.id).toBeLessThan(0.01);
    }
  });
  it('never grows metal back, and the tool moves without jumps', () => {
    const step = view.total / 300;
    let volume = Number.POSITIVE_INFINITY;
    for (let t = 0; t <= view.total; t += step) {
      const m = at(t);
      const now = regionVolume(m.stock);
      expect(now).toBeLessThanOrEqual(volume + 0.05);
      volume = now;
    }
    for (const o of derived.operations.filter((k) => k.events.length > 0)) {
      let last: { x: number; y: number } | null = null;
      for (let t = o.times.start; t < o.times.end - 1e-9; t += 0.02) {
        const tip = at(t).hands[0]?.tip ?? null;
        // the fastest slide covers 0.4 mm in a millisecond
        if (tip && last) expect(Math.hypot(tip.x - last.x, tip.y - last.y)).toBeLessThan(0.02 * 1000);
        last = tip;
      }
    }
  });
  it('says the operation and a speed within the spindle’s range while one runs', () => {
    for (const o of view.operations.filter((k) => k.moves)) {
      const m = at((o.times.start + o.times.end) / 2);
      expect(m.hands.map((h) => h.operation.id)).toEqual([o.id]);
      expect(m.hands[0].speed).toBeGreaterThanOrEqual(0);
      expect(m.hands[0].speed).toBeLessThanOrEqual(4500);
    }
  });
});

describe('two turrets and two spindles under the time cursor', () => {
  const { derived, view, at } = loaded('LM-212');
  const times = (id: string) => view.operations.find((o) => o.id === id)?.times ?? { start: 0, end: 0 };
  it('show every tool that is at work', () => {
    const both = Math.min(times('op3').end, times('op2').end) - 1;
    expect(
      at(both)
        .hands.map((h) => h.operation.id)
        .sort(),
    ).toEqual(['op2', 'op3']);
    // when both are done the metal is what both have left
    const m = at(times('op3').end - 1e-6);
    const pair = derived.operations.filter((o) => o.id === 'op2' || o.id === 'op3');
    const after = pair[1].after;
    const apart = unionRegions(
      subtractRegion(m.stock, after.turnedOutline),
      subtractRegion(after.turnedOutline, m.stock),
    );
    expect(2 * greatestHalfThickness(apart)).toBeLessThan(0.01);
  });
  it('take off what each takes, and no metal comes back', () => {
    let volume = Number.POSITIVE_INFINITY;
    for (let t = times('op2').start; t < times('op6').end; t += 1.5) {
      const now = regionVolume(at(t).stock);
      expect(now).toBeLessThanOrEqual(volume + 0.5);
      volume = now;
    }
  });
  it('have each spindle with its own work: the sub-spindle’s piece waits, then is cut', () => {
    const raw = view.holdings[1].rawStock;
    expect(at(times('b1').start - 1, 'h2')).toMatchObject({ hands: [], stock: raw });
    const during = at((times('b1').start + times('b1').end) / 2, 'h2');
    expect(during.hands.map((h) => h.operation.id)).toEqual(['b1']);
    expect(regionVolume(during.stock)).toBeLessThan(regionVolume(raw));
    expect(at(view.total + 1, 'h2').stock).toBe(derived.operations.at(-1)?.after.turnedOutline);
  });
});

describe('what has not come yet', () => {
  it('is asked for by operation: a track while it runs, a body between', () => {
    const { job, view } = loaded('LM-118');
    const none: Fetched = { tracks: new Map(), bodies: new Map() };
    const first = view.operations[0];
    expect(momentAt(job, view, (first.times.start + first.times.end) / 2, none)).toEqual({ track: first });
    expect(momentAt(job, view, view.total + 1, none)).toEqual({ body: view.operations.filter((o) => o.moves).at(-1) });
    expect(momentAt(job, view, -1, none)).toMatchObject({ hands: [], stock: view.holdings[0].rawStock });
  });
});
