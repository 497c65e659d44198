import { z } from 'zod';
import { number, size } from '../units';
import { id, LinkSchema, positive, Vec3Schema } from './links';

export const MACHINE_FORMAT = 'lively-spindle-machine';
export const MACHINE_VERSION = 2;

const SpindleSchema = z.object({
  id,
  name: z.string().max(120),
  /** The link that turns with the work. */
  link: id,
  /** Middle of the chuck's face, and the way away from the chuck, with every joint at 0. */
  face: z.object({ at: Vec3Schema, direction: Vec3Schema }),
  maxSpeed: positive,
  /** kW at the motor, from the base speed up. */
  power: positive,
  /** Nm at the motor, up to the base speed; none where the power is there from the first turn. */
  torque: number(0.01, 100_000, 'Nm').nullable().default(null),
  efficiency: z.number().min(0.1).max(1).default(0.8),
  /** Seconds from rest to top speed. */
  runUp: positive,
  chuckDiameter: size(5000).default(165),
  chuckLength: size(5000).default(80),
  /** Guide bush in front of the chuck: the work is cut close to it. */
  bush: z
    .object({ link: id, length: size(500) })
    .nullable()
    .default(null),
});

const CarrierSchema = z.object({
  id,
  name: z.string().max(120),
  /** The link that holds the tools. */
  link: id,
  stations: z.number().int().min(1).max(200, 'it must be at most 200'),
  /** Where a tool is measured from, with every joint at 0: the stations' own places lie from there. */
  at: Vec3Schema.default([0, 0, 0]),
  /** Stations that stand elsewhere than at `at`, from it: the tools of a gang. */
  places: z.record(z.string().max(4), Vec3Schema).default({}),
  /** Which spindles its tools can work at; none named: all. */
  reaches: z.array(id).max(12).default([]),
  /** How another tool comes to work: the turret turns, the slide goes there, or the head changes it. */
  index: z.discriminatedUnion('kind', [
    z.object({
      kind: z.literal('turret'),
      fixed: number(0, 600, 's'),
      perStation: number(0, 600, 's'),
      /** From the turret's axis, along which it turns, to a station's place, mm; null where it is not known. */
      radius: size(2000).nullable().default(null),
    }),
    z.object({ kind: z.literal('slide') }),
    z.object({ kind: z.literal('magazine'), change: number(0, 600, 's') }),
  ]),
  /** Drive of turning tools. */
  live: z.object({ maxSpeed: positive, power: positive, runUp: positive }).nullable().default(null),
});

/** Sizes of a live centre and its quill where a machine does not say its own, mm. */
const USUAL_CENTRE = { point: 12, nose: 42, body: { diameter: 44, length: 60 }, quill: { diameter: 60, length: 120 } };
/** The same of a steady rest. */
const USUAL_REST = { width: 24, diameter: 260 };

const round = z.object({ diameter: positive, length: positive });

const DeviceSchema = z.object({
  id,
  name: z.string().max(120),
  kind: z.enum(['bar-feeder', 'catcher', 'tailstock', 'steady', 'conveyor', 'other']),
  link: id.nullable().default(null),
  /** Of a tailstock: its live centre of 60°, the slim nose behind the point, the body and the quill. */
  centre: z.object({ point: positive, nose: positive, body: round, quill: round }).optional(),
  /** Of a steady rest: how wide its rollers are and how far its arms reach out. */
  rest: z.object({ width: positive, diameter: positive }).optional(),
});

/** Sizes of the live centre of a tailstock. */
export const centreOf = (device: Device) => device.centre ?? USUAL_CENTRE;
/** Whether a device is called on for itself: the others belong to operations of their own. */
export const isCalled = (device: Device): boolean => ['catcher', 'conveyor', 'other'].includes(device.kind);
/** Sizes of a steady rest. */
export const restOf = (device: Device) => device.rest ?? USUAL_REST;

const ChannelSchema = z.object({
  id,
  name: z.string().max(120),
  /** The carrier whose tools it calls. */
  carrier: id.nullable(),
  /** Spindles that it may command. */
  spindles: z.array(id).max(12),
  devices: z.array(id).max(24).default([]),
  /** The word of each joint that it moves, by the joint's link. */
  words: z.record(id, z.string().regex(/^[A-Z][0-9]?$/, 'it must be a letter, or a letter and a digit')),
});

const mCode = z.string().regex(/^M\d{1,3}$/, 'it must be M and a number of up to three digits, such as M70');

/** Codes of a machine where they differ from those that its control has by itself. */
const MachineCodesSchema = z.object({
  /** By device and action, such as `chuck main open`. */
  devices: z.record(z.string().min(1).max(100), mCode).optional(),
  /** Of spindles, by their names; what is left out stays the control's. */
  spindles: z.record(id, z.object({ forward: mCode, reverse: mCode, stop: mCode }).partial()).optional(),
  /** How a second spindle follows the main one, and moves along its slide. */
  second: z
    .object({
      spindle: id,
      follow: mCode,
      leave: mCode,
      /** Letter of the place of its chuck face. */
      letter: z.string().regex(/^[ABCEHVY]$/, 'it must be one of A, B, C, E, H, V and Y'),
      limit: mCode,
      unlimit: mCode,
    })
    .partial()
    .optional(),
  coolantOn: mCode.optional(),
  coolantOff: mCode.optional(),
  stop: mCode.optional(),
  optionalStop: mCode.optional(),
});
export type MachineCodes = z.infer<typeof MachineCodesSchema>;

/** How the control of one machine is set up, where that differs from what its control has by itself. */
export const ControlSetupSchema = z.object({
  /** Decimals of lengths and of feeds. */
  decimals: z.number().int().min(3).max(5).optional(),
  feedDecimals: z.number().int().min(3).max(5).optional(),
  /** Heads of the roughing cycles: depth and retract in a block before, or the depth in the one block; none are written. */
  roughing: z.enum(['two-block', 'one-block', 'none']).optional(),
  /** Retract of roughing where the program does not say it, mm: a setting of the control. */
  retract: z.number().min(0.05).max(5).optional(),
  /** Head of the threading cycle, or plain passes. */
  threading: z.enum(['two-block', 'one-block', 'none']).optional(),
  /** Whether drilling and grooving by pecks may be cycles. */
  peck: z.boolean().optional(),
  /** Wait codes are M and this number plus the mark's. */
  waitBase: z.number().int().min(100).max(900).optional(),
});
export type ControlSetup = z.infer<typeof ControlSetupSchema>;

export const MachineSchema = z.object({
  format: z.literal(MACHINE_FORMAT),
  version: z.literal(MACHINE_VERSION),
  id,
  name: z.string().max(120),
  description: z.string().max(2000).default(''),
  dialect: z.string().max(40),
  codes: MachineCodesSchema.optional(),
  setup: ControlSetupSchema.optional(),
  links: z.array(LinkSchema).min(1).max(80),
  spindles: z.array(SpindleSchema).min(1).max(12),
  carriers: z.array(CarrierSchema).min(1).max(24),
  devices: z.array(DeviceSchema).max(24).default([]),
  channels: z.array(ChannelSchema).min(1).max(12),
  capabilities: z
    .array(z.enum(['synchronised-spindles', 'limited-feed', 'polar', 'cylinder', 'y-axis', 'tilted-plane']))
    .max(20)
    .default([]),
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
export type Device = z.infer<typeof DeviceSchema>;
export type Channel = z.infer<typeof ChannelSchema>;
