import { z } from 'zod';
import { AxisNameSchema } from '../../machine';

/** A control's habits as data: number format, modal rules, cycles, codes. */
export const DialectSchema = z.object({
  id: z.string(),
  name: z.string(),
  /** Decimals of lengths; X is a diameter. */
  decimals: z.number().int().min(2).max(5),
  feedDecimals: z.number().int().min(2).max(5),
  /** Suffix of whole lengths: a point after the digits. */
  trailingPoint: z.boolean(),
  /** U and W name distances from the last place (used for small retracts). */
  incrementalWords: z.boolean(),
  clampCode: z.string(),
  feedPerRevCode: z.string(),
  feedPerMinCode: z.string(),
  cycles: z.object({
    /** G71 with depth and retract in a block before it, or with the depth in its one block. */
    roughing: z.enum(['two-block', 'one-block', 'none']),
    /** Retract of roughing where the program does not say it, mm: a setting of the control. */
    retract: z.number().positive().nullable(),
    peck: z.boolean(),
    /** G76 in two blocks, or in one. */
    threading: z.enum(['two-block', 'one-block']).nullable(),
  }),
  /** Wait in text: base number and whether channels go as a bit mask in P. */
  wait: z.object({ base: z.number().int(), mask: z.boolean() }),
  coolantOn: z.string(),
  coolantOff: z.string(),
  /** Axes that the control has words for. */
  axes: z.array(AxisNameSchema),
  /** Codes of spindles besides the main one, by their names. */
  spindleCodes: z.record(z.string(), z.object({ forward: z.string(), reverse: z.string(), stop: z.string() })),
  /** How a second spindle follows the main one, and how it moves along its slide; null for controls of one spindle. */
  second: z
    .object({
      spindle: z.string(),
      follow: z.string(),
      leave: z.string(),
      /** Letter of the place of its chuck face. */
      letter: z.string().length(1),
      limit: z.string(),
      unlimit: z.string(),
    })
    .nullable(),
  /** Codes of devices, by device and action as `device action`. */
  devices: z.record(z.string(), z.string()),
  stop: z.string(),
  optionalStop: z.string(),
  spindleForward: z.string(),
  spindleReverse: z.string(),
  spindleStop: z.string(),
  programEnd: z.string(),
  commentLength: z.number().int().default(60),
});
export type Dialect = z.infer<typeof DialectSchema>;

const TARN_2: Dialect = {
  id: 'tarn-2',
  name: 'Tarn 2',
  decimals: 3,
  feedDecimals: 3,
  trailingPoint: true,
  incrementalWords: true,
  clampCode: 'G50',
  feedPerRevCode: 'G99',
  feedPerMinCode: 'G98',
  cycles: { roughing: 'two-block', retract: null, peck: true, threading: 'two-block' },
  wait: { base: 100, mask: true },
  coolantOn: 'M8',
  coolantOff: 'M9',
  axes: ['X', 'Z'],
  spindleCodes: {},
  second: null,
  devices: {
    'chuck main open': 'M70',
    'chuck main close': 'M71',
    'bar feeder feed': 'M72',
    'ejector main push': 'M73',
    'tailstock forward': 'M21',
    'tailstock back': 'M22',
    'steady close': 'M23',
    'steady open': 'M24',
    'catcher out': 'M77',
    'catcher in': 'M78',
  },
  stop: 'M0',
  optionalStop: 'M1',
  spindleForward: 'M3',
  spindleReverse: 'M4',
  spindleStop: 'M5',
  programEnd: 'M30',
  commentLength: 60,
};

export const TARN_DIALECTS: readonly Dialect[] = [
  {
    ...TARN_2,
    id: 'tarn-1',
    name: 'Tarn 1',
    cycles: { roughing: 'one-block', retract: 0.5, peck: true, threading: 'one-block' },
    axes: ['X', 'Z', 'C'],
  },
  TARN_2,
  {
    ...TARN_2,
    id: 'tarn-5',
    name: 'Tarn 5',
    axes: ['X', 'Y', 'Z', 'C'],
    spindleCodes: { sub: { forward: 'M63', reverse: 'M64', stop: 'M65' } },
    second: { spindle: 'sub', follow: 'M75', leave: 'M76', letter: 'A', limit: 'M82', unlimit: 'M83' },
    devices: {
      ...TARN_2.devices,
      'chuck sub open': 'M68',
      'chuck sub close': 'M69',
      'ejector sub push': 'M74',
    },
  },
];
