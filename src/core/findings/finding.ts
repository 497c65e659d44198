import type { Point } from '../geometry';
import type { FindingCode, FindingNumbers } from './numbers';

export type Severity = 'info' | 'attention' | 'blocking';

/** An edit of the job document that cures a finding: values by JSON pointer. */
export interface Remedy {
  readonly label: string;
  readonly set: Readonly<Record<string, unknown>>;
}

export interface FindingOf<C extends FindingCode> {
  readonly severity: Severity;
  readonly code: C;
  readonly operation: string | null;
  /** The holding in whose coordinates it is told, where it belongs to no operation. */
  readonly holding?: string;
  readonly numbers: FindingNumbers[C];
  /** Place in the coordinates of its holding. */
  readonly at: Point | null;
  /** Index of the event within the operation. */
  readonly event: number | null;
  /** Which time of a repeated operation it is told of, where not the first. */
  readonly time?: { readonly number: number; readonly count: number };
  /** What may be applied by a button, where it is safe. */
  readonly remedy?: Remedy;
}

/** Something to tell: data only; its sentence is in words.ts. */
export type Finding = { readonly [C in FindingCode]: FindingOf<C> }[FindingCode];

/** A finding of one code with the numbers that belong to it. */
export const note = <C extends FindingCode>(
  severity: Severity,
  code: C,
  operation: string | null,
  numbers: FindingNumbers[C],
  at: Point | null = null,
  more: { readonly event?: number | null; readonly remedy?: Remedy | null; readonly holding?: string } = {},
): Finding =>
  ({
    severity,
    code,
    operation,
    numbers,
    at,
    event: more.event ?? null,
    ...(more.remedy ? { remedy: more.remedy } : {}),
    ...(more.holding ? { holding: more.holding } : {}),
  }) as unknown as Finding;
