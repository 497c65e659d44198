import * as THREE from 'three';
import { mergeGeometries } from 'three/examples/jsm/utils/BufferGeometryUtils.js';
import { type Curve, line, mapCurve, onceFor, type Point, point, reverseCurve } from '@/core/geometry';
import { type Part, turnAbout, turnCurves } from '@/core/part';
import type { DerivedView, Job, OperationView } from '@/core/plan';
import { threadsIn } from '@/core/plan';
import { type CutThread, type Parted, partedBy, seenFrom, threadMesh } from '@/core/threads';
import type { SolidMesh } from '@/solid/bring';
import type { Fetched } from '../job/fetched';
import { turnedEdges, turnedGeometry } from './solids';

/** A thread on the part, in the coordinates of its holding. */
export interface ShownThread extends CutThread {
  readonly operation: string;
  /** Its holding has the part turned round. */
  readonly turned: boolean;
}

/** How deep the passes of a thread have come at a time in it, mm below the crest. */
const depthBy = (t: CutThread, op: OperationView, time: number, fetched: Fetched): number => {
  const timed = fetched.tracks.get(op.key)?.track.timed ?? [];
  const [crest] = t.crest;
  let depth = 0;
  for (const { event, end } of timed) {
    if (event.kind !== 'thread' || end > time - op.times.start + 1e-9) continue;
    const { X = crest.y, Z = crest.x } = event.to;
    depth = Math.max(depth, seenFrom(t, point(Z, X)).below);
  }
  return Math.min(t.depth, depth);
};

/** The threads of a job as they are cut at a time; all of them whole without one. */
export const threadsAt = (job: Job, view: DerivedView, time: number | null, fetched: Fetched): ShownThread[] =>
  view.holdings.flatMap((held) =>
    threadsIn(job, held).flatMap((t): ShownThread[] => {
      const op = view.operations.find((o) => o.operation === t.operation);
      const whole = time === null || (op?.moves === true && op.times.end <= time);
      const depth = whole ? t.depth : op?.moves && op.times.start < time ? depthBy(t, op, time, fetched) : 0;
      return depth > 1e-3 ? [{ ...t, depth, turned: held.turned }] : [];
    }),
  );

const geometryOf = (t: ShownThread, split: Parted, part: Part): THREE.BufferGeometry => {
  const mesh = threadMesh(t, split);
  const indexed = new THREE.BufferGeometry();
  indexed.setAttribute('position', new THREE.BufferAttribute(mesh.positions, 3));
  indexed.setIndex(new THREE.BufferAttribute(mesh.index, 1));
  // every flank has a face of its own
  const g = indexed.toNonIndexed();
  if (t.turned) {
    // half a turn about an axis across the part
    g.scale(-1, 1, -1);
    g.translate(turnAbout(part)({ x: 0, y: 0 }).x, 0, 0);
  }
  g.computeVertexNormals();
  g.setIndex(Array.from({ length: g.getAttribute('position').count }, (_, i) => i));
  return g;
};

/** The turned part with its threads cut into it, and its edges. */
export const threadedGeometry = (
  part: Part,
  threads: readonly ShownThread[],
): { solid: THREE.BufferGeometry; edges: THREE.BufferGeometry } => {
  let rest: readonly Curve[] = part.boundary;
  const cut: THREE.BufferGeometry[] = [];
  for (const t of threads) {
    const split = partedBy(t.turned ? turnCurves(part, rest) : rest, t);
    if (split.under.length === 0) continue;
    rest = t.turned ? turnCurves(part, split.rest) : split.rest;
    cut.push(geometryOf(t, split, part));
  }
  const plain = turnedGeometry(rest);
  return { solid: cut.length > 0 ? mergeGeometries([plain, ...cut]) : plain, edges: turnedEdges(rest) };
};

/** Corners of a kernel's mesh lie on its surfaces to this, mm. */
const ON = 5e-3;

/** A face of a solid that is a whole turn of one straight piece of the section; null for any other. */
const turnedFace = (m: SolidMesh, group: SolidMesh['groups'][number]): { from: Point; to: Point } | null => {
  let [low, high] = [point(Number.POSITIVE_INFINITY, 0), point(Number.NEGATIVE_INFINITY, 0)];
  const corners: Point[] = [];
  let area = 0;
  for (let k = group.start; k < group.start + group.count; k += 3) {
    const [a, b, c] = [0, 1, 2].map((j) => new THREE.Vector3().fromArray(m.positions, 3 * m.triangles[k + j]));
    area += new THREE.Triangle(a, b, c).getArea();
    for (const v of [a, b, c]) {
      const p = point(v.x, Math.hypot(v.y, v.z));
      corners.push(p);
      if (p.x < low.x) low = p;
      if (p.x > high.x) high = p;
    }
  }
  if (!(high.x - low.x > ON)) return null;
  const at = (x: number): number => low.y + ((high.y - low.y) * (x - low.x)) / (high.x - low.x);
  if (corners.some((p) => Math.abs(p.y - at(p.x)) > ON)) return null;
  const whole = Math.PI * (low.y + high.y) * Math.hypot(high.x - low.x, high.y - low.y);
  // a face with a hole in it, or one of half a turn, stays as it is
  return Math.abs(area - whole) < 0.03 * whole ? { from: low, to: high } : null;
};

/** All of them, looked for once in a mesh. */
const turnedFaces = onceFor((m: SolidMesh) =>
  m.groups.flatMap((group) => {
    const face = turnedFace(m, group);
    return face ? [{ group, curve: line(face.from, face.to) }] : [];
  }),
);

/**
 * A solid's mesh with threads cut into those of its faces that are whole turns: a thread takes the place of the triangles on
 * which it lies, what it leaves of their face is turned anew.
 */
export const threadedMesh = (
  m: SolidMesh,
  part: Part,
  threads: readonly ShownThread[],
): THREE.BufferGeometry | null => {
  if (threads.length === 0 || m.normals.length !== m.positions.length) return null;
  const about = turnAbout(part);
  const faces = turnedFaces(m);
  const dropped = new Set<SolidMesh['groups'][number]>();
  const made: THREE.BufferGeometry[] = [];
  for (const t of threads) {
    const touched = faces.flatMap(({ group, curve }) => {
      if (dropped.has(group)) return [];
      const seen = t.turned ? mapCurve(curve, about, true) : curve;
      // metal lies on the left: under an outside it runs toward the chuck, over a bore away from it
      const rightWay = (t.side === 'inner') === seen.to.x > seen.from.x ? seen : reverseCurve(seen);
      return partedBy([rightWay], t).under.length > 0 ? [{ group, curve: rightWay }] : [];
    });
    if (touched.length === 0) continue;
    const split = partedBy(
      touched.map((f) => f.curve),
      t,
    );
    for (const f of touched) dropped.add(f.group);
    const rest = t.turned ? turnCurves(part, split.rest) : split.rest;
    made.push(geometryOf(t, split, part), turnedGeometry(rest));
  }
  if (dropped.size === 0) return null;
  const kept: number[] = [];
  for (const g of m.groups)
    if (!dropped.has(g)) for (let k = g.start; k < g.start + g.count; k++) kept.push(m.triangles[k]);
  const solid = new THREE.BufferGeometry();
  solid.setAttribute('position', new THREE.BufferAttribute(m.positions, 3));
  solid.setAttribute('normal', new THREE.BufferAttribute(m.normals, 3));
  solid.setIndex(kept);
  return mergeGeometries([solid, ...made.filter((g) => g.getAttribute('position').count > 0)]);
};
