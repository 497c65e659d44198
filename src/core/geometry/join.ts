import { type Arc, type Curve, type Line, line, reverseCurve } from './curve';
import { distance, type Point, point } from './point';

export interface Joined {
  readonly chains: Curve[][];
  /** Places where more than two pieces meet. */
  readonly branches: Point[];
}

/** Moves an end of an arc by less than a gap tolerance: the centre slides onto the perpendicular bisector of the new chord. */
const refit = (a: Arc): Arc => {
  const r0 = distance(a.from, a.centre);
  const r1 = distance(a.to, a.centre);
  if (Math.abs(r0 - r1) < 1e-9) return a;
  const chord = point(a.to.x - a.from.x, a.to.y - a.from.y);
  const l2 = chord.x ** 2 + chord.y ** 2;
  const middle = point((a.from.x + a.to.x) / 2, (a.from.y + a.to.y) / 2);
  const t = ((a.centre.x - middle.x) * chord.x + (a.centre.y - middle.y) * chord.y) / l2;
  return { ...a, centre: point(a.centre.x - chord.x * t, a.centre.y - chord.y * t) };
};

/** The curve with other ends, both moved by less than a gap tolerance. */
export const withEnds = (c: Curve, from: Point, to: Point): Curve =>
  c.kind === 'line' ? line(from, to) : refit({ ...c, from, to });

/** Whether a line goes on where another ends, in its direction. */
const goesOn = (a: Line, b: Line): boolean => {
  if (distance(a.to, b.from) > 1e-9) return false;
  const [ax, ay, bx, by] = [a.to.x - a.from.x, a.to.y - a.from.y, b.to.x - b.from.x, b.to.y - b.from.y];
  const most = Math.max(1, Math.hypot(ax, ay) * Math.hypot(bx, by));
  return ax * bx + ay * by > 0 && Math.abs(ax * by - ay * bx) < 1e-9 * most;
};

/** A chain whose neighbours on one straight line are one. */
export const straightened = (chain: readonly Curve[]): Curve[] => {
  const result: Curve[] = [];
  for (const c of chain) {
    const last = result[result.length - 1];
    if (last?.kind === 'line' && c.kind === 'line' && goesOn(last, c))
      result[result.length - 1] = line(last.from, c.to);
    else result.push(c);
  }
  return result;
};

/** Joins loose pieces end to end, in any order and direction, where their ends are within `gap` mm. Near linear in their number. */
export const joinCurves = (pieces: readonly Curve[], gap: number): Joined => {
  const cell = Math.max(gap, 1e-6) * 2;
  const index = new Map<string, number[]>();
  const used = new Uint8Array(pieces.length);
  const cellsOf = (p: Point): [number, number] => [Math.floor(p.x / cell), Math.floor(p.y / cell)];
  pieces.forEach((c, i) => {
    for (const p of [c.from, c.to]) {
      const key = cellsOf(p).join();
      const list = index.get(key);
      if (list) list.push(i);
      else index.set(key, [i]);
    }
  });
  const near = (tip: Point): { i: number; direct: boolean; gap: number }[] => {
    const [cx, cy] = cellsOf(tip);
    const found = new Map<number, { i: number; direct: boolean; gap: number }>();
    for (let x = cx - 1; x <= cx + 1; x++)
      for (let y = cy - 1; y <= cy + 1; y++)
        for (const i of index.get(`${x},${y}`) ?? []) {
          if (used[i]) continue;
          const direct = distance(pieces[i].from, tip);
          const flipped = distance(pieces[i].to, tip);
          const least = Math.min(direct, flipped);
          if (least < gap) found.set(i, { i, direct: direct <= flipped, gap: least });
        }
    return [...found.values()].sort((a, b) => a.gap - b.gap || a.i - b.i);
  };
  const chains: Curve[][] = [];
  const branches: Point[] = [];
  for (let start = 0; start < pieces.length; start++) {
    if (used[start]) continue;
    used[start] = 1;
    const forward: Curve[] = [pieces[start]];
    const backward: Curve[] = [];
    for (const side of [forward, backward]) {
      for (;;) {
        const tip: Point =
          side === forward ? side[side.length - 1].to : (backward[backward.length - 1] ?? forward[0]).from;
        const opposite =
          side === forward ? (backward[backward.length - 1] ?? forward[0]).from : forward[forward.length - 1].to;
        const fits = near(tip);
        if (fits.length === 0) break;
        // a closed chain ends here; another piece at the closing point is a branch and starts its own chain
        if (
          forward.length + backward.length > 1 &&
          distance(tip, opposite) < gap &&
          fits[0].gap > distance(tip, opposite)
        )
          break;
        // a piece shorter than the gap is no branch: only ends that really coincide are
        if (fits.length > 1 && fits[1].gap < 1e-6) branches.push(tip);
        const { i, direct } = fits[0];
        used[i] = 1;
        // forward pieces leave the tip, backward ones arrive at it
        const oriented = direct === (side === forward) ? pieces[i] : reverseCurve(pieces[i]);
        side.push(side === forward ? withEnds(oriented, tip, oriented.to) : withEnds(oriented, oriented.from, tip));
      }
    }
    chains.push([...backward.reverse(), ...forward]);
  }
  return { chains, branches };
};
