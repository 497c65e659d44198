import * as THREE from 'three';
import { mergeVertices } from 'three/examples/jsm/utils/BufferGeometryUtils.js';
import { MeshBVH } from 'three-mesh-bvh';
import {
  arcRadius,
  arcSweep,
  type Curve,
  distanceToCurve,
  leftNormalAt,
  onceFor,
  type Point,
  pointAt,
  type Region,
  tangentAt,
} from '@/core/geometry';
import type { SolidMesh } from '@/solid/bring';

const ROUND = 96;

/** Points and outward normals along a curve; an arc gets enough of both to look round. */
const samples = (c: Curve): { p: Point; n: Point }[] => {
  const count =
    c.kind === 'line'
      ? 1
      : Math.max(2, Math.ceil(Math.abs(arcSweep(c)) / 0.12), Math.ceil((Math.abs(arcSweep(c)) * arcRadius(c)) / 4));
  return Array.from({ length: count + 1 }, (_, i) => {
    const left = leftNormalAt(c, i / count);
    // the boundary runs counter-clockwise: the metal is on the left
    return { p: pointAt(c, i / count), n: { x: -left.x, y: -left.y } };
  });
};

/** Surface of a closed half-section (counter-clockwise) turned about X. */
export const turnedGeometry = (boundary: readonly Curve[]): THREE.BufferGeometry => {
  const positions: number[] = [];
  const normals: number[] = [];
  const index: number[] = [];
  for (const c of boundary) {
    if (c.kind === 'line' && c.from.y < 1e-6 && c.to.y < 1e-6) continue;
    const points = samples(c);
    const base = positions.length / 3;
    for (const { p, n } of points)
      for (let k = 0; k <= ROUND; k++) {
        const a = (2 * Math.PI * k) / ROUND;
        positions.push(p.x, p.y * Math.cos(a), p.y * Math.sin(a));
        normals.push(n.x, n.y * Math.cos(a), n.y * Math.sin(a));
      }
    for (let i = 0; i + 1 < points.length; i++)
      for (let k = 0; k < ROUND; k++) {
        const a = base + i * (ROUND + 1) + k;
        const b = a + ROUND + 1;
        // facing outward for a counter-clockwise boundary
        index.push(a, b, a + 1, b, b + 1, a + 1);
      }
  }
  const g = new THREE.BufferGeometry();
  g.setAttribute('position', new THREE.Float32BufferAttribute(positions, 3));
  g.setAttribute('normal', new THREE.Float32BufferAttribute(normals, 3));
  g.setIndex(index);
  return g;
};

/** Circles where a contour has a real corner. */
export const turnedEdges = (boundary: readonly Curve[]): THREE.BufferGeometry => {
  const positions: number[] = [];
  boundary.forEach((c, i) => {
    const next = boundary[(i + 1) % boundary.length];
    const [a, b] = [tangentAt(c, 1), tangentAt(next, 0)];
    if (c.to.y < 1e-6 || Math.abs(a.x * b.y - a.y * b.x) < 0.05) return;
    for (let k = 0; k < ROUND; k++)
      for (const t of [k, k + 1]) {
        const w = (2 * Math.PI * t) / ROUND;
        positions.push(c.to.x, c.to.y * Math.cos(w), c.to.y * Math.sin(w));
      }
  });
  const g = new THREE.BufferGeometry();
  g.setAttribute('position', new THREE.Float32BufferAttribute(positions, 3));
  return g;
};

/** Meshes with more triangles than this get a light stand-in for moving. */
const LIGHT_FROM = 40_000;
/** The stand-in's corners lie on a grid of this share of the size. */
const LIGHT_GRID = 1 / 110;

/**
 * A coarse copy of a large mesh, made by drawing corners together on a grid: good enough to turn by, where every triangle
 * has to be drawn by the processor. Null for a mesh that is light itself.
 */
export const lightCopy = (g: THREE.BufferGeometry): THREE.BufferGeometry | null => {
  const position = g.getAttribute('position');
  const index = g.getIndex();
  const corner = (i: number): number => (index ? index.getX(i) : i);
  const count = index ? index.count : position.count;
  if (count / 3 < LIGHT_FROM) return null;
  g.computeBoundingBox();
  const box = g.boundingBox as THREE.Box3;
  const cell = box.getSize(new THREE.Vector3()).length() * LIGHT_GRID;
  const cells = new Map<string, number>();
  const points: number[] = [];
  const light = new Int32Array(position.count);
  for (let i = 0; i < position.count; i++) {
    const key = `${Math.round((position.getX(i) - box.min.x) / cell)},${Math.round((position.getY(i) - box.min.y) / cell)},${Math.round((position.getZ(i) - box.min.z) / cell)}`;
    let id = cells.get(key);
    if (id === undefined) {
      id = points.length / 3;
      cells.set(key, id);
      points.push(position.getX(i), position.getY(i), position.getZ(i));
    }
    light[i] = id;
  }
  const triangles: number[] = [];
  const seen = new Set<string>();
  for (let t = 0; t + 2 < count; t += 3) {
    const [a, b, c] = [light[corner(t)], light[corner(t + 1)], light[corner(t + 2)]];
    if (a === b || b === c || a === c) continue;
    const low = Math.min(a, b, c);
    const key = low === a ? `${a},${b},${c}` : low === b ? `${b},${c},${a}` : `${c},${a},${b}`;
    if (seen.has(key)) continue;
    seen.add(key);
    triangles.push(a, b, c);
  }
  const copy = new THREE.BufferGeometry();
  copy.setAttribute('position', new THREE.Float32BufferAttribute(points, 3));
  copy.setIndex(triangles);
  return copy;
};

/** Rings of a region as closed chains of lines. */
export const regionBoundary = (region: Region): Curve[][] =>
  region.map((ring) => ring.map((p, i): Curve => ({ kind: 'line', from: p, to: ring[(i + 1) % ring.length] })));

/** Makes a shape quick to pick. Its triangles keep their order: by that a solid's faces are known. */
export const makePickable = (g: THREE.BufferGeometry): void => {
  g.boundsTree ??= new MeshBVH(g, { indirect: true });
};

/** Stock nearer to the part than this is the finished part, mm. */
const FINISHED = 5e-3;

/** Of some stock what is not finished yet: where it lies on the part the part itself is seen. */
export const unfinishedOf = (chain: readonly Curve[], part: readonly Curve[]): Curve[] =>
  chain.filter((c) => {
    const places = [pointAt(c, 0.5), c.from, c.to];
    return !places.every((at) => part.some((p) => distanceToCurve(p, at) < FINISHED));
  });

/** The kernel's mesh with its normals, or a file's triangles joined at their corners and shaded flat. */
export const meshGeometry = onceFor(
  (m: SolidMesh): { solid: THREE.BufferGeometry; edges: THREE.BufferGeometry; flat: boolean } => {
    let solid = new THREE.BufferGeometry();
    solid.setAttribute('position', new THREE.BufferAttribute(m.positions, 3));
    const flat = m.normals.length !== m.positions.length;
    if (!flat) {
      solid.setAttribute('normal', new THREE.BufferAttribute(m.normals, 3));
      solid.setIndex(new THREE.BufferAttribute(m.triangles, 1));
    } else solid = mergeVertices(solid, 1e-4);
    const edges = new THREE.BufferGeometry();
    if (m.edges.length > 0) edges.setAttribute('position', new THREE.BufferAttribute(m.edges, 3));
    else edges.copy(new THREE.EdgesGeometry(solid, 20) as unknown as THREE.BufferGeometry);
    return { solid, edges, flat };
  },
);
