import {
  type Curve,
  inflateRegion,
  intersectCurves,
  intersectRegions,
  line,
  onceFor,
  onceForEach,
  parameterOf,
  point,
  type Region,
  type RoundedPolygon,
  rectangle,
  regionBounds,
  Surface,
  throughLips,
  trimCurve,
  unionRegions,
  VOID,
} from '../geometry';
import { FACE_BACK, type Frame, OUTER, regionInto, surfaceOf } from './frame';
import { Metal } from './metal';
import { viewOf } from './turning';
import type { Seen } from './types';

/**
 * A face that looks toward the chuck is seen from behind: what stands further toward the chuck would hide it, and is left out
 * of that picture. It is the wall of the slot that the tool works in, and no part of the tool may meet it.
 */

/** A floor that rises less than this is still the floor of a slot, mm. */
const LEVEL = 1e-3;
/** What rises by this behind the floor is a wall, mm. */
const WALL = 0.5;
/** Room kept from the wall of a slot, mm. */
const ROOM = 0.2;

/** Where a slot behind a face ends. */
export interface Slot {
  /** Z of its wall; what lies further toward the chuck is not seen. */
  readonly wall: number;
  /** Radius of its floor at the wall. */
  readonly floor: number;
}

/**
 * The slot behind a face: from the face toward the chuck the first place where the work is lower than the face's rim, as far
 * as its lowest floor runs. Null where the work stands as high all the way: there is none yet.
 */
export const slotBehind = (metal: Region, face: number, rim: number): Slot | null => {
  const top = surfaceOf(metal, OUTER);
  let found: Slot | null = null;
  const look = (z: number, r: number): boolean => {
    if (r <= VOID || r > rim - WALL) return found === null || r < found.floor + WALL;
    if (!found || r <= found.floor + LEVEL) found = { wall: z, floor: Math.min(r, found?.floor ?? r) };
    return r < found.floor + WALL;
  };
  const { x, y } = top.upTo(face).corners;
  for (let i = x.length - 1; i >= 0; i--) {
    // behind the end of the work nothing is in the way
    if (y[i] <= VOID) break;
    if (!look(x[i], y[i])) break;
  }
  return found;
};

/** What a shaft behind a shoulder runs up to: the first place toward the chuck where the work stands higher; null where the shaft is not cut free. */
export const shaftBehind = (metal: Region, end: number, radius: number): Slot | null => {
  const top = surfaceOf(metal, OUTER);
  const { x, y } = top.upTo(end).corners;
  if (y.length === 0 || y[y.length - 1] > radius + WALL) return null;
  for (let i = x.length - 1; i >= 0; i--)
    if (y[i] > radius + WALL || y[i] <= VOID) return { wall: x[Math.min(i + 1, x.length - 1)], floor: radius };
  return { wall: x[0] - WALL, floor: radius };
};

/** Pieces of curves at or in front of a place along the axis. */
const inFrontOf = (curves: readonly Curve[], z: number): Curve[] =>
  curves.flatMap((c) => {
    const cuts = intersectCurves(c, line(point(z, -1e4), point(z, 1e4)))
      .map((p) => parameterOf(c, p))
      .filter((t) => t > 1e-9 && t < 1 - 1e-9)
      .sort((a, b) => a - b);
    return [0, ...cuts].flatMap((from, i, all) => {
      const piece = cuts.length === 0 ? c : trimCurve(c, from, all[i + 1] ?? 1);
      return Math.min(piece.from.x, piece.to.x) >= z - 1e-6 ? [piece] : [];
    });
  });

/** The part's boundary in front of a slot's wall, and the cut through the part there. */
export const boundaryBehind = onceForEach(
  (curves: readonly Curve[], { wall, part }: { readonly wall: number; readonly part: Region }): readonly Curve[] => {
    const reach = surfaceOf(part, OUTER).heightAt(wall, 1);
    return [...inFrontOf(curves, wall), ...(reach > 0 ? [line(point(wall, reach), point(wall, 0))] : [])];
  },
  ({ wall }) => wall,
);

const FAR = 1e4;

/** Work in front of a slot's wall as it is seen from behind. */
export const seenFromBehind = onceForEach(
  (metal: Region, { wall, lip, frame }: { readonly wall: number; readonly lip: number; readonly frame: Frame }) =>
    throughLips(regionInto(frame, intersectRegions(metal, rectangle(wall, 0, FAR, FAR))), lip),
  ({ wall, frame }) => `${frame.name} ${wall}`,
);

/** What stands behind a slot, with room around it, seen from the side: work and what holds it. */
export const wallOf = onceForEach(
  (metal: Region, { wall, fixtures }: { readonly wall: number; readonly fixtures: Region }): Surface => {
    const left = Math.min(regionBounds(metal).minX, fixtures.length > 0 ? regionBounds(fixtures).minX : 0);
    const behind = intersectRegions(metal, rectangle(left - 1, 0, wall, FAR));
    return Surface.of(inflateRegion(unionRegions(behind, fixtures), ROOM, 'mitre'));
  },
  ({ wall, fixtures }) => `${wall} ${fixtureName(fixtures)}`,
);

let named = 0;
const fixtureName = onceFor((_: Region): number => ++named);

/**
 * How much further from the wall the whole tool would have to stay on a way along a slot, mm: 0 where it has room.
 */
export const missingRoom = (seen: Seen, level: number, from: number, to: number): number => {
  const { slot } = seen;
  if (!slot) return 0;
  const view = viewOf(seen);
  const shapes: readonly RoundedPolygon[] = [...view.cutting, ...view.holder];
  const probe = new Metal(FACE_BACK, Surface.empty(), null, slot.wall);
  const free = (lower: number): boolean =>
    shapes.every((s) => probe.clears(s, point(from, level - lower), point(to, level - lower)));
  if (free(0)) return 0;
  let [low, high] = [0, 500];
  for (let k = 0; k < 20; k++) {
    const middle = (low + high) / 2;
    if (free(middle)) high = middle;
    else low = middle;
  }
  return high;
};
