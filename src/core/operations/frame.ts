import {
  type Curve,
  counterClockwise,
  joinGraph,
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
  readonly name:
    | 'outer'
    | 'outer-back'
    | 'inner'
    | 'inner-back'
    | 'inner-across'
    | 'face'
    | 'face-out'
    | 'face-back'
    | 'corner'
    | 'corner-back';
  readonly mirrors: boolean;
  /** The work is seen along its axis: both halves stand side by side. */
  readonly alongAxis: boolean;
  /** The way in from outside lies where u is least: the feed goes toward it, not away from it. */
  readonly outward: boolean;
  /** Along the axis of a bore: its far wall is the near one turned over. */
  readonly bore: boolean;
  /** Seen into a corner, along a way between both axes: what hangs over either side of it is seen under. */
  readonly slanted: boolean;
  /** From the section into the frame, and back. */
  readonly into: (p: Point) => Point;
  readonly out: (p: Point) => Point;
}

/** What most frames are not. */
const PLAIN = { alongAxis: false, outward: false, bore: false, slanted: false } as const;

/** A frame whose map is its own inverse. */
const ownInverse = (map: Frame['into'], mirrors: boolean): Pick<Frame, 'mirrors' | 'into' | 'out'> => ({
  mirrors,
  into: map,
  out: map,
});

export const OUTER: Frame = {
  ...PLAIN,
  name: 'outer',
  ...ownInverse((p) => p, false),
};
/** Outside with a feed away from the chuck. */
export const OUTER_BACK: Frame = {
  ...PLAIN,
  name: 'outer-back',
  outward: true,
  ...ownInverse((p) => point(-p.x, p.y), true),
};
export const INNER: Frame = {
  ...PLAIN,
  name: 'inner',
  bore: true,
  ...ownInverse((p) => point(p.x, -p.y), true),
};
/** In a bore with a feed away from the chuck. */
export const INNER_BACK: Frame = {
  ...PLAIN,
  name: 'inner-back',
  outward: true,
  bore: true,
  ...ownInverse((p) => point(-p.x, -p.y), false),
};
/** From the front with a feed toward the axis. */
export const FACE: Frame = {
  ...PLAIN,
  name: 'face',
  alongAxis: true,
  ...ownInverse((p) => point(p.y, p.x), true),
};
/** Seen along the axis from the front, work and tool turned half round about it: a feed away from the axis. */
const TURNED: Omit<Frame, 'name'> = {
  ...PLAIN,
  mirrors: false,
  alongAxis: true,
  into: (p) => point(-p.y, p.x),
  out: (p) => point(p.y, -p.x),
};
/** From the front with a feed away from the axis. */
export const FACE_OUT: Frame = { ...TURNED, name: 'face-out', outward: true };
/** From the front, in a bore, with a feed away from the axis. */
export const INNER_ACROSS: Frame = { ...TURNED, name: 'inner-across' };

/** From behind, out of a slot, with a feed toward the axis. */
export const FACE_BACK: Frame = {
  ...PLAIN,
  name: 'face-back',
  mirrors: false,
  alongAxis: true,
  into: (p) => point(p.y, -p.x),
  out: (p) => point(-p.y, p.x),
};

/** A turn by 45°, and back. */
const aslant = (p: Point): Point => point((p.x - p.y) * Math.SQRT1_2, (p.x + p.y) * Math.SQRT1_2);
const upright = (p: Point): Point => point((p.x + p.y) * Math.SQRT1_2, (p.y - p.x) * Math.SQRT1_2);

/** Into the corner between a shaft and the shoulder behind it, from the front and outside. */
export const CORNER: Frame = {
  ...PLAIN,
  name: 'corner',
  mirrors: false,
  slanted: true,
  into: aslant,
  out: upright,
};
/** The same of a shoulder that looks toward the chuck, from behind. */
export const CORNER_BACK: Frame = {
  ...PLAIN,
  name: 'corner-back',
  mirrors: true,
  slanted: true,
  into: (p) => aslant(point(-p.x, p.y)),
  out: (p) => {
    const q = upright(p);
    return point(-q.x, q.y);
  },
};

export const FRAMES: Readonly<Record<Frame['name'], Frame>> = {
  outer: OUTER,
  'outer-back': OUTER_BACK,
  inner: INNER,
  'inner-back': INNER_BACK,
  'inner-across': INNER_ACROSS,
  face: FACE,
  'face-out': FACE_OUT,
  'face-back': FACE_BACK,
  corner: CORNER,
  'corner-back': CORNER_BACK,
};

/** The frame that shows the same from the other end, its feed going away from the way in. */
export const inwardOf = (frame: Frame): Frame =>
  frame === OUTER_BACK ? OUTER : frame === INNER_BACK ? INNER : frame === FACE_OUT ? FACE : frame;

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

/** A graph as it is seen from its other end. */
export const turnedRound = (graph: readonly Curve[]): Curve[] =>
  joinGraph(rightward(graph.map((c) => mapCurve(c, (p) => point(-p.x, p.y), true))).reverse());
