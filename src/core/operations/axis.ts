import { point } from '../geometry';
import { closeOperation, type EventList, openOperation } from './events';
import type { Need } from './kind';
import { type Cutting, type Field, type Seen, topOver } from './types';

/** The field for staying at the bottom of a hole, and what it may hold. */
export const dwellField = (help: string): Field => ({
  key: 'params.dwell',
  label: 'Dwell at depth',
  group: 'Cut',
  help,
  input: { kind: 'number', unit: 's', step: 0.1 },
});
export const needDwell = (need: Need, seconds: number): void =>
  need(seconds >= 0 && seconds <= 60, 'Dwell at depth', seconds, '0 to 60 s');

/** Work on the axis: from the tool change position in front of all metal first, then to the hole, and out the same way. */
export const workOnAxis = (
  list: EventList,
  seen: Seen,
  cutting: Cutting,
  clearance: number,
  work: () => void,
  direction: 'forward' | 'reverse' = seen.section.spindle,
): void => {
  openOperation(list, seen, cutting, seen.section.tip, direction);
  const gate = Math.max(topOver(seen, -1e4, 1e4) + seen.place.safeDistance, clearance);
  if (gate > clearance + 1e-6) list.rapid('approach', point(gate, 0));
  list.rapid('approach', point(clearance, 0));
  work();
  if (gate > clearance + 1e-6) list.rapid('retract', point(gate, 0));
  closeOperation(list, seen);
};
