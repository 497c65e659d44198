'use client';
import {
  foldAboutAxis,
  type Point,
  point,
  type Region,
  subtractRegion,
  sweepAlong,
  unionRegions,
} from '@/core/geometry';
import { isMove, placeWithin, type TimedEvent } from '@/core/motion';
import type { Derived, DerivedOperation, Job } from '@/core/plan';
import { cutStock, movePoints } from '@/core/stock';

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
    const cutting = isMove(t.event) && t.event.kind !== 'rapid';
    const from = point(t.from.x - section.tip.x, t.from.y - section.tip.y);
    track.stocks.push(cutting ? cutStock(last, section, [from, ...movePoints(t.event, from, section.tip)]) : last);
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
  const carrier = job.machine.carriers.find((c) => c.channel === current.channel) ?? job.machine.carriers[0];
  const tip = placeWithin(t, share, carrier, job.machine.rapidPath);
  const centre = point(tip.x - current.section.tip.x, tip.y - current.section.tip.y);
  let stock = stockBefore(current, track, index);
  if (isMove(t.event) && t.event.kind !== 'rapid' && share > 0) {
    const from = point(t.from.x - current.section.tip.x, t.from.y - current.section.tip.y);
    const path = [from, ...partWay(t, share, from, current.section.tip)];
    stock = subtractRegion(
      stock,
      foldAboutAxis(unionRegions(...current.section.cutting.map((s) => sweepAlong(s, path)))),
    );
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

const partWay = (t: TimedEvent, share: number, from: Point, tip: Point): Point[] => {
  const points = movePoints(t.event, from, tip);
  if (points.length <= 1)
    return points.map((p) => point(from.x + (p.x - from.x) * share, from.y + (p.y - from.y) * share));
  return points.slice(0, Math.max(1, Math.round(points.length * share)));
};

/** Times at which the cursor may stand when stepping by moves. */
export const moveTimes = (derived: Derived): number[] =>
  derived.timeline.channels.flatMap((c) =>
    c.events.filter((t) => isMove(t.event) && t.end > t.start).map((t) => t.end),
  );
