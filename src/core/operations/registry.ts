import { z } from 'zod';
import type { MotionEvent } from '../motion';
import type { Meeting } from './actor';
import { barFeed } from './barFeed';
import { centre } from './centre';
import { cutoff } from './cutoff';
import { device } from './device';
import { drill } from './drill';
import { eject } from './eject';
import { face } from './face';
import { innerFinish, outerFinish } from './finish';
import { form } from './form';
import { faceGroove, innerGroove, outerGroove } from './groove';
import { handover } from './handover';
import type { KindDefinition } from './kind';
import { ream } from './ream';
import { innerRough, outerRough } from './rough';
import { stop } from './stop';
import { support } from './support';
import { tap } from './tap';
import { text } from './text';
import { faceThread, innerThread, outerThread } from './thread';
import type { Field, Planned, Seen } from './types';
import { wait } from './wait';
import { withdraw } from './withdraw';

/** One line adds a kind. */
const CUTTING = [
  face,
  centre,
  drill,
  ream,
  tap,
  outerRough,
  innerRough,
  outerFinish,
  innerFinish,
  outerGroove,
  faceGroove,
  innerGroove,
  form,
  outerThread,
  innerThread,
  faceThread,
  cutoff,
] as const;

type SchemasOf<T extends readonly unknown[]> = T extends readonly [infer H extends { schema: z.ZodObject }, ...infer R]
  ? [H['schema'], ...SchemasOf<R>]
  : [];

export const CuttingOperationSchema = z.discriminatedUnion(
  'kind',
  CUTTING.map((k) => k.schema) as unknown as SchemasOf<typeof CUTTING>,
);
export type CuttingOperation = z.infer<typeof CuttingOperationSchema>;
/** Kinds that move no tool: one line adds one. */
const ACTING = [wait, handover, withdraw, barFeed, eject, stop, support, device, text] as const;

const ActorOperationSchema = z.discriminatedUnion(
  'kind',
  ACTING.map((k) => k.schema) as unknown as SchemasOf<typeof ACTING>,
);
/** An operation that moves no tool. */
export type ActorOperation = z.infer<typeof ActorOperationSchema>;

interface ActorKind {
  readonly label: string;
  readonly short: string;
  readonly rank: number;
  readonly fields: readonly Field[];
  readonly plan: (op: ActorOperation, spindle: string, at: Meeting | null) => readonly MotionEvent[];
}

const ACTORS = Object.fromEntries(ACTING.map((k) => [k.kind, k])) as unknown as Readonly<
  Record<ActorOperation['kind'], ActorKind>
>;

export const OperationSchema = z.discriminatedUnion('kind', [
  ...CuttingOperationSchema.options,
  ...ActorOperationSchema.options,
]);
export type Operation = z.infer<typeof OperationSchema>;
export type CuttingKind = CuttingOperation['kind'];
export type OperationKind = Operation['kind'];

export type AnyKind = KindDefinition<CuttingKind, z.ZodType<CuttingOperation>>;

const BY_NAME = new Map(CUTTING.map((k) => [k.kind, k as unknown as AnyKind]));

/** All kinds that cut, in the order of the registry. */
export const CUTTING_KINDS: readonly AnyKind[] = [...BY_NAME.values()];

/** Everything about the kind of a cutting operation. */
export const kindOf = (op: Pick<CuttingOperation, 'kind'>): AnyKind => {
  const found = BY_NAME.get(op.kind);
  if (!found) throw new Error(`invariant: no kind ${op.kind}`);
  return found;
};

export const isCutting = (op: Operation): op is CuttingOperation => !(op.kind in ACTORS);

/** Whether an operation takes the part off. */
export const isSevering = (op: Operation): op is CuttingOperation => isCutting(op) && kindOf(op).covers === 'sever';

/** Kinds that stand alone: they need no partner to be added by name. */
export const LONE_ACTORS = ['bar-feed', 'eject', 'stop', 'support', 'device', 'text'] as const;

/** Whether a kind cuts, by its name. */
export const isCuttingKind = (kind: OperationKind): kind is CuttingKind => !(kind in ACTORS);

/** Fields of any kind's card. */
export const fieldsOf = (op: Pick<Operation, 'kind'>): readonly Field[] =>
  isCuttingKind(op.kind) ? kindOf({ kind: op.kind }).fields : ACTORS[op.kind].fields;

/** Label and short word of any kind, marks included. */
export const namesOf = (
  op: Pick<Operation, 'kind'>,
): { readonly label: string; readonly short: string; readonly rank: number } =>
  isCuttingKind(op.kind) ? kindOf({ kind: op.kind }) : ACTORS[op.kind];

/** What an operation is called: its own name, or its kind's. */
export const titleOf = (op: Pick<Operation, 'kind' | 'name'>): string => op.name || namesOf(op).label;

export const planOperation = (op: CuttingOperation, seen: Seen): Planned => kindOf(op).plan(op, seen);

/**
 * Events of an operation that moves no tool, in the spindle of its holding; `at` says where two spindles meet, for those that
 * need it.
 */
export const planActor = (op: ActorOperation, spindle: string, at: Meeting | null): readonly MotionEvent[] =>
  ACTORS[op.kind].plan(op, spindle, at);
