import { arcSweep, type Curve, distance, type Point, point, splitCurve, straightened, subtract } from '../geometry';
import type { ContourBlock, Feed, MotionEvent, Purpose } from '../motion';
import type { Frame } from './frame';
import { curveOut } from './frame';
import type { Cutting, Seen } from './types';

/** Distributes the loss of `op` and `purpose` over the union. */
type Bare<T> = T extends unknown ? Omit<T, 'op' | 'purpose'> : never;
type BareEvent = Bare<MotionEvent>;

/** Collects the events of one operation; places are nose-centre positions in part coordinates. */
export class EventList {
  readonly events: MotionEvent[] = [];
  private at: Point | null = null;
  /** Place of the tool change from which the next way leads in, where it leads over something: along Z first. */
  private over: Point | null = null;
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

  /** The way in from where the tool stands goes along Z first, and the way back there along X. */
  leadOver(from: Point): void {
    this.over = from;
  }

  rapid(purpose: Purpose, to: Point): void {
    const { over } = this;
    if (over && this.at === over) this.straight(purpose, point(to.x, over.y));
    else if (over && this.at && distance(to, over) < 1e-9) this.straight(purpose, point(this.at.x, over.y));
    this.straight(purpose, to);
  }

  private straight(purpose: Purpose, to: Point): void {
    if (this.at && distance(this.at, to) < 1e-9) return;
    this.add(purpose, { kind: 'rapid', to: this.tipOf(to) });
    this.at = to;
  }

  /** One pass of a thread from where the tool stands. */
  thread(
    to: Point,
    lead: number,
    startAngle: number,
    crest?: readonly [{ X: number; Z: number }, { X: number; Z: number }],
  ): void {
    this.add('cut', { kind: 'thread', to: this.tipOf(to), lead, startAngle, ...(crest ? { crest } : {}) });
    this.at = to;
  }

  feed(purpose: Purpose, pieces: readonly Curve[], feed: Feed): void {
    for (const c of straightened(pieces.flatMap(withoutLongArcs))) {
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

/** Nose centre when the programmed tip stands at the tool change position. */
const toolChangeCentre = (seen: Seen, tip: Point): Point =>
  subtract(point(seen.place.toolChange.z, seen.place.toolChange.diameter / 2), tip);

/** The spindle at another speed, in the mode of the operation. */
export const spindleFor = (
  { place, section }: Seen,
  { speed }: Cutting,
  value: number,
  direction: 'forward' | 'reverse' = section.spindle,
): Extract<BareEvent, { kind: 'spindle' }> => ({
  kind: 'spindle',
  spindle: place.spindle,
  direction,
  speed:
    speed.mode === 'surface'
      ? { mode: 'surface', value, clamp: place.clamp }
      : { mode: 'fixed', value: Math.min(value, place.clamp) },
});

/**
 * Tool and work offset first, so that every place that follows is meant for this tool; then the tool change position, from
 * which all approaches begin; then the spindle in the direction that hand and way up of the tool ask for.
 */
export const openOperation = (
  list: EventList,
  seen: Seen,
  cutting: Cutting,
  tip: Point = seen.section.tip,
  direction: 'forward' | 'reverse' = seen.section.spindle,
): void => {
  const { place, tool } = seen;
  list.add('tool-change', {
    kind: 'tool',
    carrier: place.carrier,
    station: place.station,
    offset: place.offset,
    tool: tool.id,
  });
  list.add('setup', { kind: 'work-offset', code: place.workOffset });
  const change = toolChangeCentre(seen, tip);
  list.rapid('tool-change', change);
  if (place.centred) list.leadOver(change);
  list.add('setup', spindleFor(seen, cutting, cutting.speed.value, direction));
  if (cutting.coolant) list.add('setup', { kind: 'coolant', on: true });
};

export const closeOperation = (list: EventList, seen: Seen, tip: Point = seen.section.tip): void => {
  list.add('setup', { kind: 'coolant', on: false });
  list.rapid('tool-change', toolChangeCentre(seen, tip));
};

/** Frame curves as part curves. */
export const backThrough = (frame: Frame, chain: readonly Curve[]): Curve[] => chain.map((c) => curveOut(frame, c));
