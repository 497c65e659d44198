import { z } from 'zod';
import type { MotionEvent } from '../../motion';
import { actorBase } from '../actor';
import type { Field } from '../types';

/** A knot that ties channels: each waits until all have come to it. */
const WaitSchema = z.object({
  ...actorBase,
  kind: z.literal('wait'),
  params: z.object({
    mark: z.number().int().min(1).max(899),
    channels: z.array(z.string().max(40)).min(2, 'it must name at least two channels').max(8),
  }),
});
export type WaitOperation = z.infer<typeof WaitSchema>;

/** What tells one mark from another: its number and the channels that it ties, in whichever order they are named. */
export const markName = (params: WaitOperation['params']): string =>
  `${params.mark} ${[...params.channels].sort().join()}`;

const fields: Field[] = [
  {
    key: 'params.mark',
    label: 'Mark',
    group: 'Cut',
    help: 'Number of the wait mark; every channel that it ties carries the same.',
    input: { kind: 'number', unit: '', step: 1 },
  },
];

const planWait = (op: WaitOperation): MotionEvent[] => [
  { kind: 'wait', op: op.id, purpose: 'setup', mark: op.params.mark, channels: [...op.params.channels].sort() },
];

/** The one kind that moves no tool. */
export const wait = {
  kind: 'wait',
  schema: WaitSchema,
  label: 'Wait mark',
  short: 'wait',
  fields,
  rank: 0,
  plan: planWait,
} as const;
