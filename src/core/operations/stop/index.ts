import { z } from 'zod';
import type { MotionEvent } from '../../motion';
import { actions, actorBase } from '../actor';
import type { Field } from '../types';

/** The program stands until the operator goes on: to measure, to clear chips, to turn a screw. */
const StopSchema = z.object({
  ...actorBase,
  kind: z.literal('stop'),
  params: z.object({
    /** Only where the operator has asked for it at the control. */
    optional: z.boolean().default(false),
    /** The spindle of the holding stands still before. */
    still: z.boolean().default(true),
  }),
});
type StopOperation = z.infer<typeof StopSchema>;

const fields: Field[] = [
  {
    key: 'params.optional',
    label: 'Only when asked',
    group: 'Cut',
    help: 'It stops only where the operator has asked for optional stops at the control.',
    input: { kind: 'toggle' },
  },
  {
    key: 'params.still',
    label: 'Spindle stands still',
    group: 'Cut',
    help: 'The spindle is told to stop before; the next operation starts it again.',
    input: { kind: 'toggle' },
  },
];

const planStop = ({ id, params }: StopOperation, spindle: string): MotionEvent[] =>
  actions(id, [
    ...(params.still
      ? [{ kind: 'spindle', spindle, direction: 'stop', speed: { mode: 'fixed', value: 0 } } as const]
      : []),
    { kind: 'stop', optional: params.optional },
  ]);

export const stop = {
  kind: 'stop',
  schema: StopSchema,
  label: 'Stop',
  short: 'stop',
  fields,
  rank: 60,
  plan: planStop,
} as const;
