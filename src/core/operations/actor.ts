import { z } from 'zod';
import { FIRST_HOLDING } from '../holding';
import type { MotionEvent } from '../motion';

/** What operations that move no tool have in common. */
export const actorBase = {
  id: z.string().min(1).max(80),
  name: z.string().max(120),
  channel: z.string().max(40),
  /** How the work is held when it begins. */
  holding: z.string().max(80).default(FIRST_HOLDING),
  on: z.boolean().default(true),
  note: z.string().max(400).default(''),
  tool: z.null().default(null),
};

/** Two spindles that meet: places of the second one's chuck face, machine Z. */
export interface Meeting {
  readonly leader: string;
  readonly follower: string;
  readonly home: number;
  readonly clear: number;
  readonly grip: number;
}

type Bare<T> = T extends unknown ? Omit<T, 'op' | 'purpose'> : never;

/** Events of an operation that moves no tool. */
export const actions = (op: string, list: readonly Bare<MotionEvent>[]): MotionEvent[] =>
  list.map((e) => ({ ...e, op, purpose: 'setup' }) as MotionEvent);
