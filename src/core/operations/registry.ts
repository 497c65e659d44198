import { z } from 'zod';
import { centre } from './centre';
import { cutoff } from './cutoff';
import { drill } from './drill';
import { face } from './face';
import { innerFinish, outerFinish } from './finish';
import type { KindDefinition } from './kind';
import { innerRough, outerRough } from './rough';
import type { Planned, Seen } from './types';
import { wait } from './wait';

/** One line adds a kind. */
const CUTTING = [face, centre, drill, outerRough, innerRough, outerFinish, innerFinish, cutoff] as const;

type SchemasOf<T extends readonly unknown[]> = T extends readonly [infer H extends { schema: z.ZodObject }, ...infer R]
  ? [H['schema'], ...SchemasOf<R>]
  : [];

export const CuttingOperationSchema = z.discriminatedUnion(
  'kind',
  CUTTING.map((k) => k.schema) as unknown as SchemasOf<typeof CUTTING>,
);
export type CuttingOperation = z.infer<typeof CuttingOperationSchema>;
export const OperationSchema = z.discriminatedUnion('kind', [...CuttingOperationSchema.options, wait.schema]);
export type Operation = z.infer<typeof OperationSchema>;
export type CuttingKind = CuttingOperation['kind'];
export type OperationKind = Operation['kind'];
export type WaitOperation = Extract<Operation, { kind: 'wait' }>;

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

export const isCutting = (op: Operation): op is CuttingOperation => op.kind !== wait.kind;

/** Label and short word of any kind, marks included. */
export const namesOf = (
  op: Pick<Operation, 'kind'>,
): { readonly label: string; readonly short: string; readonly rank: number } =>
  op.kind === wait.kind ? wait : kindOf(op as CuttingOperation);

export const planOperation = (op: CuttingOperation, seen: Seen): Planned => kindOf(op).plan(op, seen);

export const planWait = (op: WaitOperation) => wait.plan(op);
