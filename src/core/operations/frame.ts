import {
  type Curve,
  counterClockwise,
  mapCurve,
  mapRegion,
  onceForEach,
  type Point,
  point,
  type Region,
  type RoundedPolygon,
  reverseCurve,
  Surface,
  unionRegions,
} from '../geometry';

/**
 * A turning direction as its own picture: u runs against the feed, v points from the metal to the tool. Every kind of
 * turning is planned in this one picture (feed toward −u, tool above) and brought back.
 */
export interface Frame {
  readonly name: 'outer' | 'outer-back' | 'inner' | 'inner-across' | 'face' | 'face-back';
  readonly mirrors: boolean;
  /** The work is seen along its axis: both halves stand side by side. */
  readonly alongAxis: boolean;
  /** From the section into the frame, and back. */
  readonly into: (p: Point) => Point;
  readonly out: (p: Point) => Point;
}

/** A frame whose map is its own inverse. */
const turnedOver = (name: Frame['name'], map: Frame['into'], alongAxis = false): Frame => ({
  name,
  mirrors: true,
  alongAxis,
  into: map,
  out: map,
});

export const OUTER: Frame = { name: 'outer', mirrors: false, alongAxis: false, into: (p) => p, out: (p) => p };
/** Outside with a feed away from the chuck. */
export const OUTER_BACK = turnedOver('outer-back', (p) => point(-p.x, p.y));
export const INNER = turnedOver('inner', (p) => point(p.x, -p.y));
/** From the front with a feed toward the axis. */
export const FACE = turnedOver('face', (p) => point(p.y, p.x), true);
/** From the front, in a bore, with a feed away from the axis. */
export const INNER_ACROSS: Frame = {
  name: 'inner-across',
  mirrors: false,
  alongAxis: true,
  into: (p) => point(-p.y, p.x),
  out: (p) => point(p.y, -p.x),
};

/** From behind, out of a slot, with a feed toward the axis. */
export const FACE_BACK: Frame = {
  name: 'face-back',
  mirrors: false,
  alongAxis: true,
  into: (p) => point(p.y, -p.x),
  out: (p) => point(-p.y, p.x),
};

/** A curve of the section in the frame, and a curve of the frame in the section. */
export const curveInto = (frame: Frame, c: Curve): Curve => mapCurve(c, frame.into, frame.mirrors);
export const curveOut = (frame: Frame, c: Curve): Curve => mapCurve(c, frame.out, frame.mirrors);
export const shapeInto = (frame: Frame, s: RoundedPolygon): RoundedPolygon => ({
  points: counterClockwise(s.points.map(frame.into)),
  radius: s.radius,
});

/**
 * A region of the upper half as the frame sees it. From the front both halves stand side by side; from inside a bore the
 * far wall is the near one mirrored, which those who ask take into account.
 */
export const regionInto = (frame: Frame, r: Region): Region => {
  if (frame.name === 'outer') return r;
  const seen = mapRegion(r, frame.into, frame.mirrors);
  if (!frame.alongAxis || r.length === 0) return seen;
  return unionRegions(
    seen,
    mapRegion(seen, (p) => point(-p.x, p.y), true),
  );
};

/** The top of a region in a frame, made once for each. */
export const surfaceOf = onceForEach(
  (region: Region, frame: Frame) => Surface.of(regionInto(frame, region)),
  (frame) => frame.name,
);

/** Every piece turned to run toward +x. */
export const rightward = (curves: readonly Curve[]): Curve[] =>
  curves.map((c) => (c.to.x >= c.from.x ? c : reverseCurve(c)));
