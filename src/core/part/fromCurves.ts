import {
  arcRadius,
  type Curve,
  chamferCorner,
  distance,
  filletCorner,
  intersectCarriers,
  type Line,
  line,
  type Point,
} from '../geometry';
import type { HalfSection } from './halfSection';
import type { PartDocument, Profile, Row } from './profile';

// a file's 60.000000001 is 60; a hundredth of a micrometre is below every tolerance
const round = (value: number): number => {
  const r = Math.round(value * 1e8) / 1e8;
  return r === 0 ? 0 : r;
};

const toRow = (c: Curve, id: string): Row => {
  const end = { id, diameter: round(c.to.y * 2), z: round(c.to.x), corner: null };
  if (c.kind === 'line') return { ...end, kind: 'line' };
  const side = (c.to.x - c.from.x) * (c.centre.y - c.from.y) - (c.to.y - c.from.y) * (c.centre.x - c.from.x);
  return {
    ...end,
    kind: 'arc',
    radius: round(arcRadius(c)),
    clockwise: c.clockwise,
    long: Math.abs(side) > 1e-9 && side > 0 === c.clockwise,
  };
};

/** Longer cuts across a right angle are cones of their own, larger rounds arcs of their own, mm. */
const LARGEST_CHAMFER = 3;
const LARGEST_ROUND = 10;
/** How near a corner made anew has to come to the piece that it stands for, mm. */
const SAME = 1e-6;

const upright = (c: Line): boolean => Math.abs(c.from.x - c.to.x) < SAME || Math.abs(c.from.y - c.to.y) < SAME;

/**
 * The piece between two lines as a corner of theirs: where the lines meet, and what breaks the edge there. Null where it is
 * none, or where a corner made of it would not be that piece again.
 */
const cornerOf = (a: Curve, piece: Curve, b: Curve): { readonly at: Point; readonly corner: Row['corner'] } | null => {
  if (a.kind !== 'line' || b.kind !== 'line') return null;
  const meeting = intersectCarriers(a, b);
  if (meeting.kind !== 'points') return null;
  const [at] = meeting.points;
  const [first, second] = [line(a.from, at), line(at, b.to)];
  if (distance(first.from, at) < distance(first.from, a.to) || distance(at, b.to) < distance(b.from, b.to)) return null;
  const kind = piece.kind === 'arc' ? 'fillet' : 'chamfer';
  const size = piece.kind === 'arc' ? arcRadius(piece) : distance(a.to, at);
  if (kind === 'chamfer' && (size > LARGEST_CHAMFER || !upright(a) || !upright(b))) return null;
  if (size > LARGEST_ROUND) return null;
  const made = kind === 'fillet' ? filletCorner(first, second, round(size)) : chamferCorner(first, second, round(size));
  if (!made) return null;
  const again = 'fillet' in made ? made.fillet : made.chamfer;
  if (distance(again.from, piece.from) > SAME || distance(again.to, piece.to) > SAME) return null;
  if (again.kind === 'arc' && piece.kind === 'arc' && distance(again.centre, piece.centre) > SAME) return null;
  return { at, corner: { kind, size: round(size) } };
};

const toProfile = (chain: readonly Curve[], prefix: string): Profile => {
  const rows: Row[] = [];
  for (let i = 0; i < chain.length; i++) {
    const id = `${prefix}${rows.length + 1}`;
    const found = i + 2 < chain.length ? cornerOf(chain[i], chain[i + 1], chain[i + 2]) : null;
    if (found) {
      rows.push({ ...toRow(line(chain[i].from, found.at), id), corner: found.corner } as Row);
      // the piece belongs to this row now
      i++;
    } else rows.push(toRow(chain[i], id));
  }
  return { start: { diameter: round(chain[0].from.y * 2), z: round(chain[0].from.x) }, rows };
};

/** Element table of a half-section; null without an outer contour. */
export const partFromHalf = (half: HalfSection): PartDocument | null =>
  half.outer.length === 0
    ? null
    : {
        outer: toProfile(half.outer, 'o'),
        inner: half.inner.length > 0 ? toProfile(half.inner, 'i') : null,
        ...(half.back.length > 0 ? { back: toProfile(half.back, 'b') } : {}),
      };
