import { z } from 'zod';
import type { MotionEvent } from '../../motion';
import type { Field } from '../types';

/** A knot that ties channels: each waits until all have come to it. */
export const WaitSchema = z.object({
  id: z.string().min(1),
  name: z.string(),
  channel: z.string(),
  on: z.boolean().default(true),
  note: z.string().default(''),
  kind: z.literal('wait'),
  tool: z.null().default(null),
  params: z.object({ mark: z.number().int().min(1).max(899), channels: z.array(z.string()).min(2) }),
});
export type WaitOperation = z.infer<typeof WaitSchema>;

export const waitFields: Field[] = [
  {
    key: 'params.mark',
    label: 'Mark',
    group: 'Cut',
    help: 'Number of the wait mark; every channel that it ties carries the same.',
    input: { kind: 'number', unit: '', step: 1 },
  },
];

export const planWait = (op: WaitOperation): MotionEvent[] => [
  { kind: 'wait', op: op.id, purpose: 'setup', mark: op.params.mark, channels: [...op.params.channels].sort() },
];
