'use client';
import { useEffect, useMemo } from 'react';
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
import { carrierOf, type Reach, reachOf } from '@/core/machine';
import { type MotionEvent, placeWithin } from '@/core/motion';
import type { DerivedView, Job, OperationView } from '@/core/plan';
import { centrePoints, cutStock, turnedBody } from '@/core/stock';
import type { ToolSection } from '@/core/tooling';
import { core } from './core';
import { useDerived } from './derived';
import { useDocument } from './document';
import { type Fetched, keepBody, keepTrack, type Played, useEarly, useFetched } from './fetched';
import { useHoldingId } from './holding';
import { useSelection } from './selection';

/** Axes of an operation's tool against its work. */
const axesOf = (job: Job, op: OperationView): Reach['axes'] => {
  const carrier = carrierOf(job.machine, op.channel);
  const spindle = job.holdings[op.holding]?.spindle ?? '';
  return (carrier && reachOf(job.machine, carrier.id, spindle)?.axes) ?? {};
};

/** A tool at work. */
export interface Hand {
  readonly operation: OperationView;
  readonly section: ToolSection;
  /** Nose centre of the tool. */
  readonly centre: Point;
  readonly tip: Point;
  readonly speed: number;
}

/** Everything that the drawing shows of a holding at one moment. */
export interface Moment {
  readonly stock: Region;
  /** Tools that are at work there, in the order of the channels. */
  readonly hands: readonly Hand[];
}

/** What a moment needs that has not come yet. */
export type Wanted = { readonly track: OperationView } | { readonly body: OperationView };

const asked = new Set<string>();

const fetchOnce = (name: string, load: () => Promise<void>): void => {
  if (asked.has(name)) return;
  asked.add(name);
  void load()
    .catch(() => undefined)
    .finally(() => asked.delete(name));
};

const fetchTrack = (op: OperationView): void =>
  fetchOnce(`track ${op.key}`, async () => {
    const track = await core().track(op.id);
    // the job may have moved on meanwhile: the track says which one it belongs to
    if (track) keepTrack(track);
  });

const fetchBody = (op: OperationView): void =>
  fetchOnce(`body ${op.key}`, async () => {
    const body = await core().body(op.id);
    const now = useDerived.getState().view?.operations.find((o) => o.id === op.id);
    if (now?.key === op.key) keepBody(op.key, body);
  });

const stockBefore = ({ track, stocks }: Played, index: number): Region => {
  while (stocks.length <= index) {
    const i = stocks.length - 1;
    const t = track.timed[i];
    const cutting = t.move && t.event.kind !== 'rapid';
    stocks.push(
      cutting && t.move
        ? cutStock(turnedBody(stocks[i]), track.section, centrePoints(t.move, track.section.tip)).turnedOutline
        : stocks[i],
    );
  }
  return stocks[index];
};

/** A holding's stock, tools and places at a time; or what is needed to say so. */
export const momentAt = (
  job: Job,
  view: DerivedView,
  time: number,
  fetched: Fetched,
  holding: string = view.holdings[0].id,
): Moment | Wanted => {
  // in the order in which they change the stock; side by side, one may be done while an earlier one is not
  const ops = view.operations.filter((o) => o.moves && o.holding === holding);
  const open = ops.findIndex((o) => o.times.end > time);
  const first = open < 0 ? ops.length : open;
  const begun = ops.slice(first).filter((o) => o.times.start <= time);
  let stock = view.holdings.find((h) => h.id === holding)?.rawStock ?? [];
  if (begun[0] !== ops[first] || begun.length === 0) {
    const last = ops[first - 1];
    if (last) {
      const body = fetched.bodies.get(last.key);
      if (!body) return { body: last };
      stock = body;
    }
  }
  const hands: Hand[] = [];
  for (const op of begun) {
    const played = fetched.tracks.get(op.key);
    if (!played) return { track: op };
    const { before } = played.track;
    let now: Region;
    if (op.times.end > time) {
      const at = handAt(job, op, played, time);
      hands.push(at.hand);
      now = at.stock;
    } else {
      const body = fetched.bodies.get(op.key);
      if (!body) return { body: op };
      now = body;
    }
    // what each takes off is taken off together, whoever was counted first
    stock = op === ops[first] ? now : subtractRegion(stock, subtractRegion(before, now));
  }
  return { stock, hands };
};

/** One operation at a time: its tool, and its stock as if it worked alone. */
const handAt = (job: Job, op: OperationView, played: Played, time: number): { hand: Hand; stock: Region } => {
  const { timed, section } = played.track;
  const at = time - op.times.start;
  let index = timed.findIndex((t) => at >= t.start && at < t.end);
  if (index < 0) index = timed.length - 1;
  const t = timed[index];
  const duration = t.end - t.start - t.waiting;
  const share = duration <= 0 ? 1 : Math.max(0, Math.min(1, (at - t.start - t.waiting) / duration));
  const tip = placeWithin(t, share, axesOf(job, op), job.machine.rapidPath);
  let stock = stockBefore(played, index);
  if (t.move && t.event.kind !== 'rapid' && share > 0) {
    const path = flattenChain([trimCurve(t.move.curve, 0, share)]).map((p) => subtract(p, section.tip));
    stock = subtractRegion(stock, foldAboutAxis(unionRegions(...section.cutting.map((s) => sweepAlong(s, path)))));
  }
  const speed = t.speedStart + (t.speedEnd - t.speedStart) * share;
  return { hand: { operation: op, section, centre: subtract(tip, section.tip), tip, speed }, stock };
};

interface Worked {
  readonly job: Job;
  readonly view: DerivedView;
  readonly time: number;
  readonly fetched: Fetched;
  readonly found: Moment | Wanted;
}

/** The last moment of each holding that was worked out. */
const worked = new Map<string, Worked>();

/** The moment that stock, tools, readout and 3D picture all show, worked out once for them. */
const momentOnce = (job: Job, view: DerivedView, time: number, fetched: Fetched, holding: string): Moment | Wanted => {
  const last = worked.get(holding);
  if (last?.job === job && last.view === view && last.time === time && last.fetched === fetched) return last.found;
  const found = momentAt(job, view, time, fetched, holding);
  worked.set(holding, { job, view, time, fetched, found });
  return found;
};

const lastShown = new Map<string, { readonly view: DerivedView; readonly moment: Moment }>();

/** The moment of a holding under the time cursor; the last one shown while the next is on its way. */
export const useMomentOf = (holding: string): Moment | null => {
  const job = useDocument((s) => s.job);
  const view = useDerived((s) => s.view);
  const time = useSelection((s) => s.time);
  const fetched = useFetched();
  const found = view ? momentOnce(job, view, time, fetched, holding) : null;
  useEffect(() => {
    if (!found || 'stock' in found) return;
    if ('track' in found) fetchTrack(found.track);
    else fetchBody(found.body);
  }, [found]);
  if (!view || !found) return null;
  if ('stock' in found) {
    lastShown.set(holding, { view, moment: found });
    return found;
  }
  const last = lastShown.get(holding);
  return last ? { ...last.moment, hands: [] } : null;
};

/** The moment of the shown holding. */
export const useMoment = (): Moment | null => useMomentOf(useHoldingId());

/** Path of an operation, as soon as it has come. */
export const usePath = (id: string | null): readonly MotionEvent[] | null => {
  const op = useDerived((s) => (id === null ? undefined : s.view?.operations.find((o) => o.id === id)));
  const played = useFetched((s) => (op ? s.tracks.get(op.key) : undefined));
  const early = useEarly((s) => (s.path?.id === id ? s.path : null));
  useEffect(() => {
    if (op?.moves && !played) fetchTrack(op);
  }, [op, played]);
  return useMemo(() => early?.events ?? played?.track.timed.map((t) => t.event) ?? null, [early, played]);
};
