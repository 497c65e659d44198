import type { Curve, Point } from '../geometry';
import type { Track } from './track';
import { NOTHING_WALKED, type Walked } from './walked';

/** Shortest contact along a path that counts as a cut, mm. */
const GRAZE = 0.03;
/** Where a contact begins is found to this length, its end to a tenth of it, mm. */
const NEAR = 0.01;

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
}

/**
 * The stretches of a chain on which the tool stands in metal, one after another. Ways through air are recognised whole and
 * halved only where metal is met, so that long clear ways cost little. Stretches closer together than `bridge` mm become
 * one (the gap is fed through). Looked at from the length `start` on; what was `walked` before is clear.
 */
export function* stretchesInMetal(
  track: Track,
  contact: Contact,
  bridge: number,
  start = 0,
  walked: Walked = NOTHING_WALKED,
): Generator<Stretch> {
  let open: Contacted | null = null;
  for (const f of joinedContacts(contacts(track, contact, bridge, start, walked))) {
    // a graze of a few hundredths is a crest far below a micrometre: leads must not be spent on it
    if (f.to - f.from <= GRAZE) continue;
    if (open && f.from - open.to <= bridge) open.to = f.to;
    else {
      if (open) yield { ...open, pieces: track.slice(open.from, open.to) };
      open = { ...f };
    }
  }
  if (open) yield { ...open, pieces: track.slice(open.from, open.to) };
}

interface Contacted {
  from: number;
  to: number;
}

/** Contacts that follow on one another without a gap count as one. */
function* joinedContacts(found: Iterable<Contacted>): Generator<Contacted> {
  let open: Contacted | null = null;
  for (const f of found) {
    if (open && f.from - open.to <= NEAR) open.to = f.to;
    else {
      if (open) yield open;
      open = { ...f };
    }
  }
  if (open) yield open;
}

function* contacts(
  track: Track,
  contact: Contact,
  bridge: number,
  start: number,
  walked: Walked,
): Generator<Contacted> {
  const { total } = track;
  const clear = (a: number, b: number): boolean => contact.clear(track.points(a, b));
  const hop = Math.min(0.5, Math.max(0.1, bridge * 0.45));
  let s = start;
  while (s < total - 1e-6) {
    let step = Math.min(total - s, 4);
    for (s = walked.past(s); s < total - 1e-6; s = walked.past(s)) {
      const e = Math.min(walked.next(s), total, s + step);
      if (clear(s, e)) {
        s = e;
        step = Math.min(step * 2, 16);
      } else if (e - s <= NEAR) break;
      else step = (e - s) / 2;
    }
    if (s >= total - 1e-6) return;
    const from = s;
    let last = Math.min(total, s + NEAR);
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
    yield { from, to: last };
    s = last;
  }
}
