import {
  type Axis,
  add3,
  type Curve,
  dot3,
  type Frame3,
  line,
  type Point,
  point,
  scale3,
  subtract3,
  toCylinder,
  type Vec3,
} from '../core/geometry';
import { outsideBy, recogniseBoundary, unionOfLoops } from '../core/part';
import { cutAtAngle, fittedMeridians } from './cut';
import type { Kernel } from './kernel';
import { type FaceInfo, type SolidModel, turnsAbout } from './model';

export interface Silhouette {
  readonly loops: readonly (readonly Curve[])[];
  readonly open: readonly Point[];
  /** Angles (radians) whose cuts make it up. */
  readonly angles: readonly number[];
  /** Greatest distance by which a sampled point of the solid lies outside, mm. */
  readonly outside: number;
}

interface Sample {
  readonly p: Point;
  readonly angle: number;
}

/** Vertices of the kernel's own triangles of a face: points of the very surface, inside its edges. */
export const facePoints = (oc: Kernel, f: FaceInfo, tolerance: number): { points: Vec3[]; triangles: number[] } => {
  const data = oc.ReplicadMeshExtractor.extract(f.shape, tolerance, 0.2, true);
  const { buffer } = (oc as unknown as { wasmMemory: WebAssembly.Memory }).wasmMemory;
  const floats = new Float32Array(buffer, data.getVerticesPtr(), data.getVerticesSize());
  const points: Vec3[] = [];
  for (let i = 0; i + 2 < floats.length; i += 3) points.push([floats[i], floats[i + 1], floats[i + 2]]);
  const triangles = Array.from(new Uint32Array(buffer, data.getTrianglesPtr(), data.getTrianglesSize()));
  data.delete();
  return { points, triangles };
};

const EDGE_STEPS = 16;

/** Places at which the solid may stand out farthest: along its edges, and over its faces that do not turn about the axis. */
const samplesOf = (oc: Kernel, model: SolidModel, axis: Axis, frame: Frame3): Sample[] => {
  const samples: Sample[] = [];
  const add = (v: Vec3): void => {
    const c = toCylinder(frame, v);
    samples.push({ p: point(c.z, c.r), angle: c.angle });
  };
  const turned = model.faces.map((f) => turnsAbout(f, axis));
  for (const e of model.edges) {
    if (
      e.faces.every((f) => turned[f]) &&
      e.circle &&
      Math.abs(Math.abs(dot3(e.circle.axis, axis.direction)) - 1) < 1e-9
    )
      continue;
    for (let i = 0; i <= EDGE_STEPS; i++) add(e.at(e.first + ((e.last - e.first) * i) / EDGE_STEPS));
  }
  for (const f of model.faces) {
    if (turned[f.index]) continue;
    const { points, triangles } = facePoints(oc, f, 0.1);
    if (f.kind === 'plane') {
      for (let i = 0; i + 2 < triangles.length; i += 3)
        add(scale3(add3(add3(points[triangles[i]], points[triangles[i + 1]]), points[triangles[i + 2]]), 1 / 3));
      continue;
    }
    for (const p of points) add(p);
  }
  return samples;
};

/** Images of straight edges along the axis: the corners of polygons, exact. */
const straightEdges = (model: SolidModel, axis: Axis, frame: Frame3): Curve[] =>
  model.edges.flatMap((e) => {
    if (e.kind !== 'line') return [];
    const a = toCylinder(frame, e.at(e.first));
    const b = toCylinder(frame, e.at(e.last));
    return Math.abs(a.r - b.r) < 1e-7 &&
      Math.abs(a.z - b.z) > 1e-4 &&
      Math.abs(dot3(subtract3(e.at(e.last), e.at(e.first)), axis.direction)) > Math.abs(a.z - b.z) - 1e-7
      ? [line(point(a.z, a.r), point(b.z, a.r))]
      : [];
  });

/** Most cuts that a silhouette is made of before the rest is told as a remark. */
const MOST_CUTS = 72;
const SLACK = 5e-4;
/** First cuts of a part that is not turned all over, spread so that few of them meet a hole or window at once (radians). */
const FIRST_TURNS = [0.2137, 2.6136, 5.0135, 1.1303, 3.5302];

/**
 * What the solid sweeps when it turns about the axis: the union of plain cuts. Cuts are added where sampled points of the
 * solid still lie outside, until none does, so that a purely turned part needs one and a hexagon three.
 */
export const silhouetteOf = (
  oc: Kernel,
  model: SolidModel,
  axis: Axis,
  frame: Frame3,
  firstAngle: number,
): Silhouette => {
  const pure = model.faces.every((f) => turnsAbout(f, axis) && (f.full || f.kind === 'plane'));
  const angles = (pure ? [0] : FIRST_TURNS).map((t) => firstAngle + t);
  const cuts = angles.map((a) => cutAtAngle(oc, model, axis, frame, a));
  const whole = cuts.filter((c) => c.open.length === 0);
  const open = whole.length === 0 ? cuts.flatMap((c) => c.open) : [];
  let loops = (whole[0] ?? cuts[0]).loops;
  const samples = pure || whole.length === 0 ? [] : samplesOf(oc, model, axis, frame);
  if (samples.length === 0) return { loops, open, angles: angles.slice(0, 1), outside: 0 };
  // edges that stand out along the axis come first: a cut beside a corner finds its line only nearly
  const carriers: Curve[] = [
    ...straightEdges(model, axis, frame),
    ...fittedMeridians(model, axis, frame),
    ...whole.flatMap((c) => c.loops.flat()),
  ];
  let region = unionOfLoops(whole.flatMap((c) => c.loops));
  let left = samples;
  let outside = 0;
  while (angles.length < MOST_CUTS) {
    const measured = left.map((s) => ({ s, by: outsideBy(region, s.p) })).filter((m) => m.by > SLACK);
    left = measured.map((m) => m.s);
    if (measured.length === 0) {
      outside = 0;
      break;
    }
    const worst = measured.reduce((a, b) => (b.by > a.by ? b : a));
    outside = worst.by;
    // beside the place first, where a wall is well inside the metal; then close to it on both sides, for a true corner
    const before = region;
    for (const nudge of [2e-3, -2e-3, 1.2e-6, -1.2e-6]) {
      const cut = cutAtAngle(oc, model, axis, frame, worst.s.angle + nudge);
      if (cut.open.length > 0) continue;
      carriers.push(...cut.loops.flat());
      region = unionOfLoops([...rings(region), ...cut.loops]);
      angles.push(worst.s.angle + nudge);
      if (outsideBy(region, worst.s.p) <= SLACK) break;
    }
    // a place that no cut reaches (an edge's own end) is not looked for again
    if (region === before || outsideBy(region, worst.s.p) > SLACK) left = left.filter((s) => s !== worst.s);
  }
  loops = recogniseBoundary(region, carriers);
  return { loops, open, angles, outside };
};

const rings = (region: ReturnType<typeof unionOfLoops>): Curve[][] =>
  region.map((ring) => ring.map((p, i) => ({ kind: 'line' as const, from: p, to: ring[(i + 1) % ring.length] })));
