import { z } from 'zod';
import type { MotionEvent } from '../../motion';
import { typed } from '../../units';
import { actions, actorBase } from '../actor';
import type { Field } from '../types';

/** The chuck opens and what it holds is pushed out. */
const EjectSchema = z.object({
  ...actorBase,
  kind: z.literal('eject'),
  params: z.object({
    /** s until the part is out. */
    time: typed().default(1),
  }),
});
type EjectOperation = z.infer<typeof EjectSchema>;

const fields: Field[] = [
  {
    key: 'params.time',
    label: 'Time',
    group: 'Cut',
    help: 'Until the part is out of the jaws.',
    input: { kind: 'number', unit: 's', step: 0.1 },
  },
];

const planEject = ({ id, params }: EjectOperation, spindle: string): MotionEvent[] =>
  actions(id, [
    { kind: 'device', device: `chuck ${spindle}`, action: 'open' },
    { kind: 'device', device: `ejector ${spindle}`, action: 'push' },
    { kind: 'dwell', seconds: params.time },
  ]);

export const eject = {
  kind: 'eject',
  schema: EjectSchema,
  label: 'Eject',
  short: 'eject',
  fields,
  rank: 98,
  plan: planEject,
} as const;
