import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { evaluateLength, evaluateNumber, formatLength } from './expression';

const mm = (text: string, unit: 'mm' | 'inch' = 'mm'): number => {
  const r = evaluateLength(text, unit);
  if (!r.ok) throw new Error(r.reason);
  return r.value;
};

describe('typed lengths', () => {
  it.each([
    ['62/2+0.25', 31.25],
    ['1/2in', 12.7],
    ['(1+1/2)in', 38.1],
    ['-3', -3],
    ['2*(3+4)', 14],
    ['25.4mm+1"', 50.8],
    ['1,5', 1.5],
    ['⌀26', 26],
    ['3 cm', 30],
    ['10 - 2 - 3', 5],
  ])('%s = %d mm', (text, value) => expect(mm(text)).toBeCloseTo(value, 9));
  it('takes bare numbers in the job’s unit', () => {
    expect(mm('1', 'inch')).toBeCloseTo(25.4, 9);
    expect(mm('1+1mm', 'inch')).toBeCloseTo(26.4, 9);
  });
  it.each([
    ['', 0],
    ['12+', 3],
    ['3..4', 2],
    ['(2+3', 4],
    ['1/0', 2],
    ['abc', 0],
  ])('says where %j goes wrong', (text, at) => {
    const r = evaluateLength(text, 'mm');
    expect(r.ok).toBe(false);
    if (!r.ok) expect(r.at).toBe(at);
  });
  it('knows no units in plain numbers', () => {
    expect(evaluateNumber('3mm').ok).toBe(false);
    expect(evaluateNumber('3*4')).toEqual({ ok: true, value: 12 });
  });
  it('writes and reads back', () => {
    fc.assert(
      fc.property(
        fc.double({ min: -900, max: 900, noNaN: true }),
        fc.constantFrom('mm' as const, 'inch' as const),
        (v, unit) => {
          expect(mm(formatLength(v, unit), unit)).toBeCloseTo(v, 3);
        },
      ),
    );
  });
});
