'use client';
import {
  flattenChain,
  foldAboutAxis,
  type Point,
  type Region,
  subtract,
  subtractRegion,
  sweepAlong,
  trimCurve,
  unionRegions,
} from '@/core/geometry';
import { isMove, placeWithin, type TimedEvent } from '@/core/motion';
import type { Derived, DerivedOperation, Job } from '@/core/plan';
import { centrePoints, cutStock } from '@/core/stock';

/** Everything that the drawing shows at one moment. */
export interface Moment {
  readonly stock: Region;
  readonly operation: DerivedOperation | null;
  /** Nose centre of the tool. */
  readonly centre: Point | null;
  readonly tip: Point | null;
  readonly timed: TimedEvent | null;
  readonly speed: number;
}

interface OperationTrack {
  readonly timed: readonly TimedEvent[];
  /** Stock before each event. */
  readonly stocks: Region[];
}

const tracks = new WeakMap<DerivedOperation, OperationTrack>();

/** Timed events of one operation; stock snapshots are filled in as far as they are asked for. */
const trackOf = (derived: Derived, op: DerivedOperation): OperationTrack => {
  const found = tracks.get(op);
  if (found) return found;
  const timed =
    derived.timeline.channels.find((c) => c.id === op.channel)?.events.filter((t) => t.event.op === op.id) ?? [];
  const track = { timed, stocks: [op.before] };
  tracks.set(op, track);
  return track;
};

const stockBefore = (op: DerivedOperation, track: OperationTrack, index: number): Region => {
  const section = op.section;
  if (!section) return op.before;
  while (track.stocks.length <= index) {
    const i = track.stocks.length - 1;
    const t = track.timed[i];
    const last = track.stocks[i];
    const cutting = t.move && t.event.kind !== 'rapid';
    track.stocks.push(cutting && t.move ? cutStock(last, section, centrePoints(t.move, section.tip)) : last);
  }
  return track.stocks[index];
};

/** Stock, tool and place at a time of one channel. */
export const momentAt = (job: Job, derived: Derived, time: number): Moment => {
  const ops = derived.operations.filter((o) => o.events.length > 0 && o.section);
  const current = ops.find((o) => time >= o.times.start && time < o.times.end) ?? null;
  if (!current?.section) {
    const done = ops.filter((o) => o.times.end <= time);
    return {
      stock: done.length > 0 ? done[done.length - 1].after : derived.rawStock,
      operation: null,
      centre: null,
      tip: null,
      timed: null,
      speed: 0,
    };
  }
  const track = trackOf(derived, current);
  let index = track.timed.findIndex((t) => time >= t.start && time < t.end);
  if (index < 0) index = track.timed.length - 1;
  const t = track.timed[index];
  const duration = t.end - t.start - t.waiting;
  const share = duration <= 0 ? 1 : Math.max(0, Math.min(1, (time - t.start - t.waiting) / duration));
  const carrier = job.machine.carriers.find((c) => c.channel === current.channel);
  const tip = placeWithin(t, share, carrier, job.machine.rapidPath);
  const { section } = current;
  const centre = subtract(tip, section.tip);
  let stock = stockBefore(current, track, index);
  if (t.move && t.event.kind !== 'rapid' && share > 0) {
    const path = flattenChain([trimCurve(t.move.curve, 0, share)]).map((p) => subtract(p, section.tip));
    stock = subtractRegion(stock, foldAboutAxis(unionRegions(...section.cutting.map((s) => sweepAlong(s, path)))));
  }
  return {
    stock,
    operation: current,
    centre,
    tip,
    timed: t,
    speed: t.speedStart + (t.speedEnd - t.speedStart) * share,
  };
};

/** Times at which the cursor may stand when stepping by moves. */
export const moveTimes = (derived: Derived): number[] =>
  derived.timeline.channels.flatMap((c) =>
    c.events.filter((t) => isMove(t.event) && t.end > t.start).map((t) => t.end),
  );
