import type { Family } from '../family';
import { type Dialect, TARN_DIALECTS } from './data';
import { postChannel } from './post';
import { readProgram } from './reader/reader';

/** Controls of the Tarn family (docs/formats/nc-tarn.md); the reader is written from there, not from the post. */
export const TARN: Family<Dialect> = {
  id: 'tarn',
  dialects: TARN_DIALECTS,
  post: postChannel,
  read: (text, dialect, settings) =>
    readProgram(text, {
      ...settings,
      waitBase: dialect.wait.base,
      roughing:
        dialect.cycles.roughing === 'one-block'
          ? { head: 'one-block', retract: dialect.cycles.retract ?? 0 }
          : { head: 'two-block' },
    }),
};
