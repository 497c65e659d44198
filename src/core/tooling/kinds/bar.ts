import { z } from 'zod';
import { type Point, point } from '../../geometry';
import { HandSchema, length, SLENDER, type ToolField } from '../kind';
import { box, type ToolSection, TURRET } from '../section';

/** A bar that holds an insert across its front, for work in a bore. */
export const BarSchema = z.object({
  kind: z.literal('bar'),
  hand: HandSchema.default('right'),
  diameter: length(),
  /** Edge to the bar's own axis, mm. */
  noseToAxis: length(),
  material: z.enum(['steel', 'carbide', 'damped']).default('steel'),
});
type Bar = z.infer<typeof BarSchema>;

/** A bar of some stick-out with its axis at `axis`, from `front` on, in its carrier; the tip as the program names it. */
export const barBodies = (
  bar: Bar,
  stickOut: number,
  axis: number,
  front: number,
  tip: Point,
): Pick<ToolSection, 'holder' | 'turret' | 'gauge' | 'spindle'> => {
  const r = bar.diameter / 2;
  const below = axis - TURRET.below;
  return {
    holder: [box(front, axis - r, stickOut + 2, axis + r)],
    turret: [box(stickOut, below, stickOut + 2 * TURRET.halfThickness, below + TURRET.depth)],
    gauge: point(stickOut - tip.x, axis - tip.y),
    // a left-hand bar cuts the same section with its rake on the other side: only the spindle turns the other way
    spindle: bar.hand === 'left' ? 'reverse' : 'forward',
  };
};

/** How far a bar stands out in its own diameters, and what stays still. */
export const barSlender = (bar: Bar, stickOut: number) => ({
  ratio: stickOut / bar.diameter,
  ...SLENDER[bar.material],
});

export const barFields: readonly ToolField[] = [
  {
    key: 'holder.hand',
    label: 'Hand',
    help: 'A left-hand bar cuts with the spindle turning the other way.',
    input: { options: ['right', 'left'] },
  },
  { key: 'holder.diameter', label: 'Bar ⌀', help: 'Diameter of the bar.', input: 'length' },
  { key: 'holder.noseToAxis', label: 'Edge to axis', help: 'From the edge to the bar’s own axis.', input: 'length' },
  {
    key: 'holder.material',
    label: 'Bar of',
    help: 'Steel may stick out 4 diameters, carbide 6, a damped bar 10.',
    input: { options: ['steel', 'carbide', 'damped'] },
  },
];

/** Hand and size of a square shank that stands beside its insert. */
export const ShankSchema = z.object({
  kind: z.literal('shank'),
  hand: HandSchema.default('right'),
  /** Side of the square shank, mm. */
  side: length().default(20),
});

export const shankFields: readonly ToolField[] = [
  {
    key: 'holder.hand',
    label: 'Hand',
    help: 'On which side of the insert the shank stands.',
    input: { options: ['right', 'left'] },
  },
  { key: 'holder.side', label: 'Shank', help: 'Side of the square shank.', input: 'length' },
];
