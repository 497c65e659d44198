import DxfParser from 'dxf-parser';
import { type Arc, add, arc, arcRadius, type Curve, distance, fromAngle, isDegenerate, line, type Point, point, reverseCurve, TOLERANCE } from '../geometry';
import type { PartDocument, Profile, Row } from './profile';

export interface DrawingProblem {
  readonly code: 'torn' | 'empty' | 'open' | 'branch' | 'below-axis' | 'unsupported' | 'too-many' | 'not-finite';
  /** Entity number in the file (from 1), its layer and kind, where it is known. */
  readonly entity: number | null;
  readonly at: readonly [number, number] | null;
  readonly message: string;
}

export interface DrawingImport {
  readonly outer: readonly Curve[];
  readonly inner: readonly Curve[];
  readonly problems: readonly DrawingProblem[];
}

interface DxfEntity {
  type: string;
  layer?: string;
  vertices?: { x: number; y: number; bulge?: number }[];
  shape?: boolean;
  center?: { x: number; y: number };
  radius?: number;
  startAngle?: number;
  endAngle?: number;
}

/** The arc of a polyline vertex: bulge is the tangent of a quarter of the sweep, positive counter-clockwise. */
const bulgeArc = (from: Point, to: Point, bulge: number): Curve => {
  const chord = distance(from, to);
  const radius = (chord * (1 + bulge * bulge)) / (4 * Math.abs(bulge));
  const middle = point((from.x + to.x) / 2, (from.y + to.y) / 2);
  const apothem = radius - (Math.abs(bulge) * chord) / 2;
  const left = point(-(to.y - from.y) / chord, (to.x - from.x) / chord);
  const side = bulge > 0 ? 1 : -1;
  return arc(from, to, add(middle, point(left.x * apothem * side, left.y * apothem * side)), bulge < 0);
};

const entityCurves = (e: DxfEntity): Curve[] | null => {
  switch (e.type) {
    case 'LINE': {
      const [a, b] = e.vertices ?? [];
      return a && b ? [line(point(a.x, a.y), point(b.x, b.y))] : [];
    }
    case 'LWPOLYLINE':
    case 'POLYLINE': {
      const v = e.vertices ?? [];
      const last = e.shape ? v.length : v.length - 1;
      return Array.from({ length: Math.max(0, last) }, (_, i) => {
        const a = v[i];
        const b = v[(i + 1) % v.length];
        const from = point(a.x, a.y);
        const to = point(b.x, b.y);
        return a.bulge && distance(from, to) > 1e-9 ? bulgeArc(from, to, a.bulge) : line(from, to);
      });
    }
    case 'ARC': {
      if (!e.center || e.radius === undefined || e.startAngle === undefined || e.endAngle === undefined) return [];
      const centre = point(e.center.x, e.center.y);
      return [arc(add(centre, fromAngle(e.startAngle, e.radius)), add(centre, fromAngle(e.endAngle, e.radius)), centre, false)];
    }
    default:
      return null;
  }
};

const ends = (c: Curve): [Point, Point] => [c.from, c.to];
const finite = (c: Curve): boolean => [c.from.x, c.from.y, c.to.x, c.to.y].every(Number.isFinite);

/** Parts of a drawing that lie above the centreline; pieces below it are the mirrored half and are left out. */
const isBelow = (c: Curve): boolean => Math.max(c.from.y, c.to.y) <= 1e-6 && Math.min(c.from.y, c.to.y) < -1e-6;
const onAxis = (c: Curve): boolean => Math.abs(c.from.y) < 1e-6 && Math.abs(c.to.y) < 1e-6 && c.kind === 'line';

/** Joins loose pieces end to end within `gap` mm into chains. */
const chainUp = (pieces: Curve[], gap: number): { chains: Curve[][]; branches: Point[] } => {
  const left = [...pieces];
  const chains: Curve[][] = [];
  const branches: Point[] = [];
  while (left.length > 0) {
    const chain: Curve[] = [left.shift() as Curve];
    for (let grown = true; grown; ) {
      grown = false;
      for (const atEnd of [true, false]) {
        const tip = atEnd ? chain[chain.length - 1].to : chain[0].from;
        const fits = left
          .map((c, i) => {
            const direct = distance(atEnd ? c.from : c.to, tip);
            const flipped = distance(atEnd ? c.to : c.from, tip);
            return { i, c, direct: direct <= flipped, gap: Math.min(direct, flipped) };
          })
          .filter((f) => f.gap < gap)
          .sort((a, b) => a.gap - b.gap);
        if (fits.length === 0) continue;
        // a piece shorter than the gap tolerance is no branch: only ends that really coincide are
        if (fits.length > 1 && fits[1].gap < 1e-6) branches.push(tip);
        const { i, c, direct } = fits[0];
        left.splice(i, 1);
        const oriented = direct ? c : reverseCurve(c);
        if (atEnd) chain.push(snapStart(oriented, tip));
        else chain.unshift(snapEnd(oriented, tip));
        grown = true;
      }
    }
    chains.push(chain);
  }
  return { chains, branches };
};

/** Moves an end by less than the gap tolerance; arcs keep their centre when the ends stay on the circle, else become exact again by radius. */
const snapStart = (c: Curve, from: Point): Curve => (c.kind === 'line' ? line(from, c.to) : refit({ ...c, from }));
const snapEnd = (c: Curve, to: Point): Curve => (c.kind === 'line' ? line(c.from, to) : refit({ ...c, to }));
const refit = (a: Arc): Arc => {
  const r0 = distance(a.from, a.centre);
  const r1 = distance(a.to, a.centre);
  if (Math.abs(r0 - r1) < 1e-9) return a;
  // slide the centre onto the perpendicular bisector of the chord
  const chord = point(a.to.x - a.from.x, a.to.y - a.from.y);
  const l2 = chord.x ** 2 + chord.y ** 2;
  const middle = point((a.from.x + a.to.x) / 2, (a.from.y + a.to.y) / 2);
  const t = ((a.centre.x - middle.x) * chord.x + (a.centre.y - middle.y) * chord.y) / l2;
  return { ...a, centre: point(a.centre.x - chord.x * t, a.centre.y - chord.y * t) };
};

const MAX_ENTITIES = 20_000;

/**
 * Reads a DXF text whose X is Z of the part and whose Y is the distance from the axis. Lines, arcs and polylines with
 * bulge become exact pieces; pieces below the axis and on it are left out; the contour is told into outer and inner.
 */
export const importDxf = (text: string): DrawingImport => {
  const problems: DrawingProblem[] = [];
  const fail = (code: DrawingProblem['code'], message: string, entity: number | null = null, at: Point | null = null): DrawingImport => {
    problems.push({ code, entity, at: at ? [at.x, at.y] : null, message });
    return { outer: [], inner: [], problems };
  };
  let entities: DxfEntity[];
  try {
    // the parser's own complaint on odd groups goes to the console only; a torn file throws
    const parsed = new DxfParser().parseSync(text);
    entities = (parsed?.entities ?? []) as unknown as DxfEntity[];
  } catch (error) {
    const reason = error instanceof Error ? error.message : String(error);
    return fail('torn', `The file ends or breaks inside (${reason.slice(0, 120)}). Save the drawing again as DXF text and drop it once more.`);
  }
  if (!/\bEOF\s*$/.test(text.trimEnd()))
    problems.push({ code: 'torn', entity: null, at: null, message: 'The file has no end mark, so pieces may be missing. Compare the contour with the drawing, or save it again.' });
  if (entities.length > MAX_ENTITIES) return fail('too-many', `The drawing has ${entities.length} pieces; up to ${MAX_ENTITIES} are read. Save only the contour's layer.`);
  const pieces: Curve[] = [];
  entities.forEach((e, i) => {
    const curves = entityCurves(e);
    if (curves === null) {
      if (!/DIMENSION|HATCH|TEXT|MTEXT|POINT|VIEWPORT|INSERT/.test(e.type) || e.type === 'INSERT')
        problems.push({
          code: 'unsupported',
          entity: i + 1,
          at: null,
          message: `Piece ${i + 1} is a ${e.type.toLowerCase()} on layer “${(e.layer ?? '0').slice(0, 60)}”, which is left out. Explode it to lines and arcs if it belongs to the contour.`,
        });
      return;
    }
    for (const c of curves) {
      if (!finite(c)) problems.push({ code: 'not-finite', entity: i + 1, at: null, message: `Piece ${i + 1} has a coordinate that is not a number. Redraw it.` });
      else if (!isDegenerate(c) && !isBelow(c) && !onAxis(c)) pieces.push(c);
    }
  });
  if (pieces.length === 0) return fail('empty', 'The file has no lines, arcs or polylines above the centreline. Draw the half-section with Z along X and the axis at Y 0.');
  const crossing = pieces.find((c) => ends(c).some((p) => p.y < -1e-6));
  if (crossing)
    return fail('below-axis', `A piece at Z${crossing.from.x.toFixed(3)} crosses the axis. Trim the drawing at Y 0 so that only one half is left.`, null, crossing.from);

  const { chains, branches } = chainUp(pieces, TOLERANCE.drawingGap);
  for (const b of branches.slice(0, 5))
    problems.push({ code: 'branch', entity: null, at: [b.x, b.y], message: `More than two pieces meet at Z${b.x.toFixed(3)} ⌀${(2 * b.y).toFixed(3)}. Delete the extra piece.` });
  return tellApart(chains, problems);
};

/** Tells outer from inner contour and turns both front to back. */
const tellApart = (chains: Curve[][], problems: DrawingProblem[]): DrawingImport => {
  const closed = (c: Curve[]): boolean => distance(c[0].from, c[c.length - 1].to) < TOLERANCE.drawingGap;
  const length = (c: Curve[]): number => Math.max(...c.flatMap((k) => [k.from.x, k.to.x])) - Math.min(...c.flatMap((k) => [k.from.x, k.to.x]));
  const main = chains.reduce((best, c) => (Math.max(...c.flatMap((k) => [k.from.y, k.to.y])) > Math.max(...best.flatMap((k) => [k.from.y, k.to.y])) ? c : best));
  if (closed(main)) {
    // split a closed half-section at its front-most and rear-most faces nearest the axis
    const vertices = main.map((c) => c.from);
    const zMax = Math.max(...vertices.map((v) => v.x));
    const zMin = Math.min(...vertices.map((v) => v.x));
    const nearestAt = (z: number): number =>
      vertices
        .map((v, i) => ({ v, i }))
        .filter(({ v }) => Math.abs(v.x - z) < 1e-4)
        .reduce((low, k) => (k.v.y < low.v.y ? k : low)).i;
    const rotate = (from: number, to: number): Curve[] => {
      const result: Curve[] = [];
      for (let i = from; i !== to; i = (i + 1) % main.length) result.push(main[i]);
      return result;
    };
    const f = nearestAt(zMax);
    const b = nearestAt(zMin);
    const one = rotate(f, b);
    const other = rotate(b, f).map(reverseCurve).reverse();
    const meanRadius = (c: Curve[]): number => c.reduce((s, k) => s + k.from.y + k.to.y, 0) / Math.max(1, c.length);
    const [outer, inner] = meanRadius(one) >= meanRadius(other) ? [one, other] : [other, one];
    const innerOnAxis = inner.every((c) => Math.abs(c.from.y) < 1e-6 && Math.abs(c.to.y) < 1e-6);
    return { outer, inner: innerOnAxis ? [] : inner, problems };
  }
  const forward = (c: Curve[]): Curve[] => (c[0].from.x >= c[c.length - 1].to.x ? c : c.map(reverseCurve).reverse());
  const outer = forward(main);
  const rest = chains.filter((c) => c !== main);
  const innerChain = rest.length > 0 ? rest.reduce((best, c) => (length(c) > length(best) ? c : best)) : [];
  for (const extra of rest.filter((c) => c !== innerChain)) {
    const p = extra[0].from;
    problems.push({
      code: 'open',
      entity: null,
      at: [p.x, p.y],
      message: `A loose chain of ${extra.length} pieces starts at Z${p.x.toFixed(3)} ⌀${(2 * p.y).toFixed(3)} and joins nothing. Close the gap or delete it.`,
    });
  }
  for (const end of [outer[0].from, outer[outer.length - 1].to])
    if (end.y > TOLERANCE.drawingGap && innerChain.length === 0)
      problems.push({
        code: 'open',
        entity: null,
        at: [end.x, end.y],
        message: `The contour is open at Z${end.x.toFixed(3)} ⌀${(2 * end.y).toFixed(3)}. Draw it down to the axis, or add the bore.`,
      });
  return { outer, inner: innerChain.length > 0 ? forward(innerChain) : [], problems };
};

const toRow = (c: Curve, id: string): Row => {
  const end = { id, diameter: round(c.to.y * 2), z: round(c.to.x), corner: null };
  if (c.kind === 'line') return { ...end, kind: 'line' };
  const side = (c.to.x - c.from.x) * (c.centre.y - c.from.y) - (c.to.y - c.from.y) * (c.centre.x - c.from.x);
  return { ...end, kind: 'arc', radius: round(arcRadius(c)), clockwise: c.clockwise, long: Math.abs(side) > 1e-9 && side > 0 === c.clockwise };
};

// a drawing's 60.000000001 is 60; a tenth of a micrometre is below every tolerance
const round = (value: number): number => Math.round(value * 1e7) / 1e7;

const toProfile = (chain: readonly Curve[], prefix: string): Profile => ({
  start: { diameter: round(chain[0].from.y * 2), z: round(chain[0].from.x) },
  rows: chain.map((c, i) => toRow(c, `${prefix}${i + 1}`)),
});

/** A part document from an imported drawing, moved so that the front-most face is Z0. */
export const partFromDrawing = (drawing: DrawingImport): PartDocument | null => {
  if (drawing.outer.length === 0) return null;
  const front = Math.max(...drawing.outer.flatMap((c) => [c.from.x, c.to.x]));
  const moved = (p: Profile): Profile => ({ start: { ...p.start, z: round(p.start.z - front) }, rows: p.rows.map((r) => ({ ...r, z: round(r.z - front) })) });
  return { outer: moved(toProfile(drawing.outer, 'o')), inner: drawing.inner.length > 0 ? moved(toProfile(drawing.inner, 'i')) : null };
};
