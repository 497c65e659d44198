import {
  add,
  convexHull,
  counterClockwise,
  fromAngle,
  type Point,
  point,
  type RoundedPolygon,
  radians,
  scale,
} from '../geometry';
import type { InsertGeometry } from './insert';

/** Tip numbers 0–9: where the programmed tip lies from the nose centre, in nose radii (z, r). */
export const TIP_DIRECTION: readonly Point[] = [
  point(0, 0),
  point(1, 1),
  point(-1, 1),
  point(-1, -1),
  point(1, -1),
  point(1, 0),
  point(0, 1),
  point(-1, 0),
  point(0, -1),
  point(0, 0),
];

/**
 * A tool cut through the plane of the axis, in part orientation (x = Z, y = distance from axis), with the nose centre
 * (drills: the point; blades: centre of the corner toward the chuck) at the origin.
 */
export interface ToolSection {
  readonly cutting: readonly RoundedPolygon[];
  readonly holder: readonly RoundedPolygon[];
  readonly turret: readonly RoundedPolygon[];
  readonly noseRadius: number;
  /** Points that a program may name: tip number and place from the origin. The first is the one that is used. */
  readonly corners: readonly { readonly number: number; readonly at: Point }[];
  readonly tipNumber: number;
  /** Side from which it works, where its tip number alone does not say it. */
  readonly works?: 'outer' | 'inner' | 'face';
  /** Programmed tip relative to the origin. */
  readonly tip: Point;
  /** Turret reference (gauge point) relative to the programmed tip. */
  readonly gauge: Point;
  /** Way of the feed that the edge is made for: along Z toward the chuck or away from it. */
  readonly feeds: 'toward-chuck' | 'from-chuck' | 'both';
  /** Direction in which the spindle has to turn, from hand and way up. */
  readonly spindle: 'forward' | 'reverse';
}

/** Side from which a tool works, by its section alone. */
export const worksFrom = (section: Pick<ToolSection, 'works' | 'tipNumber'>): 'outer' | 'inner' | 'face' =>
  section.works ?? ([1, 2, 6].includes(section.tipNumber) ? 'inner' : section.tipNumber === 7 ? 'face' : 'outer');

/** The section with another point programmed; one that the tool does not have leaves it as it is. */
export const programmedAt = (section: ToolSection, which: 'tip' | 'other' | 'centre'): ToolSection => {
  const corner =
    which === 'other'
      ? section.corners[1]
      : which === 'centre' && section.noseRadius > 0
        ? { number: 9, at: point(0, 0) }
        : undefined;
  if (!corner) return section;
  const by = point(section.tip.x - corner.at.x, section.tip.y - corner.at.y);
  return {
    ...section,
    works: worksFrom(section),
    tip: corner.at,
    tipNumber: corner.number,
    gauge: point(section.gauge.x + by.x, section.gauge.y + by.y),
  };
};

export const TURRET = { halfThickness: 34, depth: 150, below: 26 } as const;

export const sharp = (points: readonly Point[]): RoundedPolygon => ({ points: counterClockwise(points), radius: 0 });
export const box = (minX: number, minY: number, maxX: number, maxY: number): RoundedPolygon =>
  sharp([point(minX, minY), point(maxX, minY), point(maxX, maxY), point(minX, maxY)]);
export const mapShape = (s: RoundedPolygon, map: (p: Point) => Point): RoundedPolygon => ({
  points: counterClockwise(s.points.map(map)),
  radius: s.radius,
});

/** Insert of an outside right-hand tool: edges leave the nose at 180°−κ (leading) and κ′ (trailing) from +Z. */
export const insertShape = (insert: InsertGeometry, approachAngle: number): RoundedPolygon => {
  if (insert.shape === 'R') return { points: [point(0, 0)], radius: insert.noseRadius };
  const leading = fromAngle(radians(180 - approachAngle));
  const trailing = fromAngle(radians(180 - approachAngle - insert.cornerAngle));
  const half = radians(insert.cornerAngle / 2);
  const rho = insert.noseRadius;
  if (insert.shape === 'T') {
    const side = insert.edgeLength - (2 * rho) / Math.tan(half);
    return { points: counterClockwise([point(0, 0), scale(leading, side), scale(trailing, side)]), radius: rho };
  }
  if (insert.shape === 'W') {
    // three 80° corners: the two edges at the nose, then the far side closed by the trigon's other corners
    const side = Math.max(rho, insert.edgeLength - rho / Math.tan(half));
    const middle = fromAngle(radians(180 - approachAngle - insert.cornerAngle / 2));
    const a = scale(leading, side);
    const b = scale(trailing, side);
    const across = side * 1.35;
    return {
      points: convexHull([
        point(0, 0),
        a,
        b,
        add(a, scale(middle, across * 0.72)),
        add(b, scale(middle, across * 0.72)),
      ]),
      radius: rho,
    };
  }
  const side = insert.edgeLength - rho / Math.tan(half) - rho * Math.tan(half);
  const a = scale(leading, side);
  const b = scale(trailing, side);
  return { points: counterClockwise([point(0, 0), a, add(a, b), b]), radius: rho };
};

/** Height of a drill's point, mm: (D/2)/tan(σ/2). */
export const drillPointLength = (diameter: number, pointAngle: number): number =>
  diameter / 2 / Math.tan(radians(pointAngle / 2));
