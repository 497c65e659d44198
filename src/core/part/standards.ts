/** Sizes of standard shapes in mm, from the standards named. */

/** DIN 76 outside thread relief, form A: dg = d − below, width g1 at least, g2 at most, radius; exit flank 30°. */
export interface ThreadRelief {
  readonly pitch: number;
  readonly below: number;
  readonly g1: number;
  readonly g2: number;
  readonly radius: number;
}
export const DIN76: readonly ThreadRelief[] = [
  [0.5, 0.8, 1.1, 1.75, 0.2],
  [0.8, 1.3, 1.7, 2.8, 0.4],
  [1, 1.6, 2.1, 3.5, 0.6],
  [1.25, 2, 2.7, 4.4, 0.6],
  [1.5, 2.3, 3.2, 5.2, 0.8],
  [1.75, 2.6, 3.9, 6.1, 1],
  [2, 3, 4.5, 7, 1],
  [2.5, 3.6, 5.6, 8.7, 1.2],
  [3, 4.4, 6.7, 10.5, 1.6],
].map(([pitch, below, g1, g2, radius]) => ({ pitch, below, g1, g2, radius }));

/** Diameter of an inside thread's relief, DIN 76: D + 0.5 from P 1 on, else + 0.3. */
export const innerReliefDiameter = (nominal: number, pitch: number): number => nominal + (pitch >= 1 ? 0.5 : 0.3);

/** DIN 509 undercuts: r × t1 with length f and, for form F, depth t2 into the face; for shafts from `from` up to `to`. */
export interface Undercut {
  readonly name: string;
  readonly radius: number;
  readonly depth: number;
  readonly length: number;
  readonly faceDepth: number;
  readonly from: number;
  readonly to: number;
}
export const DIN509: readonly Undercut[] = [
  { name: '0.4 × 0.2', radius: 0.4, depth: 0.2, length: 2, faceDepth: 0.1, from: 3, to: 18 },
  { name: '0.6 × 0.3', radius: 0.6, depth: 0.3, length: 2.5, faceDepth: 0.2, from: 18, to: 80 },
  { name: '0.8 × 0.3', radius: 0.8, depth: 0.3, length: 2.5, faceDepth: 0.2, from: 18, to: 80 },
  { name: '1.2 × 0.4', radius: 1.2, depth: 0.4, length: 4, faceDepth: 0.3, from: 80, to: Infinity },
];
/** Run-out of DIN 509 forms on the cylinder, and of form F on the face, degrees. */
export const DIN509_RUNOUT = 15;
export const DIN509_FACE = 8;

/** DIN 471 ring grooves: shaft ⌀, groove ⌀, width. */
export const DIN471: readonly { readonly shaft: number; readonly diameter: number; readonly width: number }[] = [
  [8, 7.6, 0.9],
  [10, 9.6, 1.1],
  [12, 11.5, 1.1],
  [15, 14.3, 1.1],
  [16, 15.2, 1.1],
  [17, 16.2, 1.1],
  [20, 19, 1.3],
  [25, 23.9, 1.3],
  [30, 28.6, 1.6],
  [35, 33, 1.6],
  [40, 37.5, 1.85],
  [45, 42.5, 1.85],
  [50, 47, 2.15],
  [60, 57, 2.15],
].map(([shaft, diameter, width]) => ({ shaft, diameter, width }));

/** DIN 332 form A centre holes, 60°: drill d1, mouth d2, depth t at least; d3 is the mouth of form B's 120° protecting cone. */
export const DIN332: readonly { readonly d1: number; readonly d2: number; readonly t: number; readonly d3: number }[] =
  [
    [1, 2.12, 1.9, 3.15],
    [1.6, 3.35, 2.9, 5],
    [2, 4.25, 3.7, 6.3],
    [2.5, 5.3, 4.6, 8],
    [3.15, 6.7, 5.9, 10],
    [4, 8.5, 7.4, 12.5],
    [5, 10.6, 9.2, 16],
    [6.3, 13.2, 11.5, 18],
  ].map(([d1, d2, t, d3]) => ({ d1, d2, t, d3 }));
