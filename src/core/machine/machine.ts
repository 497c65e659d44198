import { z } from 'zod';

const positive = z.number().positive();

export const AxisNameSchema = z.enum(['X', 'Y', 'Z', 'A', 'B', 'C']);
export type AxisName = z.infer<typeof AxisNameSchema>;

const AxisSchema = z.object({
  /** Travel limits in mm (X as radius) or degrees, of the carrier's gauge point in machine coordinates. */
  min: z.number(),
  max: z.number(),
  /** mm/min or degrees/min. */
  rapid: positive,
  /** mm/s² or degrees/s². */
  acceleration: positive,
});

const SpindleSchema = z.object({
  id: z.string(),
  name: z.string(),
  maxSpeed: positive,
  /** kW at the motor. */
  power: positive,
  efficiency: z.number().min(0.1).max(1).default(0.8),
  /** Seconds from rest to top speed. */
  runUp: positive,
  /** Right-hand face of the chuck in machine Z, mm. */
  chuckFaceZ: z.number().default(0),
  chuckDiameter: positive.default(165),
  chuckLength: positive.default(80),
});

const CarrierSchema = z.object({
  id: z.string(),
  name: z.string(),
  stations: z.number().int().positive(),
  channel: z.string(),
  indexFixed: z.number().min(0),
  indexPerStation: z.number().min(0),
  axes: z.partialRecord(AxisNameSchema, AxisSchema),
});

export const MachineSchema = z.object({
  id: z.string(),
  name: z.string(),
  description: z.string().default(''),
  dialect: z.string(),
  spindles: z.array(SpindleSchema).min(1),
  carriers: z.array(CarrierSchema).min(1),
  channels: z.array(z.object({ id: z.string(), name: z.string() })).min(1),
  /** How G0 runs: every axis at its own speed (bent path) or all arriving together. */
  rapidPath: z.enum(['bent', 'straight']),
  /** Greatest sudden change of speed at a corner, mm/s (vector). */
  cornerJump: positive.default(20),
  mCodeTime: z.number().min(0).default(0.1),
  waitTime: z.number().min(0).default(0.05),
});

export type Machine = z.infer<typeof MachineSchema>;
export type Spindle = z.infer<typeof SpindleSchema>;
export type Carrier = z.infer<typeof CarrierSchema>;
export type MachineAxis = z.infer<typeof AxisSchema>;
