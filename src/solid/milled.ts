import {
  type Axis,
  type Curve,
  cross3,
  degrees,
  distanceToCurve,
  dot3,
  type Frame3,
  length3,
  point,
  sameAxis,
  subtract3,
  toCylinder,
  unit3,
  type Vec3,
} from '../core/geometry';
import { type Access, type Feature, type FeatureKind, withIds } from '../core/part';
import type { FaceInfo, SolidModel } from './model';
import { turnsAbout } from './model';

interface Extent {
  readonly front: number;
  readonly back: number;
  readonly inner: number;
  readonly outer: number;
  /** Middle angle, degrees 0–360. */
  readonly angle: number;
}

const extentOf = (model: SolidModel, faces: readonly FaceInfo[], frame: Frame3): Extent => {
  let front = -Infinity;
  let back = Infinity;
  let inner = Infinity;
  let outer = 0;
  let sx = 0;
  let sy = 0;
  for (const e of new Set(faces.flatMap((f) => f.edges))) {
    const edge = model.edges[e];
    const [lowZ, highZ] = range(edge, (p) => toCylinder(frame, p).z);
    const [lowR, highR] = range(edge, (p) => toCylinder(frame, p).r);
    front = Math.max(front, highZ);
    back = Math.min(back, lowZ);
    inner = Math.min(inner, lowR);
    outer = Math.max(outer, highR);
    for (let i = 0; i < 8; i++) {
      const c = toCylinder(frame, edge.at(edge.first + ((edge.last - edge.first) * (i + 0.5)) / 8));
      sx += c.r * Math.cos(c.angle);
      sy += c.r * Math.sin(c.angle);
    }
  }
  return { front, back, inner: inner * 2, outer: outer * 2, angle: wrap(degrees(Math.atan2(sy, sx))) };
};

/** Least and greatest value of something along an edge: samples, then halving about the best ones. */
const range = (edge: SolidModel['edges'][number], value: (p: Vec3) => number): [number, number] => {
  const n = edge.kind === 'line' ? 4 : 32;
  const at = (t: number): number => value(edge.at(t));
  const step = (edge.last - edge.first) / n;
  const best = (sign: 1 | -1): number => {
    let t = edge.first;
    for (let i = 1; i <= n; i++) if (sign * at(edge.first + step * i) > sign * at(t)) t = edge.first + step * i;
    for (let d = step / 2; Math.abs(d) > Math.abs(step) * 1e-7; d /= 2)
      for (const k of [t - d, t + d])
        if (k >= Math.min(edge.first, edge.last) && k <= Math.max(edge.first, edge.last) && sign * at(k) > sign * at(t))
          t = k;
    return at(t);
  };
  return [best(-1), best(1)];
};

const wrap = (a: number): number => {
  const w = ((a % 360) + 360) % 360;
  return w > 360 - 1e-6 ? 0 : w;
};
const angleOf = (frame: Frame3, d: Vec3): number => wrap(degrees(Math.atan2(dot3(d, frame.y), dot3(d, frame.x))));
const round = (v: number): number => Math.round(v * 1e5) / 1e5;

/** Faces that do not lie on the turning profile, in groups that share edges. */
const milledGroups = (model: SolidModel, axis: Axis, frame: Frame3, profile: readonly Curve[]): FaceInfo[][] => {
  const onProfile = (f: FaceInfo): boolean => {
    if (!turnsAbout(f, axis)) return false;
    // somewhere between its edges a turned face shows in the profile
    const places =
      f.kind === 'plane'
        ? planePlaces(model, f, frame)
        : [0.3, 0.5, 0.7].map((t) => toCylinder(frame, f.at(f.u[0], f.v[0] + (f.v[1] - f.v[0]) * t)));
    return places.some((c) => profile.some((k) => distanceToCurve(k, point(c.z, c.r)) < 2e-3));
  };
  const milled = model.faces.filter((f) => !onProfile(f));
  const ids = new Set(milled.map((f) => f.index));
  const groups: FaceInfo[][] = [];
  const seen = new Set<number>();
  for (const f of milled) {
    if (seen.has(f.index)) continue;
    const group: FaceInfo[] = [];
    const todo = [f.index];
    seen.add(f.index);
    while (todo.length > 0) {
      const face = model.faces[todo.pop() as number];
      group.push(face);
      for (const e of face.edges)
        for (const other of model.edges[e].faces)
          if (ids.has(other) && !seen.has(other)) {
            seen.add(other);
            todo.push(other);
          }
    }
    groups.push(group);
  }
  return groups;
};

/** Radii between the least and greatest of a face square to the axis. */
const planePlaces = (model: SolidModel, f: FaceInfo, frame: Frame3): { z: number; r: number }[] => {
  const places = f.edges.flatMap((e) => {
    const edge = model.edges[e];
    return [0, 0.25, 0.5, 0.75, 1].map((t) => toCylinder(frame, edge.at(edge.first + (edge.last - edge.first) * t)));
  });
  const low = Math.min(...places.map((p) => p.r));
  const high = Math.max(...places.map((p) => p.r));
  return [0.2, 0.5, 0.8].map((t) => ({ z: places[0].z, r: low + (high - low) * t }));
};

const concave = (f: FaceInfo): boolean =>
  f.axis !== null &&
  dot3(f.normal, cross3(f.axis.direction, cross3(subtract3(f.middle, f.axis.point), f.axis.direction))) < 0;

/** Holes of a group: concave cylinders whose pieces together go all the way round, with what lies on the same axis. */
const holesOf = (
  model: SolidModel,
  group: readonly FaceInfo[],
  axis: Axis,
  frame: Frame3,
): { features: Feature[]; used: Set<number> } => {
  const used = new Set<number>();
  const features: Feature[] = [];
  const cylinders = group.filter((f) => f.kind === 'cylinder' && concave(f)).sort((a, b) => a.radius - b.radius);
  for (const c of cylinders) {
    if (used.has(c.index) || !c.axis) continue;
    const own = cylinders.filter(
      (f) => !used.has(f.index) && f.axis && sameAxis(f.axis, c.axis as Axis) && Math.abs(f.radius - c.radius) < 1e-6,
    );
    const turn = own.reduce((s, f) => s + (f.u[1] - f.u[0]), 0);
    if (turn < 2 * Math.PI - 1e-3) continue;
    const d = c.axis.direction;
    const along = (p: Vec3): number => dot3(subtract3(p, (c.axis as Axis).point), d);
    const mates = group.filter(
      (f) =>
        !own.includes(f) &&
        f.axis &&
        (f.kind === 'plane' ? length3(cross3(f.axis.direction, d)) < 1e-7 : sameAxis(f.axis, c.axis as Axis)) &&
        touches(model, f, own),
    );
    const span = own.flatMap((f) => f.edges.flatMap((e) => range(model.edges[e], along)));
    const low = Math.min(...span);
    const high = Math.max(...span);
    for (const f of own) used.add(f.index);
    // a bottom is a cone that closes to a point or a flat disc without further edges
    const bottoms = mates.filter(
      (f) =>
        (f.kind === 'cone' && f.edges.length === 1) ||
        (f.kind === 'plane' &&
          f.edges.every((e) => model.edges[e].faces.every((k) => k === f.index || own.some((o) => o.index === k)))) ||
        (f.kind === 'sphere' && f.edges.length === 1),
    );
    const sinks = mates.filter((f) => f.kind === 'cone' && f.edges.length > 1);
    for (const f of [...bottoms, ...sinks]) used.add(f.index);
    const bottomFace = bottoms[0];
    const tip = bottomFace?.kind === 'cone' ? coneOf(bottomFace) : null;
    const at = (s: number): Vec3 =>
      [c.axis?.point[0] as number, c.axis?.point[1] as number, c.axis?.point[2] as number].map(
        (v, i) => v + d[i] * s,
      ) as unknown as Vec3;
    const parallel = Math.abs(dot3(d, axis.direction));
    const offset = subtract3(c.axis.point, axis.point);
    const meets = Math.abs(dot3(offset, unit3(cross3(d, axis.direction)))) < 1e-4;
    let kind: FeatureKind = 'angled-hole';
    let access: Access = 'angled';
    if (parallel > 1 - 1e-9) {
      kind = 'axial-hole';
      const open = bottomFace ? (along(bottomFace.middle) > (low + high) / 2 ? at(low) : at(high)) : at(high);
      access = bottomFace && toCylinder(frame, open).z < toCylinder(frame, at((low + high) / 2)).z ? 'back' : 'main';
    } else if (parallel < 1e-9 && meets) {
      kind = 'radial-hole';
      access = 'radial';
    }
    const middle = at((low + high) / 2);
    const mouth = toCylinder(frame, at(low)).r > toCylinder(frame, at(high)).r ? at(low) : at(high);
    const place = extentOf(model, own, frame);
    const m = toCylinder(frame, middle);
    features.push({
      id: '',
      kind,
      access,
      sizes: {
        diameter: round(c.radius * 2),
        depth: round(high - low),
        ...(kind === 'axial-hole'
          ? { circle: round(m.r * 2) }
          : { z: round(toCylinder(frame, kind === 'radial-hole' ? middle : mouth).z) }),
        ...(kind === 'angled-hole' ? { angle: round(degrees(Math.acos(Math.min(1, parallel)))) } : {}),
        ...(tip ? { point: round(tip.angle) } : {}),
        ...(sinks[0]
          ? { sink: round(Math.max(...sinks[0].edges.map((e) => model.edges[e].circle?.radius ?? 0)) * 2) }
          : {}),
      },
      place: {
        front: round(place.front),
        back: round(place.back),
        inner: round(place.inner),
        outer: round(place.outer),
      },
      angles: [round(kind === 'axial-hole' ? wrap(degrees(m.angle)) : wrap(degrees(toCylinder(frame, mouth).angle)))],
      through: bottoms.length === 0,
      elements: [],
      proposed: false,
    });
  }
  return { features, used };
};

const coneOf = (f: FaceInfo): { angle: number } => {
  const a = f.at(f.u[0], f.v[0]);
  const b = f.at(f.u[0], f.v[1]);
  const slope = Math.abs(dot3(unit3(subtract3(b, a)), (f.axis as Axis).direction));
  return { angle: 2 * degrees(Math.acos(Math.min(1, slope))) };
};

const touches = (model: SolidModel, f: FaceInfo, own: readonly FaceInfo[]): boolean =>
  f.edges.some((e) => model.edges[e].faces.some((k) => own.some((o) => o.index === k)));

/** Flats, slots, pockets and windows of what is left of a group after its holes. */
const prismaticOf = (model: SolidModel, group: readonly FaceInfo[], axis: Axis, frame: Frame3): Feature[] => {
  const along = group.filter(
    (f) => f.kind === 'plane' && f.axis && Math.abs(dot3(f.axis.direction, axis.direction)) < 1e-7,
  );
  const outward = along.filter((f) => dot3(f.normal, subtract3(f.middle, frame.origin)) > 1e-6);
  const square = group.filter(
    (f) => f.kind === 'plane' && f.axis && Math.abs(dot3(f.axis.direction, axis.direction)) > 1 - 1e-9,
  );
  const place = (faces: readonly FaceInfo[]): { at: Feature['place']; angle: number } => {
    const e = extentOf(model, faces, frame);
    return {
      at: { front: round(e.front), back: round(e.back), inner: round(e.inner), outer: round(e.outer) },
      angle: round(e.angle),
    };
  };
  const height = (f: FaceInfo): number => round(dot3(f.normal, subtract3(f.middle, frame.origin)));
  // every wall looks outward: flats, alone or as a polygon
  if (
    along.length > 0 &&
    outward.length === along.length &&
    group.every((f) => f.kind === 'plane') &&
    flatsOnly(outward)
  ) {
    return outward.map((f) => {
      const p = place([f]);
      const h = height(f);
      return {
        id: '',
        kind: 'flat' as const,
        access: 'radial' as const,
        sizes: { height: h, length: round(p.at.front - p.at.back) },
        place: { ...p.at, inner: round(h * 2) },
        angles: [round(angleOf(frame, f.normal))],
        through: false,
        elements: [],
        proposed: false,
      };
    });
  }
  const p = place(group);
  // a floor square to a radius that looks outward, with walls beside it: a slot or pocket from the side
  const floor = outward
    .filter((f) => !along.some((w) => w !== f && dot3(w.normal, f.normal) > 0.5))
    .sort((a, b) => b.area - a.area)[0];
  const walls = along.filter((f) => f !== floor);
  const facing = walls.flatMap((a, i) =>
    walls
      .slice(i + 1)
      .flatMap((b) =>
        dot3(a.normal, b.normal) < -1 + 1e-9 ? [Math.abs(dot3(a.normal, subtract3(b.middle, a.middle)))] : [],
      ),
  );
  const bottoms = square.filter((f) => group.some((g) => g !== f && touches(model, f, [g])));
  const base = { id: '', place: p.at, angles: [p.angle], elements: [], proposed: false };
  // a wall that ends at a turned face along the axis opens sideways; a window's walls only end at its faces
  const members = new Set(group.map((f) => f.index));
  const opensSideways = group.some((f) =>
    f.edges.some((e) => {
      const edge = model.edges[e];
      if (edge.kind !== 'line' || edge.faces.every((k) => members.has(k))) return false;
      return Math.abs(dot3(unit3(subtract3(edge.at(edge.last), edge.at(edge.first))), axis.direction)) > 1 - 1e-9;
    }),
  );
  if (floor && opensSideways && (facing.length > 0 || group.some((f) => f.kind === 'cylinder')))
    return [
      {
        ...base,
        kind: 'slot',
        access: 'radial',
        sizes: {
          ...(facing.length > 0 ? { width: round(Math.min(...facing)) } : {}),
          floor: height(floor),
          length: round(p.at.front - p.at.back),
        },
        angles: [round(angleOf(frame, floor.normal))],
        through: false,
      },
    ];
  const walled = group.filter((f) => !square.includes(f));
  const prism =
    walled.length > 0 &&
    walled.every(
      (f) =>
        f.axis &&
        (f.kind === 'plane'
          ? along.includes(f)
          : f.kind === 'cylinder' && Math.abs(dot3(f.axis.direction, axis.direction)) > 1 - 1e-9),
    );
  const radii = walled
    .filter(
      (f) =>
        f.kind === 'cylinder' &&
        f.axis &&
        length3(cross3(subtract3(f.axis.point, axis.point), axis.direction)) > 1e-4 &&
        concave(f),
    )
    .map((f) => f.radius);
  const corner: Record<string, number> = radii.length > 0 ? { corner: round(Math.min(...radii)) } : {};
  if (prism && bottoms.length === 0)
    return [
      {
        ...base,
        kind: 'window',
        access: 'main',
        sizes: { depth: round(p.at.front - p.at.back), ...corner },
        through: true,
      },
    ];
  if (prism) {
    const fromBack = bottoms.some((f) => dot3(f.normal, axis.direction) < 0);
    return [
      {
        ...base,
        kind: 'pocket',
        access: fromBack ? 'back' : 'main',
        sizes: { depth: round(p.at.front - p.at.back), ...corner },
        through: false,
      },
    ];
  }
  return [
    {
      ...base,
      kind: 'pocket',
      access: 'radial',
      sizes: { depth: round((p.at.outer - p.at.inner) / 2), ...corner },
      through: false,
    },
  ];
};

/** No two walls of a group of flats look at each other or crowd together as a pocket's would. */
const flatsOnly = (faces: readonly FaceInfo[]): boolean =>
  faces.every((a) => faces.every((b) => a === b || dot3(a.normal, b.normal) < 0.94));

const sameSizes = (a: Feature, b: Feature): boolean => {
  const keys = new Set([...Object.keys(a.sizes), ...Object.keys(b.sizes)]);
  return (
    a.kind === b.kind &&
    a.through === b.through &&
    a.access === b.access &&
    [...keys].every((k) => Math.abs((a.sizes[k] ?? Infinity) - (b.sizes[k] ?? Infinity)) < 1e-3) &&
    (['front', 'back', 'inner', 'outer'] as const).every((k) => Math.abs(a.place[k] - b.place[k]) < 2e-2)
  );
};

/** Equal features about the axis become one with all its angles; evenly spaced flats become a polygon. */
const gather = (features: readonly Feature[]): Feature[] => {
  const result: Feature[] = [];
  for (const f of features) {
    const same = result.find((r) => sameSizes(r, f));
    if (same) same.angles.push(...f.angles);
    else result.push({ ...f, angles: [...f.angles] });
  }
  return result.map((f) => {
    const angles = [...f.angles].sort((a, b) => a - b);
    const even =
      angles.length > 1 &&
      angles.every((a, i) => Math.abs(wrap(angles[(i + 1) % angles.length] - a + 1e-7) - 360 / angles.length) < 1e-2);
    if (f.kind === 'flat' && angles.length >= 3 && even)
      return {
        ...f,
        kind: 'polygon' as const,
        sizes: { sides: angles.length, across: round(f.sizes.height * 2), length: f.sizes.length },
        angles: [angles[0]],
      };
    return { ...f, angles, sizes: angles.length > 1 ? { ...f.sizes, count: angles.length } : f.sizes };
  });
};

/** Everything on the solid that turning does not make. Ids name kind and place, so that they stay when the file is read again. */
export const milledFeatures = (model: SolidModel, axis: Axis, frame: Frame3, profile: readonly Curve[]): Feature[] => {
  const found: Feature[] = [];
  for (const group of milledGroups(model, axis, frame, profile)) {
    const { features, used } = holesOf(model, group, axis, frame);
    found.push(...features);
    const rest = group.filter((f) => !used.has(f.index));
    if (rest.length > 0) found.push(...prismaticOf(model, rest, axis, frame));
  }
  const gathered = gather(found).sort((a, b) => b.place.front - a.place.front || b.place.outer - a.place.outer);
  return withIds(gathered);
};
