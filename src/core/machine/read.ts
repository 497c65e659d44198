import { z } from 'zod';
import { wordFinding } from '../findings';
import { linkedMachine } from './flat';
import { MACHINE_FORMAT, MACHINE_VERSION, type Machine, MachineSchema } from './machine';
import { machineProblems } from './problems';

export type ReadMachine =
  | { readonly ok: true; readonly machine: Machine }
  | { readonly ok: false; readonly problems: readonly { readonly place: string; readonly message: string }[] };

const bad = (place: string, message: string): ReadMachine => ({ ok: false, problems: [{ place, message }] });

/** Reads a machine of any version from parsed JSON; every complaint names the place, the reason and what to do. */
export const readMachine = (value: unknown): ReadMachine => {
  if (typeof value !== 'object' || value === null || Array.isArray(value))
    return bad('', 'This is not a machine file: it holds no object. Choose a machine file.');
  const { format, version } = value as { format?: unknown; version?: unknown };
  if (format !== undefined && format !== MACHINE_FORMAT)
    return bad('format', `This is not a machine file: “format” should be “${MACHINE_FORMAT}”. Choose a machine file.`);
  if (typeof version === 'number' && version > MACHINE_VERSION)
    return bad(
      'version',
      `The file was written by a newer program (version ${version}; this one reads up to ${MACHINE_VERSION}). Update Lively Spindle.`,
    );
  const parsed = MachineSchema.safeParse(linkedMachine(value));
  if (!parsed.success)
    return {
      ok: false,
      problems: parsed.error.issues.slice(0, 20).map((i) => ({
        place: i.path.join('.'),
        message: `${i.path.join('.') || 'The file'}: ${i.message}. Correct this value and load the file again.`,
      })),
    };
  const problems = machineProblems(parsed.data);
  if (problems.length === 0) return { ok: true, machine: parsed.data };
  return {
    ok: false,
    problems: problems.map(({ place, finding }) => {
      const { message, remedy } = wordFinding(finding);
      return { place, message: `${place}: ${message} ${remedy}` };
    }),
  };
};

/** The published JSON Schema of the machine file. */
export const machineJsonSchema = (): unknown => z.toJSONSchema(MachineSchema, { io: 'input' });
