import type { Field } from './types';

/** A field with a few named choices: its value by the words that stand on the card. */
export const choiceField = (
  key: string,
  label: string,
  group: Field['group'],
  help: string,
  options: Readonly<Record<string, string>>,
): Field => ({
  key,
  label,
  group,
  help,
  input: { kind: 'choice', options: Object.entries(options).map(([value, label]) => ({ value, label })) },
});
