import type { FindingCode, FindingNumbers } from '../numbers';

export interface Wording {
  readonly message: string;
  /** What is likely to help. */
  readonly remedy: string;
}

/** A sentence for every code. */
export type Words = { readonly [C in FindingCode]: (k: FindingNumbers[C]) => Wording };

/** A number as people read it: at most `digits` decimals, no trailing zeros. */
export const n = (value: number, digits = 2): string => String(Number(value.toFixed(digits)));

/** Which of several equal parts is meant; nothing where there is one. */
export const ofParts = (k: { readonly copy: number; readonly count: number }): string =>
  k.count > 1 ? ` ${k.copy} of ${k.count}` : '';
