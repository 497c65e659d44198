import { z } from 'zod';
import { number, place, size } from '../units';

const positive = number(0.001, 1e6);

export const AxisNameSchema = z.enum(['X', 'Y', 'Z', 'A', 'B', 'C']);
export type AxisName = z.infer<typeof AxisNameSchema>;

const AxisSchema = z.object({
  /** Travel limits in mm (X as radius) or degrees, of the carrier's gauge point in machine coordinates. */
  min: place(),
  max: place(),
  /** mm/min or degrees/min. */
  rapid: positive,
  /** mm/s² or degrees/s². */
  acceleration: positive,
});

const SpindleSchema = z.object({
  id: z.string().max(40),
  name: z.string().max(120),
  maxSpeed: positive,
  /** kW at the motor. */
  power: positive,
  efficiency: z.number().min(0.1).max(1).default(0.8),
  /** Seconds from rest to top speed. */
  runUp: positive,
  /** Right-hand face of the chuck in machine Z, mm. */
  chuckFaceZ: place().default(0),
  chuckDiameter: size(5000).default(165),
  chuckLength: size(5000).default(80),
  /** Its chuck faces that of the main spindle: away from the chuck is −Z of the machine. */
  turned: z.boolean().default(false),
  /** Travel of a spindle that moves along Z: places of its chuck face, machine Z. It works with its chuck face at `chuckFaceZ`. */
  slide: AxisSchema.nullable().default(null),
});

const CarrierSchema = z.object({
  id: z.string().max(40),
  name: z.string().max(120),
  stations: z.number().int().min(1).max(200, 'it must be at most 200'),
  channel: z.string().max(40),
  /** It stands below the axis. */
  below: z.boolean().default(false),
  indexFixed: number(0, 600, 's'),
  indexPerStation: number(0, 600, 's'),
  axes: z.partialRecord(AxisNameSchema, AxisSchema),
});

export const MachineSchema = z.object({
  id: z.string().max(40),
  name: z.string().max(120),
  description: z.string().max(2000).default(''),
  dialect: z.string().max(40),
  spindles: z.array(SpindleSchema).min(1).max(12),
  carriers: z.array(CarrierSchema).min(1).max(24),
  channels: z
    .array(z.object({ id: z.string().max(40), name: z.string().max(120) }))
    .min(1)
    .max(12),
  /** How G0 runs: every axis at its own speed (bent path) or all arriving together. */
  rapidPath: z.enum(['bent', 'straight']),
  /** Greatest sudden change of speed at a corner, mm/s (vector). */
  cornerJump: positive.default(20),
  mCodeTime: number(0, 600, 's').default(0.1),
  waitTime: number(0, 600, 's').default(0.05),
});

export type Machine = z.infer<typeof MachineSchema>;
export type Spindle = z.infer<typeof SpindleSchema>;
export type Carrier = z.infer<typeof CarrierSchema>;
