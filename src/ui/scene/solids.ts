import * as THREE from 'three';
import { arcRadius, arcSweep, type Curve, leftNormalAt, type Point, pointAt, type Region, tangentAt } from '@/core/geometry';
import type { SolidMesh } from '@/solid/bring';

const ROUND = 96;

/** Points and outward normals along a curve; an arc gets enough of both to look round. */
const samples = (c: Curve): { p: Point; n: Point }[] => {
  const count = c.kind === 'line' ? 1 : Math.max(2, Math.ceil(Math.abs(arcSweep(c)) / 0.12), Math.ceil((Math.abs(arcSweep(c)) * arcRadius(c)) / 4));
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
        index.push(a, a + 1, b, b, a + 1, b + 1);
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

/** Rings of a region as closed chains of lines. */
export const regionBoundary = (region: Region): Curve[][] => region.map((ring) => ring.map((p, i): Curve => ({ kind: 'line', from: p, to: ring[(i + 1) % ring.length] })));

/** The kernel's mesh, or a file's triangles with creases kept. */
export const meshGeometry = (m: SolidMesh): { solid: THREE.BufferGeometry; edges: THREE.BufferGeometry } => {
  const solid = new THREE.BufferGeometry();
  solid.setAttribute('position', new THREE.BufferAttribute(m.positions, 3));
  if (m.normals.length === m.positions.length) {
    solid.setAttribute('normal', new THREE.BufferAttribute(m.normals, 3));
    solid.setIndex(new THREE.BufferAttribute(m.triangles, 1));
  } else solid.computeVertexNormals();
  const edges = new THREE.BufferGeometry();
  if (m.edges.length > 0) edges.setAttribute('position', new THREE.BufferAttribute(m.edges, 3));
  else edges.copy(new THREE.EdgesGeometry(solid, 20) as unknown as THREE.BufferGeometry);
  return { solid, edges };
};
