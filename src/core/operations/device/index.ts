import { z } from 'zod';
import type { MotionEvent } from '../../motion';
import { typed } from '../../units';
import { actions, actorBase } from '../actor';
import type { Field } from '../types';

/** A device of the machine does something: the catcher goes out, the conveyor runs, a door opens. */
const DeviceSchema = z.object({
  ...actorBase,
  kind: z.literal('device'),
  params: z.object({
    /** The device and what it does, as the machine's codes name it: `catcher out`. */
    action: z.string().max(100).default(''),
    /** s that it takes. */
    time: typed().default(0.5),
  }),
});
export type DeviceOperation = z.infer<typeof DeviceSchema>;

const fields: Field[] = [
  {
    key: 'params.action',
    label: 'Does',
    group: 'Cut',
    help: 'What the machine’s codes can ask of its catcher, its conveyor and its other devices. Chucks, bar and supports have operations of their own.',
    input: { kind: 'device-action' },
  },
  {
    key: 'params.time',
    label: 'Time',
    group: 'Cut',
    help: 'The program waits so long for it.',
    input: { kind: 'number', unit: 's', step: 0.1 },
  },
];

const planDevice = ({ id, params }: DeviceOperation): MotionEvent[] => {
  const words = params.action.split(' ');
  return actions(id, [
    { kind: 'device', device: words.slice(0, -1).join(' '), action: words[words.length - 1] },
    ...(params.time > 0 ? [{ kind: 'dwell', seconds: params.time } as const] : []),
  ]);
};

export const device = {
  kind: 'device',
  schema: DeviceSchema,
  label: 'Device',
  short: 'device',
  fields,
  rank: 92,
  plan: planDevice,
} as const;
