import {
  add,
  arc,
  type Curve,
  distance,
  dot,
  filletCorner,
  line,
  type Point,
  perpendicular,
  point,
  radians,
  scale,
  subtract,
  unit,
} from '../geometry';
import type { Corner, Cut } from './profile';
import { DIN76, DIN471, DIN509, DIN509_FACE, DIN509_RUNOUT } from './standards';

export type Shaped =
  | { readonly ok: true; readonly before: Curve; readonly pieces: readonly Curve[]; readonly after: Curve }
  | { readonly ok: false; readonly reason: string };

const no = (reason: string): Shaped => ({ ok: false, reason });

/** Rounds every inner corner of a chain that has a radius and room for it; radius 0 leaves it sharp. */
const rounded = (points: readonly { p: Point; radius: number }[]): Curve[] => {
  let chain: Curve[] = points.slice(1).map((q, i) => line(points[i].p, q.p));
  for (let i = points.length - 2; i >= 1; i--) {
    const r = points[i].radius;
    if (r <= 0) continue;
    const made = filletCorner(chain[i - 1], chain[i], r);
    if (made) chain = [...chain.slice(0, i - 1), made.a, made.fillet, made.b, ...chain.slice(i + 1)];
  }
  return chain.filter((c) => distance(c.from, c.to) > 1e-9);
};

/**
 * A standard undercut where a cylinder meets a shoulder, whichever comes first. `metal` is the side of travel on which the
 * metal lies (1 left, −1 right): the shape goes into it.
 */
export const shoulderShape = (a: Curve, b: Curve, corner: Corner, metal: 1 | -1): Shaped => {
  if (a.kind !== 'line' || b.kind !== 'line') return no('it needs two straight rows');
  const da = unit(subtract(a.to, a.from));
  const db = unit(subtract(b.to, b.from));
  if (Math.abs(dot(da, db)) > 1e-6) return no('it needs a cylinder and a shoulder square to each other');
  const cylinderFirst = Math.abs(da.y) < 1e-6;
  if (!cylinderFirst && Math.abs(db.y) > 1e-6) return no('it needs a cylinder and a shoulder square to each other');
  // seen from the corner: back along the cylinder, up the shoulder, and into the metal below the cylinder
  const c = a.to;
  const along = cylinderFirst ? scale(da, -1) : db;
  const up = cylinderFirst ? db : scale(da, -1);
  const into = cylinderFirst ? scale(perpendicular(da), metal) : scale(perpendicular(db), metal);
  if (dot(into, up) > -1e-6) return no('the shoulder falls away here; an undercut belongs into an inner corner');
  const at = (x: number, depth: number): Point => add(c, add(scale(along, x), scale(into, depth)));
  let path: Curve[];
  let reach: number;
  let climb = 0;
  if (corner.kind === 'relief') {
    const s = DIN76.find((k) => Math.abs(k.pitch - corner.size) < 1e-6);
    if (!s) return no(`DIN 76 knows no pitch of ${corner.size}; it has ${DIN76.map((k) => k.pitch).join(', ')}`);
    const depth = s.below / 2;
    reach = s.g2;
    path = rounded([
      { p: at(reach, 0), radius: 0 },
      { p: at(reach - depth / Math.tan(radians(30)), depth), radius: s.radius },
      { p: at(0, depth), radius: s.radius },
      { p: add(c, scale(up, 1e-3 + s.radius)), radius: 0 },
    ]);
    climb = 1e-3 + s.radius;
  } else {
    const s = DIN509.find((k) => Math.abs(k.radius - corner.size) < 1e-6);
    if (!s) return no(`DIN 509 knows no radius of ${corner.size}; it has ${DIN509.map((k) => k.radius).join(', ')}`);
    reach = s.length;
    const ramp = at(reach - s.depth / Math.tan(radians(DIN509_RUNOUT)), s.depth);
    if (corner.kind === 'undercut-e') {
      const top = s.radius - s.depth;
      climb = Math.max(top, 0);
      const centre = at(s.radius, s.depth - s.radius);
      const foot = at(s.radius, s.depth);
      const wall = at(0, s.depth - s.radius);
      path = [line(at(reach, 0), ramp), line(ramp, foot), arc(foot, wall, centre, false)];
    } else {
      // the round touches the floor, goes t2 behind the face, and leaves it at 8°
      const centre = at(s.radius - s.faceDepth, s.depth - s.radius);
      const foot = at(s.radius - s.faceDepth, s.depth);
      const lean = radians(DIN509_FACE);
      const leave = add(centre, add(scale(along, -s.radius * Math.cos(lean)), scale(into, -s.radius * Math.sin(lean))));
      const back = -dot(subtract(leave, c), along);
      const rise = back / Math.tan(lean);
      const wall = add(leave, add(scale(along, back), scale(into, -rise)));
      climb = -dot(subtract(wall, c), into);
      path = [line(at(reach, 0), ramp), line(ramp, foot), arc(foot, leave, centre, false), line(leave, wall)];
    }
  }
  // the sense of arcs follows from the side on which their centre lies
  path = path.map((k) => {
    if (k.kind === 'line') return k;
    const turn = (k.to.x - k.from.x) * (k.centre.y - k.from.y) - (k.to.y - k.from.y) * (k.centre.x - k.from.x);
    return { ...k, clockwise: turn < 0 };
  });
  const cylinder = cylinderFirst ? a : b;
  const shoulder = cylinderFirst ? b : a;
  if (distance(cylinder.from, cylinder.to) < reach - 1e-9)
    return no(`the cylinder is shorter than the undercut's ${reach} mm`);
  if (distance(shoulder.from, shoulder.to) < climb - 1e-9)
    return no(`the shoulder is lower than the undercut's ${climb.toFixed(2)} mm`);
  const ordered = cylinderFirst
    ? path
    : [...path]
        .reverse()
        .map((k) => (k.kind === 'line' ? line(k.to, k.from) : arc(k.to, k.from, k.centre, !k.clockwise)));
  return {
    ok: true,
    before: line(a.from, ordered[0].from),
    pieces: ordered,
    after: line(ordered[ordered.length - 1].to, b.to),
  };
};

export type CutShape =
  | { readonly ok: true; readonly from: Point; readonly pieces: readonly Curve[]; readonly to: Point }
  | { readonly ok: false; readonly reason: string };

/** A groove in a straight row along Z. `metal` as above; the groove goes into the metal. */
export const cutShape = (row: Curve, cut: Cut, metal: 1 | -1): CutShape => {
  if (row.kind !== 'line' || Math.abs(row.to.y - row.from.y) > 1e-6)
    return { ok: false, reason: 'grooves are cut into rows of one diameter' };
  const forward = Math.sign(row.to.x - row.from.x);
  const d = point(forward, 0);
  const into = scale(perpendicular(d), metal);
  const surface = row.from.y;
  const inward = into.y > 0 ? 1 : -1;
  const make = (width: number, build: (at: (x: number, depth: number) => Point) => Curve[]): CutShape => {
    // the front edge is the greater Z whichever way the row runs
    const start = forward < 0 ? cut.z : cut.z - width;
    const at = (x: number, depth: number): Point => point(start + forward * x, surface + inward * depth);
    const from = at(0, 0);
    const to = at(width, 0);
    const low = Math.min(row.from.x, row.to.x);
    const high = Math.max(row.from.x, row.to.x);
    if (Math.min(from.x, to.x) < low - 1e-6 || Math.max(from.x, to.x) > high + 1e-6)
      return {
        ok: false,
        reason: `it needs Z${cut.z.toFixed(2)} to Z${(cut.z - width).toFixed(2)}; the row runs from Z${high.toFixed(2)} to Z${low.toFixed(2)}`,
      };
    return { ok: true, from, pieces: build(at), to };
  };
  switch (cut.kind) {
    case 'ring': {
      const shaft = surface * 2;
      const s = DIN471.find((k) => Math.abs(k.shaft - shaft) < 1e-3);
      if (!s)
        return {
          ok: false,
          reason: `DIN 471 has no ring for ⌀${shaft.toFixed(3)}; it has ${DIN471.map((k) => k.shaft).join(', ')}`,
        };
      if (inward > 0) return { ok: false, reason: 'DIN 471 rings sit on shafts' };
      const depth = (s.shaft - s.diameter) / 2;
      return make(s.width, (at) =>
        rounded([0, 1, 2, 3].map((i) => ({ p: at(i < 2 ? 0 : s.width, i === 1 || i === 2 ? depth : 0), radius: 0 }))),
      );
    }
    case 'square': {
      const depth = Math.abs(surface - cut.diameter / 2);
      if (cut.width <= 0 || depth < 1e-6 || (cut.diameter / 2 - surface) * inward < 0)
        return { ok: false, reason: 'its width and depth must be above 0 and go into the metal' };
      return make(cut.width, (at) =>
        rounded([0, 1, 2, 3].map((i) => ({ p: at(i < 2 ? 0 : cut.width, i === 1 || i === 2 ? depth : 0), radius: 0 }))),
      );
    }
    case 'v': {
      if (cut.depth <= 0 || cut.angle <= 1 || cut.angle >= 170)
        return { ok: false, reason: 'its depth must be above 0 and its angle between 1° and 170°' };
      const half = cut.depth * Math.tan(radians(cut.angle / 2));
      return make(2 * half, (at) =>
        rounded([
          { p: at(0, 0), radius: 0 },
          { p: at(half, cut.depth), radius: cut.radius },
          { p: at(2 * half, 0), radius: 0 },
        ]),
      );
    }
    case 'belt': {
      if (cut.radius <= 0 || cut.depth <= 0) return { ok: false, reason: 'its radius and depth must be above 0' };
      // deeper than the radius: straight walls above the round; shallower: a part of the round
      if (cut.depth >= cut.radius) {
        const wall = cut.depth - cut.radius;
        return make(2 * cut.radius, (at) => {
          const floor = arc(at(0, wall), at(2 * cut.radius, wall), at(cut.radius, wall), beltSense(forward, inward));
          return wall > 1e-9 ? [line(at(0, 0), floor.from), floor, line(floor.to, at(2 * cut.radius, 0))] : [floor];
        });
      }
      const half = Math.sqrt(cut.radius ** 2 - (cut.radius - cut.depth) ** 2);
      return make(2 * half, (at) => [
        arc(at(0, 0), at(2 * half, 0), at(half, cut.depth - cut.radius), beltSense(forward, inward)),
      ]);
    }
    default:
      return cut satisfies never;
  }
};

/** Seen with Z to the right and X up, a travel toward −Z that dips inward goes round the groove's centre clockwise. */
const beltSense = (forward: number, inward: number): boolean => forward < 0 === inward < 0;
