import { Clipper, EndType, FillRule, JoinType } from 'clipper2-ts';
import type { Bounds } from './curve';
import { boundsOfPoints } from './curve';
import { onceFor } from './once';
import type { Point } from './point';
import { TOLERANCE } from './tolerance';

/** A set of the plane bounded by polygons: outer rings counter-clockwise, holes clockwise. Empty = nothing. */
export type Region = readonly (readonly Point[])[];

/** A convex polygon (counter-clockwise, may be one point) grown by a radius: insert corner, nose, blade, drill, jaw. */
export interface RoundedPolygon {
  readonly points: readonly Point[];
  readonly radius: number;
}

// 10 nm grid: products of coordinates up to 1 m stay exact enough for the clipper's own predicates
const GRID = 1e5;
type IntPath = { x: number; y: number }[];

const toInt = (region: Region): IntPath[] =>
  region.map((ring) => ring.map((p) => ({ x: Math.round(p.x * GRID), y: Math.round(p.y * GRID) })));
const fromInt = (paths: readonly (readonly Point[])[]): Region =>
  paths.map((path) => path.map((p) => ({ x: p.x / GRID, y: p.y / GRID })));

export const unionRegions = (...regions: Region[]): Region =>
  fromInt(Clipper.union(toInt(regions.flat()), FillRule.NonZero));
export const subtractRegion = (a: Region, b: Region): Region =>
  a.length === 0 || b.length === 0 ? a : fromInt(Clipper.difference(toInt(a), toInt(b), FillRule.NonZero));
export const intersectRegions = (a: Region, b: Region): Region =>
  a.length === 0 || b.length === 0 ? [] : fromInt(Clipper.intersect(toInt(a), toInt(b), FillRule.NonZero));

/** Grows (or with a negative distance shrinks) a region; round corners have their points on the true circle. */
export const inflateRegion = (region: Region, by: number, join: 'round' | 'mitre' = 'round'): Region =>
  by === 0 || region.length === 0
    ? region
    : fromInt(
        Clipper.inflatePaths(
          toInt(region),
          by * GRID,
          join === 'round' ? JoinType.Round : JoinType.Miter,
          EndType.Polygon,
          2,
          TOLERANCE.chord * GRID,
        ),
      );

/** Removes points that lie within `tolerance` mm of the line through their neighbours. */
export const simplifyRegion = (region: Region, tolerance = 5e-5): Region =>
  fromInt(Clipper.simplifyPaths(toInt(region), tolerance * GRID, true));

export const regionArea = (region: Region): number => region.reduce((sum, ring) => sum + ringArea(ring), 0);

/** Signed area, positive counter-clockwise. */
export const ringArea = (ring: readonly Point[]): number => {
  let twice = 0;
  for (let i = 0, j = ring.length - 1; i < ring.length; j = i++) twice += ring[j].x * ring[i].y - ring[i].x * ring[j].y;
  return twice / 2;
};

/** Volume swept by a region of the half-plane y ≥ 0 turned once about the x axis (Pappus), in mm³. */
export const regionVolume = (region: Region): number => {
  let integral = 0;
  for (const ring of region)
    for (let i = 0, j = ring.length - 1; i < ring.length; j = i++) {
      const a = ring[j];
      const b = ring[i];
      integral += ((b.x - a.x) * (a.y * a.y + a.y * b.y + b.y * b.y)) / 3;
    }
  return -Math.PI * integral;
};

export const regionBounds = (region: Region): Bounds => boundsOfPoints(region.flat());

/** Bounds of a region that is asked for again and again. */
export const regionBoundsOnce = onceFor((region: Region): Bounds => regionBounds(region));

export const rectangle = (minX: number, minY: number, maxX: number, maxY: number): Region => [
  [
    { x: minX, y: minY },
    { x: maxX, y: minY },
    { x: maxX, y: maxY },
    { x: minX, y: maxY },
  ],
];

/** Rings oriented so that the first point set encloses its area positively. */
export const counterClockwise = (ring: readonly Point[]): readonly Point[] =>
  ringArea(ring) < 0 ? [...ring].reverse() : ring;

export const mapRegion = (region: Region, map: (p: Point) => Point, mirrors: boolean): Region =>
  region.map((ring) => {
    const mapped = ring.map(map);
    return mirrors ? mapped.reverse() : mapped;
  });

/** A region so many mm further along x. */
export const shiftRegion = (region: Region, by: number): Region =>
  mapRegion(region, (p) => ({ x: p.x + by, y: p.y }), false);

/** Union of a region with its picture below the axis turned up: what a tool that crosses the axis does to a turned part. */
export const foldAboutAxis = (region: Region): Region => {
  const bounds = regionBounds(region);
  if (bounds.minY >= 0) return region;
  const upper = intersectRegions(region, rectangle(bounds.minX - 1, 0, bounds.maxX + 1, Math.max(bounds.maxY, 0) + 1));
  const lower = intersectRegions(region, rectangle(bounds.minX - 1, bounds.minY - 1, bounds.maxX + 1, 0));
  return unionRegions(
    upper,
    mapRegion(lower, (p) => ({ x: p.x, y: -p.y }), true),
  );
};

export const containsPoint = (region: Region, p: Point): boolean => {
  let winding = 0;
  for (const ring of region)
    for (let i = 0, j = ring.length - 1; i < ring.length; j = i++) {
      const a = ring[j];
      const b = ring[i];
      if (a.y <= p.y !== b.y <= p.y) {
        const side = (b.x - a.x) * (p.y - a.y) - (p.x - a.x) * (b.y - a.y);
        if (b.y > a.y ? side > 0 : side < 0) winding += b.y > a.y ? 1 : -1;
      }
    }
  return winding !== 0;
};

/** Answers whether points lie in a region, many times: its sides are kept by stretches of x. */
export class RegionIndex {
  private readonly bins: { ax: number; ay: number; bx: number; by: number }[][];
  private readonly from: number;
  private readonly width: number;

  constructor(region: Region) {
    const b = regionBounds(region);
    const sides = region.reduce((sum, r) => sum + r.length, 0);
    const count = Math.max(1, Math.min(2000, sides));
    this.from = b.minX;
    this.width = Math.max(1e-9, (b.maxX - b.minX) / count);
    this.bins = Array.from({ length: count }, () => []);
    for (const ring of region)
      for (let i = 0, j = ring.length - 1; i < ring.length; j = i++) {
        const side = { ax: ring[j].x, ay: ring[j].y, bx: ring[i].x, by: ring[i].y };
        const low = this.binOf(Math.min(side.ax, side.bx));
        const high = this.binOf(Math.max(side.ax, side.bx));
        for (let k = low; k <= high; k++) this.bins[k].push(side);
      }
  }

  private binOf(x: number): number {
    return Math.max(0, Math.min(this.bins.length - 1, Math.floor((x - this.from) / this.width)));
  }

  contains(p: Point): boolean {
    let winding = 0;
    if (p.x < this.from || this.bins.length === 0) return false;
    for (const s of this.bins[this.binOf(p.x)]) {
      if (s.ax <= p.x === s.bx <= p.x) continue;
      const y = s.ay + ((s.by - s.ay) * (p.x - s.ax)) / (s.bx - s.ax);
      if (y > p.y) winding += s.bx > s.ax ? 1 : -1;
    }
    return winding !== 0;
  }

  /** How far it is from a place along a unit direction to the first side, mm, beyond `least`; `most` where none is nearer. */
  firstSide(p: Point, way: Point, least: number, most: number): number {
    if (this.bins.length === 0) return most;
    const [first, last] = [p.x + way.x * least, p.x + way.x * most].map((x) => this.binOf(x));
    const step = last < first ? -1 : 1;
    let found = most;
    for (let k = first; ; k += step) {
      for (const s of this.bins[k]) {
        const [ex, ey] = [s.bx - s.ax, s.by - s.ay];
        const across = way.x * ey - way.y * ex;
        if (Math.abs(across) < 1e-15) continue;
        const along = ((s.ax - p.x) * ey - (s.ay - p.y) * ex) / across;
        const share = ((s.ax - p.x) * way.y - (s.ay - p.y) * way.x) / across;
        if (along > least && along < found && share >= -1e-12 && share <= 1 + 1e-12) found = along;
      }
      if (k === last) return found;
      // sides of the bins beyond lie further off than their near edge
      const edge = this.from + this.width * (step > 0 ? k + 1 : k);
      if (way.x !== 0 && (edge - p.x) / way.x >= found) return found;
    }
  }
}

const quadsAlong = (pattern: readonly Point[], path: readonly Point[], closed: boolean): Region => {
  const quads: Point[][] = [];
  const segments = closed ? path.length : path.length - 1;
  for (let i = 0; i < segments; i++) {
    const a = path[i];
    const b = path[(i + 1) % path.length];
    quads.push(
      convexHull([
        ...pattern.map((k) => ({ x: a.x + k.x, y: a.y + k.y })),
        ...pattern.map((k) => ({ x: b.x + k.x, y: b.y + k.y })),
      ]),
    );
  }
  return quads;
};

/** Convex hull, counter-clockwise (monotone chain). */
export const convexHull = (points: readonly Point[]): Point[] => {
  const sorted = [...points].sort((a, b) => a.x - b.x || a.y - b.y);
  const half = (input: readonly Point[]): Point[] => {
    const hull: Point[] = [];
    for (const p of input) {
      while (hull.length >= 2) {
        const a = hull[hull.length - 2];
        const b = hull[hull.length - 1];
        if ((b.x - a.x) * (p.y - a.y) - (b.y - a.y) * (p.x - a.x) > 0) break;
        hull.pop();
      }
      hull.push(p);
    }
    return hull.slice(0, -1);
  };
  return [...half(sorted), ...half(sorted.reverse())];
};

/** A degenerate pattern (point or segment) has no area for the union: give it a hair that is far below every tolerance. */
const withArea = (pattern: readonly Point[]): readonly Point[] => {
  const hull = convexHull(pattern);
  if (hull.length >= 3 && Math.abs(ringArea(hull)) > 1e-8) return hull;
  const hair = 2e-5;
  return convexHull(
    pattern.flatMap((p) => [
      { x: p.x - hair, y: p.y - hair },
      { x: p.x + hair, y: p.y - hair },
      { x: p.x, y: p.y + hair },
    ]),
  );
};

/**
 * Union of pieces that follow one another, neighbours first: their unions have few edges, so that the cost grows with the
 * number of pieces and not with its square, as it does when all overlap at once.
 */
const unionInTurn = (pieces: Region): Region => {
  let level: Region[] = [];
  for (let i = 0; i < pieces.length; i += 6) level.push(unionRegions(pieces.slice(i, i + 6)));
  while (level.length > 1) {
    const next: Region[] = [];
    for (let i = 0; i < level.length; i += 3)
      next.push(level[i + 1] ? unionRegions(...level.slice(i, i + 3)) : level[i]);
    level = next;
  }
  return level[0] ?? [];
};

/** The ground covered by a shape carried along a polyline (its reference point on the polyline). */
export const sweepAlong = (shape: RoundedPolygon, path: readonly Point[]): Region => {
  const pattern = withArea(shape.points);
  const track = path.length === 1 ? [path[0], path[0]] : path;
  return inflateRegion(unionInTurn(quadsAlong(pattern, track, false)), shape.radius);
};

/** All reference positions at which the shape overlaps the region: region ⊕ (−shape). */
export const overlapPositions = (region: Region, shape: RoundedPolygon): Region => {
  if (region.length === 0) return [];
  const reflected = withArea(shape.points).map((p) => ({ x: -p.x, y: -p.y }));
  const ground = convexHull(reflected);
  const moved = region.map((ring) => ring.map((p) => ({ x: p.x + ground[0].x, y: p.y + ground[0].y })));
  const edges = region.flatMap((ring) => quadsAlong(ground, ring, true));
  // the body first as its own union so that holes keep their winding
  return inflateRegion(unionRegions(unionRegions(moved), unionInTurn(edges)), shape.radius);
};

/** True when two regions share an area thicker than `thickness` mm. */
export const overlapsMoreThan = (a: Region, b: Region, thickness: number): boolean => {
  if (a.length === 0 || b.length === 0) return false;
  const ba = regionBounds(a);
  const bb = regionBounds(b);
  if (ba.minX >= bb.maxX || bb.minX >= ba.maxX || ba.minY >= bb.maxY || bb.minY >= ba.maxY) return false;
  const common = intersectRegions(a, b);
  if (common.length === 0) return false;
  return thickness <= 0 ? regionArea(common) > 1e-9 : inflateRegion(common, -thickness / 2).length > 0;
};
