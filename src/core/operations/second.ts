import { z } from 'zod';
import type { Field } from './types';

/** A tool of another carrier that takes the same passes at the same time; null where one works alone. */
export const secondParam = { second: z.string().max(80).nullable().default(null) };

export const secondField: Field = {
  key: 'params.second',
  label: 'Second tool',
  group: 'Cut',
  help: 'A tool of another carrier takes the same passes from the other side. Each edge keeps its feed; both go twice as fast.',
  input: { kind: 'second-tool' },
};
