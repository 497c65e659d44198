import {
  containsPoint,
  distance,
  distanceToCurve,
  intersectRegions,
  line,
  mapRegion,
  onceFor,
  type Point,
  point,
  type Region,
  regionVolume,
  shiftRegion,
  simplifyRegion,
  subtractRegion,
  type Vec3,
} from '../geometry';

/**
 * Work as it stands, in the coordinates of its holding: x along the axis on which it turns (Z of the holding), y and z across.
 * Whatever takes metal away goes through here, and whoever asks what is left asks here; nobody else needs to know how it
 * is kept. A body is never changed: taking something off makes another one.
 */
export interface Body {
  /** Half-section of what turning has left: along the axis and away from it, mm. */
  readonly turnedOutline: Region;
  readonly isEmpty: boolean;
  /** mm³. */
  readonly volume: number;
  /** Metal in the half plane that stands at an angle about the axis, degrees from y toward z; along the axis and away from it. */
  section(angle: number): Region;
  contains(p: Vec3): boolean;
  /** From a place to the nearest metal, mm; 0 within it. */
  distance(p: Vec3): number;
  /** Without what a turning tool sweeps: ground of the half-section, already turned up about the axis. */
  cutTurned(swept: Region): Body;
  /** The same body turned down to an outline that was reckoned more finely than by one sweep. */
  turnedDownTo(outline: Region): Body;
  /** Only what lies within a part of the half-section. */
  within(ground: Region): Body;
  movedAlong(by: number): Body;
  /** In other coordinates along the axis; `turnsRound` where its front comes to lie at the back. */
  placed(along: (x: number) => number, turnsRound: boolean): Body;
}

/** A body that turning alone has made: the same all the way round. */
class TurnedBody implements Body {
  constructor(readonly turnedOutline: Region) {}

  get isEmpty(): boolean {
    return this.turnedOutline.length === 0;
  }

  get volume(): number {
    return volumeOf(this.turnedOutline);
  }

  section(_angle: number): Region {
    return this.turnedOutline;
  }

  contains(p: Vec3): boolean {
    return containsPoint(this.turnedOutline, inHalfPlane(p));
  }

  distance(p: Vec3): number {
    return this.isEmpty ? Number.POSITIVE_INFINITY : distanceToRegion(this.turnedOutline, inHalfPlane(p));
  }

  cutTurned(swept: Region): Body {
    return turnedBody(simplifyRegion(subtractRegion(this.turnedOutline, swept)));
  }

  turnedDownTo(outline: Region): Body {
    return turnedBody(outline);
  }

  within(ground: Region): Body {
    return turnedBody(intersectRegions(this.turnedOutline, ground));
  }

  movedAlong(by: number): Body {
    return by === 0 ? this : turnedBody(shiftRegion(this.turnedOutline, by));
  }

  placed(along: (x: number) => number, turnsRound: boolean): Body {
    return turnedBody(mapRegion(this.turnedOutline, (p) => point(along(p.x), p.y), turnsRound));
  }
}

const volumeOf = onceFor(regionVolume);

/** Where a place lies in the half plane that goes through it. */
const inHalfPlane = ([x, y, z]: Vec3): Point => point(x, Math.hypot(y, z));

const distanceToRegion = (region: Region, p: Point): number =>
  containsPoint(region, p)
    ? 0
    : Math.min(
        ...region.flatMap((ring) =>
          ring.map((q, i) => {
            const before = ring[(i + ring.length - 1) % ring.length];
            return distance(before, q) < 1e-12 ? distance(p, q) : distanceToCurve(line(before, q), p);
          }),
        ),
      );

/** The body of a half-section that was only turned; the same one for the same half-section. */
export const turnedBody: (outline: Region) => Body = onceFor((outline: Region): Body => new TurnedBody(outline));

/** Nothing at all. */
export const NO_BODY = turnedBody([]);
