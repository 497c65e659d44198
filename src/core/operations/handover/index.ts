import { z } from 'zod';
import type { MotionEvent } from '../../motion';
import { typed } from '../../units';
import { actions, actorBase, type Meeting } from '../actor';
import type { Field } from '../types';

/** The second spindle comes, grips the part while the first still holds it, and both turn together. */
const HandoverSchema = z.object({
  ...actorBase,
  kind: z.literal('handover'),
  params: z.object({
    /** The holding that takes over. */
    to: z.string().max(80),
    /** Room between the jaws' front and the part where the feed begins, mm. */
    clearance: typed().default(5),
    /** mm/min. */
    feed: typed().default(500),
    /** The slide pushes with no more than a limited force. */
    limited: z.boolean().default(true),
    /** rev/min of both. */
    speed: typed().default(500),
    /** s, for the jaws to close. */
    delay: typed().default(0.5),
  }),
});
type HandoverOperation = z.infer<typeof HandoverSchema>;

const fields: Field[] = [
  {
    key: 'params.speed',
    label: 'Speed of both',
    group: 'Cut',
    help: 'Both spindles turn so, in step, while the part is taken over. 0: at rest.',
    input: { kind: 'number', unit: 'rev/min', step: 50 },
  },
  {
    key: 'params.clearance',
    label: 'Clearance',
    group: 'Cut',
    help: 'Between the jaws’ front and the part: as far the sub-spindle comes in a rapid.',
    input: { kind: 'length' },
  },
  {
    key: 'params.feed',
    label: 'Feed',
    group: 'Cut',
    help: 'From there to the grip.',
    input: { kind: 'number', unit: 'mm/min', step: 50 },
  },
  {
    key: 'params.limited',
    label: 'Limited force',
    group: 'Cut',
    help: 'The slide gives way instead of pushing the part back into its jaws.',
    input: { kind: 'toggle' },
  },
  {
    key: 'params.delay',
    label: 'Delay',
    group: 'Cut',
    help: 'For the jaws to close.',
    input: { kind: 'number', unit: 's', step: 0.1 },
  },
];

const planHandover = ({ id, params }: HandoverOperation, _spindle: string, at: Meeting | null): MotionEvent[] =>
  at === null
    ? []
    : actions(id, [
        { kind: 'device', device: `chuck ${at.follower}`, action: 'open' },
        {
          kind: 'spindle',
          spindle: at.leader,
          // a part may also be taken over at rest
          direction: params.speed > 0 ? 'forward' : 'stop',
          speed: { mode: 'fixed', value: params.speed },
        },
        { kind: 'synchronise', leader: at.leader, follower: at.follower, on: true },
        { kind: 'slide', spindle: at.follower, to: at.clear, feed: null, limited: false },
        { kind: 'slide', spindle: at.follower, to: at.grip, feed: params.feed, limited: params.limited },
        { kind: 'device', device: `chuck ${at.follower}`, action: 'close' },
        { kind: 'dwell', seconds: params.delay },
      ]);

export const handover = {
  kind: 'handover',
  schema: HandoverSchema,
  label: 'Handover',
  short: 'hand over',
  fields,
  rank: 85,
  plan: planHandover,
} as const;
