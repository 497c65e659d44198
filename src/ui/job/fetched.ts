'use client';
import { create } from 'zustand';
import type { Region } from '@/core/geometry';
import type { Track } from '@/core/plan';
import type { EarlyPath } from '@/workers/core.worker';

/** A track with stock before each event, filled in as far as it was asked for. */
export interface Played {
  readonly track: Track;
  readonly stocks: Region[];
}

export interface Fetched {
  /** Tracks by the key of their operation. */
  readonly tracks: ReadonlyMap<string, Played>;
  /** Stock after operations, by key. */
  readonly bodies: ReadonlyMap<string, Region>;
}

const MOST_KEPT = 60;

const kept = <T>(map: ReadonlyMap<string, T>, key: string, value: T): ReadonlyMap<string, T> => {
  const next = new Map(map);
  next.set(key, value);
  while (next.size > MOST_KEPT) next.delete(next.keys().next().value as string);
  return next;
};

/** Paths and bodies that the worker was asked for; a key says for which state of an operation each holds. */
export const useFetched = create<Fetched>(() => ({ tracks: new Map(), bodies: new Map() }));

/** The path that is looked at, ahead of the view that it will belong to. */
export const useEarly = create<{ readonly path: EarlyPath | null }>(() => ({ path: null }));

export const keepEarly = (path: EarlyPath | null): void => {
  if (useEarly.getState().path !== path) useEarly.setState({ path });
};

export const keepTrack = (track: Track): void =>
  useFetched.setState((s) =>
    s.tracks.has(track.key) ? s : { tracks: kept(s.tracks, track.key, { track, stocks: [track.before] }) },
  );

export const keepBody = (key: string, body: Region): void =>
  useFetched.setState((s) => ({ bodies: kept(s.bodies, key, body) }));
