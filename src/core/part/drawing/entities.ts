import {
  add,
  arc,
  type Curve,
  distance,
  fitFunction,
  fromAngle,
  line,
  mapCurve,
  type Point,
  point,
} from '../../geometry';
import { splineAt, splineSpans, splineThrough } from './spline';

/** The fields of parsed DXF entities that are read. */
export interface DxfEntity {
  readonly type: string;
  readonly layer?: string;
  readonly lineType?: string;
  readonly vertices?: readonly { readonly x: number; readonly y: number; readonly bulge?: number }[];
  readonly shape?: boolean;
  readonly center?: { readonly x: number; readonly y: number };
  readonly radius?: number;
  readonly startAngle?: number;
  readonly endAngle?: number;
  readonly majorAxisEndPoint?: { readonly x: number; readonly y: number };
  readonly axisRatio?: number;
  readonly controlPoints?: readonly { readonly x: number; readonly y: number }[];
  readonly fitPoints?: readonly { readonly x: number; readonly y: number }[];
  readonly knotValues?: readonly number[];
  readonly weights?: readonly number[];
  readonly degreeOfSplineCurve?: number;
  readonly closed?: boolean;
  readonly extrusionDirection?: { readonly z: number };
  readonly extrusionDirectionZ?: number;
  readonly name?: string;
  readonly position?: { readonly x: number; readonly y: number };
  readonly xScale?: number;
  readonly yScale?: number;
  readonly rotation?: number;
  readonly columnCount?: number;
  readonly rowCount?: number;
  readonly columnSpacing?: number;
  readonly rowSpacing?: number;
}

export type EntityResult =
  | { readonly ok: true; readonly curves: Curve[] }
  | { readonly ok: false; readonly reason: 'unsupported' | 'bad'; readonly why: string };

/** Free-form pieces are fitted within this, mm. */
const FIT = 9e-4;

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

const good = (curves: Curve[]): EntityResult => ({ ok: true, curves });
const bad = (why: string): EntityResult => ({ ok: false, reason: 'bad', why });

/** Largest coordinate that is read, in units of the drawing: a turned part is not longer than this. */
const FAR = 1e5;

/** The name and value of a number of an entity that no drawing of a part has, or null. */
const absurd = (e: DxfEntity): string | null => {
  const named: [string, number | undefined][] = [
    ['its centre', e.center?.x],
    ['its centre', e.center?.y],
    ['its radius', e.radius],
    ['its axis', e.majorAxisEndPoint?.x],
    ['its axis', e.majorAxisEndPoint?.y],
    ['its ratio', e.axisRatio],
    ['its start angle', e.startAngle],
    ['its end angle', e.endAngle],
    ['its place', e.position?.x],
    ['its place', e.position?.y],
    ['its scale', e.xScale],
    ['its scale', e.yScale],
    ['its rotation', e.rotation],
  ];
  for (const list of [e.vertices, e.controlPoints, e.fitPoints])
    for (const p of list ?? []) named.push(['a point', p.x], ['a point', p.y]);
  for (const v of e.vertices ?? []) named.push(['a bulge', v.bulge === undefined ? undefined : v.bulge * 100]);
  for (const [name, v] of named)
    if (v !== undefined && !(Math.abs(v) <= FAR))
      return `${name} is ${Number.isNaN(v) ? 'no number' : v.toExponential(1)}`;
  return null;
};

const plain = (e: DxfEntity): EntityResult => {
  const wrong = absurd(e);
  if (wrong) return bad(wrong);
  switch (e.type) {
    case 'LINE': {
      const [a, b] = e.vertices ?? [];
      return a && b ? good([line(point(a.x, a.y), point(b.x, b.y))]) : bad('an end is missing');
    }
    case 'LWPOLYLINE':
    case 'POLYLINE': {
      const v = e.vertices ?? [];
      if (v.length < 2) return bad(`it has ${v.length} point${v.length === 1 ? '' : 's'}`);
      const last = e.shape ? v.length : v.length - 1;
      return good(
        Array.from({ length: last }, (_, i) => {
          const a = v[i];
          const b = v[(i + 1) % v.length];
          const from = point(a.x, a.y);
          const to = point(b.x, b.y);
          return a.bulge && Math.abs(a.bulge) > 1e-7 && distance(from, to) > 1e-9
            ? bulgeArc(from, to, a.bulge)
            : line(from, to);
        }),
      );
    }
    case 'ARC': {
      if (!e.center || e.radius === undefined || e.startAngle === undefined || e.endAngle === undefined)
        return bad('its centre, radius or angles are missing');
      if (!(e.radius > 0)) return bad(`its radius is ${e.radius}`);
      const centre = point(e.center.x, e.center.y);
      return good([
        arc(
          add(centre, fromAngle(e.startAngle, e.radius)),
          add(centre, fromAngle(e.endAngle, e.radius)),
          centre,
          false,
        ),
      ]);
    }
    case 'CIRCLE': {
      if (!e.center || e.radius === undefined || !(e.radius > 0)) return bad('its centre or radius is missing');
      const c = point(e.center.x, e.center.y);
      const left = point(c.x - e.radius, c.y);
      const right = point(c.x + e.radius, c.y);
      return good([arc(right, left, c, false), arc(left, right, c, false)]);
    }
    case 'ELLIPSE': {
      const m = e.majorAxisEndPoint;
      if (!e.center || !m || !e.axisRatio) return bad('its axes are missing');
      if (e.axisRatio < 0 || e.axisRatio > 1.001) return bad(`its ratio is ${e.axisRatio}; it must be 0 to 1`);
      const c = point(e.center.x, e.center.y);
      const minor = point(-m.y * e.axisRatio, m.x * e.axisRatio);
      const turn = 2 * Math.PI;
      const from = (e.startAngle ?? 0) % turn;
      // a sweep of more than a turn is a whole turn
      let sweep = ((e.endAngle ?? turn) - (e.startAngle ?? 0)) % turn;
      if (sweep <= 1e-12) sweep += turn;
      const to = from + sweep;
      const at = (t: number): Point => {
        const a = from + (to - from) * t;
        return point(c.x + m.x * Math.cos(a) + minor.x * Math.sin(a), c.y + m.y * Math.cos(a) + minor.y * Math.sin(a));
      };
      const quarters = Math.max(1, Math.ceil((to - from) / (Math.PI / 2) - 1e-9));
      return good(Array.from({ length: quarters }, (_, i) => fitFunction((t) => at((i + t) / quarters), FIT)).flat());
    }
    case 'SPLINE': {
      const control = (e.controlPoints ?? []).map((p) => point(p.x, p.y));
      const fit = (e.fitPoints ?? []).map((p) => point(p.x, p.y));
      if (control.length < 2 && fit.length < 2)
        return bad(
          `it has ${Math.max(control.length, fit.length)} point${Math.max(control.length, fit.length) === 1 ? '' : 's'}; a curve needs two`,
        );
      const degree = e.degreeOfSplineCurve ?? 3;
      const knots = e.knotValues ?? [];
      if (control.length >= 2) {
        if (degree < 1 || degree > 11 || control.length <= degree)
          return bad(`${control.length} points are too few for degree ${degree}`);
        if (knots.length !== control.length + degree + 1)
          return bad(`it has ${knots.length} knots where ${control.length + degree + 1} belong`);
        if (knots.some((k, i) => i > 0 && k < knots[i - 1])) return bad('its knots do not ascend');
        const weights = e.weights && e.weights.length === control.length ? e.weights : control.map(() => 1);
        if (weights.some((w) => !(w > 0))) return bad('a weight is not above 0');
        const spline = { degree, knots, points: control, weights };
        return good(
          splineSpans(spline).flatMap(([a, b]) =>
            fitFunction((t) => splineAt(spline, t >= 1 ? b - (b - a) * 1e-12 : a + (b - a) * t), FIT),
          ),
        );
      }
      const at = splineThrough(fit);
      return good(fitFunction(at, FIT));
    }
    default:
      return { ok: false, reason: 'unsupported', why: e.type };
  }
};

/** Exact or fitted curves of one entity. An entity drawn on the underside of the plane is turned over. */
export const entityCurves = (e: DxfEntity): EntityResult => {
  const result = plain(e);
  const under =
    (e.extrusionDirection?.z ?? e.extrusionDirectionZ ?? 1) < 0 &&
    e.type !== 'LINE' &&
    e.type !== 'SPLINE' &&
    e.type !== 'ELLIPSE';
  return result.ok && under ? good(result.curves.map((c) => mapCurve(c, (p) => point(-p.x, p.y), true))) : result;
};
