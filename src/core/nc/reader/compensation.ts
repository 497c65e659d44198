import { type Arc, arc, type Curve, distance, intersectCarriers, line, type Point, point } from '../../geometry';

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
  | { readonly ok: true; readonly path: Curve[] }
  | { readonly ok: false; readonly index: number; readonly message: string };

/**
 * Nose centre path of a contour as a control with G41 (side +1) or G42 (side −1) makes it: parallels of every piece,
 * outside corners rounded about the corner, inside corners cut at the meeting of the parallels.
 */
export const compensate = (contour: readonly Curve[], radius: number, sideOfTravel: 1 | -1): Compensated => {
  const side = radius * sideOfTravel;
  const path: Curve[] = [];
  for (let i = 0; i < contour.length; i++) {
    const c = contour[i];
    const from = beside(c.from, heading(c, false), side);
    const to = beside(c.to, heading(c, true), side);
    let moved: Curve;
    if (c.kind === 'line') moved = line(from, to);
    else {
      const grown = distance(c.from, c.centre) + (c.clockwise ? side : -side);
      if (grown < -1e-6) return { ok: false, index: i, message: 'the nose radius is larger than this inside arc' };
      if (grown < 1e-6) continue;
      moved = arc(from, to, c.centre, c.clockwise);
    }
    const last = path[path.length - 1];
    if (last && distance(last.to, moved.from) > 1e-6) {
      const a = heading(contour[i - 1], true);
      const b = heading(c, false);
      const turn = a.x * b.y - a.y * b.x;
      if (turn * sideOfTravel < 0) path.push(arc(last.to, moved.from, c.from, sideOfTravel > 0));
      else {
        const meeting = intersectCarriers(last, moved);
        if (meeting.kind !== 'points' || meeting.points.length === 0) {
          // rounding of the posted places leaves tangent pieces a hair apart
          if (distance(last.to, moved.from) < 0.02)
            moved = moved.kind === 'line' ? line(last.to, moved.to) : (rejoin(moved, last.to) as Arc);
          else return { ok: false, index: i, message: 'the parallels of these two blocks do not meet' };
        } else {
          const p = meeting.points.reduce((best, q) => (distance(q, c.from) < distance(best, c.from) ? q : best));
          path[path.length - 1] =
            last.kind === 'line' ? line(last.from, p) : arc(last.from, p, last.centre, last.clockwise);
          moved = moved.kind === 'line' ? line(p, moved.to) : arc(p, moved.to, moved.centre, moved.clockwise);
        }
      }
    }
    path.push(moved);
  }
  return { ok: true, path };
};

const rejoin = (a: Arc, from: Point): Arc => ({ ...a, from });
