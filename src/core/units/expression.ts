/** Arithmetic in a length or number field: + − × ÷, brackets, decimal point or comma, and a unit behind a number. */

export type Evaluated =
  | { readonly ok: true; readonly value: number }
  | { readonly ok: false; readonly at: number; readonly reason: string };

export type LengthUnit = 'mm' | 'inch';

const MM_PER_INCH = 25.4;

/**
 * Value of a typed expression in mm. A bare number is in `unit`; `mm`, `cm`, `m`, `in` or `"` behind a number or bracket
 * says otherwise, so that `1/2in` is half an inch in any job. Errors give the place in the text.
 */
export const evaluateLength = (text: string, unit: LengthUnit, names: Names = NO_NAMES): Evaluated =>
  evaluate(text, unit === 'inch' ? MM_PER_INCH : 1, true, names);

/** The same for plain numbers without units. */
export const evaluateNumber = (text: string, names: Names = NO_NAMES): Evaluated => evaluate(text, 1, false, names);

/** Named lengths (mm) that an expression may use. */
export type Names = ReadonlyMap<string, number>;
const NO_NAMES: Names = new Map();

const NAME = /^[A-Za-z_][A-Za-z0-9_]*/;
const UNITS = new Set(['mm', 'cm', 'm', 'in', 'inch']);
const FUNCTIONS: Readonly<Record<string, (v: number) => number>> = {
  sqrt: Math.sqrt,
  abs: Math.abs,
  sin: (v) => Math.sin((v * Math.PI) / 180),
  cos: (v) => Math.cos((v * Math.PI) / 180),
  tan: (v) => Math.tan((v * Math.PI) / 180),
};

/** True for a word that may name a dimension: letters, digits and _, no unit or function. */
export const isDimensionName = (word: string): boolean =>
  NAME.exec(word)?.[0] === word && !UNITS.has(word.toLowerCase()) && !(word in FUNCTIONS) && word !== 'pi';

/** Names that an expression uses, in order, each once. */
export const namesIn = (text: string): string[] =>
  [...new Set(text.match(/[A-Za-z_][A-Za-z0-9_]*/g) ?? [])].filter(isDimensionName);

class Syntax extends Error {
  constructor(
    readonly at: number,
    readonly reason: string,
  ) {
    super(reason);
  }
}

/** A value is a bare number until a unit or a length makes it mm. */
interface Quantity {
  readonly value: number;
  readonly length: boolean;
}

const evaluate = (text: string, bare: number, units: boolean, names: Names): Evaluated => {
  const source = text
    .replace(/×/g, '*')
    .replace(/÷/g, '/')
    .replace(/−/g, '-')
    .replace(/⌀/g, '')
    .replace(/(\d),(\d)/g, '$1.$2');
  let at = 0;
  const space = (): void => {
    while (source[at] === ' ') at++;
  };
  const unitHere = (): number | null => {
    space();
    const m = /^(mm|cm|m|inch|in|")/i.exec(source.slice(at));
    if (!m) return null;
    if (!units) throw new Syntax(at, 'no unit belongs here');
    at += m[0].length;
    const u = m[0].toLowerCase();
    return u === 'mm' ? 1 : u === 'cm' ? 10 : u === 'm' ? 1000 : MM_PER_INCH;
  };
  const primary = (): Quantity => {
    space();
    if (source[at] === '-') {
      at++;
      const q = primary();
      return { ...q, value: -q.value };
    }
    if (source[at] === '+') {
      at++;
      return primary();
    }
    if (source[at] === '(') {
      at++;
      const q = sum();
      space();
      if (source[at] !== ')') throw new Syntax(at, 'a closing bracket is missing');
      at++;
      const u = q.length ? null : unitHere();
      return u === null ? q : { value: q.value * u, length: true };
    }
    const word = NAME.exec(source.slice(at))?.[0];
    if (word) {
      const start = at;
      at += word.length;
      if (word === 'pi') return { value: Math.PI, length: false };
      if (Object.hasOwn(FUNCTIONS, word)) {
        space();
        if (source[at] !== '(') throw new Syntax(at, `“${word}” needs brackets`);
        const q = primary();
        return { value: FUNCTIONS[word](q.value), length: q.length && (word === 'sqrt' || word === 'abs') };
      }
      const value = names.get(word);
      if (value === undefined) throw new Syntax(start, `there is no dimension “${word}”`);
      return { value, length: units };
    }
    const m = /^(\d+\.?\d*|\.\d+)/.exec(source.slice(at));
    if (!m)
      throw new Syntax(at, at >= source.length ? 'a number is missing at the end' : `“${source[at]}” is not a number`);
    at += m[0].length;
    return { value: Number(m[0]), length: false };
  };
  const product = (): Quantity => {
    let left = primary();
    for (;;) {
      const u = left.length ? null : unitHere();
      if (u !== null) left = { value: left.value * u, length: true };
      space();
      const operator = source[at];
      if (operator !== '*' && operator !== '/') return left;
      at++;
      const place = at;
      const right = primary();
      // `1/2in`: the unit after the divisor belongs to the whole fraction
      if (operator === '/') {
        if (right.value === 0) throw new Syntax(place, 'division by zero');
        left = { value: left.value / right.value, length: left.length };
      } else left = { value: left.value * right.value, length: left.length || right.length };
    }
  };
  const settle = (q: Quantity): Quantity => (q.length ? q : { value: q.value * bare, length: true });
  const sum = (): Quantity => {
    let left = product();
    for (;;) {
      space();
      const operator = source[at];
      if (operator !== '+' && operator !== '-') return left;
      at++;
      const right = product();
      const [a, b] = left.length || right.length ? [settle(left), settle(right)] : [left, right];
      left = { value: operator === '+' ? a.value + b.value : a.value - b.value, length: a.length };
    }
  };
  try {
    if (source.trim() === '') return { ok: false, at: 0, reason: 'nothing is typed' };
    const q = sum();
    space();
    if (at < source.length) throw new Syntax(at, `“${source.slice(at, at + 8)}” does not belong here`);
    const value = settle(q).value;
    if (!Number.isFinite(value)) return { ok: false, at: 0, reason: 'the result is no number' };
    return { ok: true, value };
  } catch (error) {
    if (error instanceof Syntax) return { ok: false, at: error.at, reason: error.reason };
    throw error;
  }
};

/** A length that is proposed, mm: the next tenth up. */
export const tenthsUp = (v: number): number => Math.ceil(v * 10 - 1e-9) / 10;

/** A length in mm as text in the unit, without trailing zeros. */
export const formatLength = (mm: number, unit: LengthUnit): string => {
  const v = unit === 'inch' ? mm / MM_PER_INCH : mm;
  const text = v.toFixed(unit === 'inch' ? 5 : 4).replace(/\.?0+$/, '');
  return text === '-0' ? '0' : text;
};
