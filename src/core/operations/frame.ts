import {
  type Curve,
  counterClockwise,
  mapCurve,
  mapRegion,
  type Point,
  point,
  type Region,
  type RoundedPolygon,
  reverseCurve,
} from '../geometry';

/**
 * A turning direction as its own picture: u runs against the feed, v points from the metal to the tool. Every kind of
 * turning is planned in this one picture (feed toward −u, tool above) and mapped back. All three maps are their own inverse.
 */
export interface Frame {
  readonly name: 'outer' | 'inner' | 'face';
  readonly mirrors: boolean;
  readonly map: (p: Point) => Point;
}

export const OUTER: Frame = { name: 'outer', mirrors: false, map: (p) => p };
export const INNER: Frame = { name: 'inner', mirrors: true, map: (p) => point(p.x, -p.y) };
export const FACE: Frame = { name: 'face', mirrors: true, map: (p) => point(p.y, p.x) };

export const curveThrough = (frame: Frame, c: Curve): Curve => mapCurve(c, frame.map, frame.mirrors);
export const regionThrough = (frame: Frame, r: Region): Region =>
  frame.name === 'outer' ? r : mapRegion(r, frame.map, frame.mirrors);
export const shapeThrough = (frame: Frame, s: RoundedPolygon): RoundedPolygon => ({
  points: counterClockwise(s.points.map(frame.map)),
  radius: s.radius,
});

/** Every piece turned to run toward +x. */
export const rightward = (curves: readonly Curve[]): Curve[] =>
  curves.map((c) => (c.to.x >= c.from.x ? c : reverseCurve(c)));
