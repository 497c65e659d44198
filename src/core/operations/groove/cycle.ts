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
  /** Z of the programmed tip at each plunge. */
  readonly places: readonly number[];
}

/** The plunges of a groove as the control's cycle makes them, or why it cannot. */
export const grooveCycle = (
  op: GrooveOperation,
  seen: Seen,
  room: GrooveRoom,
  rough: { readonly from: number; readonly to: number },
  step: number,
  frame: Frame,
): GrooveCycle | { readonly reason: string } => {
  const { params } = op;
  const { tip } = seen.section;
  const { grid, safeDistance } = seen.place;
  if (frame.name === 'face') return { reason: 'the cycle plunges in X, and a groove in a face runs along Z' };
  if (params.dwell > 0) return { reason: 'the cycle does not dwell' };
  const back = seen.place.cycleRetract ?? BACK;
  if (params.peck > 0 && params.peck <= back) return { reason: `its way back of ${back} mm is as long as a peck` };
  // programmed places on the control's grid, inside the walls
  const first = Math.floor((rough.to + tip.x) / grid + 1e-3) * grid;
  const last = Math.ceil((rough.from + tip.x) / grid - 1e-3) * grid;
  const width = Math.max(0, first - last);
  const count = Math.max(1, Math.ceil(width / step - 1e-9));
  const pitch = Math.ceil(width / count / grid - 1e-3) * grid;
  const places = [first];
  while (width > 0 && first - places.length * pitch > last + 1e-9) places.push(first - places.length * pitch);
  if (width > 1e-9) places.push(last);
  const heights = places.map((z) =>
    heightAt(room.floor, Math.min(rough.to - HAIR, Math.max(rough.from + HAIR, z - tip.x))),
  );
  const low = Math.min(...heights.map((h) => h ?? Number.NaN));
  const high = Math.max(...heights.map((h) => h ?? Number.NaN));
  if (!(high - low < LEVEL)) return { reason: 'its plunges are all of one depth, and this floor is not level' };
  // X words count diameters: radii on half the grid, away from the floor and from the metal
  const radius = (v: number): number => frame.map(point(0, v)).y + tip.y;
  const out = radius(1) > radius(0) ? 1 : -1;
  const away = (r: number): number => (out * Math.ceil((out * r * 2) / grid - 1e-6) * grid) / 2;
  const start = { X: away(radius(room.top + room.rho + safeDistance)), Z: first };
  const end = { X: away(radius(high)), Z: places[places.length - 1] };
  const total = Math.abs(start.X - end.X);
  const peck = params.peck > 0 ? Math.round(params.peck * 1000) / 1000 : Math.ceil(total * 1000 - 1e-6) / 1000;
  return {
    cycle: { kind: 'groove-pecks', start, end, peck, step: pitch, back, feed: op.cutting.feed },
    places,
  };
};

/** The moves of the cycle, one after another, between its begin and its end. */
export const writeGrooveCycle = (list: EventList, { cycle, places }: GrooveCycle, tip: Point): void => {
  const at = (X: number, Z: number): Point => point(Z - tip.x, X - tip.y);
  const { start, end, peck, back } = cycle;
  const way = Math.sign(end.X - start.X);
  list.rapid('approach', at(start.X, start.Z));
  list.add('cut', { kind: 'cycle', cycle });
  for (const z of places) {
    list.rapid('link', at(start.X, z));
    let from = start.X;
    let deep = start.X;
    while (way * (end.X - deep) > 1e-9) {
      deep = way * (end.X - deep) > peck + 1e-9 ? deep + way * peck : end.X;
      list.feed('cut', [line(at(from, z), at(deep, z))], perRev(cycle.feed));
      from = deep - way * back;
      if (way * (end.X - deep) > 1e-9) list.rapid('cut', at(from, z));
    }
    list.rapid('retract', at(start.X, z));
  }
  list.rapid('link', at(start.X, start.Z));
  list.add('cut', { kind: 'cycle-end' });
};
