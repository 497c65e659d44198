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
  unionRegions,
} from '../geometry';

/**
 * A turning direction as its own picture: u runs against the feed, v points from the metal to the tool. Every kind of
 * turning is planned in this one picture (feed toward −u, tool above) and mapped back. All maps are their own inverse.
 */
export interface Frame {
  readonly name: 'outer' | 'outer-back' | 'inner' | 'face';
  readonly mirrors: boolean;
  readonly map: (p: Point) => Point;
}

export const OUTER: Frame = { name: 'outer', mirrors: false, map: (p) => p };
/** Outside with a feed away from the chuck. */
export const OUTER_BACK: Frame = { name: 'outer-back', mirrors: true, map: (p) => point(-p.x, p.y) };
export const INNER: Frame = { name: 'inner', mirrors: true, map: (p) => point(p.x, -p.y) };
export const FACE: Frame = { name: 'face', mirrors: true, map: (p) => point(p.y, p.x) };

export const curveThrough = (frame: Frame, c: Curve): Curve => mapCurve(c, frame.map, frame.mirrors);
export const shapeThrough = (frame: Frame, s: RoundedPolygon): RoundedPolygon => ({
  points: counterClockwise(s.points.map(frame.map)),
  radius: s.radius,
});

/**
 * A region of the upper half as the frame sees it. From the front both halves stand side by side; from inside a bore the
 * far wall is the near one mirrored, which those who ask take into account.
 */
export const regionThrough = (frame: Frame, r: Region): Region => {
  if (frame.name === 'outer') return r;
  const seen = mapRegion(r, frame.map, frame.mirrors);
  if (frame.name !== 'face' || r.length === 0) return seen;
  return unionRegions(
    seen,
    mapRegion(seen, (p) => point(-p.x, p.y), true),
  );
};

/** Every piece turned to run toward +x. */
export const rightward = (curves: readonly Curve[]): Curve[] =>
  curves.map((c) => (c.to.x >= c.from.x ? c : reverseCurve(c)));
