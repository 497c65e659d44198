import { z } from 'zod';
import type { MotionEvent } from '../../motion';
import { typed } from '../../units';
import { actions, actorBase } from '../actor';
import type { Field } from '../types';

/** The chuck opens and the feeder brings the bar to its stick-out again, for the next part. */
const BarFeedSchema = z.object({
  ...actorBase,
  kind: z.literal('bar-feed'),
  params: z.object({
    /** s that the feeder takes. */
    time: typed().default(2),
    /** s for the jaws to close. */
    delay: typed().default(0.5),
  }),
});
type BarFeedOperation = z.infer<typeof BarFeedSchema>;

const fields: Field[] = [
  {
    key: 'params.time',
    label: 'Feeding time',
    group: 'Cut',
    help: 'As long as the feeder takes to bring the bar to its stick-out.',
    input: { kind: 'number', unit: 's', step: 0.1 },
  },
  {
    key: 'params.delay',
    label: 'Delay',
    group: 'Cut',
    help: 'For the jaws to close.',
    input: { kind: 'number', unit: 's', step: 0.1 },
  },
];

const planBarFeed = ({ id, params }: BarFeedOperation, spindle: string): MotionEvent[] =>
  actions(id, [
    { kind: 'device', device: `chuck ${spindle}`, action: 'open' },
    { kind: 'device', device: 'bar feeder', action: 'feed' },
    { kind: 'dwell', seconds: params.time },
    { kind: 'device', device: `chuck ${spindle}`, action: 'close' },
    { kind: 'dwell', seconds: params.delay },
  ]);

export const barFeed = {
  kind: 'bar-feed',
  schema: BarFeedSchema,
  label: 'Bar feed',
  short: 'bar feed',
  fields,
  rank: 97,
  plan: planBarFeed,
} as const;
