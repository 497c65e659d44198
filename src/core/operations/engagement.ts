import { type Curve, curveLength, flattenCurve, type Point, pointAt, trimCurve } from '../geometry';

/** Shortest contact along a path that counts as a cut, mm. */
const GRAZE = 0.03;
/** Where a contact begins is found to this length, its end to a tenth of it, mm. */
const NEAR = 0.01;

/** Chords of arcs in questions of contact, mm: half a touch. */
const CONTACT_CHORD = 1e-3;

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

/** A chain that is asked for places and parts by the length along it. */
class Track {
  private readonly ends: number[] = [];
  private readonly flat: (readonly Point[] | undefined)[] = [];
  readonly total: number;

  constructor(private readonly chain: readonly Curve[]) {
    let sum = 0;
    for (const c of chain) {
      sum += curveLength(c);
      this.ends.push(sum);
    }
    this.total = sum;
  }

  private index(s: number): number {
    let a = 0;
    let b = this.ends.length - 1;
    while (a < b) {
      const m = (a + b) >> 1;
      if (this.ends[m] < s) a = m + 1;
      else b = m;
    }
    return a;
  }

  at(s: number): Point {
    const i = this.index(s);
    const start = i === 0 ? 0 : this.ends[i - 1];
    const size = this.ends[i] - start;
    return pointAt(this.chain[i], size < 1e-12 ? 0 : Math.min(1, (s - start) / size));
  }

  /** Points between two lengths along the chain; whole pieces are made into points once. */
  points(from: number, to: number): Point[] {
    const result: Point[] = [this.at(from)];
    for (let i = this.index(from); i < this.chain.length; i++) {
      const start = i === 0 ? 0 : this.ends[i - 1];
      if (start >= to) break;
      const piece = this.chain[i];
      const size = this.ends[i] - start;
      const a = Math.max(from, start);
      const b = Math.min(to, start + size);
      if (b - a <= 1e-9 || size <= 0) continue;
      if (piece.kind === 'line') result.push(b === start + size ? piece.to : pointAt(piece, (b - start) / size));
      else if (a === start && b === start + size) {
        this.flat[i] ??= flattenCurve(piece, CONTACT_CHORD);
        result.push(...(this.flat[i] as readonly Point[]));
      } else result.push(...flattenCurve(trimCurve(piece, (a - start) / size, (b - start) / size), CONTACT_CHORD));
    }
    return result;
  }

  slice(from: number, to: number): Curve[] {
    const result: Curve[] = [];
    for (let i = this.index(from); i < this.chain.length; i++) {
      const start = i === 0 ? 0 : this.ends[i - 1];
      if (start >= to) break;
      const size = this.ends[i] - start;
      const a = Math.max(from, start);
      const b = Math.min(to, start + size);
      if (b - a <= 1e-9 || size <= 0) continue;
      const whole = a === start && b === start + size;
      result.push(whole ? this.chain[i] : trimCurve(this.chain[i], (a - start) / size, (b - start) / size));
    }
    return result;
  }
}

/**
 * The stretches of a chain on which the tool stands in metal, one after another. Ways through air are recognised whole and
 * halved only where metal is met, so that long clear ways cost little. Stretches closer together than `bridge` mm become
 * one (the gap is fed through).
 */
export function* stretchesInMetal(chain: readonly Curve[], contact: Contact, bridge: number): Generator<Stretch> {
  if (chain.length === 0) return;
  const track = new Track(chain);
  let open: Contacted | null = null;
  for (const f of joinedContacts(track, contact, bridge)) {
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
function* joinedContacts(track: Track, contact: Contact, bridge: number): Generator<Contacted> {
  let open: Contacted | null = null;
  for (const f of contacts(track, contact, bridge)) {
    if (open && f.from - open.to <= NEAR) open.to = f.to;
    else {
      if (open) yield open;
      open = { ...f };
    }
  }
  if (open) yield open;
}

function* contacts(track: Track, contact: Contact, bridge: number): Generator<Contacted> {
  const { total } = track;
  const clear = (a: number, b: number): boolean => contact.clear(track.points(a, b));
  const hop = Math.min(0.5, Math.max(0.1, bridge * 0.45));
  let s = 0;
  while (s < total - 1e-6) {
    let step = Math.min(total - s, 4);
    while (s < total - 1e-6) {
      const e = Math.min(total, s + step);
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

/** The part of a chain between two lengths along it. */
export const sliceChain = (chain: readonly Curve[], from: number, to: number): Curve[] => {
  const result: Curve[] = [];
  let travelled = 0;
  for (const piece of chain) {
    if (travelled >= to) break;
    const size = curveLength(piece);
    const a = Math.max(from, travelled);
    const b = Math.min(to, travelled + size);
    if (b - a > 1e-9 && size > 0)
      result.push(
        a === travelled && b === travelled + size
          ? piece
          : trimCurve(piece, (a - travelled) / size, (b - travelled) / size),
      );
    travelled += size;
  }
  return result;
};
