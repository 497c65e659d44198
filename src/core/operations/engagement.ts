import { type Curve, distance, type Point } from '../geometry';
import type { Track } from './track';
import { NOTHING_WALKED, type Walked } from './walked';

/** Shortest contact along a path that counts as a cut, mm. */
const GRAZE = 0.03;
/** Where a contact begins is found to this length, its end to a tenth of it, mm. */
const NEAR = 0.01;
/** So far along a chain metal is looked for at once, mm. */
const LOOK = 16;

/** One stretch of a chain: pieces in order of travel. */
export interface Stretch {
  readonly pieces: readonly Curve[];
  /** Length along the chain where it begins and ends, mm. */
  readonly from: number;
  readonly to: number;
}

export interface Contact {
  /** 0 when the tool meets no metal at a place, else how far it could move and would surely still meet some, mm. */
  readonly bite: (p: Point) => number;
  /** True when the tool meets no metal anywhere on a way. */
  readonly clear: (path: readonly Point[]) => boolean;
  /** The share of a straight way on which it surely meets metal, from its start without a gap. */
  readonly meets: (from: Point, to: Point) => number;
}

interface Contacted {
  from: number;
  to: number;
}

/**
 * The stretches of a chain on which the tool stands in metal, one after another. Ways through air are recognised whole and
 * halved only where metal is met, so that long clear ways cost little. Stretches closer together than `bridge` mm become
 * one (the gap is fed through). Looked at from the length `start` on; what was `walked` before is clear.
 */
export function* stretchesInMetal(...asked: Parameters<typeof firstInMetal>): Generator<Stretch> {
  const [track, contact, bridge, start, walked] = asked;
  for (let s = start ?? 0; ; ) {
    const found = firstInMetal(track, contact, bridge, s, walked);
    if (!found) return;
    yield found;
    s = found.to;
  }
}

/** The first of them; nothing is looked at further beyond it than the next one would have to begin to be one with it. */
export const firstInMetal = (
  track: Track,
  contact: Contact,
  bridge: number,
  start = 0,
  walked: Walked = NOTHING_WALKED,
): Stretch | null => {
  let stretch = null as Contacted | null;
  // contacts that follow on one another without a gap count as one
  let piece = null as Contacted | null;
  for (let s = start; ; ) {
    const last = piece && isCut(piece) ? piece : stretch;
    const until = last ? Math.max(s + NEAR, last.to + bridge) : track.total;
    const next = firstContact(track, contact, bridge, s, Math.min(until, track.total), walked);
    if (next) s = next.to;
    if (next && piece && next.from - piece.to <= NEAR) {
      piece.to = next.to;
      continue;
    }
    if (piece && isCut(piece)) {
      if (stretch && piece.from - stretch.to > bridge) break;
      stretch = { from: stretch?.from ?? piece.from, to: piece.to };
    }
    if (!next) break;
    piece = next;
  }
  return stretch && { ...stretch, pieces: track.slice(stretch.from, stretch.to) };
};

/** A graze of a few hundredths is a crest far below a micrometre: leads must not be spent on it. */
const isCut = ({ from, to }: Contacted): boolean => to - from > GRAZE;

/** How far from a place on the tool surely meets metal, as far as that is plain: a length along the chain. */
const surelyMet = (track: Track, contact: Contact, from: number): number => {
  for (let s = from; s < track.total; ) {
    const end = Math.min(track.total, s + LOOK);
    const points = track.points(s, end);
    let met = s;
    for (let i = 1; i < points.length; i++) {
      const share = contact.meets(points[i - 1], points[i]);
      met += distance(points[i - 1], points[i]) * share;
      if (share < 1) return Math.max(from, met);
    }
    s = end;
  }
  return track.total;
};

/** The first contact that begins between two places, with all of its length. */
const firstContact = (
  track: Track,
  contact: Contact,
  bridge: number,
  start: number,
  until: number,
  walked: Walked,
): Contacted | null => {
  const { total } = track;
  let s = start;
  let step = Math.min(until - s, 4);
  // where the tool has just gone it often stands right before metal
  let near = true;
  for (s = walked.past(s); s < until - 1e-6; s = walked.past(s)) {
    const e = Math.min(walked.next(s), until, s + step);
    if (contact.clear(track.points(s, e))) {
      s = e;
      step = Math.min(step * 2, 16);
      near = true;
    } else if (e - s <= NEAR || (near && contact.bite(track.at(s + NEAR)) > 0)) break;
    else {
      step = (e - s) / 2;
      near = false;
    }
  }
  if (!(s < until - 1e-6)) return null;
  const hop = Math.min(0.5, Math.max(0.1, bridge * 0.45));
  let last = surelyMet(track, contact, Math.min(total, s + NEAR));
  let sure = 0;
  while (last < total - 1e-9) {
    const next = Math.min(total, last + Math.max(hop, sure));
    sure = contact.bite(track.at(next));
    if (sure > 0) {
      last = next;
      continue;
    }
    let out = next;
    while (out - last > NEAR / 10) {
      const m = (last + out) / 2;
      if (contact.bite(track.at(m)) > 0) last = m;
      else out = m;
    }
    last = out;
    break;
  }
  return { from: s, to: last };
};
