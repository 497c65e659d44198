import { type Region, shiftRegion, unionRegions } from '../geometry';
import { type MotionEvent, shiftEvent } from '../motion';
import type { Body } from '../stock';
import type { DeriveCache } from './cache';
import type { Job } from './document';
import { hashBody, hashOf, hashRegion } from './hash';
import type { Held } from './held';
import { makesParts, pitchOf, repeatOf, stillThere, zeroCode } from './repeats';
import type { Turn } from './sequence';

/**
 * A repeated operation is planned and checked where its first one is: for the n-th time the stock, the jaws and the chuck
 * come toward it by so many pitches, and what follows from it goes back by the same way.
 */
export interface Along {
  /** mm that this time lies further toward the chuck. */
  readonly shift: number;
  /** Each time makes another part, so that the part comes along. */
  readonly parts: boolean;
  /** Where other parts of the group still stand in the bar, mm in front of this one (behind it: negative). */
  readonly others: readonly number[];
  /** Number of this time and of all, from 1. */
  readonly number: number;
  readonly count: number;
  /** Where its words count from, if not from the holding's zero. */
  readonly zero: { readonly code: string; readonly local: boolean } | null;
}

/** How far along a turn works; null for one that is not repeated. */
export const alongOf = (
  job: Job,
  turn: Pick<Turn, 'operation' | 'holding' | 'copy'>,
  part: Region,
  blade: number,
): Along | null => {
  const repeat = repeatOf(job, turn.operation);
  if (!repeat) return null;
  const pitch = pitchOf(job, repeat, part, blade) ?? 0;
  const base = job.holdings[turn.holding].workOffset;
  const code = repeat.zeros === 'each' ? zeroCode(base, turn.copy) : base;
  const own = repeat.zeros === 'each' || repeat.output === 'sub-program';
  return {
    shift: turn.copy * pitch,
    parts: makesParts(job, repeat),
    others: stillThere(job, repeat, turn.operation, turn.copy).map((k) => (turn.copy - k) * pitch),
    number: turn.copy + 1,
    count: repeat.count,
    zero: own && code !== null ? { code, local: repeat.zeros === 'one' } : null,
  };
};

/** A body so many mm along Z; the same object for the same body and way. */
export const movedBody = (cache: DeriveCache, body: Body, by: number): Body =>
  by === 0 ? body : cache.moved.get(hashOf(hashBody(body), by), () => body.movedAlong(by));

/** A holding as one sees it from a zero that lies `by` mm further toward the chuck. */
export const heldAlong = (cache: DeriveCache, held: Held, { shift: by, parts, others }: Along): Held =>
  cache.movedHoldings.get(hashOf(held.id, heldKey(held), by, parts, others), () => {
    const move = (r: Region): Region => shiftRegion(r, by);
    return {
      ...held,
      part: parts ? held.part : { ...held.part, region: move(held.part.region) },
      others: unionRegions(...others.map((o) => shiftRegion(held.part.region, o))),
      seat: { ...held.seat, front: held.seat.front + by, jawFront: held.seat.jawFront + by },
      rawStock: held.rawStock.movedAlong(by),
      jaws: move(held.jaws),
      chuck: move(held.chuck),
      support: move(held.support),
      fixtures: move(held.fixtures),
      zeroFromFace: held.zeroFromFace - by,
      zeroZ: held.zeroZ - held.direction * by,
    };
  });

const heldKey = (h: Held): string =>
  hashOf(hashRegion(h.part.region), hashBody(h.rawStock), hashRegion(h.fixtures), h.seat, h.zeroFromFace);

/** Events of a repeated operation where it really works; words count from the zero of this time where it has one. */
export const eventsAlong = (events: readonly MotionEvent[], a: Along): readonly MotionEvent[] =>
  a.shift === 0 && !a.zero
    ? events
    : events.map((e) =>
        e.kind === 'work-offset' && a.zero
          ? { ...e, code: a.zero.code, shift: -a.shift, local: a.zero.local }
          : shiftEvent(e, -a.shift),
      );
