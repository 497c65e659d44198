/** Words of one program line, as a control reads them: letters with numbers, comments and the block delete left out. */
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
}

export interface ReadProblem {
  readonly line: number;
  readonly message: string;
}

/** Splits a program into blocks; anything that is not a word, a comment or a tape mark is a problem with its line. */
export const readBlocks = (text: string): { blocks: Block[]; problems: ReadProblem[] } => {
  const blocks: Block[] = [];
  const problems: ReadProblem[] = [];
  text.split(/\r?\n/).forEach((raw, i) => {
    const bare = raw.replace(/\([^)]*\)/g, ' ').trim();
    if (bare.includes('('))
      problems.push({ line: i + 1, message: 'A comment is not closed. Add the closing bracket.' });
    if (bare === '' || bare === '%') return;
    const words: Word[] = [];
    let rest = bare;
    let number: number | null = null;
    while (rest !== '') {
      const m = /^\s*([A-Z])\s*([-+]?(?:\d+\.?\d*|\.\d+))/.exec(rest);
      if (!m) {
        problems.push({
          line: i + 1,
          message: `“${rest.trim().slice(0, 20)}” is not a word of the program. Write a letter and a number.`,
        });
        break;
      }
      const word = { letter: m[1], value: Number(m[2]), point: m[2].includes('.') };
      if (word.letter === 'N' && words.length === 0) number = word.value;
      else words.push(word);
      rest = rest.slice(m[0].length).trimStart();
    }
    blocks.push({ line: i + 1, number, words });
  });
  return { blocks, problems };
};
