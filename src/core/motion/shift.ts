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
