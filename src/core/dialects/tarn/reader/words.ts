import type { ReadProblem } from '../../program';

/** Words of one program line, as a control reads them: letters with numbers, comments left out. */
export interface Word {
  readonly letter: string;
  readonly value: number;
  /** Written with a decimal point. */
  readonly point: boolean;
}

export interface Block {
  /** Line in the text, from 1. */
  readonly line: number;
  readonly number: number | null;
  readonly words: readonly Word[];
  /** A remark to the operator, alone in its line. */
  readonly remark?: string;
}

/** Longest text and line that are read, characters, and most problems that are told. */
export const TEXT_LIMIT = 24 * 1024 * 1024;
const LINE_LIMIT = 2000;

const isLetter = (c: string): boolean => c >= 'A' && c <= 'Z';
const isDigit = (c: string): boolean => c >= '0' && c <= '9';

/** One line without its comments, in one walk; null where a comment is not closed. */
const withoutComments = (raw: string): string | null => {
  if (!raw.includes('(')) return raw;
  let result = '';
  let inside = false;
  for (const c of raw) {
    if (!inside && c === '(') inside = true;
    else if (inside && c === ')') {
      inside = false;
      result += ' ';
    } else if (!inside) result += c;
  }
  return inside ? null : result;
};

/** Splits a program into blocks; anything that is not a word, a comment or a tape mark is a problem with its line. */
export const readBlocks = (text: string): { blocks: Block[]; problems: ReadProblem[] } => {
  const blocks: Block[] = [];
  const problems: ReadProblem[] = [];
  if (text.length > TEXT_LIMIT)
    return {
      blocks,
      problems: [{ line: 1, message: `The program is longer than ${TEXT_LIMIT / 1048576} MB. Split it.` }],
    };
  text.split(/\r?\n/).forEach((raw, i) => {
    const line = i + 1;
    if (raw.length > LINE_LIMIT) {
      problems.push({ line, message: `The line is longer than ${LINE_LIMIT} characters. Break it into blocks.` });
      return;
    }
    const bare = withoutComments(raw);
    if (bare === null) {
      problems.push({ line, message: 'A comment is not closed. Add the closing bracket.' });
      return;
    }
    const trimmed = bare.trim();
    const [, remark] = /^\s*\(!\s*([^)]*?)\s*\)\s*$/.exec(raw) ?? [];
    if (remark !== undefined) {
      blocks.push({ line, words: [], number: null, remark });
      return;
    }
    if (trimmed === '' || trimmed === '%') return;
    const words: Word[] = [];
    let number: number | null = null;
    let at = 0;
    const space = (): void => {
      while (trimmed[at] === ' ' || trimmed[at] === '\t') at++;
    };
    while (at < trimmed.length) {
      space();
      const start = at;
      const letter = trimmed[at];
      at++;
      space();
      const from = at;
      if (trimmed[at] === '-' || trimmed[at] === '+') at++;
      while (at < trimmed.length && (isDigit(trimmed[at]) || trimmed[at] === '.')) at++;
      const digits = trimmed.slice(from, at);
      if (!isLetter(letter) || !/^[-+]?(\d+\.?\d*|\.\d+)$/.test(digits)) {
        const found = trimmed.slice(start, start + 20);
        problems.push({ line, message: `“${found}” is not a word of the program. Write a letter and a number.` });
        break;
      }
      const word = { letter, value: Number(digits), point: digits.includes('.') };
      if (letter === 'N' && words.length === 0 && number === null) number = word.value;
      else words.push(word);
    }
    blocks.push({ line, number, words });
  });
  return { blocks, problems };
};
