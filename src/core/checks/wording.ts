import type { Wording } from '../findings';
import type { PartProblem } from '../part';

/** A number as people read it. */
const n = (value: number | string | undefined, digits = 2): string =>
  typeof value === 'number' ? String(Number(value.toFixed(digits))) : String(value ?? '?');

const SIDES = { outer: 'Outer contour', inner: 'Inner contour', back: 'Bore from the back' } as const;
const place = (p: PartProblem): string => `${SIDES[p.side]}${p.row ? `, row ${p.row}` : ''}`;

export const wordPartProblem = (p: PartProblem): Wording => {
  const k = p.numbers;
  switch (p.code) {
    case 'empty':
      return {
        message: `${place(p)}: there are no elements.`,
        remedy: 'Add a first row, or drop a DXF drawing on the page.',
      };
    case 'arc-impossible':
      return {
        message: `${place(p)}: no arc of radius ${n(k.radius)} joins these ends.`,
        remedy: `The radius must be at least ${n(k.least, 3)} mm.`,
      };
    case 'radius-negative':
      return {
        message: `${place(p)}: the radius is ${n(k.radius)}.`,
        remedy: 'Type a radius above 0; turn the arc with its direction.',
      };
    case 'corner-does-not-fit':
      return {
        message: `${place(p)}: a corner of ${n(k.size)} mm does not fit between its neighbours.`,
        remedy: 'Make it smaller, or lengthen the elements beside it.',
      };
    case 'below-axis':
      return {
        message: `${place(p)}: the contour goes below the axis (⌀${n(k.diameter)}).`,
        remedy: 'Keep every diameter at 0 or above.',
      };
    case 'self-crossing':
      return {
        message: `The contour crosses itself near Z${n(p.at?.x)} ⌀${n((p.at?.y ?? 0) * 2)}.`,
        remedy: 'Check the rows there: order, direction and corner sizes.',
      };
    case 'open':
      return {
        message: `The contour is open by ${n(k.gap, 3)} mm at Z${n(p.at?.x)} ⌀${n((p.at?.y ?? 0) * 2)}.`,
        remedy: 'Let both contours meet there, or end on the axis.',
      };
    case 'no-volume':
      return {
        message: 'The contour encloses no metal.',
        remedy: 'Draw it from the front over the outside to the back.',
      };
    case 'zero-length':
      return { message: `${place(p)}: the element has no length.`, remedy: 'Change its end or delete the row.' };
    case 'inner-outside':
      return {
        message: `${place(p)}: the bore lies outside the part.`,
        remedy: 'Make it smaller than the outer contour.',
      };
    case 'not-finite':
      return { message: `${place(p)}: a value is not a number.`, remedy: 'Type a number.' };
    case 'shape-does-not-fit':
      return {
        message: `${place(p)}: the standard shape cannot be made, because ${n(k.reason)}.`,
        remedy: 'Change its size or place, or the rows beside it.',
      };
    case 'under-determined':
      return { message: `${place(p)}: too little is given.`, remedy: `Give ${n(k.give)}.` };
    case 'over-determined':
      return {
        message: `${place(p)}: too much is given, and it does not agree: the ${n(k.value)} is off by ${n(k.off, 4)}.`,
        remedy: `Empty the ${n(k.value)}, or one of the other values.`,
      };
    case 'no-solution':
      return {
        message: `${place(p)}: with this ${n(k.value)} the row never gets there.`,
        remedy: 'Check the direction and the values of this row.',
      };
    case 'formula':
      return p.row
        ? {
            message: `${place(p)}: the formula for ${n(k.name)} cannot be computed: ${n(k.reason)}.`,
            remedy: 'Correct the formula, or type a number.',
          }
        : { message: `Dimension “${n(k.name)}” cannot be computed: ${n(k.reason)}.`, remedy: 'Correct its formula.' };
    default:
      return p.code satisfies never;
  }
};
