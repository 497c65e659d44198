/** Tolerances as they stand on drawings: deviations typed out, or fits of ISO 286-2 up to 120 mm. */

/** Deviations from the size, mm. */
export interface Deviations {
  readonly upper: number;
  readonly lower: number;
}

/** Upper ends of the ranges of nominal size, mm (ISO 286-1). */
const RANGES = [3, 6, 10, 18, 30, 50, 80, 120];
/** Standard tolerance grades by range, µm (ISO 286-1 table 1). */
const GRADES: Readonly<Record<number, readonly number[]>> = {
  4: [3, 4, 4, 5, 6, 7, 8, 10],
  5: [4, 5, 6, 8, 9, 11, 13, 15],
  6: [6, 8, 9, 11, 13, 16, 19, 22],
  7: [10, 12, 15, 18, 21, 25, 30, 35],
  8: [14, 18, 22, 27, 33, 39, 46, 54],
  9: [25, 30, 36, 43, 52, 62, 74, 87],
  10: [40, 48, 58, 70, 84, 100, 120, 140],
  11: [60, 75, 90, 110, 130, 160, 190, 220],
  12: [100, 120, 150, 180, 210, 250, 300, 350],
  13: [140, 180, 220, 270, 330, 390, 460, 540],
};
/** Fundamental deviations of shafts, µm: the upper one of d to h, the lower one of k to p (ISO 286-1 tables 4 and 5). */
const UPPER: Readonly<Record<string, readonly number[]>> = {
  d: [-20, -30, -40, -50, -65, -80, -100, -120],
  e: [-14, -20, -25, -32, -40, -50, -60, -72],
  f: [-6, -10, -13, -16, -20, -25, -30, -36],
  g: [-2, -4, -5, -6, -7, -9, -10, -12],
  h: [0, 0, 0, 0, 0, 0, 0, 0],
};
const LOWER: Readonly<Record<string, readonly number[]>> = {
  k: [0, 1, 1, 1, 2, 2, 2, 3],
  m: [2, 4, 6, 7, 8, 9, 11, 13],
  n: [4, 8, 10, 12, 15, 17, 20, 23],
  p: [6, 12, 15, 18, 22, 26, 32, 37],
};

/** Deviations of a fit, mm; null for one that is not in these tables. */
const ofFit = (letter: string, grade: number, diameter: number): Deviations | null => {
  const i = RANGES.findIndex((most) => diameter <= most);
  const width = GRADES[grade]?.[i];
  if (i < 0 || width === undefined) return null;
  const um = (upper: number, lower: number): Deviations => ({ upper: upper / 1000, lower: lower / 1000 });
  const name = letter.toLowerCase();
  if (name === 'js') return um(width / 2, -width / 2);
  // a hole's clearance deviations are the shaft's with the other sign
  if (UPPER[name])
    return letter === name ? um(UPPER[name][i], UPPER[name][i] - width) : um(width - UPPER[name][i], -UPPER[name][i]);
  if (LOWER[name] && letter === name && grade >= 4 && grade <= 7) return um(LOWER[name][i] + width, LOWER[name][i]);
  return null;
};

const number = (text: string): number => Number(text.replace(',', '.').replace('−', '-'));

/** Reads a tolerance of a diameter: `h6`, `H7`, `js7`, `±0.02`, `+0.02/-0.01`, `+0.05 +0.01`, `0/-0.1`; null for any other text. */
export const readTolerance = (text: string, diameter: number): Deviations | null => {
  const t = text.trim();
  const fit = /^(js|JS|[a-zA-Z])\s*(\d{1,2})$/.exec(t);
  if (fit) return ofFit(fit[1], Number(fit[2]), diameter);
  const even = /^±\s*(\d*[.,]?\d+)$/.exec(t);
  if (even) return { upper: number(even[1]), lower: -number(even[1]) };
  const two = /^([+\-−]?\d*[.,]?\d+)\s*(?:\/|\s|;)\s*([+\-−]?\d*[.,]?\d+)$/.exec(t);
  if (!two) return null;
  const [a, b] = [number(two[1]), number(two[2])];
  return Number.isFinite(a) && Number.isFinite(b) ? { upper: Math.max(a, b), lower: Math.min(a, b) } : null;
};

/** Middle of a tolerance, mm from the size. */
export const middleOf = (d: Deviations): number => (d.upper + d.lower) / 2;
