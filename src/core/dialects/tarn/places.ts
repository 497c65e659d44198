import { type MotionEvent, shiftEvent } from '../../motion';

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
