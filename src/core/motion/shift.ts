import type { ContourBlock, CycleSpec, MotionEvent } from './events';

const place = <P extends { readonly Z?: number }>(p: P, by: number): P =>
  p.Z === undefined ? p : { ...p, Z: p.Z + by };

const block = (b: ContourBlock, by: number): ContourBlock =>
  b.kind === 'line' ? place(b, by) : { ...place(b, by), centreZ: b.centreZ + by };

const cycle = (c: CycleSpec, by: number): CycleSpec => {
  switch (c.kind) {
    case 'rough-levels':
    case 'rough-pattern':
    case 'finish-contour':
      return { ...c, contour: c.contour.map((b) => block(b, by)), start: place(c.start, by) };
    case 'thread':
    case 'groove-pecks':
      return { ...c, start: place(c.start, by), end: place(c.end, by) };
    case 'thread-passes':
      return { ...c, start: place(c.start, by), endZ: c.endZ + by };
    case 'tap':
      return { ...c, start: c.start + by, depth: c.depth + by };
    case 'peck':
      return { ...c, start: c.start + by, clearance: c.clearance + by, depth: c.depth + by };
    default:
      return c satisfies never;
  }
};

/** A place on the other side of the axis. */
const acrossAxis = <P extends { readonly X?: number }>(p: P): P => (p.X === undefined ? p : { ...p, X: -p.X });

/** The same list with X turned over: at work beyond the centre line. Cycles count on the usual side: there their moves are written. */
export const beyondCentre = (events: readonly MotionEvent[]): readonly MotionEvent[] =>
  events.map((e): MotionEvent => {
    switch (e.kind) {
      case 'rapid':
      case 'feed':
        return { ...e, to: acrossAxis(e.to) };
      case 'thread':
        return {
          ...e,
          to: acrossAxis(e.to),
          ...(e.crest ? { crest: [acrossAxis(e.crest[0]), acrossAxis(e.crest[1])] } : {}),
        };
      case 'arc':
        return { ...e, to: acrossAxis(e.to), centre: acrossAxis(e.centre), clockwise: !e.clockwise };
      case 'compensation':
        return e.side === 'off'
          ? e
          : {
              ...e,
              side: e.side === 'left' ? 'right' : 'left',
              contour: e.contour.map((b) =>
                b.kind === 'line' ? { ...b, X: -b.X } : { ...b, X: -b.X, centreX: -b.centreX, clockwise: !b.clockwise },
              ),
            };
      case 'cycle':
        return { op: e.op, purpose: e.purpose, kind: 'cycle-end' };
      default:
        return e;
    }
  });

/** The same event so many mm further along Z. */
export const shiftEvent = (e: MotionEvent, by: number): MotionEvent => {
  switch (e.kind) {
    case 'rapid':
    case 'feed':
      return { ...e, to: place(e.to, by) };
    case 'thread':
      return {
        ...e,
        to: place(e.to, by),
        ...(e.crest ? { crest: [place(e.crest[0], by), place(e.crest[1], by)] } : {}),
      };
    case 'arc':
      return { ...e, to: place(e.to, by), centre: place(e.centre, by) };
    case 'compensation':
      return { ...e, contour: e.contour.map((b) => block(b, by)) };
    case 'cycle':
      return { ...e, cycle: cycle(e.cycle, by) };
    default:
      return e;
  }
};
