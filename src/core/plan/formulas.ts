import { type Finding, note } from '../findings';
import { type CuttingOperation, kindOf } from '../operations';
import { type Dimension, solveDimensions } from '../part';
import { evaluateLength, evaluateNumber, type LengthUnit } from '../units';

const read = (value: unknown, path: readonly string[]): unknown =>
  path.reduce<unknown>((v, k) => (v as Record<string, unknown> | null | undefined)?.[k], value);

/** The named dimensions of a part with their values in mm. */
export const dimensionNames = (
  dimensions: readonly Dimension[] | undefined,
  unit: LengthUnit,
): ReadonlyMap<string, number> => solveDimensions([...(dimensions ?? [])], unit).names;

/**
 * The operation with its formulas worked out. A formula that cannot be computed is told, and its number stays as it was.
 */
export const withFormulas = (
  op: CuttingOperation,
  names: ReadonlyMap<string, number>,
  unit: LengthUnit,
): { op: CuttingOperation; findings: Finding[] } => {
  const entries = Object.entries(op.formulas ?? {});
  if (entries.length === 0) return { op, findings: [] };
  const settled = structuredClone(op);
  const findings: Finding[] = [];
  for (const [path, text] of entries) {
    const field = kindOf(op).fields.find((f) => f.key === path);
    const keys = path.split('.');
    const last = keys.pop() as string;
    const parent = read(settled, keys);
    if (
      typeof parent !== 'object' ||
      parent === null ||
      !Object.hasOwn(parent, last) ||
      !/^(cutting|params)\b/.test(path)
    ) {
      findings.push(note('blocking', 'formula', op.id, { field: path, reason: 'there is no such field' }));
      continue;
    }
    const value = field?.input.kind === 'length' ? evaluateLength(text, unit, names) : evaluateNumber(text, names);
    if (value.ok) (parent as Record<string, unknown>)[last] = value.value;
    else findings.push(note('blocking', 'formula', op.id, { field: field?.label ?? path, reason: value.reason }));
  }
  return { op: settled, findings };
};
