import { z } from 'zod';

/** Numbers of documents with honest bounds: what lies outside is a slip of the hand, and the message says so. */

const between = (least: number, most: number, unit: string) =>
  z
    .number()
    .min(least, `it must be at least ${least} ${unit}`.trim())
    .max(most, `it must be at most ${most} ${unit}`.trim());

/** A place or difference in mm, either sign: machines are not longer than this. */
export const place = () => between(-10_000, 10_000, 'mm');
/** Radius and centre of an arc in mm: a crowned shaft's centre lies far off. */
export const curve = () => between(-1e7, 1e7, 'mm');
/** A size in mm that has to be there. */
export const size = (most: number, least = 0.001) => between(least, most, 'mm');
/** A size in mm that may be nothing. */
export const amount = (most: number) => between(0, most, 'mm');
export const angle = (least: number, most: number) => between(least, most, '°');
export const number = (least: number, most: number, unit = '') => between(least, most, unit);
/** Any number that a person may have typed into an operation; what is wrong with it is told by the plan. */
export const typed = () => between(-1e6, 1e6, '');
