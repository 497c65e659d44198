import { z } from 'zod';
import { FIRST_HOLDING } from '../../holding';
import type { MotionEvent } from '../../motion';
import type { Field } from '../types';

/** A knot that ties channels: each waits until all have come to it. */
const WaitSchema = z.object({
  id: z.string().min(1).max(80),
  name: z.string().max(120),
  channel: z.string().max(40),
  holding: z.string().max(80).default(FIRST_HOLDING),
  on: z.boolean().default(true),
  note: z.string().max(400).default(''),
  kind: z.literal('wait'),
  tool: z.null().default(null),
  params: z.object({ mark: z.number().int().min(1).max(899), channels: z.array(z.string().max(40)).min(2).max(8) }),
});
type WaitOperation = z.infer<typeof WaitSchema>;

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
