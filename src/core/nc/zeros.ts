import type { Derived, Job } from '../plan';
import { heldIn } from '../plan';

/** A zero that the operator sets before the programs run. */
export interface ZeroToSet {
  readonly code: string;
  readonly holding: string;
  /** Z of the zero in front of the face of the spindle's chuck, mm. */
  readonly fromFace: number;
  /** Along Z from the zero of the holding, mm; 0 for that zero itself. */
  readonly shift: number;
}

/** The zeros that the programs of a job name and do not move themselves, in the order in which they are first named. */
export const zerosToSet = (job: Job, derived: Derived): ZeroToSet[] => {
  const found = new Map<string, ZeroToSet>();
  for (const holding of job.holdingOrder) {
    const { zeroFromFace } = heldIn(derived, holding);
    for (const o of derived.operations) {
      if (o.holding !== holding) continue;
      for (const e of o.events) {
        if (e.kind !== 'work-offset' || found.has(e.code)) continue;
        const shift = e.local ? 0 : (e.shift ?? 0);
        found.set(e.code, { code: e.code, holding, fromFace: zeroFromFace + shift, shift });
      }
    }
  }
  return [...found.values()];
};

/** A zero in words, for the head of a program. */
export const zeroWords = (job: Job, z: ZeroToSet): string => {
  const mm = (v: number): string => String(Number(v.toFixed(3)));
  const of = `zero ${z.code} ${job.holdings[z.holding].name}`;
  return z.shift === 0 ? `${of}, ${mm(z.fromFace)} from chuck face` : `${of}, Z ${mm(z.shift)} from the first`;
};
