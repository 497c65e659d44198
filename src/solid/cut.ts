import {
  type Axis,
  arc,
  type Curve,
  cross3,
  distance,
  distanceToCurve,
  dot3,
  type Frame3,
  fitFunction,
  joinCurves,
  line,
  type Point,
  parameterOf,
  point,
  subtract3,
  toCylinder,
  trimCurve,
  type Vec3,
} from '../core/geometry';
import type { Kernel } from './kernel';
import { type EdgeInfo, explore, type FaceInfo, type SolidModel, turnsAbout } from './model';

/** Ends closer than this are one point; kernels keep edges and faces together within about 1e-7. */
const JOIN = 1e-4;
/** Free-form sections are fitted within this, mm. */
const FIT = 9e-4;
/** The cut is turned by this much so that no seam and no vertex lies exactly in it; 0.00005 mm at a radius of 100 mm. */
const NUDGE = 4.7e-7;

export interface PlainCut {
  /** Closed loops, and chains that begin and end on the axis; z along x, r along y. */
  readonly loops: readonly (readonly Curve[])[];
  /** Ends of chains that join nothing: the solid's faces do not close there. */
  readonly open: readonly Point[];
}

interface HalfPlane {
  readonly frame: Frame3;
  readonly d: Vec3;
  /** Square to the half-plane. */
  readonly t: Vec3;
}

const halfPlaneAt = (frame: Frame3, angle: number): HalfPlane => {
  const c = Math.cos(angle);
  const s = Math.sin(angle);
  const d: Vec3 = [frame.x[0] * c + frame.y[0] * s, frame.x[1] * c + frame.y[1] * s, frame.x[2] * c + frame.y[2] * s];
  return { frame, d, t: cross3(frame.z, d) };
};

const section = (h: HalfPlane, p: Vec3): Point => {
  const c = toCylinder(h.frame, p);
  return point(c.z, c.r);
};

/** Places where an edge pierces the half-plane. */
const piercings = (e: EdgeInfo, h: HalfPlane): Point[] => {
  const side = (p: Vec3): number => dot3(subtract3(p, h.frame.origin), h.t);
  const inFront = (p: Vec3): boolean => dot3(subtract3(p, h.frame.origin), h.d) > 0;
  const n = e.kind === 'line' ? 1 : e.kind === 'circle' ? 24 : 48;
  const found: Point[] = [];
  let t0 = e.first;
  let s0 = side(e.at(t0));
  for (let i = 1; i <= n; i++) {
    const t1 = e.first + ((e.last - e.first) * i) / n;
    const s1 = side(e.at(t1));
    if (s0 < 0 !== s1 < 0) {
      let a = t0;
      let b = t1;
      let sa = s0;
      let sb = s1;
      let p = e.at(a);
      // regula falsi kept inside the bracket, finished by halving
      for (let k = 0; k < 60 && Math.abs(b - a) > 1e-14; k++) {
        const guess = k < 40 && k % 3 !== 2 ? a + ((b - a) * sa) / (sa - sb) : (a + b) / 2;
        p = e.at(guess);
        const s = side(p);
        if (Math.abs(s) < 1e-13) break;
        if (s < 0 === sa < 0) {
          a = guess;
          sa = s;
        } else {
          b = guess;
          sb = s;
        }
      }
      if (inFront(p)) found.push(section(h, p));
    }
    t0 = t1;
    s0 = s1;
  }
  return found;
};

/** Pairs of neighbouring places along a curve: from the first to the second is in the face, then out, then in. */
const pairs = (along: { at: number; p: Point }[]): [Point, Point][] => {
  const sorted = [...along].sort((a, b) => a.at - b.at);
  const result: [Point, Point][] = [];
  for (let i = 0; i + 1 < sorted.length; i += 2) result.push([sorted[i].p, sorted[i + 1].p]);
  return result;
};

const meridians = new WeakMap<FaceInfo, { readonly from: Point; readonly chain: Curve[] }>();

/** Fitted meridian of a surface of revolution: the same pieces at every angle, so that cuts can be united exactly. */
const meridianOf = (f: FaceInfo, at: (v: number) => Point): Curve[] => {
  const from = at(f.v[0]);
  const known = meridians.get(f);
  if (known && distance(known.from, from) < 1e-9) return known.chain;
  const chain = fitFunction((t) => at(f.v[0] + (f.v[1] - f.v[0]) * t), FIT);
  meridians.set(f, { from, chain });
  return chain;
};

/** Whole meridians of the fitted surfaces of revolution, for giving stretches of a silhouette back to them. */
export const fittedMeridians = (model: SolidModel, axis: Axis, frame: Frame3): Curve[] =>
  model.faces.flatMap((f) => {
    if (f.kind !== 'revolution' || !f.full || !turnsAbout(f, axis)) return [];
    return meridianOf(f, (v) => {
      const c = toCylinder(frame, f.at(f.u[0], v));
      return point(c.z, c.r);
    });
  });

/** Stretches of a chain between pairs of places on it. */
const between = (chain: readonly Curve[], places: readonly Point[]): Curve[] => {
  const along = places.map((p) => {
    const nearest = chain.reduce(
      (best, c, i) => (distanceToCurve(c, p) < distanceToCurve(chain[best], p) ? i : best),
      0,
    );
    return { at: nearest + Math.min(1, Math.max(0, parameterOf(chain[nearest], p))), p };
  });
  const sorted = along.sort((a, b) => a.at - b.at);
  const result: Curve[] = [];
  for (let i = 0; i + 1 < sorted.length; i += 2) {
    const [a, b] = [sorted[i], sorted[i + 1]];
    chain.forEach((c, k) => {
      const t0 = Math.max(0, a.at - k);
      const t1 = Math.min(1, b.at - k);
      if (t1 - t0 < 1e-9) return;
      const piece = trimCurve(c, t0, t1);
      result.push(piece);
    });
  }
  return result;
};

/** Exact section of a face that turns about the axis, or null when only the kernel can tell. */
const turnedSection = (f: FaceInfo, crossings: Point[], frame: Frame3): Curve[] | null => {
  const meridian = (v: number): Point => {
    const c = toCylinder(frame, f.at(f.u[0], v));
    return point(c.z, c.r);
  };
  const onAxis = (p: Point): boolean => p.y < 1e-6;
  switch (f.kind) {
    case 'plane':
    case 'cylinder':
    case 'cone': {
      const z = toCylinder(frame, f.middle).z;
      const carrier = f.kind === 'plane' ? line(point(z, 0), point(z, 1)) : line(meridian(f.v[0]), meridian(f.v[1]));
      const places = crossings.map((p) => ({ at: parameterOf(carrier, p), p }));
      if (places.length % 2 === 1) {
        const foot = f.kind === 'plane' ? point(z, 0) : [carrier.from, carrier.to].find(onAxis);
        if (!foot) return null;
        places.push({ at: parameterOf(carrier, foot), p: point(foot.x, 0) });
      }
      return pairs(places).map(([a, b]) => line(a, b));
    }
    case 'sphere':
    case 'torus': {
      const c = toCylinder(frame, f.axis?.point ?? f.middle);
      // the torus's own tube centre lies between two opposite points of the tube
      const a = meridian(f.v[0]);
      const m = meridian((f.v[0] + f.v[1]) / 2);
      const b = meridian(f.v[1]);
      const opposite = meridian(f.v[0] + Math.PI);
      const centre = f.kind === 'sphere' ? point(c.z, 0) : point((a.x + opposite.x) / 2, (a.y + opposite.y) / 2);
      const angle = (p: Point): number => Math.atan2(p.y - centre.y, p.x - centre.x);
      const whole = f.v[1] - f.v[0] > 2 * Math.PI - 1e-6;
      const turn = (m.x - a.x) * (a.y - centre.y) - (m.y - a.y) * (a.x - centre.x);
      const clockwise = turn > 0;
      const from = (p: Point): number => {
        let d = clockwise ? angle(a) - angle(p) : angle(p) - angle(a);
        while (d < -1e-5) d += 2 * Math.PI;
        while (d >= 2 * Math.PI - 1e-5) d -= 2 * Math.PI;
        return d;
      };
      const arcs = (p: Point, q: Point): Curve[] => [arc(p, q, centre, clockwise)];
      if (crossings.length === 0) {
        if (whole) return [...arcs(a, meridian(f.v[0] + Math.PI)), ...arcs(meridian(f.v[0] + Math.PI), a)];
        return onAxis(a) && onAxis(b) ? arcs(point(a.x, 0), point(b.x, 0)) : [];
      }
      const places = crossings.map((p) => ({ at: from(p), p }));
      if (places.length % 2 === 1) {
        const pole = [a, b].find(onAxis);
        if (!pole) return null;
        places.push({ at: pole === a ? -1 : 7, p: point(pole.x, 0) });
      }
      return pairs(places).flatMap(([p, q]) => arcs(p, q));
    }
    case 'revolution': {
      if (!f.full) return null;
      const whole = meridianOf(f, meridian);
      if (crossings.length <= 2) return whole;
      return between(whole, crossings);
    }
    default:
      return null;
  }
};

/** A cylinder whose axis lies along the half-plane is cut in straight lines; null when it is not so. */
const cylinderAlong = (f: FaceInfo, crossings: readonly Point[], h: HalfPlane): Curve[] | null => {
  if (f.kind !== 'cylinder' || !f.axis || Math.abs(dot3(f.axis.direction, h.t)) > 2e-6) return null;
  const aim = f.axis.direction;
  const off = dot3(subtract3(f.axis.point, h.frame.origin), h.t);
  const half = Math.sqrt(Math.max(0, f.radius * f.radius - off * off));
  const base = (p: Vec3): Point =>
    point(dot3(subtract3(p, h.frame.origin), h.frame.z), dot3(subtract3(p, h.frame.origin), h.d));
  const a = base(f.axis.point);
  const along = point(dot3(aim, h.frame.z), dot3(aim, h.d));
  const across = point(-along.y, along.x);
  return [half, -half].flatMap((s) => {
    const start = point(a.x + across.x * s, a.y + across.y * s);
    const carrier = line(start, point(start.x + along.x, start.y + along.y));
    const places = crossings
      .filter((p) => Math.abs((p.x - start.x) * along.y - (p.y - start.y) * along.x) < 1e-4 + Math.min(half, 1e-4))
      .map((p) => ({ at: parameterOf(carrier, p), p }));
    if (places.length % 2 === 1 && Math.abs(along.y) > 1e-9) {
      // the bore runs on through the axis: its wall ends there
      const t = -start.y / along.y;
      places.push({ at: t, p: point(start.x + along.x * t, 0) });
    }
    return pairs(places).map(([p, q]) => line(p, q));
  });
};

/** Section of one face by the kernel's own intersection, fitted. */
const kernelSection = (oc: Kernel, f: FaceInfo, h: HalfPlane): Curve[] => {
  const o = h.frame.origin;
  const at = new oc.gp_Pnt(o[0], o[1], o[2]);
  const normal = new oc.gp_Dir(h.t[0], h.t[1], h.t[2]);
  const plane = new oc.gp_Pln(at, normal);
  const cut = new oc.BRepAlgoAPI_Section(f.shape, plane, false);
  cut.Approximation(true);
  cut.Build();
  const result = cut.Shape();
  const curves: Curve[] = [];
  for (const e of explore(oc, result, 'EDGE')) {
    const curve = new oc.BRepAdaptor_Curve(oc.TopoDS.Edge(e));
    const first = curve.FirstParameter();
    const last = curve.LastParameter();
    const place = (t: number): { p: Point; front: boolean } => {
      const v = curve.Value(first + (last - first) * t);
      const p: Vec3 = [v.X(), v.Y(), v.Z()];
      v.delete();
      return { p: section(h, p), front: dot3(subtract3(p, o), h.d) > 0 };
    };
    if (place(0.5).front && distance(place(0).p, place(1).p) + distance(place(0).p, place(0.5).p) > 1e-6)
      curves.push(...fitFunction((t) => place(t).p, FIT));
    curve.delete();
  }
  for (const k of [at, normal, plane, cut]) k.delete();
  return curves;
};

/** Does the half-plane run through the face at all? Judged by its edges and middle, on the safe side. */
const mayMeet = (f: FaceInfo, model: SolidModel, h: HalfPlane): boolean => {
  let below = false;
  let above = false;
  const look = (p: Vec3): void => {
    const s = dot3(subtract3(p, h.frame.origin), h.t);
    if (s < 1e-6) below = true;
    if (s > -1e-6) above = true;
  };
  for (let i = 0; i <= 6; i++)
    for (let k = 0; k <= 6; k++) look(f.at(f.u[0] + ((f.u[1] - f.u[0]) * i) / 6, f.v[0] + ((f.v[1] - f.v[0]) * k) / 6));
  for (const e of f.edges) look(model.edges[e].at(model.edges[e].first));
  return below && above;
};

/**
 * Cuts the solid with the half-plane at an angle (radians) about the axis. Faces that turn about the axis and plane faces
 * give exact lines and arcs; other faces are intersected by the kernel and fitted within 1 µm.
 */
export const cutAtAngle = (oc: Kernel, model: SolidModel, axis: Axis, frame: Frame3, angle: number): PlainCut => {
  const h = halfPlaneAt(frame, angle + NUDGE);
  const pierced = model.edges.map((e) => piercings(e, h));
  const pieces: Curve[] = [];
  for (const f of model.faces) {
    const crossings = f.edges.flatMap((e) => pierced[e]);
    if (turnsAbout(f, axis)) {
      const exact = turnedSection(f, crossings, frame);
      if (exact) {
        pieces.push(...exact);
        continue;
      }
    } else if (f.kind === 'plane') {
      if (crossings.length >= 2) {
        const reach = crossings.reduce(
          (a, p) => (distance(p, crossings[0]) > distance(a, crossings[0]) ? p : a),
          crossings[0],
        );
        const carrier = line(crossings[0], reach);
        if (distance(carrier.from, carrier.to) > 1e-9)
          for (const [a, b] of pairs(crossings.map((p) => ({ at: parameterOf(carrier, p), p }))))
            pieces.push(line(a, b));
      }
      continue;
    } else if (crossings.length === 0 && !mayMeet(f, model, h)) continue;
    const straight = cylinderAlong(f, crossings, h);
    if (straight) {
      pieces.push(...straight);
      continue;
    }
    pieces.push(...kernelSection(oc, f, h));
  }
  const { chains } = joinCurves(
    pieces.filter((c) => c.kind === 'arc' || distance(c.from, c.to) > 1e-7),
    JOIN,
  );
  const loops: Curve[][] = [];
  const open: Point[] = [];
  for (const chain of chains) {
    const a = chain[0].from;
    const b = chain[chain.length - 1].to;
    if ((a.y < JOIN && b.y < JOIN) || distance(a, b) < JOIN) {
      // a line along the axis is no boundary
      const real = chain.filter((c) => !(c.kind === 'line' && c.from.y < 1e-6 && c.to.y < 1e-6));
      if (real.length > 0) loops.push(real);
    } else for (const p of [a, b]) if (p.y >= JOIN) open.push(p);
  }
  return { loops, open };
};
