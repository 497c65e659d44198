import type { Finding } from '../findings';
import { onceFor } from '../geometry';
import { isCalled, type Machine, type MachineCodes } from '../machine';
import type { CodeLine, Family } from './family';
import { TARN } from './tarn';
import type { Dialect } from './tarn/data';

export type { CodeLine, Family } from './family';
export * from './program';
export { type Dialect, DialectSchema } from './tarn/data';

const FAMILIES: readonly Family<Dialect>[] = [TARN];

export const DIALECTS: readonly Dialect[] = FAMILIES.flatMap((f) => f.dialects);

/** The dialect of that name, or null: a program for an unknown control is not written. */
export const findDialect = (id: string): Dialect | null => DIALECTS.find((d) => d.id === id) ?? null;

const familyNamed = (id: string): Family<Dialect> | null =>
  FAMILIES.find((f) => f.dialects.some((d) => d.id === id)) ?? null;

/** The control of a machine as it is built in there, with the machine's own names and codes; null for one that is not known. */
export const controlOf = onceFor((machine: Machine): Dialect | null => {
  const dialect = findDialect(machine.dialect);
  return dialect && familyOf(dialect).inMachine(dialect, machine);
});

/** What is wrong with the codes that a machine gives its control. */
export const codeFindings = onceFor((machine: Machine): readonly Finding[] => {
  const dialect = findDialect(machine.dialect);
  return dialect ? familyOf(dialect).codeFindings(dialect, machine) : [];
});

/** All codes of a machine by name, also of what has none yet; none for a control that is not known. */
export const codeLines = (machine: Machine): CodeLine[] => {
  const dialect = findDialect(machine.dialect);
  return dialect ? familyOf(dialect).codeLines(dialect, machine) : [];
};

/** What devices of a machine that are called on for themselves can be asked to do, with their code where there is one. */
export const deviceCalls = (machine: Machine): CodeLine[] =>
  codeLines(machine).filter((l) => machine.devices.some((d) => isCalled(d) && l.name.startsWith(`${d.id} `)));

/** The codes of a machine with one of them given, or left to the control with null. */
export const withCode = (machine: Machine, name: string, code: string | null): MachineCodes | undefined =>
  familyNamed(machine.dialect)?.withCode(machine, name, code) ?? machine.codes;

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
  const found = familyNamed(dialect.id);
  if (!found) throw new Error(`invariant: no family has the dialect ${dialect.id}`);
  return found;
};
