import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { readBlocks, TEXT_LIMIT } from './words';

const words = (text: string): string[] =>
  readBlocks(text).blocks.map((b) => b.words.map((w) => `${w.letter}${w.value}${w.point ? '.' : ''}`).join(' '));

describe('blocks of a program', () => {
  it('are lines with words; numbers of blocks, comments, tape marks and empty lines are none', () => {
    const text = '%\nO0101\n(A COMMENT)\nN10 G0 X40. Z2.\n\nG1 (IN BETWEEN) Z-12.5 F.15\r\n  M30  \n%';
    const { blocks, problems } = readBlocks(text);
    expect(problems).toEqual([]);
    expect(words(text)).toEqual(['O101', 'G0 X40. Z2.', 'G1 Z-12.5. F0.15.', 'M30']);
    expect(blocks.map((b) => b.line)).toEqual([2, 4, 6, 7]);
    expect(blocks.map((b) => b.number)).toEqual([null, 10, null, null]);
  });
  it('tell a number with a decimal point from one without', () => {
    const [{ words: read }] = readBlocks('X40 Z40. W-.5 U+3 Q1500').blocks;
    expect(read.map((w) => [w.letter, w.value, w.point])).toEqual([
      ['X', 40, false],
      ['Z', 40, true],
      ['W', -0.5, true],
      ['U', 3, false],
      ['Q', 1500, false],
    ]);
  });
  it('may have spaces anywhere or none at all', () => {
    // but not within a number
    expect(words('G1X 40.Z - 2.')).toEqual(['G1 X40.']);
    expect(readBlocks('G1X 40.Z - 2.').problems[0].message).toContain('is not a word');
    expect(words('G1X40.Z-2.F.2')).toEqual(['G1 X40. Z-2. F0.2.']);
    expect(words('G 1  X\t40.')).toEqual(['G1 X40.']);
  });
  it('with anything else name the line and what stands there, and the words before it stay', () => {
    for (const [bad, found] of [
      ['G1 X40.. Z2.', 'X40.. Z2.'],
      ['G1 X', 'X'],
      ['G1 x40.', 'x40.'],
      ['G1 #100=4', '#100=4'],
      ['G1 X1e5', 'e5'],
      ['G1 X--4', 'X--4'],
      ['G1 X4,5', ',5'],
    ]) {
      const { blocks, problems } = readBlocks(`M8\n${bad}\nM9`);
      expect(problems).toHaveLength(1);
      expect(problems[0].line).toBe(2);
      expect(problems[0].message).toContain(`“${found}`);
      expect(blocks.map((b) => b.line)).toEqual([1, 2, 3]);
      expect(blocks[1].words[0]).toMatchObject({ letter: 'G', value: 1 });
    }
  });
  it('of which a comment is not closed are told and left out', () => {
    const { blocks, problems } = readBlocks('G0 X4. (NEVER CLOSED\nM5');
    expect(problems).toEqual([{ line: 1, message: 'A comment is not closed. Add the closing bracket.' }]);
    expect(blocks.map((b) => b.line)).toEqual([2]);
    // a bracket that closes nothing is no word
    expect(readBlocks('G0 X4.) Z1.').problems[0].message).toContain('“)');
  });
  it('that are too long, or too many in all, are refused before they are read', () => {
    expect(readBlocks(`G1 ${'X1. '.repeat(600)}`).problems[0].message).toContain('longer than 2000');
    expect(readBlocks('('.repeat(200_000)).problems[0].message).toContain('longer than 2000');
    const huge = readBlocks('M8\n'.repeat(TEXT_LIMIT / 3 + 2));
    expect(huge.blocks).toEqual([]);
    expect(huge.problems[0].message).toContain('Split it');
  });
  it('written from words are read as they were written', () => {
    const word = fc.record({
      letter: fc.constantFrom(...'ABCDFGHIJKMPQRSTUVWXYZ'),
      micrometres: fc.integer({ min: -9_999_999, max: 9_999_999 }),
      point: fc.boolean(),
    });
    fc.assert(
      fc.property(
        fc.array(fc.array(word, { minLength: 1, maxLength: 8 }), { minLength: 1, maxLength: 20 }),
        fc.boolean(),
        (lines, spaced) => {
          const write = (w: { letter: string; micrometres: number; point: boolean }): string =>
            `${w.letter}${w.point ? (w.micrometres / 1000).toFixed(3) : w.micrometres}`;
          const text = lines.map((l, i) => `N${i + 1} ${l.map(write).join(spaced ? ' ' : '')}`).join('\n');
          const { blocks, problems } = readBlocks(text);
          expect(problems).toEqual([]);
          expect(blocks).toHaveLength(lines.length);
          blocks.forEach((b, i) => {
            expect(b.number).toBe(i + 1);
            expect(b.words.map((w) => w.letter)).toEqual(lines[i].map((w) => w.letter));
            b.words.forEach((w, k) => {
              const { micrometres, point } = lines[i][k];
              expect(w.value).toBeCloseTo(point ? micrometres / 1000 : micrometres, 9);
              expect(w.point).toBe(point);
            });
          });
        },
      ),
    );
  });
  it('of any text at all end in blocks and problems, never in an error', () => {
    fc.assert(
      fc.property(fc.string({ maxLength: 300, unit: 'binary' }), (text) => {
        const { blocks, problems } = readBlocks(text);
        for (const b of blocks) for (const w of b.words) expect(Number.isFinite(w.value)).toBe(true);
        for (const p of problems) expect(p.line).toBeGreaterThan(0);
      }),
      { numRuns: 500 },
    );
  });
});
