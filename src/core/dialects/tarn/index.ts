import type { Family } from '../family';
import { codeFindings, codeLines, inMachine, withCode } from './codes';
import { type Dialect, TARN_DIALECTS } from './data';
import { postChannel } from './post';
import { readProgram } from './reader/reader';
import { unsaid } from './unsaid';

const TURNINGS = ['forward', 'reverse', 'stop'] as const;

/** The number of an M code. */
const codeNumber = (code: string): number => Number(code.slice(1));

/** Codes G of the cycles that a control does not have. */
const withoutCycles = ({ cycles }: Dialect): ReadonlySet<number> =>
  new Set([
    ...(cycles.roughing === 'none' ? [70, 71, 72, 73] : []),
    ...(cycles.threading === null ? [76, 92] : []),
    ...(cycles.peck ? [] : [74, 75, 83]),
  ]);

/** Controls of the Tarn family (docs/formats/nc-tarn.md); the reader is written from there, not from the post. */
export const TARN: Family<Dialect> = {
  id: 'tarn',
  dialects: TARN_DIALECTS,
  inMachine,
  codeFindings,
  codeLines,
  withCode,
  post: postChannel,
  unsaid,
  read: (text, dialect, settings) =>
    readProgram(text, {
      ...settings,
      waitBase: dialect.wait.base,
      codes: {
        coolantOn: codeNumber(dialect.coolantOn),
        coolantOff: codeNumber(dialect.coolantOff),
        stop: codeNumber(dialect.stop),
        optionalStop: codeNumber(dialect.optionalStop),
      },
      spindleCodes: new Map(
        [
          [
            settings.spindle,
            { forward: dialect.spindleForward, reverse: dialect.spindleReverse, stop: dialect.spindleStop },
          ] as const,
          ...Object.entries(dialect.spindleCodes),
        ].flatMap(([spindle, codes]) =>
          TURNINGS.map((turning) => [codeNumber(codes[turning]), { spindle, turning }] as const),
        ),
      ),
      deviceCodes: new Map(
        Object.entries(dialect.devices).map(([name, code]) => {
          const [action] = name.split(' ').slice(-1);
          return [codeNumber(code), { device: name.slice(0, -action.length - 1), action }] as const;
        }),
      ),
      second: dialect.second && {
        spindle: dialect.second.spindle,
        letter: dialect.second.letter,
        follow: codeNumber(dialect.second.follow),
        leave: codeNumber(dialect.second.leave),
        limit: codeNumber(dialect.second.limit),
        unlimit: codeNumber(dialect.second.unlimit),
      },
      without: withoutCycles(dialect),
      threading: dialect.cycles.threading ?? 'two-block',
      roughing:
        dialect.cycles.roughing === 'one-block'
          ? { head: 'one-block', retract: dialect.cycles.retract ?? 0 }
          : { head: 'two-block' },
    }),
};
