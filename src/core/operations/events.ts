import { arcSweep, type Curve, distance, type Point, point, splitCurve, subtract } from '../geometry';
import type { ContourBlock, Feed, MotionEvent, Purpose } from '../motion';
import type { Frame } from './frame';
import { curveThrough } from './frame';
import type { Cutting, PlanContext } from './types';

/** Distributes the loss of `op` and `purpose` over the union. */
type Bare<T> = T extends unknown ? Omit<T, 'op' | 'purpose'> : never;
type BareEvent = Bare<MotionEvent>;

/** Collects the events of one operation; places are nose-centre positions in part coordinates. */
export class EventList {
  readonly events: MotionEvent[] = [];
  private at: Point | null = null;
  constructor(
    private readonly op: string,
    private readonly tip: Point,
  ) {}

  add(purpose: Purpose, event: BareEvent): void {
    this.events.push({ ...event, op: this.op, purpose } as MotionEvent);
  }

  get place(): Point | null {
    return this.at;
  }

  /** The programmed tip for a nose-centre position. */
  tipOf(centre: Point): { X: number; Z: number } {
    return { X: centre.y + this.tip.y, Z: centre.x + this.tip.x };
  }

  rapid(purpose: Purpose, to: Point): void {
    if (this.at && distance(this.at, to) < 1e-9) return;
    this.add(purpose, { kind: 'rapid', to: this.tipOf(to) });
    this.at = to;
  }

  feed(purpose: Purpose, pieces: readonly Curve[], feed: Feed): void {
    for (const c of pieces.flatMap(withoutLongArcs)) {
      if (c.kind === 'line') this.add(purpose, { kind: 'feed', to: this.tipOf(c.to), feed });
      else
        this.add(purpose, {
          kind: 'arc',
          to: this.tipOf(c.to),
          centre: this.tipOf(c.centre),
          clockwise: c.clockwise,
          plane: 'ZX',
          feed,
        });
      this.at = c.to;
    }
  }
}

/** Arcs of half a turn or more become two, so that any control reads them alike. */
const withoutLongArcs = (c: Curve): Curve[] =>
  c.kind === 'arc' && Math.abs(arcSweep(c)) > Math.PI * 0.99 ? splitCurve(c, [0.5]) : [c];

export const blocksOf = (chain: readonly Curve[]): ContourBlock[] =>
  chain
    .flatMap(withoutLongArcs)
    .map((c) =>
      c.kind === 'line'
        ? { kind: 'line', X: c.to.y, Z: c.to.x }
        : { kind: 'arc', X: c.to.y, Z: c.to.x, centreX: c.centre.y, centreZ: c.centre.x, clockwise: c.clockwise },
    );

export const perRev = (value: number): Feed => ({ mode: 'perRev', value });

/** Spindle forward for a right-hand tool in the usual position; the clamp is the least of machine and job. */
export const openOperation = (list: EventList, ctx: PlanContext, cutting: Cutting): void => {
  const clamp = Math.min(ctx.spindle.maxSpeed, ctx.holding.maxSpeed);
  const carrier = ctx.machine.carriers[0];
  list.rapid('tool-change', toolChangeCentre(ctx));
  list.add('tool-change', {
    kind: 'tool',
    carrier: carrier.id,
    station: ctx.station,
    offset: ctx.tool.offset ?? ctx.station,
    tool: ctx.tool.id,
  });
  list.add('setup', { kind: 'work-offset', code: ctx.holding.workOffset });
  list.add('setup', {
    kind: 'spindle',
    spindle: ctx.spindle.id,
    direction: 'forward',
    speed:
      cutting.speedMode === 'surface'
        ? { mode: 'surface', value: cutting.speed, clamp }
        : { mode: 'fixed', value: Math.min(cutting.speed, clamp) },
  });
  if (cutting.coolant) list.add('setup', { kind: 'coolant', on: true });
};

/** Nose centre when the programmed tip stands at the tool change position. */
export const toolChangeCentre = (ctx: PlanContext): Point =>
  subtract(point(ctx.holding.toolChange.z, ctx.holding.toolChange.diameter / 2), ctx.section.tip);

export const closeOperation = (list: EventList, ctx: PlanContext): void => {
  list.add('setup', { kind: 'coolant', on: false });
  list.rapid('tool-change', toolChangeCentre(ctx));
};

/** Frame curves as part curves. */
export const backThrough = (frame: Frame, chain: readonly Curve[]): Curve[] => chain.map((c) => curveThrough(frame, c));
