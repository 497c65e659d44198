import {
  add,
  type Curve,
  cross,
  distance,
  dot,
  fromAngle,
  intersectCarriers,
  length,
  line,
  type Point,
  perpendicular,
  point,
  radians,
  scale,
  subtract,
  tangentAt,
  unit,
} from '../geometry';
import { evaluateLength, evaluateNumber, namesIn } from '../units';
import { arcByRadius } from './arc';
import type { Dimension, Profile, Row } from './profile';

export type SketchCode =
  | 'arc-impossible'
  | 'radius-negative'
  | 'zero-length'
  | 'not-finite'
  | 'under-determined'
  | 'over-determined'
  | 'no-solution'
  | 'formula'
  | 'below-axis'
  | 'empty';

export interface SketchProblem {
  readonly code: SketchCode;
  readonly row: string | null;
  readonly at: Point | null;
  readonly numbers: Readonly<Record<string, number | string>>;
}

export interface Solved {
  readonly pieces: readonly { readonly row: Row; readonly curve: Curve }[];
  readonly problems: readonly SketchProblem[];
}

export interface Values {
  /** Value of each dimension that could be computed, mm. */
  readonly names: ReadonlyMap<string, number>;
  readonly problems: readonly SketchProblem[];
}

/** Computes named dimensions in the order of their use; unknown names, circles and slips are told by name. */
export const solveDimensions = (dimensions: readonly Dimension[], unit: 'mm' | 'inch' = 'mm'): Values => {
  const names = new Map<string, number>();
  const problems: SketchProblem[] = [];
  const open = new Map(dimensions.map((d) => [d.name, d]));
  const tell = (name: string, reason: string): void => {
    problems.push({ code: 'formula', row: null, at: null, numbers: { name, reason } });
  };
  for (let progress = true; progress && open.size > 0; ) {
    progress = false;
    for (const d of [...open.values()]) {
      if (namesIn(d.formula).some((n) => open.has(n))) continue;
      open.delete(d.name);
      progress = true;
      const read = evaluateLength(d.formula, unit, names);
      if (read.ok) names.set(d.name, read.value);
      else tell(d.name, read.reason);
    }
  }
  for (const d of open.values())
    tell(
      d.name,
      `it depends on itself through ${namesIn(d.formula)
        .filter((n) => open.has(n))
        .join(', ')}`,
    );
  return { names, problems };
};

const LENGTHS = ['diameter', 'z', 'length', 'radius', 'centreDiameter', 'centreZ'] as const;

/** The row with its formulas computed into the fields. */
const evaluated = (
  row: Row,
  names: ReadonlyMap<string, number>,
  unit: 'mm' | 'inch',
  tell: (field: string, reason: string) => void,
): Row => {
  if (!row.formulas) return row;
  const out: Record<string, unknown> = { ...row };
  for (const [field, text] of Object.entries(row.formulas)) {
    const read = field === 'angle' ? evaluateNumber(text, names) : evaluateLength(text, unit, names);
    if (!read.ok) {
      tell(field, read.reason);
      continue;
    }
    if (field === 'corner') out.corner = row.corner ? { ...row.corner, size: read.value } : null;
    else if (field === 'angle' || (LENGTHS as readonly string[]).includes(field)) out[field] = read.value;
  }
  return out as Row;
};

/** Direction of travel for an angle of the table: 0 along −Z, 90 outward. */
const directionOf = (angle: number): Point => {
  const d = fromAngle(radians(angle));
  return point(-d.x, d.y);
};

/** A contradiction larger than this is told, mm. */
const AGREE = 1e-4;

type Step =
  | { readonly curve: Curve }
  | { readonly problem: SketchCode; readonly numbers?: Record<string, number | string> };

const fail = (problem: SketchCode, numbers: Record<string, number | string> = {}): Step => ({ problem, numbers });

/** A line from `at`: blank values stay as they are, unless an angle or length says otherwise. */
const solveLine = (at: Point, row: Extract<Row, { kind: 'line' }>, next: Row | undefined): Step => {
  const angle = row.angle ?? null;
  const size = row.length ?? null;
  const r = row.diameter === null ? null : row.diameter / 2;
  const z = row.z;
  const done = (to: Point): Step => (distance(at, to) < 1e-6 ? fail('zero-length') : { curve: line(at, to) });
  const check = (to: Point): Step => {
    const d = subtract(to, at);
    if (angle !== null) {
      const off = Math.abs(cross(directionOf(angle), d));
      if (off > AGREE || dot(directionOf(angle), d) < 0)
        return fail('over-determined', { value: 'angle', off: dot(directionOf(angle), d) < 0 ? length(d) : off });
    }
    if (size !== null && Math.abs(length(d) - size) > AGREE)
      return fail('over-determined', { value: 'length', off: Math.abs(length(d) - size) });
    return done(to);
  };
  if (angle === null && size === null) return done(point(z ?? at.x, r ?? at.y));
  if (r !== null && z !== null) return check(point(z, r));
  if (angle !== null) {
    const d = directionOf(angle);
    if (size !== null && r === null && z === null) return done(add(at, scale(d, size)));
    const along = r !== null ? (r - at.y) / d.y : z !== null ? (z - at.x) / d.x : null;
    if (along !== null) {
      if (!Number.isFinite(along) || along < -1e-9)
        return fail('no-solution', { value: r !== null ? 'diameter' : 'Z' });
      const to = add(at, scale(d, along));
      return size === null ? done(r !== null ? point(to.x, r) : point(z as number, to.y)) : check(to);
    }
    // only the direction: the next line's own end and direction say where the two meet
    if (
      next?.kind === 'line' &&
      next.diameter !== null &&
      next.z !== null &&
      next.angle !== null &&
      next.angle !== undefined
    ) {
      const target = point(next.z, next.diameter / 2);
      const m = intersectCarriers(line(at, add(at, d)), line(target, add(target, directionOf(next.angle))));
      if (m.kind !== 'points') return fail('no-solution', { value: 'angle' });
      return dot(subtract(m.points[0], at), d) < 0 ? fail('no-solution', { value: 'angle' }) : done(m.points[0]);
    }
    return fail('under-determined', {
      give: 'a length, a diameter or a Z (or let the next line give its own end and angle)',
    });
  }
  // a length with one coordinate: toward the chuck, and outward
  const across = r !== null ? r - at.y : (z as number) - at.x;
  if (r === null && z === null) return fail('under-determined', { give: 'an angle, a diameter or a Z' });
  const rest = (size as number) ** 2 - across ** 2;
  if (rest < 0) return fail('no-solution', { value: 'length' });
  return done(r !== null ? point(at.x - Math.sqrt(rest), r) : point(z as number, at.y + Math.sqrt(rest)));
};

const arcTo = (at: Point, to: Point, centre: Point, clockwise: boolean): Step =>
  distance(at, to) < 1e-9 ? fail('zero-length') : { curve: { kind: 'arc', from: at, to, centre, clockwise } };

const solveArc = (at: Point, heading: Point | null, row: Extract<Row, { kind: 'arc' }>): Step => {
  const r = row.diameter === null ? null : row.diameter / 2;
  const z = row.z;
  if (row.radius !== null && row.radius <= 0) return fail('radius-negative', { radius: row.radius });
  const centreGiven = row.centreDiameter != null && row.centreZ != null;
  if (!centreGiven && (row.centreDiameter != null || row.centreZ != null))
    return fail('under-determined', { give: 'both values of the centre' });
  let centre: Point | null = centreGiven ? point(row.centreZ as number, (row.centreDiameter as number) / 2) : null;
  if (row.tangent) {
    if (!heading) return fail('under-determined', { give: 'a row above to run on from' });
    const side = scale(perpendicular(heading), row.clockwise ? -1 : 1);
    if (row.radius !== null) {
      const own = add(at, scale(side, row.radius));
      if (centre && distance(centre, own) > AGREE)
        return fail('over-determined', { value: 'centre', off: distance(centre, own) });
      centre = own;
    } else if (centre) {
      const off = Math.abs(dot(unit(subtract(centre, at)), heading)) * distance(centre, at);
      if (off > AGREE) return fail('over-determined', { value: 'centre', off });
    } else {
      if (r === null || z === null)
        return fail('under-determined', {
          give: r === null && z === null ? 'the end, or a radius' : 'the other coordinate of the end, or a radius',
        });
      const chord = subtract(point(z, r), at);
      const across = dot(chord, perpendicular(heading));
      if (Math.abs(across) < 1e-9) return fail('no-solution', { value: 'tangent' });
      // the side that the end lies on decides the way round
      const signed = dot(chord, chord) / (2 * across);
      return arcTo(at, point(z, r), add(at, scale(perpendicular(heading), signed)), signed < 0);
    }
  }
  if (centre) {
    const radius = distance(centre, at);
    if (row.radius !== null && Math.abs(radius - row.radius) > AGREE)
      return fail('over-determined', { value: 'radius', off: Math.abs(radius - row.radius) });
    if (r !== null && z !== null) {
      const off = Math.abs(distance(centre, point(z, r)) - radius);
      return off > AGREE
        ? fail('over-determined', { value: 'end', off })
        : arcTo(at, point(z, r), centre, row.clockwise);
    }
    if (r === null && z === null) return fail('under-determined', { give: 'a diameter or a Z for the end' });
    const across = r !== null ? r - centre.y : (z as number) - centre.x;
    const rest = radius * radius - across * across;
    if (rest < -1e-9) return fail('no-solution', { value: r !== null ? 'diameter' : 'Z' });
    const h = Math.sqrt(Math.max(0, rest));
    const ends = [h, -h].map((k) =>
      r !== null ? point((centre as Point).x + k, r) : point(z as number, (centre as Point).y + k),
    );
    // the end that comes first on the way round; “long” takes the other
    const sweep = (p: Point): number => {
      const c = centre as Point;
      const a = Math.atan2(at.y - c.y, at.x - c.x);
      const b = Math.atan2(p.y - c.y, p.x - c.x);
      const d = row.clockwise ? a - b : b - a;
      return d < 1e-9 ? d + 2 * Math.PI : d;
    };
    const sorted = ends.sort((a, b) => sweep(a) - sweep(b));
    return arcTo(at, sorted[row.long ? 1 : 0], centre, row.clockwise);
  }
  if (row.radius === null) return fail('under-determined', { give: 'a radius, a centre, or “tangent”' });
  const to = point(z ?? at.x, r ?? at.y);
  if (r === null && z === null) return fail('under-determined', { give: 'a diameter or a Z for the end' });
  if (distance(at, to) < 1e-6) return fail('zero-length');
  const made = arcByRadius(at, to, row.radius, row.clockwise, row.long);
  return made ? { curve: made } : fail('arc-impossible', { radius: row.radius, least: distance(at, to) / 2 });
};

/**
 * Works the rows out into pieces, one after the other. A row that cannot be solved becomes a straight line to whatever end
 * it has, so that the rest stays visible; what is missing or contradicts itself is told by row.
 */
export const solveProfile = (
  profile: Profile,
  names: ReadonlyMap<string, number> = new Map(),
  unitOfText: 'mm' | 'inch' = 'mm',
): Solved => {
  const problems: SketchProblem[] = [];
  const pieces: { row: Row; curve: Curve }[] = [];
  let at = point(profile.start.z, profile.start.diameter / 2);
  const complain = (
    code: SketchCode,
    row: Row | null,
    where: Point | null,
    numbers: Record<string, number | string> = {},
  ): void => {
    problems.push({ code, row: row?.id ?? null, at: where, numbers });
  };
  if (![at.x, at.y].every(Number.isFinite)) complain('not-finite', null, null);
  if (at.y < -1e-7) complain('below-axis', null, at, { diameter: profile.start.diameter });
  const rows = profile.rows.map((row) =>
    evaluated(row, names, unitOfText, (field, reason) => complain('formula', row, null, { name: field, reason })),
  );
  rows.forEach((row, i) => {
    const given = [row.diameter, row.z].filter((v) => v !== null);
    if (!given.every(Number.isFinite)) {
      complain('not-finite', row, null);
      return;
    }
    const previous = pieces[pieces.length - 1]?.curve ?? null;
    const step =
      row.kind === 'line'
        ? solveLine(at, row, rows[i + 1])
        : solveArc(at, previous ? tangentAt(previous, 1) : null, row);
    let curve: Curve;
    if ('curve' in step) curve = step.curve;
    else {
      const to = point(row.z ?? at.x, row.diameter === null ? at.y : row.diameter / 2);
      complain(step.problem, row, to, step.numbers);
      if (distance(at, to) < 1e-6) return;
      curve = line(at, to);
    }
    if (curve.to.y < -1e-7) complain('below-axis', row, curve.to, { diameter: curve.to.y * 2 });
    pieces.push({ row, curve });
    at = curve.to;
  });
  if (rows.length === 0) complain('empty', null, null);
  return { pieces, problems };
};
