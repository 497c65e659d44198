import {
  type Arc,
  arc,
  boundsOfCurves,
  type Curve,
  distance,
  intersectCarriers,
  intersectCurves,
  line,
  type Point,
  point,
} from '../../../geometry';

/** Travel direction of a piece at its start or end. */
const heading = (c: Curve, atEnd: boolean): Point => {
  if (c.kind === 'line') {
    const l = distance(c.from, c.to) || 1;
    return point((c.to.x - c.from.x) / l, (c.to.y - c.from.y) / l);
  }
  const p = atEnd ? c.to : c.from;
  const r = distance(p, c.centre) || 1;
  const x = (p.x - c.centre.x) / r;
  const y = (p.y - c.centre.y) / r;
  return c.clockwise ? point(y, -x) : point(-y, x);
};

const beside = (p: Point, h: Point, side: number): Point => point(p.x - h.y * side, p.y + h.x * side);

export type Compensated =
  | { readonly ok: true; readonly path: Curve[]; readonly sources: number[] }
  | { readonly ok: false; readonly index: number; readonly message: string };

const TOO_WIDE = 'the nose is wider than the hollow here and would cut across it';

/** True when a straight piece of the path runs against the piece that it was made from. */
const turnedRound = (made: Curve, source: Curve): boolean => {
  if (made.kind !== 'line' || source.kind !== 'line') return false;
  const h = heading(source, false);
  return (made.to.x - made.from.x) * h.x + (made.to.y - made.from.y) * h.y < -1e-6;
};

/** True when an arc of the path has become longer than half a turn although its source was not. */
const arcTurnedRound = (made: Arc, source: Curve): boolean => {
  if (source.kind !== 'arc') return false;
  const sweep = (a: Arc): number => {
    const from = Math.atan2(a.from.y - a.centre.y, a.from.x - a.centre.x);
    const to = Math.atan2(a.to.y - a.centre.y, a.to.x - a.centre.x);
    const turn = (a.clockwise ? from - to : to - from) % (2 * Math.PI);
    return turn < 0 ? turn + 2 * Math.PI : turn;
  };
  return sweep(made) > sweep(source) + Math.PI / 2 && distance(made.from, made.to) > 1e-6;
};

/** Index of a path piece that a later one runs across, or null: there the nose has been where it does not fit. */
const selfCrossing = (path: readonly Curve[]): number | null => {
  const boxes = path.map((c) => boundsOfCurves([c]));
  for (let i = 0; i < path.length; i++)
    for (let j = i + 2; j < path.length; j++) {
      const a = boxes[i];
      const b = boxes[j];
      if (a.minX > b.maxX - 1e-6 || b.minX > a.maxX - 1e-6 || a.minY > b.maxY - 1e-6 || b.minY > a.maxY - 1e-6)
        continue;
      for (const p of intersectCurves(path[i], path[j]))
        if (
          distance(p, path[i].from) > 2e-3 &&
          distance(p, path[i].to) > 2e-3 &&
          distance(p, path[j].from) > 2e-3 &&
          distance(p, path[j].to) > 2e-3
        )
          return i;
    }
  return null;
};

/**
 * Nose centre path of a contour as a control with G41 (side +1) or G42 (side −1) makes it: parallels of every piece,
 * outside corners rounded about the corner, inside corners cut at the meeting of the parallels. Each path piece names the
 * contour piece that it belongs to.
 */
export const compensate = (contour: readonly Curve[], radius: number, sideOfTravel: 1 | -1): Compensated => {
  const side = radius * sideOfTravel;
  const path: Curve[] = [];
  const sources: number[] = [];
  const used: Curve[] = [];
  const fail = (index: number, message: string): Compensated => ({ ok: false, index, message });
  for (let i = 0; i < contour.length; i++) {
    const c = contour[i];
    const from = beside(c.from, heading(c, false), side);
    const to = beside(c.to, heading(c, true), side);
    let moved: Curve;
    if (c.kind === 'line') moved = line(from, to);
    else {
      const grown = distance(c.from, c.centre) + (c.clockwise ? side : -side);
      if (grown < -1e-6) return fail(i, 'the nose radius is larger than this inside arc');
      if (grown < 1e-6) continue;
      moved = arc(from, to, c.centre, c.clockwise);
    }
    const last = path[path.length - 1];
    const lastIndex = sources[sources.length - 1];
    if (last && distance(last.to, moved.from) > 1e-6) {
      const a = heading(used[used.length - 1], true);
      const b = heading(c, false);
      const turn = a.x * b.y - a.y * b.x;
      if (turn * sideOfTravel < 0) {
        path.push(arc(last.to, moved.from, c.from, sideOfTravel > 0));
        sources.push(i);
      } else {
        const meeting = intersectCarriers(last, moved);
        if (meeting.kind !== 'points' || meeting.points.length === 0) {
          // rounding of the posted places leaves tangent pieces a hair apart
          if (distance(last.to, moved.from) >= 0.02) return fail(i, 'the parallels of these two blocks do not meet');
          moved = moved.kind === 'line' ? line(last.to, moved.to) : { ...moved, from: last.to };
        } else {
          const p = meeting.points.reduce((best, q) => (distance(q, c.from) < distance(best, c.from) ? q : best));
          const cut = last.kind === 'line' ? line(last.from, p) : arc(last.from, p, last.centre, last.clockwise);
          moved = moved.kind === 'line' ? line(p, moved.to) : arc(p, moved.to, moved.centre, moved.clockwise);
          const source = contour[lastIndex];
          if (turnedRound(cut, source) || (cut.kind === 'arc' && source.kind === 'arc' && arcTurnedRound(cut, source)))
            return fail(lastIndex, TOO_WIDE);
          path[path.length - 1] = cut;
        }
      }
    }
    if (turnedRound(moved, c) || (moved.kind === 'arc' && arcTurnedRound(moved, c))) return fail(i, TOO_WIDE);
    path.push(moved);
    sources.push(i);
    used.push(c);
  }
  const crossing = selfCrossing(path);
  return crossing === null ? { ok: true, path, sources } : fail(sources[crossing], TOO_WIDE);
};
