import { point } from '../geometry';
import { closeOperation, type EventList, openOperation } from './events';
import type { Cutting, Seen } from './types';

/** Work on the axis: from the tool change position in front of all metal first, then to the hole, and out the same way. */
export const workOnAxis = (
  list: EventList,
  seen: Seen,
  cutting: Cutting,
  clearance: number,
  work: () => void,
): void => {
  openOperation(list, seen, cutting);
  const gate = Math.max(seen.metal.top(-1e4, 1e4) + seen.place.safeDistance, clearance);
  if (gate > clearance + 1e-6) list.rapid('approach', point(gate, 0));
  list.rapid('approach', point(clearance, 0));
  work();
  if (gate > clearance + 1e-6) list.rapid('retract', point(gate, 0));
  closeOperation(list, seen);
};
