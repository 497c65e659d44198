import { z } from 'zod';
import type { MotionEvent } from '../../motion';
import { typed } from '../../units';
import { actions, actorBase } from '../actor';
import type { Field } from '../types';

/** The work is held at its front by a centre, or around by rollers, from here on; or no longer. */
const SupportSchema = z.object({
  ...actorBase,
  kind: z.literal('support'),
  params: z.object({
    device: z.enum(['tailstock', 'steady']).default('tailstock'),
    action: z.enum(['on', 'off']).default('on'),
    /** Z of the middle of a steady rest's rollers, where the operator has set it. */
    z: typed().default(-50),
    /** s that it takes. */
    time: typed().default(2),
  }),
});
export type SupportOperation = z.infer<typeof SupportSchema>;

const fields: Field[] = [
  {
    key: 'params.device',
    label: 'By',
    group: 'Cut',
    help: 'A centre in the tailstock goes into the centre hole at the front; a steady rest holds the work around with rollers.',
    input: {
      kind: 'choice',
      options: [
        { value: 'tailstock', label: 'centre' },
        { value: 'steady', label: 'steady rest' },
      ],
    },
  },
  {
    key: 'params.action',
    label: 'From here',
    group: 'Cut',
    help: 'The work is supported from here on, or no longer.',
    input: {
      kind: 'choice',
      options: [
        { value: 'on', label: 'supported' },
        { value: 'off', label: 'free' },
      ],
    },
  },
  {
    key: 'params.z',
    label: 'Rollers at Z',
    group: 'Cut',
    help: 'Middle of the rollers. The operator sets the rest there; no tool comes past it while it is closed.',
    input: { kind: 'length' },
    showWhen: { key: 'params.device', is: 'steady' },
  },
  {
    key: 'params.time',
    label: 'Time',
    group: 'Cut',
    help: 'Until it stands firm, or has gone back.',
    input: { kind: 'number', unit: 's', step: 0.1 },
  },
];

/** What the devices are called in events, and what they are told. */
const CALLED = {
  tailstock: { device: 'tailstock', on: 'forward', off: 'back' },
  steady: { device: 'steady', on: 'close', off: 'open' },
} as const;

const planSupport = ({ id, params }: SupportOperation): MotionEvent[] => {
  const called = CALLED[params.device];
  return actions(id, [
    { kind: 'device', device: called.device, action: called[params.action] },
    { kind: 'dwell', seconds: params.time },
  ]);
};

export const support = {
  kind: 'support',
  schema: SupportSchema,
  label: 'Support',
  short: 'support',
  fields,
  rank: 25,
  plan: planSupport,
} as const;
