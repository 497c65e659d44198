import { z } from 'zod';
import { number, place, size } from '../units';

export const AxisNameSchema = z.enum(['X', 'Y', 'Z', 'A', 'B', 'C']);
export type AxisName = z.infer<typeof AxisNameSchema>;

export const positive = number(0.001, 1e6);
export const id = z.string().min(1).max(40);

/** A point, or a direction, in machine coordinates with every joint at 0: Z away from the main chuck, X up in the drawing. */
export const Vec3Schema = z.tuple([place(), place(), place()]);

/** How a link moves against its parent: a slide along `direction`, or a turn about it through `origin`. */
const JointSchema = z.object({
  /** What the trade calls it (ISO 841): X across, Z along, C about Z, B about Y. Its word in a program is the channel's. */
  axis: AxisNameSchema,
  kind: z.enum(['linear', 'rotary']),
  direction: Vec3Schema,
  origin: Vec3Schema.default([0, 0, 0]),
  /** mm, or degrees; a rotary joint without them turns on without end. */
  min: place().nullable().default(null),
  max: place().nullable().default(null),
  /** mm/min or degrees/min. */
  rapid: positive,
  /** mm/s² or degrees/s². */
  acceleration: positive,
  /** Where it stands when it is not told to go elsewhere: a slide that holds the work works there. */
  home: place().default(0),
  /** Seconds to clamp or to free it; 0 for one that is not clamped. */
  clamp: number(0, 60, 's').default(0),
});
export type Joint = z.infer<typeof JointSchema>;

/** What a link looks like, in machine coordinates with every joint at 0. */
const ShapeSchema = z.discriminatedUnion('form', [
  z.object({ form: z.literal('box'), from: Vec3Schema, to: Vec3Schema }),
  z.object({
    form: z.literal('cylinder'),
    at: Vec3Schema,
    direction: Vec3Schema,
    radius: size(5000),
    length: size(20_000),
  }),
  z.object({
    form: z.literal('cone'),
    at: Vec3Schema,
    direction: Vec3Schema,
    radius: size(5000),
    endRadius: number(0, 5000, 'mm'),
    length: size(20_000),
  }),
]);

export const LinkSchema = z.object({
  id,
  /** The link that it stands on; none for the bed. */
  parent: id.nullable(),
  joint: JointSchema.nullable().default(null),
  role: z.enum(['bed', 'slide', 'spindle', 'carrier', 'tailstock', 'steady', 'guide-bush', 'door']).default('slide'),
  shapes: z.array(ShapeSchema).max(40).default([]),
});
export type Link = z.infer<typeof LinkSchema>;
