'use client';
import { useEffect } from 'react';
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
import { placeWithin, type TimedEvent } from '@/core/motion';
import type { DerivedView, Job, OperationView } from '@/core/plan';
import { centrePoints, cutStock } from '@/core/stock';
import type { ToolSection } from '@/core/tooling';
import { core } from './core';
import { useDerived } from './derived';
import { useDocument } from './document';
import { type Fetched, keepBody, keepTrack, type Played, useFetched } from './fetched';
import { useSelection } from './selection';

/** Everything that the drawing shows at one moment. */
export interface Moment {
  /** The holding in whose coordinates it is told. */
  readonly holding: string;
  readonly stock: Region;
  readonly operation: OperationView | null;
  readonly section: ToolSection | null;
  /** Nose centre of the tool. */
  readonly centre: Point | null;
  readonly tip: Point | null;
  readonly speed: number;
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
      cutting && t.move ? cutStock(stocks[i], track.section, centrePoints(t.move, track.section.tip)) : stocks[i],
    );
  }
  return stocks[index];
};

const resting = (holding: string, stock: Region): Moment => ({
  holding,
  stock,
  operation: null,
  section: null,
  centre: null,
  tip: null,
  speed: 0,
});

/** Stock, tool and place at a time; or what is needed to say so. */
export const momentAt = (job: Job, view: DerivedView, time: number, fetched: Fetched): Moment | Wanted => {
  const ops = view.operations.filter((o) => o.moves);
  const current = ops.find((o) => time >= o.times.start && time < o.times.end);
  if (!current) {
    const last = ops.filter((o) => o.times.end <= time).at(-1);
    if (!last) return resting(view.holdings[0].id, view.holdings[0].rawStock);
    const body = fetched.bodies.get(last.key);
    return body ? resting(last.holding, body) : { body: last };
  }
  const played = fetched.tracks.get(current.key);
  if (!played) return { track: current };
  const { timed, section } = played.track;
  const at = time - current.times.start;
  let index = timed.findIndex((t) => at >= t.start && at < t.end);
  if (index < 0) index = timed.length - 1;
  const t = timed[index];
  const duration = t.end - t.start - t.waiting;
  const share = duration <= 0 ? 1 : Math.max(0, Math.min(1, (at - t.start - t.waiting) / duration));
  const carrier = job.machine.carriers.find((c) => c.channel === current.channel);
  const tip = placeWithin(t, share, carrier, job.machine.rapidPath);
  let stock = stockBefore(played, index);
  if (t.move && t.event.kind !== 'rapid' && share > 0) {
    const path = flattenChain([trimCurve(t.move.curve, 0, share)]).map((p) => subtract(p, section.tip));
    stock = subtractRegion(stock, foldAboutAxis(unionRegions(...section.cutting.map((s) => sweepAlong(s, path)))));
  }
  return {
    holding: current.holding,
    stock,
    operation: current,
    section,
    centre: subtract(tip, section.tip),
    tip,
    speed: t.speedStart + (t.speedEnd - t.speedStart) * share,
  };
};

let worked: {
  readonly job: Job;
  readonly view: DerivedView;
  readonly time: number;
  readonly fetched: Fetched;
  readonly found: Moment | Wanted;
} | null = null;

/** The moment that stock, tool, readout and 3D picture all show, worked out once for them. */
const momentOnce = (job: Job, view: DerivedView, time: number, fetched: Fetched): Moment | Wanted => {
  const same =
    worked?.job === job && worked.view === view && worked.time === time && worked.fetched === fetched ? worked : null;
  worked = same ?? { job, view, time, fetched, found: momentAt(job, view, time, fetched) };
  return worked.found;
};

let lastShown: { readonly view: DerivedView; readonly moment: Moment } | null = null;

/** The moment under the time cursor; the last one shown while the next is on its way. */
export const useMoment = (): Moment | null => {
  const job = useDocument((s) => s.job);
  const view = useDerived((s) => s.view);
  const time = useSelection((s) => s.time);
  const fetched = useFetched();
  const found = view ? momentOnce(job, view, time, fetched) : null;
  useEffect(() => {
    if (!found || 'stock' in found) return;
    if ('track' in found) fetchTrack(found.track);
    else fetchBody(found.body);
  }, [found]);
  if (!view || !found) return null;
  if ('stock' in found) {
    lastShown = { view, moment: found };
    return found;
  }
  return lastShown ? { ...lastShown.moment, operation: null, section: null, centre: null, tip: null } : null;
};

/** Timed path of an operation, as soon as it has come. */
export const useTrack = (id: string | null): readonly TimedEvent[] | null => {
  const op = useDerived((s) => (id === null ? undefined : s.view?.operations.find((o) => o.id === id)));
  const played = useFetched((s) => (op ? s.tracks.get(op.key) : undefined));
  useEffect(() => {
    if (op?.moves && !played) fetchTrack(op);
  }, [op, played]);
  return played?.track.timed ?? null;
};
