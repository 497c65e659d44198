import {
  type Axis,
  add3,
  cross3,
  distance3,
  dot3,
  length3,
  scale3,
  subtract3,
  unit3,
  type Vec3,
} from '../core/geometry';
import type { Kernel, KernelShape } from './kernel';

export type FaceKind = 'plane' | 'cylinder' | 'cone' | 'sphere' | 'torus' | 'revolution' | 'free';

export interface EdgeInfo {
  readonly kind: 'line' | 'circle' | 'other';
  readonly first: number;
  readonly last: number;
  /** Point at a parameter between first and last. */
  readonly at: (t: number) => Vec3;
  readonly circle: { readonly centre: Vec3; readonly axis: Vec3; readonly radius: number } | null;
  /** Faces that meet at this edge, by index. */
  readonly faces: number[];
}

export interface FaceInfo {
  readonly index: number;
  readonly kind: FaceKind;
  /** Axis of revolution of the surface; for a plane its normal at a point; null for a free-form one. */
  readonly axis: Axis | null;
  readonly radius: number;
  readonly u: readonly [number, number];
  readonly v: readonly [number, number];
  /** The face goes all the way round its own axis. */
  readonly full: boolean;
  /** Point of the unbounded surface. */
  readonly at: (u: number, v: number) => Vec3;
  /** Outward unit normal of the solid in the middle of the parameter range. */
  readonly normal: Vec3;
  readonly middle: Vec3;
  /** Edges without the seam of a closed surface and without points. */
  readonly edges: number[];
  /** mm², rough: good enough to weigh faces against each other. */
  readonly area: number;
  readonly shape: KernelShape;
}

/** A solid as its faces and edges; `release` frees what the kernel holds for it. */
export interface SolidModel {
  readonly faces: readonly FaceInfo[];
  readonly edges: readonly EdgeInfo[];
  readonly release: () => void;
}

const KINDS: Record<string, FaceKind> = {
  GeomAbs_Plane: 'plane',
  GeomAbs_Cylinder: 'cylinder',
  GeomAbs_Cone: 'cone',
  GeomAbs_Sphere: 'sphere',
  GeomAbs_Torus: 'torus',
  GeomAbs_SurfaceOfRevolution: 'revolution',
};

const TURN = 2 * Math.PI;

/** Sub-shapes of a kind, in the shape's own order. */
export const explore = (oc: Kernel, shape: KernelShape, kind: 'FACE' | 'EDGE' | 'SOLID'): KernelShape[] => {
  const result: KernelShape[] = [];
  const walk = new oc.TopExp_Explorer(shape, oc.TopAbs_ShapeEnum[`TopAbs_${kind}`], oc.TopAbs_ShapeEnum.TopAbs_SHAPE);
  for (; walk.More(); walk.Next()) result.push(walk.Current());
  walk.delete();
  return result;
};

/** Reads faces and edges of a solid into plain data; nothing is changed. */
export const readModel = (oc: Kernel, shape: KernelShape): SolidModel => {
  const held: { delete(): void }[] = [];
  const hold = <T extends { delete(): void }>(x: T): T => {
    held.push(x);
    return x;
  };
  const edges: EdgeInfo[] = [];
  const known = new Map<number, { shape: KernelShape; index: number }[]>();
  const faces: FaceInfo[] = [];
  const tuple = (p: { X(): number; Y(): number; Z(): number }): Vec3 => [p.X(), p.Y(), p.Z()];
  const point = (p: { X(): number; Y(): number; Z(): number; delete(): void }): Vec3 => {
    const t = tuple(p);
    p.delete();
    return t;
  };

  const edgeIndex = (e: KernelShape): number => {
    const hash = oc.ReplicadShapeHasher.HashCode(e, 2147483647);
    const list = known.get(hash) ?? [];
    const found = list.find((k) => k.shape.IsSame(e));
    if (found) return found.index;
    const curve = hold(new oc.BRepAdaptor_Curve(oc.TopoDS.Edge(e)));
    const type = String(curve.GetType());
    const first = curve.FirstParameter();
    const last = curve.LastParameter();
    let circle: EdgeInfo['circle'] = null;
    let at = (t: number): Vec3 => point(curve.Value(t));
    if (type === 'GeomAbs_Circle') {
      const c = curve.Circle();
      const axis = c.Axis();
      const direction = axis.Direction();
      const x = c.XAxis();
      const y = c.YAxis();
      const location = c.Location();
      const centre = tuple(location);
      const xd = x.Direction();
      const yd = y.Direction();
      const ex = tuple(xd);
      const ey = tuple(yd);
      const radius = c.Radius();
      circle = { centre, axis: tuple(direction), radius };
      at = (t) => add3(centre, add3(scale3(ex, radius * Math.cos(t)), scale3(ey, radius * Math.sin(t))));
      for (const k of [c, axis, direction, x, y, location, xd, yd]) k.delete();
    } else if (type === 'GeomAbs_Line') {
      const a = at(first);
      const b = at(last);
      at = (t) => add3(a, scale3(subtract3(b, a), (t - first) / (last - first)));
    }
    const index = edges.length;
    edges.push({
      kind: circle ? 'circle' : type === 'GeomAbs_Line' ? 'line' : 'other',
      first,
      last,
      at,
      circle,
      faces: [],
    });
    list.push({ shape: e, index });
    known.set(hash, list);
    return index;
  };

  explore(oc, shape, 'FACE').forEach((raw, index) => {
    const face = oc.TopoDS.Face(raw);
    const surface = hold(new oc.BRepAdaptor_Surface(face, false));
    const kind = KINDS[String(surface.GetType())] ?? 'free';
    const b = oc.BRepTools.UVBounds(face);
    const u: [number, number] = [b.UMin, b.UMax];
    const v: [number, number] = [b.VMin, b.VMax];
    const at = (s: number, t: number): Vec3 => point(surface.Value(s, t));
    const mu = (u[0] + u[1]) / 2;
    const mv = (v[0] + v[1]) / 2;
    const middle = at(mu, mv);
    let known: Vec3 | null = null;
    // asked for by planes and milled faces only: it costs more than all the rest
    const normal = (): Vec3 => {
      if (known) return known;
      const gprop = new oc.BRepGProp_Face(face, false);
      const p = new oc.gp_Pnt();
      const n = new oc.gp_Vec();
      gprop.Normal(mu, mv, p, n);
      known = unit3(tuple(n));
      for (const k of [gprop, p, n]) k.delete();
      return known;
    };
    const { axis, radius } = axisOf(kind, at, mu, mv, normal, middle, () => {
      const a = surface.AxeOfRevolution();
      const l = a.Location();
      const d = a.Direction();
      const result: Axis = { point: tuple(l), direction: tuple(d) };
      for (const k of [a, l, d]) k.delete();
      return result;
    });
    const mine: number[] = [];
    for (const e of explore(oc, raw, 'EDGE')) {
      const edge = oc.TopoDS.Edge(e);
      if (oc.BRep_Tool.Degenerated(edge) || (kind !== 'plane' && oc.BRep_Tool.IsClosed(edge, face))) continue;
      const i = edgeIndex(e);
      mine.push(i);
      if (!edges[i].faces.includes(index)) edges[i].faces.push(index);
    }
    const edge = distance3(at(u[0], mv), middle);
    const dv = distance3(at(mu, v[0]), at(mu, v[1]));
    const full = kind !== 'plane' && kind !== 'free' && u[1] - u[0] > TURN - 1e-6;
    faces.push({
      index,
      kind,
      axis,
      radius,
      u,
      v,
      full,
      at,
      get normal() {
        return normal();
      },
      middle,
      edges: mine,
      area: (full ? Math.PI : 2) * edge * dv,
      shape: raw,
    });
  });
  return {
    faces,
    edges,
    release: () => {
      for (const h of held) h.delete();
    },
  };
};

/**
 * Axis and radius of a surface. For everything that turns about its own axis, two points half a turn apart lie evenly
 * about it, so two such pairs give the axis exactly; the kernel binds no cone or torus parameters.
 */
const axisOf = (
  kind: FaceKind,
  at: (u: number, v: number) => Vec3,
  u: number,
  v: number,
  normal: () => Vec3,
  middle: Vec3,
  ofRevolution: () => Axis,
): { axis: Axis | null; radius: number } => {
  const centre = (t: number): Vec3 => scale3(add3(at(u, t), at(u + Math.PI, t)), 0.5);
  const span = (t: number): number => distance3(at(u, t), at(u + Math.PI, t)) / 2;
  switch (kind) {
    case 'plane':
      return { axis: { point: middle, direction: normal() }, radius: 0 };
    case 'cylinder': {
      const a = centre(v);
      return { axis: { point: a, direction: unit3(subtract3(centre(v + 10), a)) }, radius: span(v) };
    }
    case 'cone': {
      const a = centre(0);
      return { axis: { point: a, direction: unit3(subtract3(centre(10), a)) }, radius: span(v) };
    }
    case 'torus': {
      const a = centre(0);
      const b = centre(Math.PI / 2);
      return { axis: { point: a, direction: unit3(subtract3(b, a)) }, radius: distance3(a, b) };
    }
    case 'sphere': {
      const south = at(0, -Math.PI / 2);
      const north = at(0, Math.PI / 2);
      return {
        axis: { point: scale3(add3(south, north), 0.5), direction: unit3(subtract3(north, south)) },
        radius: distance3(south, north) / 2,
      };
    }
    case 'revolution':
      return { axis: ofRevolution(), radius: 0 };
    case 'free':
      return { axis: null, radius: 0 };
    default:
      return kind satisfies never;
  }
};

/** True when the face turns about the given axis: its section with any half-plane through the axis is one known curve. */
export const turnsAbout = (f: FaceInfo, axis: Axis): boolean => {
  if (!f.axis) return false;
  if (f.kind === 'plane') return length3(cross3(f.axis.direction, axis.direction)) < 1e-7;
  const off = length3(cross3(subtract3(f.axis.point, axis.point), axis.direction));
  if (f.kind === 'sphere') return off < 1e-5;
  return off < 1e-5 && Math.abs(Math.abs(dot3(f.axis.direction, axis.direction)) - 1) < 1e-10;
};
