import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { type Measure, setName } from './names';

/** Letters all alike: half as wide as they are high. */
const even: Measure = (text, letters) => (text.length * letters) / 2;

describe('the name of an operation in its block', () => {
  it('stands on one line where there is room, on several where not, and upright in a narrow one', () => {
    expect(setName('Face the front', 200, 64, even)).toMatchObject({ way: 'line', letters: 12 });
    expect(setName('Relief behind the thread', 58, 64, even)).toEqual({
      way: 'lines',
      letters: 11,
      pitch: 12,
      lines: ['Relief', 'behind', 'the', 'thread'],
      whole: true,
    });
    expect(setName('Cut off', 18, 64, even)).toEqual({
      way: 'upright',
      letters: 11,
      pitch: 12,
      lines: ['Cut off'],
      whole: true,
    });
    expect(setName('Break the back edge', 32, 64, even)).toMatchObject({
      way: 'upright',
      lines: ['Break the', 'back edge'],
    });
  });
  it('is never cut where it is said to be whole', () => {
    fc.assert(
      fc.property(
        fc.array(fc.string({ unit: fc.constantFrom('a', 'm', '⌀', '1'), minLength: 1, maxLength: 12 }), {
          minLength: 1,
          maxLength: 6,
        }),
        fc.integer({ min: 15, max: 300 }),
        fc.integer({ min: 40, max: 90 }),
        (words, width, height) => {
          const name = words.join(' ');
          const set = setName(name, width, height, even);
          expect(set.lines.join(' ')).toBe(name);
          if (set.way === 'line') expect(even(name, set.letters)).toBeLessThanOrEqual(width - 14);
          if (set.way === 'lines') {
            expect(set.lines.length * set.pitch).toBeLessThanOrEqual(height - 16);
            for (const l of set.lines) expect(even(l, set.letters)).toBeLessThanOrEqual(width - 14);
          }
          if (set.way === 'upright' && set.whole) {
            expect(set.lines.length * set.pitch).toBeLessThanOrEqual(Math.max(set.pitch, width - 4));
            for (const l of set.lines) expect(even(l, set.letters)).toBeLessThanOrEqual(height - 6);
          }
        },
      ),
    );
  });
});
