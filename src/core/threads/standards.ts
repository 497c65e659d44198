/** Thread sizes by standard; mm unless said. */

export interface ThreadSize {
  readonly nominal: number;
  readonly pitch: number;
  /** Coarse pitch of the nominal diameter. */
  readonly coarse: boolean;
  /** A size that a shop meets every week. */
  readonly usual: boolean;
}

type Sizes = readonly (readonly [nominal: number, ...pitches: number[]])[];

/** Sizes that a plain diameter with a chamfer is taken for; the coarse pitch, then fine ones. */
const usual: Sizes = [
  [3, 0.5],
  [4, 0.7],
  [5, 0.8],
  [6, 1],
  [8, 1.25, 1],
  [10, 1.5, 1, 1.25],
  [12, 1.75, 1.25, 1.5],
  [16, 2, 1.5],
  [20, 2.5, 1.5, 2],
  [24, 3, 2],
  [30, 3.5, 1.5, 2],
];
/** The others: their coarse pitch, then fine ones. */
const others: Sizes = [
  [1.6, 0.35],
  [2, 0.4],
  [2.5, 0.45],
  [3.5, 0.6],
  [7, 1],
  [14, 2, 1.5, 1.25, 1],
  [18, 2.5, 2, 1.5, 1],
  [22, 2.5, 2, 1.5, 1],
  [27, 3, 2, 1.5, 1],
  [33, 3.5, 3, 2, 1.5],
  [36, 4, 3, 2, 1.5],
  [39, 4, 3, 2, 1.5],
  [42, 4.5, 4, 3, 2, 1.5],
  [45, 4.5, 4, 3, 2, 1.5],
  [48, 5, 4, 3, 2, 1.5],
  [52, 5, 4, 3, 2, 1.5],
  [56, 5.5, 4, 3, 2, 1.5],
  [60, 5.5, 4, 3, 2, 1.5],
  [64, 6, 4, 3, 2, 1.5],
];
/** Finer pitches of the usual sizes. */
const finer: Sizes = [
  [8, 0.75],
  [10, 0.75],
  [12, 1],
  [16, 1],
  [20, 1],
  [24, 1.5, 1],
  [30, 3, 1],
];

const sizesOf = (table: Sizes, coarseFirst: boolean, isUsual: boolean): ThreadSize[] =>
  table.flatMap(([nominal, ...pitches]) =>
    pitches.map((pitch, i) => ({ nominal, pitch, coarse: coarseFirst && i === 0, usual: isUsual })),
  );
const coarseBefore = (a: ThreadSize, b: ThreadSize): number => Number(b.coarse) - Number(a.coarse);

/** ISO metric threads (ISO 261): usual ones first, of those coarse first. */
export const METRIC_THREADS: readonly ThreadSize[] = [
  ...sizesOf(usual, true, true).sort(coarseBefore),
  ...[...sizesOf(others, true, false), ...sizesOf(finer, false, false)].sort(coarseBefore),
];

/** Core diameter of an inside thread, ISO 68-1: D1 = D − 1.082532 P. */
export const innerThreadCore = (t: Pick<ThreadSize, 'nominal' | 'pitch'>): number => t.nominal - 1.082532 * t.pitch;
/** Tap drill: D − P. */
export const tapDrill = (t: Pick<ThreadSize, 'nominal' | 'pitch'>): number => t.nominal - t.pitch;

export const INCH = 25.4;

/** Unified threads, UNC then UNF (ASME B1.1): size, diameter in inches, threads per inch. */
export const UNIFIED: readonly (readonly [string, number, number])[] = [
  ['#4-40', 0.112, 40],
  ['#6-32', 0.138, 32],
  ['#8-32', 0.164, 32],
  ['#10-24', 0.19, 24],
  ['#12-24', 0.216, 24],
  ['1/4-20', 0.25, 20],
  ['5/16-18', 0.3125, 18],
  ['3/8-16', 0.375, 16],
  ['7/16-14', 0.4375, 14],
  ['1/2-13', 0.5, 13],
  ['9/16-12', 0.5625, 12],
  ['5/8-11', 0.625, 11],
  ['3/4-10', 0.75, 10],
  ['7/8-9', 0.875, 9],
  ['1-8', 1, 8],
  ['1 1/8-7', 1.125, 7],
  ['1 1/4-7', 1.25, 7],
  ['1 3/8-6', 1.375, 6],
  ['1 1/2-6', 1.5, 6],
  ['#4-48', 0.112, 48],
  ['#6-40', 0.138, 40],
  ['#8-36', 0.164, 36],
  ['#10-32', 0.19, 32],
  ['#12-28', 0.216, 28],
  ['1/4-28', 0.25, 28],
  ['5/16-24', 0.3125, 24],
  ['3/8-24', 0.375, 24],
  ['7/16-20', 0.4375, 20],
  ['1/2-20', 0.5, 20],
  ['9/16-18', 0.5625, 18],
  ['5/8-18', 0.625, 18],
  ['3/4-16', 0.75, 16],
  ['7/8-14', 0.875, 14],
  ['1-12', 1, 12],
  ['1 1/8-12', 1.125, 12],
  ['1 1/4-12', 1.25, 12],
  ['1 3/8-12', 1.375, 12],
  ['1 1/2-12', 1.5, 12],
];

/** Pipe threads ISO 228 (G) and ISO 7 (R): size, threads per inch, major diameter, gauge length of R; null where there is no R. */
export const PIPE: readonly (readonly [string, number, number, number | null])[] = [
  ['1/16', 28, 7.723, 4],
  ['1/8', 28, 9.728, 4],
  ['1/4', 19, 13.157, 6],
  ['3/8', 19, 16.662, 6.4],
  ['1/2', 14, 20.955, 8.2],
  ['5/8', 14, 22.911, null],
  ['3/4', 14, 26.441, 9.5],
  ['7/8', 14, 30.201, null],
  ['1', 11, 33.249, 10.4],
  ['1 1/4', 11, 41.91, 12.7],
  ['1 1/2', 11, 47.803, 12.7],
  ['2', 11, 59.614, 15.9],
];

/** NPT (ASME B1.20.1): size, threads per inch, pipe diameter, pitch diameters E0 at the small end and E1 at the gauge plane. */
export const NPT: readonly (readonly [string, number, number, number, number])[] = [
  ['1/16', 27, 7.938, 6.888, 7.142],
  ['1/8', 27, 10.287, 9.233, 9.49],
  ['1/4', 18, 13.716, 12.126, 12.487],
  ['3/8', 18, 17.145, 15.545, 15.926],
  ['1/2', 14, 21.336, 19.264, 19.772],
  ['3/4', 14, 26.67, 24.579, 25.117],
  ['1', 11.5, 33.401, 30.826, 31.461],
  ['1 1/4', 11.5, 42.164, 39.551, 40.218],
  ['1 1/2', 11.5, 48.26, 45.621, 46.287],
  ['2', 11.5, 60.325, 57.633, 58.325],
];

/** Trapezoidal threads of first choice (ISO 2904): diameter and pitch. */
export const TRAPEZOIDAL: readonly (readonly [number, number])[] = [
  [8, 1.5],
  [10, 2],
  [12, 3],
  [14, 3],
  [16, 4],
  [18, 4],
  [20, 4],
  [22, 5],
  [24, 5],
  [26, 5],
  [28, 5],
  [30, 6],
  [32, 6],
  [34, 6],
  [36, 6],
  [38, 7],
  [40, 7],
  [42, 7],
  [44, 7],
  [46, 8],
  [48, 8],
  [50, 8],
  [52, 8],
  [55, 9],
  [60, 9],
];

/** Designations of all of these by families, those first that a shop cuts more often. */
export const STANDARD_NAMES: readonly (readonly string[])[] = [
  METRIC_THREADS.map((t) => `M${t.nominal}x${t.pitch}`),
  UNIFIED.map(([size]) => size),
  PIPE.map(([size]) => `G${size}`),
  TRAPEZOIDAL.map(([diameter, pitch]) => `Tr${diameter}x${pitch}`),
  NPT.map(([size]) => `NPT${size}`),
  PIPE.flatMap(([size, , , gauge]) => (gauge === null ? [] : [`R${size}`])),
];
