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

type Axis = 'X' | 'Z';

const mirroredPlace = <P extends Partial<Record<Axis, number>>>(p: P, axis: Axis): P => {
  const v = p[axis];
  return v === undefined ? p : { ...p, [axis]: -v };
};

const mirroredBlock = (b: ContourBlock, axis: Axis): ContourBlock => {
  const placed = mirroredPlace(b, axis);
  if (placed.kind === 'line') return placed;
  const centre = axis === 'X' ? { centreX: -placed.centreX } : { centreZ: -placed.centreZ };
  return { ...placed, ...centre, clockwise: !placed.clockwise };
};

/**
 * An event as it is with X or Z running the other way: at work beyond the centre line, or at a spindle that faces the main one.
 * Cycles count on the usual way: there their moves are written.
 */
export const mirroredEvent = (e: MotionEvent, axis: Axis): MotionEvent => {
  switch (e.kind) {
    case 'rapid':
    case 'feed':
      return { ...e, to: mirroredPlace(e.to, axis) };
    case 'thread':
      return {
        ...e,
        to: mirroredPlace(e.to, axis),
        ...(e.crest ? { crest: [mirroredPlace(e.crest[0], axis), mirroredPlace(e.crest[1], axis)] } : {}),
      };
    case 'arc':
      return {
        ...e,
        to: mirroredPlace(e.to, axis),
        centre: mirroredPlace(e.centre, axis),
        clockwise: !e.clockwise,
      };
    case 'compensation':
      return e.side === 'off'
        ? e
        : {
            ...e,
            side: e.side === 'left' ? 'right' : 'left',
            contour: e.contour.map((b) => mirroredBlock(b, axis)),
          };
    case 'cycle':
      return { op: e.op, purpose: e.purpose, kind: 'cycle-end' };
    default:
      return e;
  }
};

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
