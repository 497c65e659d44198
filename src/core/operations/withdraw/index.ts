import { z } from 'zod';
import type { MotionEvent } from '../../motion';
import { actions, actorBase, type Meeting } from '../actor';
import type { Field } from '../types';

/** The second spindle goes back to where it works, with what it holds. */
const WithdrawSchema = z.object({
  ...actorBase,
  kind: z.literal('withdraw'),
  params: z.object({
    /** The holding that withdraws. */
    to: z.string().max(80),
  }),
});
type WithdrawOperation = z.infer<typeof WithdrawSchema>;

const fields: Field[] = [];

const planWithdraw = ({ id }: WithdrawOperation, _spindle: string, at: Meeting | null): MotionEvent[] =>
  at === null
    ? []
    : actions(id, [
        { kind: 'synchronise', leader: at.leader, follower: at.follower, on: false },
        { kind: 'slide', spindle: at.follower, to: at.home, feed: null, limited: false },
      ]);

export const withdraw = {
  kind: 'withdraw',
  schema: WithdrawSchema,
  label: 'Withdraw',
  short: 'withdraw',
  fields,
  rank: 95,
  plan: planWithdraw,
} as const;
