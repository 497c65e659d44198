import {
  type Arc,
  boundsOfCurves,
  boundsOfShapes,
  clipToSide,
  counterClockwise,
  depthWithin,
  lowerSide,
  lowerSideOn,
  lowerSideOnArc,
  onceFor,
  onceForEach,
  type Point,
  type RoundedPolygon,
  type Surface,
  type WaySide,
} from '../geometry';
import type { Frame } from './frame';

/** Mirror images of shapes, made once for each. */
const mirrored = (turn: (p: Point) => Point): ((s: RoundedPolygon) => RoundedPolygon) =>
  onceFor((s) => ({ points: s.points.map(turn).reverse(), radius: s.radius }));
const overX = (p: Point): Point => ({ x: -p.x, y: p.y });
const overY = (p: Point): Point => ({ x: p.x, y: -p.y });
const mirrorX = mirrored(overX);
const mirrorY = mirrored(overY);

/** Chords of arcs in questions of contact, mm: finer than a touch, coarser than a cut. */
const COARSE = 1e-3;

/** A shape of a frame as the section shows it, made once for each. */
const outOf = onceForEach(
  (s: RoundedPolygon, frame: Frame): RoundedPolygon => ({
    points: counterClockwise(s.points.map(frame.out)),
    radius: s.radius,
  }),
  (frame) => frame.name,
);

/** The lower side of a shape at the origin. */
const standing = onceFor((s: RoundedPolygon) => lowerSide(s, COARSE));

/** Where the nose ends and the edge that trails behind it begins, from the nose's centre along u, mm; 0.2 at the least. */
const behindNose = (s: RoundedPolygon): number => Math.max(2 * s.radius, 0.2);

/** What of a cutting shape cuts on a way across a bore, and what comes behind and must meet nothing. */
const leading = onceFor((s: RoundedPolygon) => ({ ...s, points: clipToSide(s.points, behindNose(s), -1) }));
const trailing = onceFor((s: RoundedPolygon) => ({ ...s, points: clipToSide(s.points, behindNose(s), 1) }));

/** The cutting shapes whose meeting with metal is a cut; across a bore the rest of an insert may strike its far wall. */
export const cutsWith = (frame: Frame, cutting: readonly RoundedPolygon[]): readonly RoundedPolygon[] =>
  frame.name === 'inner-across' ? cutting.map(leading).filter((s) => s.points.length > 0) : cutting;

/** Extent of a shape at the origin. */
const extent = onceFor((s: RoundedPolygon) => boundsOfShapes([s]));

/** The lowest place of a shape at the origin. */
const lowest = onceFor(({ points, radius }: RoundedPolygon): Point => {
  const low = points.reduce((a, b) => (b.y < a.y ? b : a));
  return { x: low.x, y: low.y - radius };
});
/** Metal that stands so much higher than the lowest place of a shape surely meets it, on chords of its way too, mm. */
const SURELY = 3e-3;

/** Whether nothing of a line reaches the lowest place of a shape on a straight way: quick to tell, before any side is made. */
const wellBelow = (line: Surface, shape: RoundedPolygon, from: Point, to: Point): boolean => {
  const { minX, maxX, minY } = extent(shape);
  const [left, right] = from.x < to.x ? [from.x, to.x] : [to.x, from.x];
  return line.ceiling(left + minX, right + maxX) <= Math.min(from.y, to.y) + minY;
};

/** The same for the shape turned over, as the far wall of a bore meets it. */
const wellBelowFar = (line: Surface, shape: RoundedPolygon, from: Point, to: Point): boolean => {
  const { minX, maxX, maxY } = extent(shape);
  const [left, right] = from.x < to.x ? [from.x, to.x] : [to.x, from.x];
  return line.ceiling(left + minX, right + maxX) <= -Math.max(from.y, to.y) - maxY;
};

/** A side of what a convex shape covers on a straight way. */
type SideOn = (shape: RoundedPolygon, from: Point, to: Point) => WaySide;

/** Metal as it stands in a frame while an operation cuts it, with what must not be met beside it. */
export class Metal {
  constructor(
    readonly frame: Frame,
    readonly surface: Surface,
    readonly fixed: Surface | null,
    /** What stands behind a slot, as the section shows it. */
    readonly wall: Surface | null = null,
  ) {}

  clone(): Metal {
    return new Metal(this.frame, this.surface.clone(), this.fixed, this.wall);
  }

  /** True when a shape on a straight way meets neither metal nor fixtures. */
  clears(shape: RoundedPolygon, from: Point, to: Point, fixtures = true): boolean {
    if (!this.clearsWall(shape, from, to)) return false;
    if (from.x === to.x && from.y === to.y) return this.clearsAt(shape, from, fixtures);
    const beside = fixtures ? this.fixed : null;
    const low = wellBelow(this.surface, shape, from, to);
    if (!low || (beside && !wellBelow(beside, shape, from, to))) {
      const side = lowerSideOn(shape, from, to, COARSE);
      if (!(low || this.surface.clears(side)) || !(beside === null || beside.clears(side))) return false;
    }
    return !this.frame.bore || this.clearsOver(shape, from, to);
  }

  /** The far wall of a bore is the near one turned over. */
  private clearsOver(shape: RoundedPolygon, from: Point, to: Point): boolean {
    return (
      wellBelowFar(this.surface, shape, from, to) ||
      this.surface.clears(lowerSideOn(mirrorY(shape), overY(from), overY(to), COARSE))
    );
  }

  private clearsAt(shape: RoundedPolygon, at: Point, fixtures: boolean): boolean {
    const side = standing(shape);
    if (!this.surface.clears(side, at.x, at.y)) return false;
    if (this.frame.bore && !this.surface.clears(standing(mirrorY(shape)), at.x, -at.y)) return false;
    return !fixtures || this.fixed === null || this.fixed.clears(side, at.x, at.y);
  }

  private clearsWall(shape: RoundedPolygon, from: Point, to: Point): boolean {
    if (!this.wall) return true;
    const { out } = this.frame;
    return this.wall.clears(lowerSideOn(outOf(shape, this.frame), out(from), out(to), COARSE));
  }

  /** True when a cutting shape on a straight way strikes nothing that it does not cut: the far wall of a bore, or that of a slot; elsewhere there is none. */
  clearsFarWall(shape: RoundedPolygon, from: Point, to: Point): boolean {
    if (this.frame.name === 'inner-across') {
      const behind = trailing(shape);
      return behind.points.length === 0 || this.surface.clears(lowerSideOn(behind, from, to, COARSE));
    }
    if (this.wall) return this.clearsWall(shape, from, to);
    return !this.frame.bore || this.clearsOver(shape, from, to);
  }

  /**
   * How far shapes that stand at a place could move in any direction and would still meet metal, mm; 0 where they meet none
   * now. A point of the metal that lies so deep within a shape cannot come out of it before.
   */
  bite(shapes: readonly RoundedPolygon[], at: Point): number {
    let sure = 0;
    for (const s of shapes) {
      const p = this.surface.deepest(standing(s), at.x, at.y);
      if (p) sure = Math.max(sure, depthWithin(s, at, p), Number.MIN_VALUE);
      else if (!this.clearsFarWall(s, at, at)) sure = Math.max(sure, Number.MIN_VALUE);
    }
    return sure;
  }

  /** The share of a straight way on which shapes surely meet metal, from its start without a gap. */
  meetsFor(shapes: readonly RoundedPolygon[], from: Point, to: Point): number {
    let share = 0;
    for (const s of shapes) {
      const { x, y } = lowest(s);
      const [a, b] = [
        { x: from.x + x, y: from.y + y },
        { x: to.x + x, y: to.y + y },
      ];
      share = Math.max(share, this.surface.standsOver(a, b, SURELY));
    }
    return share;
  }

  clearsAlong(shapes: readonly RoundedPolygon[], path: readonly Point[], fixtures = true): boolean {
    if (path.length === 1) return shapes.every((s) => this.clears(s, path[0], path[0], fixtures));
    for (let i = 1; i < path.length; i++)
      for (const s of shapes) if (!this.clears(s, path[i - 1], path[i], fixtures)) return false;
    return true;
  }

  /** Corners of its top from left to right, thinned. */
  upperPoints(...within: Parameters<Surface['upperPoints']>): Point[] {
    return this.surface.upperPoints(...within);
  }

  /**
   * Takes off what a cutting shape sweeps on a straight way; the work turns, so its mirror image cuts too. Where it `goesOn`
   * it has cut up to the start of the way already: what it covers there is not looked at again.
   */
  cut(shape: RoundedPolygon, from: Point, to: Point, goesOn = false): void {
    this.lower(shape, from, to, lowerSideOn, goesOn);
  }

  /** Takes off what shapes sweep on an arc that goes on a way they have cut; false, with nothing cut, where that cannot be told at once. */
  cutArc(shapes: readonly RoundedPolygon[], way: Arc): boolean {
    if (this.frame.alongAxis) return false;
    const { minX, maxX, maxY } = boundsOfCurves([way]);
    const [left, right] = [
      { x: minX, y: maxY },
      { x: maxX, y: maxY },
    ];
    if (this.frame.bore && !shapes.every((s) => wellBelowFar(this.surface, s, left, right))) return false;
    const sides = shapes.flatMap((s) => lowerSideOnArc(s, way) ?? []);
    if (sides.length < shapes.length) return false;
    for (const side of sides) this.surface.cut(side, side.fresh);
    return true;
  }

  cutAlong(shapes: readonly RoundedPolygon[], path: readonly Point[]): void {
    this.lowerAlong(shapes, path, lowerSideOn);
  }

  /** Lowers the line to a side of what shapes sweep on a way, mirror images included. */
  lowerAlong(shapes: readonly RoundedPolygon[], path: readonly Point[], side: SideOn): void {
    for (let i = 1; i < path.length; i++) for (const s of shapes) this.lower(s, path[i - 1], path[i], side, i > 1);
  }

  private lower(shape: RoundedPolygon, from: Point, to: Point, sideOn: SideOn, goesOn: boolean): void {
    const lowerTo = (side: WaySide): boolean => this.surface.cut(side, goesOn ? side.fresh : undefined);
    lowerTo(sideOn(shape, from, to));
    if (this.frame.alongAxis) lowerTo(sideOn(mirrorX(shape), overX(from), overX(to)));
    if (this.frame.bore && (sideOn !== lowerSideOn || !wellBelowFar(this.surface, shape, from, to)))
      lowerTo(sideOn(mirrorY(shape), overY(from), overY(to)));
  }
}
