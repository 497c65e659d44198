import { heightAt, line, type Point, point } from '../../geometry';
import type { CycleSpec } from '../../motion';
import type { EventList } from '../events';
import { perRev } from '../events';
import type { Frame } from '../frame';
import type { Seen } from '../types';
import type { GrooveRoom } from './room';
import type { GrooveOperation } from './schema';

/** Plunges that differ in depth by less than this are of one depth, mm. */
const LEVEL = 1e-3;
/** A place right at a wall is looked at so far inside, mm. */
const HAIR = 1e-6;
/** Way back after a peck where the control lets the program say it, mm. */
const BACK = 0.3;

export interface GrooveCycle {
  readonly cycle: Extract<CycleSpec, { kind: 'groove-pecks' }>;
  /** The programmed tip across the plunges, at each of them: Z, or the radius where they run along Z. */
  readonly places: readonly number[];
}

/** The plunges of a groove as the control's cycle makes them, or why it cannot; the first one from the side that is said. */
export const grooveCycle = (
  op: GrooveOperation,
  seen: Seen,
  room: GrooveRoom,
  rough: { readonly from: number; readonly to: number },
  step: number,
  frame: Frame,
  begins: 'left' | 'right',
): GrooveCycle | { readonly reason: string } => {
  const { params } = op;
  const { tip } = seen.section;
  const { grid, safeDistance } = seen.place;
  const face = frame.name === 'face';
  if (params.dwell > 0) return { reason: 'the cycle does not dwell' };
  const back = seen.place.cycleRetract ?? BACK;
  if (params.peck > 0 && params.peck <= back) return { reason: `its way back of ${back} mm is as long as a peck` };
  // X words count diameters: radii lie on half the grid
  const [across, along] = face ? [grid / 2, grid] : [grid, grid / 2];
  const offset = face ? tip.y : tip.x;
  // programmed places on the control's grid, inside the walls
  const right = Math.floor((rough.to + offset) / across + 1e-3) * across;
  const left = Math.ceil((rough.from + offset) / across - 1e-3) * across;
  const [first, last] = begins === 'right' ? [right, left] : [left, right];
  const way = Math.sign(last - first);
  const width = Math.max(0, right - left);
  const count = Math.max(1, Math.ceil(width / step - 1e-9));
  const pitch = Math.ceil(width / count / grid - 1e-3) * grid;
  const places = [first];
  while (width > 0 && places.length * pitch < width - 1e-9) places.push(first + way * places.length * pitch);
  if (width > 1e-9) places.push(last);
  const heights = places.map((p) =>
    heightAt(room.floor, Math.min(rough.to - HAIR, Math.max(rough.from + HAIR, p - offset))),
  );
  const low = Math.min(...heights.map((h) => h ?? Number.NaN));
  const high = Math.max(...heights.map((h) => h ?? Number.NaN));
  if (!(high - low < LEVEL)) return { reason: 'its plunges are all of one depth, and this floor is not level' };
  const deep = (v: number): number => (face ? v + tip.x : frame.out(point(0, v)).y + tip.y);
  const out = deep(1) > deep(0) ? 1 : -1;
  const away = (r: number): number => out * Math.ceil((out * r) / along - 1e-6) * along;
  const placed = (depth: number, place: number) => (face ? { X: place, Z: depth } : { X: depth, Z: place });
  const top = away(deep(room.top + room.rho + safeDistance));
  const bottom = away(deep(high));
  const total = Math.abs(top - bottom);
  const peck = params.peck > 0 ? Math.round(params.peck * 1000) / 1000 : Math.ceil(total * 1000 - 1e-6) / 1000;
  return {
    cycle: {
      kind: 'groove-pecks',
      along: face ? 'z' : 'x',
      start: placed(top, first),
      end: placed(bottom, places[places.length - 1]),
      peck,
      step: pitch,
      back,
      feed: op.cutting.feed,
    },
    places,
  };
};

/** The moves of the cycle, one after another, between its begin and its end. */
export const writeGrooveCycle = (list: EventList, { cycle, places }: GrooveCycle, tip: Point): void => {
  const face = cycle.along === 'z';
  const at = (depth: number, place: number): Point =>
    face ? point(depth - tip.x, place - tip.y) : point(place - tip.x, depth - tip.y);
  const [top, bottom] = face ? [cycle.start.Z, cycle.end.Z] : [cycle.start.X, cycle.end.X];
  const { peck, back } = cycle;
  const way = Math.sign(bottom - top);
  list.rapid('approach', at(top, places[0]));
  list.add('cut', { kind: 'cycle', cycle });
  for (const place of places) {
    list.rapid('link', at(top, place));
    let from = top;
    let deep = top;
    while (way * (bottom - deep) > 1e-9) {
      deep = way * (bottom - deep) > peck + 1e-9 ? deep + way * peck : bottom;
      list.feed('cut', [line(at(from, place), at(deep, place))], perRev(cycle.feed));
      from = deep - way * back;
      if (way * (bottom - deep) > 1e-9) list.rapid('cut', at(from, place));
    }
    list.rapid('retract', at(top, place));
  }
  list.rapid('link', at(top, places[0]));
  list.add('cut', { kind: 'cycle-end' });
};
