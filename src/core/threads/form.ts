import { INCH, METRIC_THREADS, NPT, PIPE, UNIFIED } from './standards';

export type ThreadFamily = 'metric' | 'unified' | 'pipe' | 'taper-pipe' | 'npt' | 'trapezoidal' | 'spiral';

/** Heights of a thread, each from its crest, mm per side. */
export interface ThreadHeights {
  /** Depth of the finished form. */
  readonly full: number;
  /** Depth of the sharp apex: where a nose of no radius would reach. */
  readonly apex: number;
}

/** A thread by its standard: diameters where it begins at the front, mm. */
export interface ThreadForm {
  readonly designation: string;
  readonly family: ThreadFamily;
  readonly pitch: number;
  /** Included angle of the flanks, degrees. */
  readonly angle: number;
  /** Taper: change of diameter for each mm of length; 0 for parallel threads. */
  readonly taper: number;
  /** Major diameter of the outside thread: its crest. */
  readonly major: number;
  readonly pitchDiameter: number;
  /** Minor diameter of the inside thread: its crest. */
  readonly minor: number;
  readonly outer: ThreadHeights;
  readonly inner: ThreadHeights;
  /** Sizes of the standard, or somebody's own numbers. */
  readonly standard: boolean;
}

/** H of a 60° form, over the pitch: √3/2. */
const H60 = 0.8660254;
const H55 = 0.960491;

/** ISO 68-1 and UN: crest of the outside thread cut by H/8, of the inside one by H/4; h3 = 17/24 H, h1 = 5/8 H. */
const sixty = (
  family: ThreadFamily,
  designation: string,
  major: number,
  pitch: number,
  standard: boolean,
): ThreadForm => ({
  designation,
  family,
  pitch,
  angle: 60,
  taper: 0,
  major,
  pitchDiameter: major - 0.649519 * pitch,
  minor: major - 1.082532 * pitch,
  outer: { full: 0.61343 * pitch, apex: (7 / 8) * H60 * pitch },
  inner: { full: 0.54127 * pitch, apex: (3 / 4) * H60 * pitch },
  standard,
});

const pipeHeights = (pitch: number): { readonly outer: ThreadHeights } => ({
  outer: { full: 0.640327 * pitch, apex: (5 / 6) * H55 * pitch },
});

/** ISO 228 and ISO 7: 55°, crests and roots rounded, h = 0.640327 P, cut by H/6. */
const fiftyFive = (
  family: 'pipe' | 'taper-pipe',
  designation: string,
  gauge: number,
  perInch: number,
  gaugeLength: number,
): ThreadForm => {
  const pitch = INCH / perInch;
  const heights = pipeHeights(pitch).outer;
  const h = heights.full;
  const taper = family === 'pipe' ? 0 : 1 / 16;
  // the gauge plane of a taper thread lies a gauge length behind the small end
  const major = gauge - taper * gaugeLength;
  return {
    designation,
    family,
    pitch,
    angle: 55,
    taper,
    major,
    pitchDiameter: major - h,
    minor: gauge - 2 * h,
    outer: heights,
    inner: heights,
    standard: true,
  };
};

/** NPT: 60°, taper 1:16 on diameter, height 0.8 P. */
const npt = (designation: string, perInch: number, e0: number, e1: number): ThreadForm => {
  const pitch = INCH / perInch;
  const h = 0.8 * pitch;
  const heights = { full: h, apex: h + (H60 * pitch - h) / 2 };
  return {
    designation,
    family: 'npt',
    pitch,
    angle: 60,
    taper: 1 / 16,
    major: e0 + h,
    pitchDiameter: e0,
    minor: e1 - h,
    outer: heights,
    inner: heights,
    standard: true,
  };
};

/** Clearance of ISO 2901 trapezoidal threads at root and crest, by pitch. */
const trapezoidalClearance = (pitch: number): number =>
  pitch <= 1.5 ? 0.15 : pitch <= 5 ? 0.25 : pitch <= 12 ? 0.5 : 1;

const trapezoidal = (designation: string, major: number, pitch: number): ThreadForm => {
  const a = trapezoidalClearance(pitch);
  const H = 1.866 * pitch;
  const full = 0.5 * pitch + a;
  // the crest is 0.366 P wide: the sharp apex lies (P − 0.366 P)/2 / tan 15° below it
  const apex = H - (0.366 * pitch) / 2 / Math.tan(Math.PI / 12);
  return {
    designation,
    family: 'trapezoidal',
    pitch,
    angle: 30,
    taper: 0,
    major,
    pitchDiameter: major - 0.5 * pitch,
    minor: major - pitch,
    outer: { full, apex },
    inner: { full, apex },
    standard: true,
  };
};

/** A spiral on a face: a V of 60° or 55°, or a trapezoid of 30° (a scroll), by its pitch alone. */
const spiral = (pitch: number, angle: number): ThreadForm => {
  const like =
    angle === 30 ? trapezoidal('', 0, pitch) : angle === 55 ? pipeHeights(pitch) : sixty('spiral', '', 0, pitch, false);
  return {
    designation: angle === 60 ? `P${pitch}` : `P${pitch}x${angle}`,
    family: angle === 30 ? 'trapezoidal' : 'spiral',
    pitch,
    angle,
    taper: 0,
    major: 0,
    pitchDiameter: 0,
    minor: 0,
    outer: like.outer,
    inner: like.outer,
    standard: false,
  };
};

const NUMBER = '(\\d+(?:[.,]\\d+)?)';
const metric = new RegExp(`^M ?${NUMBER}(?: ?[x×*] ?${NUMBER})?$`, 'i');
const trapeze = new RegExp(`^TR ?${NUMBER} ?[x×*] ?${NUMBER}$`, 'i');
const sized = /^(G|R|RC|RP|NPT) ?(\d+(?:[ -]\d+\/\d+|\/\d+)?)$/i;
/** Sizes are the same with a space, a hyphen or nothing between whole and part. */
const plain = (size: string): string => size.replace(/^(\d+)[ -](?=\d+\/)/, '$1').replace(/["\s]/g, '');
const value = (text: string): number => Number(text.replace(',', '.'));

/**
 * A thread by its designation: M16, M16x1.5 (any numbers; the coarse pitch where none stands), 1/2-13 (UN), #10-32, G1/2,
 * R1/2, NPT1/2, Tr20x4. Null for what is no thread.
 */
export const threadByName = (text: string): ThreadForm | null => {
  const name = text.trim();
  const m = metric.exec(name);
  if (m) {
    const major = value(m[1]);
    const known = METRIC_THREADS.find((t) => t.nominal === major && t.coarse);
    const pitch = m[2] === undefined ? known?.pitch : value(m[2]);
    if (pitch === undefined || !(pitch > 0) || pitch > major / 2) return null;
    const standard = METRIC_THREADS.some((t) => t.nominal === major && Math.abs(t.pitch - pitch) < 1e-9);
    const coarse = known && Math.abs(known.pitch - pitch) < 1e-9;
    return sixty('metric', coarse ? `M${major}` : `M${major}x${pitch}`, major, pitch, standard);
  }
  const inch = plain(name.replace(/ ?(UNC|UNF|UN)$/i, ''));
  const un = UNIFIED.find(([size]) => plain(size) === inch);
  if (un) return sixty('unified', `${un[0]} UN`, un[1] * INCH, INCH / un[2], true);
  const t = trapeze.exec(name);
  if (t) {
    const [major, pitch] = [value(t[1]), value(t[2])];
    return pitch > 0 && pitch < major / 2 ? trapezoidal(`Tr${major}x${pitch}`, major, pitch) : null;
  }
  const s = sized.exec(name);
  if (!s) return null;
  const kind = s[1].toUpperCase();
  if (kind === 'NPT') {
    const found = NPT.find(([size]) => plain(size) === plain(s[2]));
    return found ? npt(`NPT ${found[0]}`, found[1], found[3], found[4]) : null;
  }
  const found = PIPE.find(([size]) => plain(size) === plain(s[2]));
  if (!found) return null;
  const [size, perInch, gauge, length] = found;
  const tapered = kind === 'R' || kind === 'RC';
  if (tapered && length === null) return null;
  return fiftyFive(tapered ? 'taper-pipe' : 'pipe', `${kind} ${size}`, gauge, perInch, length ?? 0);
};

const spiralName = new RegExp(`^P ?${NUMBER}(?: ?[x×*] ?(30|55|60) ?°?)?$`, 'i');

/** A spiral on a face by its designation: P1.5, or P6x30 with flanks of 30°. Null for what is none. */
export const spiralByName = (text: string): ThreadForm | null => {
  const m = spiralName.exec(text.trim());
  const pitch = m ? value(m[1]) : 0;
  return m && pitch > 0 && pitch <= 100 ? spiral(pitch, m[2] === undefined ? 60 : Number(m[2])) : null;
};

/** What an insert brings to a thread: its flanks, its nose, and whether it makes the crest as well. */
export interface ThreadEdge {
  readonly angle: number;
  readonly noseRadius: number;
  readonly profile: 'partial' | 'full';
}

/** Depth from the crest to the lowest place of the nose for the form on a side, mm: apex − ρ·(1/sin(α/2) − 1) (machining.md). */
export const threadDepth = (form: ThreadForm, side: 'outer' | 'inner' | 'face', edge: ThreadEdge): number => {
  // a spiral on a face has the heights of an outside thread
  const heights = form[side === 'inner' ? 'inner' : 'outer'];
  if (edge.profile === 'full') return heights.full;
  const half = ((form.angle / 2) * Math.PI) / 180;
  // a trapezoid's insert is as wide in front as its groove
  if (form.family === 'trapezoidal') return heights.full;
  return heights.apex - edge.noseRadius * (1 / Math.sin(half) - 1);
};

/** Tapers, as change of diameter for each mm, that differ by no more than this are one. */
const SAME_TAPER = 2e-3;

/** Whether a surface changes its diameter, for each mm of length, as a thread on it does. */
export const tapersAs = (form: ThreadForm, taper: number): boolean => Math.abs(form.taper - taper) <= SAME_TAPER;

/** The pitch of an insert is written to a thousandth of a millimetre; a pitch by threads per inch has more digits. */
const WRITTEN = 6e-4;

/** Whether an insert cuts a pitch, mm. */
export const pitchWithin = (pitch: number, insert: { readonly pitchMin: number; readonly pitchMax: number }): boolean =>
  pitch > insert.pitchMin - WRITTEN && pitch < insert.pitchMax + WRITTEN;

/** Whether a thread is the metric one of coarse pitch for its diameter. */
export const isCoarse = (designation: string): boolean => {
  const form = threadByName(designation);
  if (form?.family !== 'metric') return false;
  return METRIC_THREADS.some((t) => t.coarse && t.nominal === form.major && Math.abs(t.pitch - form.pitch) < 1e-9);
};
