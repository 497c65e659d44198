import { z } from 'zod';
import type { MotionEvent } from '../../motion';
import { actions, actorBase } from '../actor';
import type { Field } from '../types';

/** Words to the operator at a place of the program: what to look at, to measure, to turn over. */
const TextSchema = z.object({
  ...actorBase,
  kind: z.literal('text'),
  params: z.object({ text: z.string().max(400).default('') }),
});
export type TextOperation = z.infer<typeof TextSchema>;

const fields: Field[] = [
  {
    key: 'params.text',
    label: 'Says',
    group: 'Cut',
    help: 'Stands in the program as a remark, where the operator reads it at the control; it moves nothing. A stop behind it keeps it on the screen.',
    input: { kind: 'text', placeholder: 'what the operator reads' },
  },
];

/** Characters of a line that any control shows whole. */
const LINE = 50;

/** Letters that controls do not have, and what stands for them. */
const INSTEAD: readonly (readonly [RegExp, string])[] = [
  [/⌀|ø|Ø/g, 'DIA '],
  [/°/g, ' DEG'],
  [/×/g, 'X'],
  [/[–—]/g, '-'],
  [/ß/g, 'SS'],
  [/[“”„"‘’']/g, ''],
];

/** The lines of a remark as a control can show them: capitals, no brackets, so many characters at the most. */
export const remarkLines = (text: string): string[] => {
  const plain = INSTEAD.reduce((t, [from, to]) => t.replace(from, to), text)
    .normalize('NFKD')
    .replace(/\p{M}/gu, '')
    .toUpperCase()
    .replace(/[^A-Z0-9 .,+\-*/=?!<>#&]/g, ' ');
  const lines: string[] = [];
  for (const word of plain.split(/\s+/).filter((w) => w !== '')) {
    const last = lines.at(-1);
    if (last !== undefined && last.length + 1 + word.length <= LINE) lines[lines.length - 1] = `${last} ${word}`;
    else for (let i = 0; i < word.length; i += LINE) lines.push(word.slice(i, i + LINE));
  }
  return lines;
};

const planText = ({ id, params }: TextOperation): MotionEvent[] =>
  actions(
    id,
    remarkLines(params.text).map((text) => ({ kind: 'remark', text }) as const),
  );

export const text = {
  kind: 'text',
  schema: TextSchema,
  label: 'Remark',
  short: 'remark',
  fields,
  rank: 60,
  plan: planText,
} as const;
