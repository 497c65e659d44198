import { type ContourBlock, type MotionEvent, shiftEvent } from '../../motion';

type WorkOffset = Extract<MotionEvent, { kind: 'work-offset' }>;

/** The zero that an operation names, whose events begin at `from`; none for one that moves no tool. */
export const zeroOf = (events: readonly MotionEvent[], from: number): WorkOffset | null => {
  const { op } = events[from];
  for (let i = from; i < events.length && events[i].op === op; i++) {
    const e = events[i];
    if (e.kind === 'work-offset') return e;
  }
  return null;
};

/** Places as their words have them: from the zero that is in force. */
export const fromOwnZeros = (events: readonly MotionEvent[]): readonly MotionEvent[] => {
  if (!events.some((e) => e.kind === 'work-offset' && e.shift)) return events;
  let shift = 0;
  let op: string | null = null;
  return events.map((e, i) => {
    if (e.op !== op) {
      op = e.op;
      shift = zeroOf(events, i)?.shift ?? 0;
    }
    return shift === 0 ? e : shiftEvent(e, -shift);
  });
};

/** A place as the machine has it where the part's Z runs the other way. */
const turnedPlace = <P extends { readonly Z?: number }>(p: P): P => (p.Z === undefined ? p : { ...p, Z: -p.Z });

const turnedBlock = (b: ContourBlock): ContourBlock =>
  b.kind === 'line' ? turnedPlace(b) : { ...turnedPlace(b), centreZ: -b.centreZ, clockwise: !b.clockwise };

/**
 * An event at a spindle that faces the main one, as the machine's axes have it: its Z runs the other way. Cycles count on
 * the main spindle's way: there their moves are written.
 */
export const facingSub = (e: MotionEvent): MotionEvent => {
  switch (e.kind) {
    case 'rapid':
    case 'feed':
    case 'thread':
      return { ...e, to: turnedPlace(e.to) };
    case 'arc':
      return { ...e, to: turnedPlace(e.to), centre: turnedPlace(e.centre), clockwise: !e.clockwise };
    case 'compensation':
      return e.side === 'off'
        ? e
        : { ...e, side: e.side === 'left' ? 'right' : 'left', contour: e.contour.map(turnedBlock) };
    case 'cycle':
      return { op: e.op, purpose: e.purpose, kind: 'cycle-end' };
    default:
      return e;
  }
};
