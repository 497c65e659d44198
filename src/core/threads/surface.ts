import type { Curve, Point } from '../geometry';
import { graphHeight, point, trimCurve } from '../geometry';
import type { ThreadForm } from './form';

/** A thread as it stands on the work: its form carried round and along its crest. */
export interface CutThread {
  /** Crest from where the thread begins to where it ends (x = Z, y = radius). */
  readonly crest: readonly [Point, Point];
  readonly side: 'outer' | 'inner' | 'face';
  /** Depth reached below the crest, mm. */
  readonly depth: number;
  /** Depth at which the flanks would meet, mm, and their included angle, degrees. */
  readonly apex: number;
  readonly angle: number;
  readonly pitch: number;
  readonly starts: number;
  readonly hand: 'right' | 'left';
}

/** A thread as drawings show it: its name and its root, from the front to its end like the crest. */
export interface ThreadOnPart extends CutThread {
  readonly designation: string;
  readonly root: readonly [Point, Point];
}

/** A mesh in space (x along the axis, y and z across it), its triangles facing away from the metal. */
export interface ThreadMesh {
  readonly positions: Float32Array;
  readonly index: Uint32Array;
}

/** A thread of a form, whose beginning and end lie, so far below the crest, where `at` says. */
export const threadOfForm = (
  { pitch, angle, designation, outer, inner }: ThreadForm,
  t: Pick<CutThread, 'side' | 'depth' | 'starts' | 'hand'>,
  at: (end: 'first' | 'last', below: number) => Point,
): ThreadOnPart => ({
  ...t,
  designation,
  pitch,
  angle,
  apex: (t.side === 'inner' ? inner : outer).apex,
  crest: [at('first', 0), at('last', 0)],
  root: [at('first', t.depth), at('last', t.depth)],
});

/** A thread along the axis from its front, where it has its standard's diameters, to its back. */
export const threadAlong = (
  form: ThreadForm,
  front: number,
  back: number,
  t: Pick<CutThread, 'depth' | 'starts' | 'hand'> & { readonly side: 'outer' | 'inner' },
): ThreadOnPart => {
  const [crest, out] = t.side === 'outer' ? [form.major, 1] : [form.minor, -1];
  return threadOfForm(form, t, (end, below) => {
    const x = end === 'first' ? front : back;
    return point(x, crest / 2 + (out * form.taper * (front - x)) / 2 - out * below);
  });
};

/** Steps round the axis. */
const ROUND = 96;
/** A pitch is cut into as many steps at the least, besides the corners of the form. */
const STEPS = 8;
/** Metal no further below the crest than this many depths belongs to the thread's own surface: the chamfer in front of it. */
const BELOW = 3;
const NEAR = 1e-6;
/** So many depths below the crest a face is whole again where the grooves come out of it. */
const MOUTH = 1.1;

/** Where along a thread a place is, mm from where it begins; and the place where it lies. */
const lengthOf = ({ crest: [a, b], side }: CutThread): number =>
  side === 'face' ? Math.abs(a.y - b.y) : Math.abs(a.x - b.x);

/** The crest at a distance from its beginning, also before it. */
const crestAt = (t: CutThread, s: number): Point => {
  const [a, b] = t.crest;
  const share = s / lengthOf(t);
  return point(a.x + (b.x - a.x) * share, a.y + (b.y - a.y) * share);
};

/** A place so far below the crest: toward the axis outside, away from it inside, into the face. */
const belowCrest = (t: CutThread, s: number, depth: number): Point => {
  const c = crestAt(t, s);
  return t.side === 'face' ? point(c.x - depth, c.y) : point(c.x, c.y + (t.side === 'outer' ? -depth : depth));
};

/** Distance along a thread from its beginning, and how far a place lies below its crest. */
export const seenFrom = (t: CutThread, p: Point): { s: number; below: number } => {
  const [a, b] = t.crest;
  const s = t.side === 'face' ? (a.y - p.y) * Math.sign(a.y - b.y) : (a.x - p.x) * Math.sign(a.x - b.x);
  const c = crestAt(t, s);
  return { s, below: t.side === 'face' ? c.x - p.x : t.side === 'outer' ? c.y - p.y : p.y - c.y };
};

/** Depth of the form over one pitch, `w` from the middle of a groove. */
export const formDepth = ({ depth, apex, angle, pitch }: CutThread, w: number): number => {
  const off = Math.abs(w - pitch * Math.round(w / pitch));
  const tangent = Math.tan((angle * Math.PI) / 360);
  const root = Math.max(0, apex - depth) * tangent;
  return off <= root ? depth : Math.max(0, depth - (off - root) / tangent);
};

/** A boundary with a thread in it. */
export interface Parted {
  /** The pieces on which the thread lies, its chamfers with them, from its beginning to its end. */
  readonly under: readonly Curve[];
  readonly rest: readonly Curve[];
  /** Whether its grooves come out of a face at its beginning and at its end: that much of the face is the thread's. */
  readonly open: readonly [boolean, boolean];
}

/** Along the thread from its beginning to its end, chamfers included. */
const endsOf = (t: CutThread, under: readonly Curve[]): readonly [number, number] => {
  const ends = under.flatMap((c) => [seenFrom(t, c.from).s, seenFrom(t, c.to).s]);
  return [Math.min(...ends), Math.max(...ends)];
};

/** A face at an end of a thread, parted where no groove comes out of it; null for another curve. */
const facePartedAt = (t: CutThread, c: Curve, end: number): Curve | null => {
  if (c.kind !== 'line') return null;
  const [p, q] = [seenFrom(t, c.from), seenFrom(t, c.to)];
  if (Math.abs(p.s - end) > NEAR || Math.abs(q.s - end) > NEAR) return null;
  const edge = MOUTH * t.depth;
  if (Math.min(p.below, q.below) > 0.5 * t.depth || Math.max(p.below, q.below) < edge) return null;
  const share = (edge - p.below) / (q.below - p.below);
  return p.below < q.below ? trimCurve(c, share, 1) : trimCurve(c, 0, share);
};

/** Takes a thread out of a boundary. */
export const partedBy = (boundary: readonly Curve[], t: CutThread): Parted => {
  const length = lengthOf(t);
  const under: Curve[] = [];
  const rest: Curve[] = [];
  for (const c of boundary) {
    const [p, q] = [seenFrom(t, c.from), seenFrom(t, c.to)];
    const [low, high] = [Math.min(p.s, q.s), Math.max(p.s, q.s)];
    const deep = Math.max(p.below, q.below);
    // a wall that goes down from the crest is no part of it
    const along = high - low > NEAR && Math.min(p.below, q.below) < 0.5 * t.depth && deep < BELOW * t.depth;
    // where a groove begins behind it the passes run out over its edge
    const runOut = Math.abs(low - length) < NEAR && deep >= 0.9 * t.depth;
    const beyond = (low > length - NEAR && !runOut) || low < -2 * BELOW * t.depth;
    if (!along || beyond || high < NEAR - BELOW * t.depth) rest.push(c);
    else if (high <= length + NEAR || runOut) under.push(c);
    else if (c.kind === 'line') {
      // the thread ends before the surface does
      const share = (length - p.s) / (q.s - p.s);
      const [first, last] = [trimCurve(c, 0, share), trimCurve(c, share, 1)];
      under.push(p.s < q.s ? first : last);
      rest.push(p.s < q.s ? last : first);
    } else rest.push(c);
  }
  const open: [boolean, boolean] = [false, false];
  if (under.length > 0)
    for (const [k, end] of endsOf(t, under).entries())
      for (const [i, c] of rest.entries()) {
        const face = facePartedAt(t, c, end);
        if (!face) continue;
        rest[i] = face;
        open[k] = true;
      }
  return { under, rest, open };
};

/** How far the surface under a thread lies below its crest, at a distance along it. */
const surfaceUnder = (t: CutThread, under: readonly Curve[]): ((s: number) => number) => {
  const pieces = under.map((c) => ({ c, a: seenFrom(t, c.from), b: seenFrom(t, c.to) }));
  return (s) => {
    for (const { c, a, b } of pieces) {
      if (s < Math.min(a.s, b.s) - NEAR || s > Math.max(a.s, b.s) + NEAR) continue;
      if (c.kind === 'line') return a.below + ((b.below - a.below) * (s - a.s)) / (b.s - a.s);
      const { x } = crestAt(t, s);
      if (t.side !== 'face') return seenFrom(t, point(x, graphHeight(c, x))).below;
      return a.below;
    }
    return 0;
  };
};

/**
 * The surface of a thread where its passes have cut it, from the corners of its form: each of them is followed round and along.
 * It stands in place of what a boundary has lost to it.
 */
export const threadMesh = (t: CutThread, { under, open }: Pick<Parted, 'under' | 'open'>): ThreadMesh => {
  const ends = under.flatMap((c) => [seenFrom(t, c.from).s, seenFrom(t, c.to).s]);
  const [s0, s1] = endsOf(t, under);
  const lead = t.pitch * t.starts;
  const surface = surfaceUnder(t, under);
  const tangent = Math.tan((t.angle * Math.PI) / 360);
  const root = Math.max(0, t.apex - t.depth) * tangent;
  const mouth = Math.min(t.pitch / 2, root + t.depth * tangent);
  const corners = [
    ...new Set([-mouth, -root, root, mouth, ...Array.from({ length: STEPS }, (_, i) => (i / STEPS - 0.5) * t.pitch)]),
  ];
  // a right-hand thread comes toward the front as it turns forward
  const way = t.hand === 'right' ? -1 : 1;
  const first = Math.floor((s0 - lead) / t.pitch);
  const last = Math.ceil((s1 + lead) / t.pitch);
  const ws = Array.from({ length: last - first + 1 }, (_, k) => corners.map((w) => (first + k) * t.pitch + w))
    .flat()
    .sort((a, b) => a - b);
  // where the surface under it bends, every place round has a corner
  const bends = [...new Set(ends.filter((s) => s > s0 + NEAR && s < s1 - NEAR))];
  const rows = ws.length + bends.length + 2;
  const positions = new Float32Array((ROUND + 1) * rows * 3);
  for (let k = 0; k <= ROUND; k++) {
    const turn = (2 * Math.PI * k) / ROUND;
    const shift = (way * lead * k) / ROUND;
    const places = [...ws.map((w) => Math.max(s0, Math.min(s1, w + shift))), ...bends].sort((a, b) => a - b);
    for (const [i, s] of [s0, ...places, s1].entries()) {
      // at both ends a wall stands from the form to the surface, or the face begins where the form ends
      const end = i === 0 ? 0 : i === rows - 1 ? 1 : null;
      const form = Math.max(formDepth(t, s - shift), surface(s));
      const p = belowCrest(t, s, end === null ? form : open[end] ? MOUTH * t.depth : surface(s));
      const at = (k * rows + i) * 3;
      positions[at] = p.x;
      positions[at + 1] = p.y * Math.cos(turn);
      positions[at + 2] = p.y * Math.sin(turn);
    }
  }
  const index: number[] = [];
  const flip = facesInward(t);
  for (let k = 0; k < ROUND; k++)
    for (let i = 0; i + 1 < rows; i++) {
      const a = k * rows + i;
      const [b, c, d] = [a + 1, a + rows, a + rows + 1];
      index.push(...(flip ? [a, b, c, b, d, c] : [a, c, b, b, c, d]));
    }
  return { positions, index: Uint32Array.from(index) };
};

/** Whether triangles in the order of places and turn would face into the metal. */
const facesInward = ({ crest: [a, b], side }: CutThread): boolean =>
  side === 'face' ? b.y > a.y : side === 'outer' ? b.x < a.x : b.x > a.x;
