import { type Arc, type Curve, line, type Point, point } from '../geometry';
import type { AxisName } from '../machine';
import type { Feed, MotionEvent, MoveEvent, Position } from './events';
import { isMove } from './events';

/** A full place of the programmed tip: mm (X as radius) and degrees. */
export type Pose = Readonly<Record<AxisName, number>>;

const AXES: readonly AxisName[] = ['X', 'Y', 'Z', 'A', 'B', 'C'];

/** One event as the move that it makes. */
export interface Move {
  /** Index of the event in its list. */
  readonly index: number;
  readonly event: MoveEvent;
  /** False for the first place that is named: where the tool came from is not known. */
  readonly placed: boolean;
  readonly from: Pose;
  readonly to: Pose;
  /** Way of the programmed tip in the section plane: x = Z, y = radius. */
  readonly curve: Curve;
  /** Axes besides X and Z that change. */
  readonly others: readonly AxisName[];
}

export const sectionPoint = (p: Pose): Point => point(p.Z, p.X);

const withAxes = (at: Pose, to: Position): Pose => ({
  X: to.X ?? at.X,
  Y: to.Y ?? at.Y,
  Z: to.Z ?? at.Z,
  A: to.A ?? at.A,
  B: to.B ?? at.B,
  C: to.C ?? at.C,
});

const NOWHERE: Pose = { X: 0, Y: 0, Z: 0, A: 0, B: 0, C: 0 };

/** Feed of an event in mm/rev or mm/min; null for rapids. A thread's lead is its feed. */
export const feedOf = (e: MoveEvent): { readonly perRev: number } | { readonly perMin: number } | null => {
  if (e.kind === 'rapid') return null;
  if (e.kind === 'thread') return { perRev: e.lead };
  const f: Feed = e.feed;
  switch (f.mode) {
    case 'perRev':
      return { perRev: f.value };
    case 'perMin':
      return { perMin: f.value };
    case 'perTooth':
      return { perRev: f.value * f.teeth };
    default:
      return f satisfies never;
  }
};

/**
 * Turns events into moves, one after another: the only place that does. Axes that an event does not name stay. The first
 * place after the beginning or after going home has no way to it. A tool change keeps the place: tips differ, slides stay.
 */
export class MoveResolver {
  private at: Pose = NOWHERE;
  private known = false;

  constructor(start: Pose | null = null) {
    if (start) {
      this.at = start;
      this.known = true;
    }
  }

  clone(): MoveResolver {
    const copy = new MoveResolver();
    copy.at = this.at;
    copy.known = this.known;
    return copy;
  }

  get place(): Pose | null {
    return this.known ? this.at : null;
  }

  /** The move of an event, or null for events that move nothing. */
  next(event: MotionEvent, index: number): Move | null {
    if (event.kind === 'home' || event.kind === 'reload') {
      this.known = false;
      return null;
    }
    if (!isMove(event)) return null;
    const to = withAxes(this.at, event.to);
    const placed = this.known;
    const from = placed ? this.at : to;
    this.at = to;
    this.known = true;
    const a = sectionPoint(from);
    const b = sectionPoint(to);
    let curve: Curve = line(a, b);
    if (event.kind === 'arc' && event.plane === 'ZX') {
      const centre = point(event.centre.Z ?? a.x, event.centre.X ?? a.y);
      curve = { kind: 'arc', from: a, to: b, centre, clockwise: event.clockwise } satisfies Arc;
    }
    const others = AXES.filter((k) => k !== 'X' && k !== 'Z' && from[k] !== to[k]);
    if (event.kind === 'arc' && event.plane !== 'ZX' && !others.includes('Y')) others.push('Y');
    return { index, event, placed, from, to, curve, others };
  }
}

/** All moves of a list of events. */
export const movesOf = (events: readonly MotionEvent[], start: Pose | null = null): Move[] => {
  const resolver = new MoveResolver(start);
  return events.flatMap((e, i) => resolver.next(e, i) ?? []);
};
