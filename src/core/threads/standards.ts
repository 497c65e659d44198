/** Thread sizes by standard; mm unless said. */

export interface ThreadSize {
  readonly nominal: number;
  readonly pitch: number;
  /** Coarse pitch of the nominal diameter. */
  readonly coarse: boolean;
}

const coarse: readonly (readonly [number, number])[] = [
  [3, 0.5],
  [4, 0.7],
  [5, 0.8],
  [6, 1],
  [8, 1.25],
  [10, 1.5],
  [12, 1.75],
  [16, 2],
  [20, 2.5],
  [24, 3],
  [30, 3.5],
];
const fine: readonly (readonly [number, number])[] = [
  [8, 1],
  [10, 1],
  [10, 1.25],
  [12, 1.25],
  [12, 1.5],
  [16, 1.5],
  [20, 1.5],
  [20, 2],
  [24, 2],
  [30, 1.5],
  [30, 2],
];

/** ISO metric threads (ISO 261), coarse first. */
export const METRIC_THREADS: readonly ThreadSize[] = [
  ...coarse.map(([nominal, pitch]) => ({ nominal, pitch, coarse: true })),
  ...fine.map(([nominal, pitch]) => ({ nominal, pitch, coarse: false })),
];

/** Core diameter of an inside thread, ISO 68-1: D1 = D − 1.082532 P. */
export const innerThreadCore = (t: Pick<ThreadSize, 'nominal' | 'pitch'>): number => t.nominal - 1.082532 * t.pitch;
/** Tap drill: D − P. */
export const tapDrill = (t: Pick<ThreadSize, 'nominal' | 'pitch'>): number => t.nominal - t.pitch;

export const INCH = 25.4;

/** Unified threads: size, diameter in inches, threads per inch. */
export const UNIFIED: readonly (readonly [string, number, number])[] = [
  ['#10-24', 0.19, 24],
  ['#10-32', 0.19, 32],
  ['1/4-20', 0.25, 20],
  ['1/4-28', 0.25, 28],
  ['5/16-18', 0.3125, 18],
  ['3/8-16', 0.375, 16],
  ['1/2-13', 0.5, 13],
  ['1/2-20', 0.5, 20],
  ['3/4-10', 0.75, 10],
  ['1-8', 1, 8],
];

/** Pipe threads ISO 228 (G) and ISO 7 (R): size, threads per inch, major diameter, gauge length of R. */
export const PIPE: readonly (readonly [string, number, number, number])[] = [
  ['1/8', 28, 9.728, 4],
  ['1/4', 19, 13.157, 6],
  ['3/8', 19, 16.662, 6.4],
  ['1/2', 14, 20.955, 8.2],
  ['3/4', 14, 26.441, 9.5],
  ['1', 11, 33.249, 10.4],
];

/** NPT (ASME B1.20.1): size, threads per inch, pipe diameter, pitch diameters E0 at the small end and E1 at the gauge plane. */
export const NPT: readonly (readonly [string, number, number, number, number])[] = [
  ['1/8', 27, 10.287, 9.233, 9.49],
  ['1/4', 18, 13.716, 12.126, 12.487],
  ['3/8', 18, 17.145, 15.545, 15.926],
  ['1/2', 14, 21.336, 19.264, 19.772],
  ['3/4', 14, 26.67, 24.579, 25.117],
  ['1', 11.5, 33.401, 30.826, 31.461],
];
