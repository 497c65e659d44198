import {
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
  point,
  type Region,
  reverseChain,
  reverseCurve,
  segmentsCross,
  TOLERANCE,
  tangentAt,
} from '../geometry';
import type { Edges, PartDocument, Profile, Row } from './profile';
import { cutShape, shoulderShape } from './shapes';
import { type SketchCode, solveDimensions, solveProfile } from './sketch';

/** Outside, bore from the front, blind bore from the back. */
export type Side = 'outer' | 'inner' | 'back';

/** A piece of the finished contour with the row (or corner of a row) that made it. */
export interface Element {
  readonly id: string;
  readonly curve: Curve;
  readonly side: Side;
  /** 'row' pieces come from a table row, 'corner' pieces from its chamfer or fillet. */
  readonly origin: 'row' | 'corner';
  /** It is the broken edge at the mouth of the groove whose pieces have ids that begin so: it goes with them. */
  readonly mouthOf?: string;
}

/** Something wrong with the contour; `row` is the id of the row at fault, `at` its place. */
export interface PartProblem {
  readonly code:
    | 'corner-does-not-fit'
    | 'self-crossing'
    | 'open'
    | 'no-volume'
    | 'inner-outside'
    | 'shape-does-not-fit'
    | SketchCode;
  readonly side: Side;
  readonly row: string | null;
  readonly at: Point | null;
  readonly numbers: Readonly<Record<string, number | string>>;
}

export interface Part {
  readonly outer: readonly Element[];
  readonly inner: readonly Element[];
  readonly back: readonly Element[];
  /** Closed half-section, counter-clockwise, exact. */
  readonly boundary: readonly Curve[];
  /** The same as a polygon within the chord tolerance. */
  readonly region: Region;
  readonly volume: number;
  readonly problems: readonly PartProblem[];
}

interface Built {
  elements: Element[];
  problems: PartProblem[];
}

/** What becomes of edges and inside corners of which the drawing says nothing. */
interface Undrawn {
  readonly edges?: Edges | null;
  /** Radius, mm; 0 leaves them sharp. */
  readonly corners?: number;
}

/**
 * Pieces of one side with corners and grooves applied; what cannot be made is left out and told, so that the rest stays
 * usable.
 */
export const buildContour = (
  profile: Profile,
  side: Side,
  names: ReadonlyMap<string, number> = new Map(),
  unit: 'mm' | 'inch' = 'mm',
  undrawn: Undrawn = {},
): Built => {
  const solved = solveProfile(profile, names, unit);
  const problems: PartProblem[] = solved.problems.map((p) => ({ ...p, side }));
  const complain = (code: PartProblem['code'], row: Row, at: Point, numbers: PartProblem['numbers'] = {}): void => {
    problems.push({ code, side, row: row.id, at, numbers });
  };
  // outside the metal lies on the left of travel (from the front to the back); in a bore it lies on the right
  const metal = side === 'inner' ? -1 : 1;
  const elements: Element[] = [];
  let carried: Curve | null = null;
  solved.pieces.forEach(({ row, curve }, i) => {
    let current = carried ?? curve;
    carried = null;
    const next = solved.pieces[i + 1];
    let corner: readonly Curve[] = [];
    const asked = !row.corner && next ? askedAt(undrawn, current, next.curve, metal) : null;
    if (asked && next) {
      // what is too small for it stays as it is drawn
      const made = broken(asked, current, next.curve);
      if (made) {
        current = made.a;
        corner = [made.piece];
        carried = made.b;
      }
    } else if (row.corner && row.corner.kind !== 'sharp' && next) {
      const { kind, size } = row.corner;
      if (size <= 0) complain('corner-does-not-fit', row, curve.to, { size });
      else if (kind === 'fillet' || kind === 'chamfer') {
        const made =
          kind === 'fillet' ? filletCorner(current, next.curve, size) : chamferCorner(current, next.curve, size);
        if (made) {
          current = made.a;
          corner = ['fillet' in made ? made.fillet : made.chamfer];
          carried = made.b;
        } else complain('corner-does-not-fit', row, curve.to, { size });
      } else {
        const made = shoulderShape(current, next.curve, row.corner, metal);
        if (made.ok) {
          current = made.before;
          corner = made.pieces;
          carried = made.after;
        } else complain('shape-does-not-fit', row, curve.to, { reason: made.reason });
      }
    }
    const pieces = withCuts(row, current, side, metal, complain);
    elements.push(...(undrawn.edges ? withMouths(row, pieces, undrawn.edges, metal) : pieces));
    corner.forEach((c, k) => {
      if (curveLength(c) > 1e-6)
        elements.push({
          id: k === 0 ? `${row.id}/corner` : `${row.id}/corner.${k + 1}`,
          curve: c,
          side,
          origin: 'corner',
        });
    });
  });
  return { elements, problems };
};

/** A corner that turns less than this is no edge, as the sine of its angle: about 14°. */
const LEAST_EDGE = 0.25;

/** Whether the metal stands out where two pieces meet. */
const isEdge = (a: Curve, b: Curve, metal: 1 | -1): boolean => {
  const [s, t] = [tangentAt(a, 1), tangentAt(b, 0)];
  return metal * (s.x * t.y - s.y * t.x) > LEAST_EDGE;
};

/**
 * What the part asks for where two pieces meet and the drawing says nothing; null for nothing. An inside corner at the
 * bottom of a hole is left as the drill makes it.
 */
const askedAt = ({ edges = null, corners = 0 }: Undrawn, a: Curve, b: Curve, metal: 1 | -1): Edges | null => {
  if (edges && isEdge(a, b, metal)) return edges;
  const inside = corners > 0 && isEdge(a, b, metal === 1 ? -1 : 1) && b.to.y > 1e-9;
  return inside ? { kind: 'fillet', size: corners } : null;
};

/** Two pieces with their corner broken; null where it does not fit. */
const broken = (edges: Edges, a: Curve, b: Curve): { a: Curve; b: Curve; piece: Curve } | null => {
  if (edges.size <= 0) return null;
  if (edges.kind === 'fillet') {
    const made = filletCorner(a, b, edges.size);
    return made && { a: made.a, b: made.b, piece: made.fillet };
  }
  const made = chamferCorner(a, b, edges.size);
  return made && { a: made.a, b: made.b, piece: made.chamfer };
};

/**
 * The edges between a bore and the front and back faces, which no row ends at: the bore gets the piece, both get shorter.
 */
const breakMouths = (edges: Edges, outer: Built, inner: Built): void => {
  breakMouth(edges, outer, inner, true);
  breakMouth(edges, outer, inner, false);
};

const breakMouth = (edges: Edges, outer: Built, inner: Built, front: boolean): void => {
  const at = (list: readonly Element[]): number => (front ? 0 : list.length - 1);
  const face = outer.elements[at(outer.elements)];
  const wall = inner.elements[at(inner.elements)];
  if (!face || !wall || face.origin !== 'row' || wall.origin !== 'row') return;
  // the way round the metal: out of the bore over the front face, over the back face into the bore
  const own = reverseCurve(wall.curve);
  const [before, after] = front ? [own, face.curve] : [face.curve, own];
  if (distance(before.to, after.from) > 1e-6 || !isEdge(before, after, 1)) return;
  const made = broken(edges, before, after);
  if (!made) return;
  const [left, rest] = front ? [made.b, made.a] : [made.a, made.b];
  const piece: Element = {
    id: `${wall.id}/${front ? 'mouth' : 'back-mouth'}`,
    curve: reverseCurve(made.piece),
    side: 'inner',
    origin: 'corner',
  };
  outer.elements[at(outer.elements)] = { ...face, curve: left };
  inner.elements[at(inner.elements)] = { ...wall, curve: reverseCurve(rest) };
  if (front) inner.elements.unshift(piece);
  else inner.elements.push(piece);
};

/** A row's pieces with the edges broken where its grooves begin and end; the edge of a ring's groove carries and stays sharp. */
const withMouths = (row: Row, pieces: readonly Element[], edges: Edges, metal: 1 | -1): Element[] => {
  const sharp = new Set(
    (row.kind === 'line' ? (row.cuts ?? []) : []).flatMap((c) => (c.kind === 'ring' ? [`${row.id}/${c.id}`] : [])),
  );
  const cutOf = (e: Element): string => e.id.slice(0, e.id.lastIndexOf('.'));
  const result: Element[] = [];
  for (const piece of pieces) {
    const last = result.at(-1);
    const groove = last && last.origin !== piece.origin ? (piece.origin === 'corner' ? piece : last) : null;
    const made =
      last && groove && !sharp.has(cutOf(groove)) && isEdge(last.curve, piece.curve, metal)
        ? broken(edges, last.curve, piece.curve)
        : null;
    if (!last || !groove || !made) {
      result.push(piece);
      continue;
    }
    const mouthOf = `${cutOf(groove)}.`;
    const id = `${mouthOf}${groove === piece ? 'from' : 'to'}`;
    result[result.length - 1] = { ...last, curve: made.a };
    result.push({ ...groove, id, curve: made.piece, mouthOf }, { ...piece, curve: made.b });
  }
  return result;
};

/** A row with its grooves: the row's own id for the first stretch, `row/n` for those behind a groove, `row/groove.n` inside. */
const withCuts = (
  row: Row,
  curve: Curve,
  side: Side,
  metal: 1 | -1,
  complain: (code: PartProblem['code'], row: Row, at: Point, numbers?: PartProblem['numbers']) => void,
): Element[] => {
  const whole: Element = { id: row.id, curve, side, origin: 'row' };
  if (row.kind !== 'line' || !row.cuts || row.cuts.length === 0) return curveLength(curve) > 1e-6 ? [whole] : [];
  const made = row.cuts.flatMap((cut) => {
    const shape = cutShape(curve, cut, metal);
    if (!shape.ok) complain('shape-does-not-fit', row, point(cut.z, curve.from.y), { reason: shape.reason });
    return shape.ok ? [{ cut, shape }] : [];
  });
  const forward = curve.to.x < curve.from.x ? -1 : 1;
  made.sort((a, b) => (a.shape.from.x - b.shape.from.x) * forward);
  const result: Element[] = [];
  let at = curve.from;
  let stretch = 1;
  for (const { cut, shape } of made) {
    if ((shape.from.x - at.x) * forward < -1e-6) {
      complain('shape-does-not-fit', row, shape.from, { reason: 'it overlaps the groove before it' });
      continue;
    }
    if (distance(at, shape.from) > 1e-6)
      result.push({
        id: stretch === 1 ? row.id : `${row.id}/${stretch}`,
        curve: line(at, shape.from),
        side,
        origin: 'row',
      });
    stretch++;
    shape.pieces.forEach((c, k) => {
      result.push({ id: `${row.id}/${cut.id}.${k + 1}`, curve: c, side, origin: 'corner' });
    });
    at = shape.to;
  }
  if (distance(at, curve.to) > 1e-6)
    result.push({
      id: stretch === 1 ? row.id : `${row.id}/${stretch}`,
      curve: line(at, curve.to),
      side,
      origin: 'row',
    });
  return result;
};

const selfCrossing = (points: readonly Point[]): Point | null => {
  const n = points.length;
  // an index over x keeps this near linear for long polygons
  const order = points
    .map((_, i) => i)
    .sort((i, j) => Math.min(points[i].x, points[(i + 1) % n].x) - Math.min(points[j].x, points[(j + 1) % n].x));
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

/**
 * The exact half-section from the part document, with everything that is wrong named by row and place. The region is
 * empty when the contour cannot enclose metal; elements are still given so that a drawing can show them.
 */
export const buildPart = (document: PartDocument, unit: 'mm' | 'inch' = 'mm'): Part => {
  const values = solveDimensions(document.dimensions ?? [], unit);
  const edges = document.edges ?? null;
  const undrawn = { edges, corners: document.corners ?? 0 };
  const outer = buildContour(document.outer, 'outer', values.names, unit, undrawn);
  const inner = document.inner
    ? buildContour(document.inner, 'inner', values.names, unit, undrawn)
    : { elements: [], problems: [] };
  const rear = document.back
    ? buildContour(document.back, 'back', values.names, unit, undrawn)
    : { elements: [], problems: [] };
  if (edges) breakMouths(edges, outer, inner);
  const problems: PartProblem[] = [
    ...values.problems.map((p) => ({ ...p, side: 'outer' as const })),
    ...outer.problems,
    ...inner.problems,
    ...rear.problems,
  ];
  const empty = (): Part => ({
    outer: outer.elements,
    inner: inner.elements,
    back: rear.elements,
    boundary: [],
    region: [],
    volume: 0,
    problems,
  });
  if (outer.elements.length === 0) return empty();

  const front = outer.elements[0].curve.from;
  const back = outer.elements[outer.elements.length - 1].curve.to;
  const fatal = (
    code: PartProblem['code'],
    side: Side,
    row: string | null,
    at: Point | null,
    numbers: Record<string, number> = {},
  ): Part => {
    problems.push({ code, side, row, at, numbers });
    return empty();
  };
  const lastRow = (elements: readonly Element[]): string => elements[elements.length - 1].id.split('/')[0];
  const innerEnd = inner.elements.at(-1)?.curve.to ?? null;
  if (inner.elements.length > 0) {
    const gap = distance(front, inner.elements[0].curve.from);
    if (gap > 1e-4) return fatal('open', 'inner', null, inner.elements[0].curve.from, { gap });
  } else if (front.y > 1e-6) return fatal('open', 'outer', null, front, { gap: front.y });
  // where the outside has to end: on the bore's end, on the bore from the back, or on the axis
  let rearward: Curve[] = [];
  let end = back;
  if (rear.elements.length > 0) {
    const gap = distance(back, rear.elements[0].curve.from);
    if (gap > 1e-4) return fatal('open', 'back', null, rear.elements[0].curve.from, { gap });
    rearward = rear.elements.map((e) => e.curve);
    end = rearward[rearward.length - 1].to;
    if (end.y > 1e-6) return fatal('open', 'back', lastRow(rear.elements), end, { gap: end.y });
  }
  const target = innerEnd ?? (front.y < 1e-6 ? front : null);
  const onAxis = end.y < 1e-6 && (target === null || target.y < 1e-6);
  if (!onAxis && innerEnd && distance(end, innerEnd) > 1e-4)
    return fatal('open', 'inner', lastRow(inner.elements), innerEnd, { gap: distance(end, innerEnd) });
  if (!innerEnd && end.y > 1e-6) return fatal('open', 'outer', lastRow(outer.elements), end, { gap: end.y });
  const first = innerEnd ?? front;
  const closing = [
    ...rearward,
    ...(distance(end, first) > TOLERANCE.samePoint ? [line(end, first)] : []),
    ...reverseChain(inner.elements.map((e) => e.curve)),
  ];
  const chain = [...outer.elements.map((e) => e.curve), ...closing];
  const points = flattenChain(chain).slice(1);
  const crossing = selfCrossing(points.filter((p, i) => distance(p, points[(i + 1) % points.length]) > 1e-9));
  if (crossing) return fatal('self-crossing', 'outer', null, crossing);
  const low = points.find((p) => p.y < -1e-6);
  if (low) return fatal('below-axis', 'outer', null, low, { diameter: low.y * 2 });
  const volume = chainVolume(chain);
  if (Math.abs(volume) < 1e-3) return fatal('no-volume', 'outer', null, front);
  const boundary = volume > 0 ? chain : reverseChain(chain);
  return {
    outer: outer.elements,
    inner: inner.elements,
    back: rear.elements,
    boundary,
    region: [counterClockwise(points)],
    volume: Math.abs(volume),
    problems,
  };
};

/** Every element of the contour: outside, bore, bore from the back. */
export const allElements = (part: Pick<Part, 'outer' | 'inner' | 'back'>): Element[] => [
  ...part.outer,
  ...part.inner,
  ...part.back,
];

/**
 * Elements from one named to another, in their order whichever is named first, and the broken edges of a groove that is named;
 * all without a span, null when an end is gone.
 */
export const elementsBetween = (
  list: readonly Element[],
  span: { readonly from: string; readonly to: string } | null,
): readonly Element[] | null => {
  if (!span) return list;
  const a = list.findIndex((e) => e.id === span.from);
  const b = list.findIndex((e) => e.id === span.to);
  if (a < 0 || b < 0) return null;
  let [first, last] = [Math.min(a, b), Math.max(a, b)];
  const goesWith = (mouth: Element | undefined, e: Element): boolean =>
    mouth?.mouthOf !== undefined && e.mouthOf === undefined && e.id.startsWith(mouth.mouthOf);
  if (goesWith(list[first - 1], list[first])) first--;
  if (goesWith(list[last + 1], list[last])) last++;
  return list.slice(first, last + 1);
};

/** Elements in their order, in short words. */
export const describeSpan = (elements: readonly Element[]): string => {
  const [first] = elements;
  const last = elements[elements.length - 1];
  return first === last ? describeElement(first) : `${describeElement(first)} to ${describeElement(last)}`;
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
