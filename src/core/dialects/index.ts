import type { Family } from './family';
import { TARN } from './tarn';
import type { Dialect } from './tarn/data';

export type { Family } from './family';
export * from './program';
export { type Dialect, DialectSchema } from './tarn/data';

const FAMILIES: readonly Family<Dialect>[] = [TARN];

export const DIALECTS: readonly Dialect[] = FAMILIES.flatMap((f) => f.dialects);

/** The dialect of that name, or null: a program for an unknown control is not written. */
export const findDialect = (id: string): Dialect | null => DIALECTS.find((d) => d.id === id) ?? null;
/** What is said where no program can be written for a control; null where one can. */
export const noProgramFor = (dialect: string): string | null =>
  isDialect(dialect)
    ? null
    : `No program can be written for this machine’s control, ${dialect}, yet: programs are written for ${listed(DIALECTS.map((d) => d.name))}. What is planned is still timed and held against stock, jaws and limits.`;

const listed = (names: readonly string[]): string =>
  names.length < 2 ? names.join() : `${names.slice(0, -1).join(', ')} and ${names[names.length - 1]}`;

export const isDialect = (id: string): boolean => findDialect(id) !== null;

/** The family of a dialect. */
export const familyOf = (dialect: Dialect): Family<Dialect> => {
  const found = FAMILIES.find((f) => f.dialects.some((d) => d.id === dialect.id));
  if (!found) throw new Error(`invariant: no family has the dialect ${dialect.id}`);
  return found;
};
