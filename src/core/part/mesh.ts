import {
  type Axis,
  add3,
  boundsOfCurves,
  type Curve,
  cross3,
  directionInFrame,
  distance,
  dot3,
  type Frame3,
  fitCurves,
  frameOfAxis,
  joinCurves,
  length3,
  line,
  mapCurve,
  type Point,
  point,
  type Region,
  ringArea,
  scale3,
  simplifyRegion,
  subtract3,
  unionRegions,
  type Vec3,
} from '../geometry';
import { type HalfSection, splitHalfSection } from './halfSection';
import { type ImportProblem, importProblem } from './stepText';
import { openEdges, readStl } from './stl';

export interface MeshWish {
  readonly unit: 'mm' | 'inch';
  /** Axis of the file that is the turning axis; null = found. */
  readonly axis: 'x' | 'y' | 'z' | null;
  readonly flip: boolean;
  /** Lines and arcs are fitted within this, mm. */
  readonly tolerance: number;
}

export const PLAIN_MESH: MeshWish = { unit: 'mm', axis: null, flip: false, tolerance: 0.02 };

export interface MeshImport {
  readonly half: HalfSection | null;
  readonly axis: Axis | null;
  /** Nine numbers a triangle in the part's frame: x along Z of the part. */
  readonly corners: Float32Array;
  readonly triangles: number;
  readonly problems: readonly ImportProblem[];
}

/** A facet of a coarse mesh misses the axis by up to this share of its distance. */
const NEARLY = 0.08;
/** A found axis this near the file's own is that axis, mm. */
const ON_ORIGIN = 0.05;

const corner = (c: Float64Array, i: number): Vec3 => [c[i * 3], c[i * 3 + 1], c[i * 3 + 2]];

/**
 * Axis along a direction about which the facets turn best: on a surface of revolution every normal meets the axis, so
 * n · (d × (c − p)) = 0. Least squares in p; `turned` is the share of side area whose facets do so nearly.
 */
const axisAlong = (corners: Float64Array, d: Vec3): { axis: Axis; turned: number } => {
  // p is sought in the two directions square to d
  const e1: Vec3 = Math.abs(d[0]) < 0.5 ? [1, 0, 0] : [0, 1, 0];
  const u = cross3(d, e1);
  const v = cross3(d, u);
  const facets: {
    readonly area: number;
    readonly k1: number;
    readonly k2: number;
    readonly k0: number;
    readonly c: Vec3;
  }[] = [];
  for (let t = 0; t + 2 < corners.length / 3; t += 3) {
    const [p, q, r] = [corner(corners, t), corner(corners, t + 1), corner(corners, t + 2)];
    const n2 = cross3(subtract3(q, p), subtract3(r, p));
    const area = length3(n2) / 2;
    if (area < 1e-12) continue;
    const n = scale3(n2, 1 / (2 * area));
    // faces square to the axis fit any place
    if (Math.abs(dot3(n, d)) > 0.999) continue;
    const c = scale3(add3(add3(p, q), r), 1 / 3);
    const nd = cross3(n, d);
    facets.push({ area, k1: dot3(nd, u), k2: dot3(nd, v), k0: dot3(n, cross3(d, c)), c });
  }
  let point3: Vec3 = [0, 0, 0];
  let det = 0;
  const missOf = (f: (typeof facets)[number]): number =>
    Math.abs(f.k0 - f.k1 * s - f.k2 * w) / Math.max(1e-9, length3(cross3(d, subtract3(f.c, point3))));
  let s = 0;
  let w = 0;
  // milled facets pull the axis aside: the further a facet misses beyond the usual, the less it counts
  for (let round = 0; round < 8; round++) {
    let [a11, a12, a22, b1, b2] = [0, 0, 0, 0, 0];
    const miss = round === 0 ? null : facets.map(missOf);
    const usual = miss ? 2 * [...miss].sort((p, q) => p - q)[miss.length >> 1] + 1e-7 : 1;
    facets.forEach((f, i) => {
      const weight = f.area / (miss ? (1 + (miss[i] / usual) ** 2) ** 2 : 1);
      a11 += weight * f.k1 * f.k1;
      a12 += weight * f.k1 * f.k2;
      a22 += weight * f.k2 * f.k2;
      b1 += weight * f.k1 * f.k0;
      b2 += weight * f.k2 * f.k0;
    });
    det = a11 * a22 - a12 * a12;
    if (Math.abs(det) < 1e-12) break;
    s = (b1 * a22 - b2 * a12) / det;
    w = (a11 * b2 - a12 * b1) / det;
    point3 = add3(scale3(u, s), scale3(v, w));
  }
  const all = facets.reduce((sum, f) => sum + f.area, 0);
  const turned = facets.reduce((sum, f) => sum + (missOf(f) < NEARLY ? f.area : 0), 0);
  // a part modelled about the file's own axis: that is meant, not what the facets' rounding makes of it
  const settled: Vec3 = length3(point3) < ON_ORIGIN ? [0, 0, 0] : point3;
  return { axis: { point: settled, direction: d }, turned: all > 0 && Math.abs(det) > 1e-9 ? turned / all : 0 };
};

const DIRECTIONS: Record<'x' | 'y' | 'z', Vec3> = { x: [1, 0, 0], y: [0, 1, 0], z: [0, 0, 1] };

/** Cut of the mesh with a half-plane as polygon loops. */
const cutMesh = (cyl: Float64Array, frame: { angle: number }): Curve[][] => {
  const c = Math.cos(frame.angle);
  const s = Math.sin(frame.angle);
  const pieces: Curve[] = [];
  const n = cyl.length / 9;
  for (let t = 0; t < n; t++) {
    const o = t * 9;
    // x along the axis, y and z square to it; side of the half-plane and distance along it
    const side0 = -cyl[o + 1] * s + cyl[o + 2] * c;
    const side1 = -cyl[o + 4] * s + cyl[o + 5] * c;
    const side2 = -cyl[o + 7] * s + cyl[o + 8] * c;
    if ((side0 < 0 && side1 < 0 && side2 < 0) || (side0 >= 0 && side1 >= 0 && side2 >= 0)) continue;
    const hits: Point[] = [];
    const edge = (a: number, b: number, sa: number, sb: number): void => {
      if (sa < 0 === sb < 0) return;
      const f = sa / (sa - sb);
      const x = cyl[a] + (cyl[b] - cyl[a]) * f;
      const y = cyl[a + 1] + (cyl[b + 1] - cyl[a + 1]) * f;
      const z = cyl[a + 2] + (cyl[b + 2] - cyl[a + 2]) * f;
      hits.push(point(x, y * c + z * s));
    };
    edge(o, o + 3, side0, side1);
    edge(o + 3, o + 6, side1, side2);
    edge(o + 6, o, side2, side0);
    if (hits.length !== 2 || (hits[0].y < 0 && hits[1].y < 0) || distance(hits[0], hits[1]) < 1e-9) continue;
    let [a, b] = hits;
    if (a.y < 0 || b.y < 0) {
      // the face goes through the axis: end on it
      const f = a.y / (a.y - b.y);
      const foot = point(a.x + (b.x - a.x) * f, 0);
      if (a.y < 0) a = foot;
      else b = foot;
    }
    pieces.push(line(a, b));
  }
  return joinCurves(pieces, 2e-4).chains.filter((chain) => {
    const from = chain[0].from;
    const to = chain[chain.length - 1].to;
    return chain.length > 1 && ((from.y < 1e-3 && to.y < 1e-3) || distance(from, to) < 1e-3);
  });
};

const MOST_CUTS = 120;

/** Angles worth cutting at: where most corners lie, for there the mesh touches the true surface. */
const cutAngles = (cyl: Float64Array): number[] => {
  const count = new Map<number, number>();
  for (let i = 0; i < cyl.length; i += 3) {
    if (Math.hypot(cyl[i + 1], cyl[i + 2]) < 1e-6) continue;
    const key = Math.round(Math.atan2(cyl[i + 2], cyl[i + 1]) * 1e5);
    count.set(key, (count.get(key) ?? 0) + 1);
  }
  const sorted = [...count.entries()].sort((a, b) => b[1] - a[1]);
  const full = sorted.filter(([, n]) => n >= sorted[0][1] * 0.5);
  // a few of those that cut every facet row, then the rest for what milling left, spread evenly
  const first = full.slice(0, 8).map(([k]) => k);
  const rest = sorted
    .map(([k]) => k)
    .filter((k) => !first.includes(k))
    .sort((a, b) => a - b);
  const step = Math.max(1, Math.ceil(rest.length / (MOST_CUTS - first.length)));
  return [...first, ...rest.filter((_, i) => i % step === 0)].map((k) => k / 1e5);
};

/** Lines and arcs along a ring, begun at its sharpest corner so that no curve is cut in two; what lies on the axis is left out. */
const fitRing = (ring: readonly Point[], tolerance: number): Curve[] => {
  const n = ring.length;
  const onAxis = (i: number): boolean => ring[i % n].y < 1e-4 && ring[(i + 1) % n].y < 1e-4;
  let start = 0;
  const axial = ring.findIndex((_, i) => onAxis(i) && !onAxis(i + 1));
  if (axial >= 0) start = (axial + 1) % n;
  else {
    let sharp = -1;
    ring.forEach((p, i) => {
      const a = ring[(i + n - 1) % n];
      const b = ring[(i + 1) % n];
      const turn = Math.abs(
        Math.atan2(
          (p.x - a.x) * (b.y - p.y) - (p.y - a.y) * (b.x - p.x),
          (p.x - a.x) * (b.x - p.x) + (p.y - a.y) * (b.y - p.y),
        ),
      );
      if (turn > sharp) {
        sharp = turn;
        start = i;
      }
    });
  }
  const points: Point[] = [];
  for (let i = 0; i <= n; i++) {
    if (i < n && onAxis((start + i) % n)) {
      points.push(ring[(start + i) % n]);
      break;
    }
    points.push(ring[(start + i) % n]);
  }
  return fitCurves(points, { tolerance, polyline: true });
};

const round = (v: number): number => Math.round(v * 1e4) / 1e4;

/** An STL file as a turning profile: what the mesh sweeps about its axis, fitted with lines and arcs. */
export const importMesh = (bytes: Uint8Array, wish: MeshWish = PLAIN_MESH): MeshImport => {
  const problems: ImportProblem[] = [];
  const none = (): MeshImport => ({ half: null, axis: null, corners: new Float32Array(0), triangles: 0, problems });
  const read = readStl(bytes);
  problems.push(...read.problems);
  if (problems.some((p) => p.severity === 'blocking')) return none();
  const factor = wish.unit === 'inch' ? 25.4 : 1;
  const corners = read.corners.map((v) => v * factor);
  const hole = openEdges(corners);
  if (hole.count > 0) {
    problems.push(
      importProblem(
        'mesh-holes',
        `The mesh has holes: ${hole.count} edges lack a neighbour, the first at triangle ${hole.triangle} near (${hole.at.map((v) => v.toFixed(2)).join(', ')}). Close it where it was made and export again.`,
        {
          entity: hole.triangle,
        },
      ),
    );
    return none();
  }
  const tried = (wish.axis ? [wish.axis] : (['z', 'x', 'y'] as const)).map((k) => axisAlong(corners, DIRECTIONS[k]));
  const best = tried.reduce((a, b) => (b.turned > a.turned + 1e-4 ? b : a));
  if (!wish.axis && best.turned < 0.15) {
    problems.push(
      importProblem(
        'no-axis',
        'The mesh turns about none of the axes X, Y and Z. Turn it so that its axis lies along one of them, or choose the axis by hand.',
      ),
    );
    return none();
  }
  const direction = wish.flip ? scale3(best.axis.direction, -1) : best.axis.direction;
  const frame: Frame3 = frameOfAxis({ point: best.axis.point, direction });
  const cyl = new Float64Array(corners.length);
  for (let i = 0; i < corners.length / 3; i++) {
    cyl.set(directionInFrame(frame, subtract3(corner(corners, i), frame.origin)), i * 3);
  }
  let region: Region = [];
  for (const angle of cutAngles(cyl)) {
    const loops = cutMesh(cyl, { angle: angle + 3e-7 });
    // loops of lines are their own polygons; all counter-clockwise, so that cavities count as filled
    const rings = loops.map((l) => {
      const ring = [l[0].from, ...l.map((c) => c.to)];
      return ringArea(ring) < 0 ? ring.reverse() : ring;
    });
    if (rings.length > 0) region = unionRegions(region, rings);
  }
  const outer = simplifyRegion(region, wish.tolerance / 40).filter((ring) => ringArea(ring) > 0);
  if (outer.length === 0) {
    problems.push(
      importProblem(
        'empty-section',
        'The mesh encloses no metal about this axis. Choose another axis, or turn its facets outward.',
      ),
    );
    return none();
  }
  if (outer.length > 1)
    problems.push(
      importProblem('more-loops', `The silhouette falls into ${outer.length} pieces; the largest is taken.`, {
        severity: 'attention',
      }),
    );
  const main = outer.reduce((a, b) => (ringArea(b) > ringArea(a) ? b : a));
  const fitted = fitRing(main, wish.tolerance);
  const shift = boundsOfCurves(fitted).maxX;
  const half = splitHalfSection(fitted.map((c) => mapCurve(c, (p) => point(round(p.x - shift), round(p.y)), false)));
  const positions = new Float32Array(cyl.length);
  for (let i = 0; i < cyl.length; i += 3) {
    positions[i] = cyl[i] - shift;
    positions[i + 1] = cyl[i + 1];
    positions[i + 2] = cyl[i + 2];
  }
  const size = boundsOfCurves(half.outer).maxY * 2;
  if (size > 800 || size < 0.8)
    problems.push(
      importProblem(
        'unit',
        `The part measures ⌀${size.toFixed(size > 1 ? 1 : 3)}. An STL names no unit: if it should be ⌀${(size > 800 ? size / 25.4 : size * 25.4).toFixed(2)}, read it as ${size > 800 ? 'mm' : 'inch'}.`,
        { severity: 'attention' },
      ),
    );
  return {
    half,
    axis: { point: add3(frame.origin, scale3(direction, shift)), direction },
    corners: positions,
    triangles: corners.length / 9,
    problems,
  };
};
