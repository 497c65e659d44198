import { type Finding, note } from '../findings';
import { onceFor, type Point } from '../geometry';
import { type CuttingOperation, kindOf } from '../operations';
import { type Dimension, type Element, type Part, solveDimensions } from '../part';
import { evaluateLength, evaluateNumber, type LengthUnit } from '../units';

const read = (value: unknown, path: readonly string[]): unknown =>
  path.reduce<unknown>((v, k) => (v as Record<string, unknown> | null | undefined)?.[k], value);

/** The named dimensions of a part with their values in mm. */
export const dimensionNames = (
  dimensions: readonly Dimension[] | undefined,
  unit: LengthUnit,
): ReadonlyMap<string, number> => solveDimensions([...(dimensions ?? [])], unit).names;

/** A word of letters, digits and _ for an element, so that formulas can name it: `o8/b1.1` is o8_b1_1. */
export const elementWord = (id: string): string => {
  const word = id.replace(/[^A-Za-z0-9_]/g, '_');
  return /^[0-9]/.test(word) ? `e${word}` : word;
};

/** Both ends of elements as they lie in a holding, with the words that formulas have for them. */
export const elementEnds = (elements: readonly Element[]): { readonly name: string; readonly at: Point }[] =>
  elements.flatMap((e) => {
    const word = elementWord(e.id);
    const { from, to } = e.curve;
    const [front, back] = from.x >= to.x ? [from, to] : [to, from];
    return [
      { name: `${word}_front`, at: front },
      { name: `${word}_back`, at: back },
    ];
  });

/** Z of the ends of all elements, and the diameters there, by name (mm). */
const elementNames = onceFor(
  (part: Part): ReadonlyMap<string, number> =>
    new Map(
      elementEnds([...part.outer, ...part.inner, ...part.back]).flatMap(({ name, at }): [string, number][] => [
        [name, at.x],
        [`${name}_dia`, 2 * at.y],
      ]),
    ),
);

/** Names that formulas of an operation may use: named dimensions, and ends of the elements of the part as it lies there. */
export const operationNames = (
  part: Part | null,
  dimensions: ReadonlyMap<string, number>,
): ReadonlyMap<string, number> => (part === null ? dimensions : new Map([...elementNames(part), ...dimensions]));

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
