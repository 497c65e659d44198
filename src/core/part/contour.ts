import {
  add,
  arc,
  arcRadius,
  type Curve,
  chainVolume,
  chamferCorner,
  counterClockwise,
  curveLength,
  distance,
  filletCorner,
  flattenChain,
  lerp,
  line,
  type Point,
  perpendicular,
  point,
  type Region,
  reverseChain,
  scale,
  segmentsCross,
  subtract,
  TOLERANCE,
  unit,
} from '../geometry';
import type { PartDocument, Profile, Row } from './profile';

/** A piece of the finished contour with the row (or corner of a row) that made it. */
export interface Element {
  readonly id: string;
  readonly curve: Curve;
  readonly side: 'outer' | 'inner';
  /** 'row' pieces come from a table row, 'corner' pieces from its chamfer or fillet. */
  readonly origin: 'row' | 'corner';
}

/** Something wrong with the contour; `row` is the id of the row at fault, `at` its place. */
export interface PartProblem {
  readonly code:
    | 'empty'
    | 'arc-impossible'
    | 'radius-negative'
    | 'corner-does-not-fit'
    | 'below-axis'
    | 'self-crossing'
    | 'open'
    | 'no-volume'
    | 'zero-length'
    | 'inner-outside'
    | 'not-finite';
  readonly side: 'outer' | 'inner';
  readonly row: string | null;
  readonly at: Point | null;
  readonly numbers: Readonly<Record<string, number>>;
}

export interface Part {
  readonly outer: readonly Element[];
  readonly inner: readonly Element[];
  /** Closed half-section, counter-clockwise, exact. */
  readonly boundary: readonly Curve[];
  /** The same as a polygon within the chord tolerance. */
  readonly region: Region;
  readonly volume: number;
  readonly problems: readonly PartProblem[];
}

const rowEnd = (row: Row): Point => point(row.z, row.diameter / 2);

/** Arc through two ends with a radius: null when the ends are further apart than the diameter. */
export const arcByRadius = (from: Point, to: Point, radius: number, clockwise: boolean, long: boolean): Curve | null => {
  const chord = distance(from, to);
  if (chord < TOLERANCE.samePoint || radius < chord / 2 - 1e-6) return null;
  const h = Math.sqrt(Math.max(0, radius * radius - (chord * chord) / 4));
  const left = perpendicular(unit(subtract(to, from)));
  const side = clockwise === long ? 1 : -1;
  return arc(from, to, add(lerp(from, to, 0.5), scale(left, h * side)), clockwise);
};

interface Built {
  elements: Element[];
  problems: PartProblem[];
}

/** Pieces of one side with corners applied; bad rows become straight lines so that the rest stays usable. */
export const buildContour = (profile: Profile, side: 'outer' | 'inner'): Built => {
  const problems: PartProblem[] = [];
  const complain = (code: PartProblem['code'], row: Row | null, numbers: Record<string, number> = {}): void => {
    problems.push({ code, side, row: row?.id ?? null, at: row ? rowEnd(row) : null, numbers });
  };
  const raw: { row: Row; curve: Curve }[] = [];
  let at = point(profile.start.z, profile.start.diameter / 2);
  if (![at.x, at.y].every(Number.isFinite)) complain('not-finite', null);
  if (at.y < -TOLERANCE.samePoint) complain('below-axis', null, { diameter: profile.start.diameter });
  for (const row of profile.rows) {
    const to = rowEnd(row);
    if (![to.x, to.y].every(Number.isFinite)) {
      complain('not-finite', row);
      continue;
    }
    if (to.y < -TOLERANCE.samePoint) complain('below-axis', row, { diameter: row.diameter });
    if (distance(at, to) < 1e-6) {
      complain('zero-length', row);
      continue;
    }
    let curve: Curve = line(at, to);
    if (row.kind === 'arc') {
      const made = row.radius > 0 ? arcByRadius(at, to, row.radius, row.clockwise, row.long) : null;
      if (row.radius <= 0) complain('radius-negative', row, { radius: row.radius });
      else if (!made) complain('arc-impossible', row, { radius: row.radius, least: distance(at, to) / 2 });
      else curve = made;
    }
    raw.push({ row, curve });
    at = to;
  }
  if (raw.length === 0) complain('empty', null);

  const elements: Element[] = [];
  let carried: Curve | null = null;
  raw.forEach(({ row, curve }, i) => {
    let current = carried ?? curve;
    carried = null;
    const next = raw[i + 1];
    let cornerPiece: Curve | null = null;
    if (row.corner && next) {
      const size = row.corner.size;
      if (size <= 0) complain('corner-does-not-fit', row, { size });
      else if (row.corner.kind === 'fillet') {
        const made = filletCorner(current, next.curve, size);
        if (made) {
          current = made.a;
          cornerPiece = made.fillet;
          carried = made.b;
        } else complain('corner-does-not-fit', row, { size });
      } else {
        const made = chamferCorner(current, next.curve, size);
        if (made) {
          current = made.a;
          cornerPiece = made.chamfer;
          carried = made.b;
        } else complain('corner-does-not-fit', row, { size });
      }
    }
    if (curveLength(current) > 1e-6) elements.push({ id: row.id, curve: current, side, origin: 'row' });
    if (cornerPiece) elements.push({ id: `${row.id}/corner`, curve: cornerPiece, side, origin: 'corner' });
  });
  return { elements, problems };
};

const selfCrossing = (points: readonly Point[]): Point | null => {
  const n = points.length;
  // an index over x keeps this near linear for long polygons
  const order = points.map((_, i) => i).sort((i, j) => Math.min(points[i].x, points[(i + 1) % n].x) - Math.min(points[j].x, points[(j + 1) % n].x));
  let active: number[] = [];
  for (const i of order) {
    const a = points[i];
    const b = points[(i + 1) % n];
    const low = Math.min(a.x, b.x);
    active = active.filter((j) => Math.max(points[j].x, points[(j + 1) % n].x) >= low);
    for (const j of active) {
      const c = points[j];
      const d = points[(j + 1) % n];
      if (segmentsCross(a, b, c, d)) return lerp(a, b, 0.5);
    }
    active.push(i);
  }
  return null;
};

/** Where a closed chain touches the axis it may need straight pieces to it; they are added, never guessed across a gap. */
const closeToAxis = (outer: readonly Element[]): Curve[] => {
  const first = outer[0].curve.from;
  const last = outer[outer.length - 1].curve.to;
  return distance(first, last) < TOLERANCE.samePoint ? [] : [line(last, first)];
};

/**
 * The exact half-section from the part document, with everything that is wrong named by row and place. The region is
 * empty when the contour cannot enclose metal; elements are still given so that a drawing can show them.
 */
export const buildPart = (document: PartDocument): Part => {
  const outer = buildContour(document.outer, 'outer');
  const inner = document.inner ? buildContour(document.inner, 'inner') : { elements: [], problems: [] };
  const problems = [...outer.problems, ...inner.problems];
  const empty = (): Part => ({ outer: outer.elements, inner: inner.elements, boundary: [], region: [], volume: 0, problems });
  if (outer.elements.length === 0) return empty();

  const front = outer.elements[0].curve.from;
  const back = outer.elements[outer.elements.length - 1].curve.to;
  const fatal = (code: PartProblem['code'], side: 'outer' | 'inner', row: string | null, at: Point | null, numbers: Record<string, number> = {}): Part => {
    problems.push({ code, side, row, at, numbers });
    return empty();
  };
  let closing: Curve[];
  if (inner.elements.length > 0) {
    const innerFront = inner.elements[0].curve.from;
    const innerBack = inner.elements[inner.elements.length - 1].curve.to;
    const gapFront = distance(front, innerFront);
    if (gapFront > 1e-4) return fatal('open', 'inner', null, innerFront, { gap: gapFront });
    const onAxis = back.y < 1e-6 && innerBack.y < 1e-6;
    const gapBack = distance(back, innerBack);
    if (!onAxis && gapBack > 1e-4) return fatal('open', 'inner', inner.elements[inner.elements.length - 1].id.split('/')[0], innerBack, { gap: gapBack });
    closing = [...(gapBack > TOLERANCE.samePoint ? [line(back, innerBack)] : []), ...reverseChain(inner.elements.map((e) => e.curve))];
  } else {
    if (front.y > 1e-6) return fatal('open', 'outer', null, front, { gap: front.y });
    if (back.y > 1e-6) return fatal('open', 'outer', outer.elements[outer.elements.length - 1].id.split('/')[0], back, { gap: back.y });
    closing = closeToAxis(outer.elements);
  }
  const chain = [...outer.elements.map((e) => e.curve), ...closing];
  const points = flattenChain(chain).slice(1);
  const crossing = selfCrossing(points.filter((p, i) => distance(p, points[(i + 1) % points.length]) > 1e-9));
  if (crossing) return fatal('self-crossing', 'outer', null, crossing);
  const low = points.find((p) => p.y < -1e-6);
  if (low) return fatal('below-axis', 'outer', null, low, { diameter: low.y * 2 });
  const volume = chainVolume(chain);
  if (Math.abs(volume) < 1e-3) return fatal('no-volume', 'outer', null, front);
  const boundary = volume > 0 ? chain : reverseChain(chain);
  return { outer: outer.elements, inner: inner.elements, boundary, region: [counterClockwise(points)], volume: Math.abs(volume), problems };
};

/** Short words for an element, as shown in lists. */
export const describeElement = (e: Element): string => {
  const c = e.curve;
  const n = (value: number): string => String(Math.round(value * 1000) / 1000);
  if (c.kind === 'arc') return e.origin === 'corner' ? `fillet R${n(arcRadius(c))}` : `arc R${n(arcRadius(c))}`;
  const dz = Math.abs(c.to.x - c.from.x);
  const dr = Math.abs(c.to.y - c.from.y);
  if (e.origin === 'corner') return `chamfer ${n(Math.min(dz, dr))}`;
  if (dr < 1e-6) return `⌀${n(c.from.y * 2)} × ${n(dz)}`;
  if (dz < 1e-6) return `face Z${n(c.from.x)}`;
  return `cone ⌀${n(c.from.y * 2)}–⌀${n(c.to.y * 2)}`;
};
