import { type Curve, degrees } from '../geometry';
import {
  innerThreadCore,
  METRIC_THREADS,
  STANDARD_NAMES,
  type ThreadForm,
  type ThreadSize,
  tapDrill,
  tapersAs,
  threadByName,
} from '../threads';
import type { Element, Side } from './contour';
import { DIN76, innerReliefDiameter } from './standards';

/** A stretch of elements, first and last index included. */
export interface Stretch {
  readonly from: number;
  readonly to: number;
}

export interface Hollow extends Stretch {
  readonly width: number;
  readonly depth: number;
}

export const isCylinder = (c: Curve): boolean => c.kind === 'line' && Math.abs(c.to.y - c.from.y) < 1e-6;

/** Angle of a straight piece against the axis, degrees 0–90. */
export const chamferAngle = (c: Curve): number =>
  degrees(Math.atan2(Math.abs(c.to.y - c.from.y), Math.abs(c.to.x - c.from.x)));

/** A standard thread that an element looks as if it wanted. */
export interface ShownThread {
  readonly nominal: number;
  readonly pitch: number;
  /** Its name where it is no metric one. */
  readonly designation: string | null;
}

/** Longest cylinder that a chamfer alone lets take for a thread, in diameters. */
const SCREW_LENGTH = 1.5;
/** Shortest thread, mm. */
const SHORTEST = 1.5;
/** Longest relief, in pitches. */
const RELIEF_LENGTH = 8;

/** Whether a chamfer as high as a thread of a pitch wants it lies beside an element. */
const chamferedFor = (elements: readonly Element[], i: number, pitch: number): boolean =>
  [elements[i - 1], elements[i + 1]].some(
    (e) =>
      e &&
      e.curve.kind === 'line' &&
      chamferAngle(e.curve) > 20 &&
      chamferAngle(e.curve) < 70 &&
      Math.abs(e.curve.to.y - e.curve.from.y) >= 0.35 * pitch,
  );

/** The hollow beside an element in which its thread runs out: behind it a shoulder rises. */
const reliefOf = (
  elements: readonly Element[],
  i: number,
  bore: boolean,
  hollows: readonly Hollow[],
): Hollow | undefined => {
  const { y } = elements[i].curve.from;
  return hollows.find((h) => {
    const beyond = h.from === i + 1 ? elements[h.to] : h.to === i - 1 ? elements[h.from] : undefined;
    if (!beyond) return false;
    const far = Math.max(beyond.curve.from.y, beyond.curve.to.y);
    const near = Math.min(beyond.curve.from.y, beyond.curve.to.y);
    return bore ? near < y - 0.05 : far > y + 0.05;
  });
};

/**
 * A metric thread that a cylinder's diameter fits, when it has what a thread needs: a chamfer to start on, or a relief
 * before a shoulder to run out into. The relief's depth (DIN 76) tells the pitch where several fit.
 */
const metricAt = (elements: readonly Element[], i: number, bore: boolean, relief?: Hollow): ThreadSize | null => {
  const c = elements[i].curve;
  const d = c.from.y * 2;
  const sizes = METRIC_THREADS.filter((t) =>
    bore
      ? Math.abs(d - tapDrill(t)) < 0.03 || Math.abs(d - innerThreadCore(t)) < 0.05
      : d <= t.nominal + 1e-3 && d >= t.nominal - 0.17 * t.pitch,
  );
  if (sizes.length === 0) return null;
  if (relief) {
    const floor = elements.slice(relief.from, relief.to + 1).flatMap((e) => [e.curve.from.y, e.curve.to.y]);
    const bottom = 2 * (bore ? Math.max(...floor) : Math.min(...floor));
    const off = (t: ThreadSize): number =>
      bore
        ? Math.abs(bottom - innerReliefDiameter(t.nominal, t.pitch))
        : Math.abs(t.nominal - bottom - (DIN76.find((r) => r.pitch === t.pitch)?.below ?? 99));
    const best = sizes.reduce((a, t) => (off(t) < off(a) - 1e-9 ? t : a));
    if (relief.width < RELIEF_LENGTH * best.pitch && off(best) < 0.6 * best.pitch) return best;
  }
  // a chamfer alone says little of a plain diameter: what is long besides is a journal
  if (!bore && Math.abs(c.to.x - c.from.x) > SCREW_LENGTH * d) return null;
  return sizes.find((t) => t.usual && chamferedFor(elements, i, t.pitch)) ?? null;
};

/** Pipe and unified threads. */
const INCH_THREADS: readonly ThreadForm[] = STANDARD_NAMES.flat()
  .flatMap((name) => threadByName(name) ?? [])
  .filter((f) => f.family !== 'metric' && f.family !== 'trapezoidal');

/** A diameter this near to that of an inch thread is meant so, mm; one of whole tenths only where it is that diameter. */
const EXACT = 0.011;
const SAME = 1e-3;
const inTenths = (d: number): boolean => Math.abs(10 * d - Math.round(10 * d)) < 1e-6;
/** How far a cone may stand proud of a taper thread's crest, mm, and lie below it, in pitches, where it begins. */
const PROUD = 0.03;
const BELOW = 0.2;

/**
 * A pipe or unified thread: a cone of 1:16 of its diameter, or a cylinder of just its crest or its tap drill with a chamfer
 * or a relief.
 */
const inchAt = (elements: readonly Element[], i: number, side: Side, relief?: Hollow): ThreadForm | null => {
  const { from, to } = elements[i].curve;
  const bore = side !== 'outer';
  const [front, back] = from.x >= to.x ? [from, to] : [to, from];
  const length = front.x - back.x;
  const taper = ((bore ? -2 : 2) * (back.y - front.y)) / length;
  const d = 2 * front.y;
  const off = (f: ThreadForm): number => (bore ? d - f.minor : f.major - d);
  const within = inTenths(d) ? SAME : EXACT;
  const found = INCH_THREADS.filter((f) => {
    if (!tapersAs(f, taper)) return false;
    if (f.taper > 0) return side !== 'back' && off(f) > -PROUD && off(f) < BELOW * f.pitch && length > 3 * f.pitch;
    const meant =
      Math.abs(off(f)) < within || (bore && Math.abs(d - tapDrill({ nominal: f.major, pitch: f.pitch })) < within);
    if (!meant) return false;
    if (relief && relief.width < RELIEF_LENGTH * f.pitch) return true;
    return chamferedFor(elements, i, f.pitch) && (bore || length <= SCREW_LENGTH * d);
  });
  return found.reduce<ThreadForm | null>((a, f) => (a && Math.abs(off(a)) <= Math.abs(off(f)) ? a : f), null);
};

/** The standard thread that an element looks as if it wanted, with the hollows in which threads may run out. */
export const threadAt = (
  elements: readonly Element[],
  i: number,
  side: Side,
  hollows: readonly Hollow[],
): ShownThread | null => {
  const c = elements[i].curve;
  if (c.kind !== 'line' || Math.abs(c.to.x - c.from.x) < SHORTEST) return null;
  const bore = side !== 'outer';
  const relief = reliefOf(elements, i, bore, hollows);
  const metric = isCylinder(c) ? metricAt(elements, i, bore, relief) : null;
  if (metric) return { nominal: metric.nominal, pitch: metric.pitch, designation: null };
  const inch = inchAt(elements, i, side, relief);
  return inch && { nominal: inch.major, pitch: inch.pitch, designation: inch.designation };
};

/** Whether two are the same thread, or neither is one. */
export const isSameThread = (a: ShownThread | null, b: ShownThread | null): boolean =>
  a === b || (a !== null && b !== null && a.nominal === b.nominal && a.pitch === b.pitch);
