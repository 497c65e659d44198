import type { Finding } from '../findings';
import { onceFor, type Region } from '../geometry';
import { isMove, type TimedEvent, type Timeline } from '../motion';
import type { Part } from '../part';
import type { Body } from '../stock';
import type { ToolSection } from '../tooling';
import type { Coverage } from './coverage';
import {
  type Derived,
  type DerivedOperation,
  type Held,
  type OperationState,
  type OperationTimes,
  rawStockOf,
} from './derive';
import { hashBody, hashOf, hashRegion } from './hash';
import type { OperationLoad } from './load';

/**
 * What a screen keeps of a derived job, and what it is told when the job changes. Paths, stock and timelines stay where they
 * were made; they are asked for one operation at a time.
 */

/** An operation without its path. */
export interface OperationView {
  /** Name of this time; the first one has the operation's own. */
  readonly id: string;
  /** The operation of the document. */
  readonly operation: string;
  readonly time: DerivedOperation['time'];
  readonly channel: string;
  readonly holding: string;
  readonly state: OperationState;
  readonly station: number | null;
  readonly findings: readonly Finding[];
  /** For each finding the seconds after the operation's start, or null. */
  readonly moments: readonly (number | null)[];
  readonly load: OperationLoad | null;
  readonly depth: number;
  /** What supports the work in front of the jaws meanwhile. */
  readonly support: Region;
  readonly removed: number;
  /** It moves a tool. */
  readonly moves: boolean;
  /** Changes with its path, its stock or its times within: what was asked for before holds while this stays. */
  readonly key: string;
  readonly times: OperationTimes;
}

/** A holding with what it holds. */
export type HeldView = Omit<Held, 'fixtures' | 'zeroZ' | 'rawStock'> & {
  /** What was put into the jaws, in half-section. */
  readonly rawStock: Region;
};

/** The state after the last operation. */
interface EndView {
  readonly leftover: Region;
  readonly gouge: Region;
  readonly leftoverVolume: number;
}

export interface DerivedView {
  /** The part as it is drawn. */
  readonly part: Part;
  /** Every holding in its order, with the part as it lies there. */
  readonly holdings: readonly HeldView[];
  /** In the order in which they change the stock. */
  readonly operations: readonly OperationView[];
  /** Findings of the job, then those of its operations. */
  readonly findings: readonly Finding[];
  readonly coverage: Coverage;
  readonly end: EndView;
  readonly total: number;
}

/** What has changed between two views; what is missing is as before. */
export interface ViewChanges {
  readonly part?: Part;
  readonly holdings?: DerivedView['holdings'];
  readonly order?: readonly string[];
  readonly operations: readonly Omit<OperationView, 'times'>[];
  /** start, end, cutting, rapid and other of every operation, one after another. */
  readonly times?: Float64Array;
  readonly general?: readonly Finding[];
  readonly coverage?: Coverage;
  readonly end?: EndView;
  readonly total?: number;
}

/** Timed events of one operation, from its own start, with what they cut. */
export interface Track {
  readonly key: string;
  readonly before: Region;
  readonly section: ToolSection;
  readonly timed: readonly TimedEvent[];
}

const TIMES = ['start', 'end', 'cutting', 'rapid', 'other'] as const;

/** Timed events of each operation, sorted once for each timeline. */
const byOperation = onceFor((timeline: Timeline): ReadonlyMap<string, readonly TimedEvent[]> => {
  const made = new Map<string, TimedEvent[]>();
  for (const c of timeline.channels)
    for (const t of c.events) {
      const list = made.get(t.event.op);
      if (list) list.push(t);
      else made.set(t.event.op, [t]);
    }
  return made;
});

const eventsOf = (timeline: Timeline, op: DerivedOperation): readonly TimedEvent[] =>
  byOperation(timeline).get(op.id) ?? [];

/** Timed events and stock of one operation, for playing it; null when it has no path. */
export const trackOf = (derived: Derived, id: string): Track | null => {
  const op = derived.operations.find((o) => o.id === id);
  if (!op?.section || op.events.length === 0) return null;
  const { start } = op.times;
  return {
    key: keyOf(op),
    before: op.before.turnedOutline,
    section: op.section,
    timed: eventsOf(derived.timeline, op).map((t) => ({ ...t, start: t.start - start, end: t.end - start })),
  };
};

const keyOf = (op: DerivedOperation): string => {
  const { start, end, cutting, rapid, other } = op.times;
  return hashOf(op.key, hashBody(op.before), end - start, cutting, rapid, other);
};

/** The view of an operation without its times, which change for all that follows an edit. */
const operationView = (derived: Derived, op: DerivedOperation): Omit<OperationView, 'times'> => {
  const needed = op.findings.some((f) => f.event !== null);
  const timed = needed ? eventsOf(derived.timeline, op) : [];
  const at = new Map(timed.map((t) => [t.event, (t.start + t.end) / 2 - op.times.start]));
  return {
    id: op.id,
    operation: op.operation,
    time: op.time,
    channel: op.channel,
    holding: op.holding,
    state: op.state,
    station: op.station,
    findings: op.findings,
    moments: op.findings.map((f) => (f.event === null ? null : (at.get(op.events[f.event]) ?? null))),
    load: op.load,
    depth: op.depth,
    support: op.supports.flatMap((s) => s.region),
    removed: op.removed,
    moves: op.events.length > 0 && op.section !== null,
    key: keyOf(op),
  };
};

const hashPart = onceFor((part: Part) => hashOf(part.boundary, part.problems, part.outer, part.inner, part.back));

const hashHeld = (h: HeldView): string =>
  hashOf(h.id, h.name, h.turned, h.seat, hashPart(h.part), ...[h.rawStock, h.jaws, h.chuck].map(hashRegion));

/** What a screen was told last: as little as is needed to say what is new. */
export class ViewSender {
  private told = new Map<string, string>();
  private operations = new Map<string, string>();

  /** Changes since the last call; everything at the first. */
  changes(derived: Derived): ViewChanges {
    const fresh = (name: string, key: string): boolean => {
      const is = this.told.get(name) !== key;
      this.told.set(name, key);
      return is;
    };
    const { part, operations } = derived;
    const general = derived.findings.slice(
      0,
      derived.findings.length - operations.reduce((s, o) => s + o.findings.length, 0),
    );
    const known = this.operations;
    this.operations = new Map();
    const changed: Omit<OperationView, 'times'>[] = [];
    for (const op of operations) {
      const view = operationView(derived, op);
      const key = hashOf(view);
      this.operations.set(op.id, key);
      if (known.get(op.id) !== key) changed.push(view);
    }
    const order = operations.map((o) => o.id);
    const times = Float64Array.from(operations.flatMap((o) => TIMES.map((k) => o.times[k])));
    const end = { leftover: derived.leftover, gouge: derived.gouge, leftoverVolume: derived.leftoverVolume };
    const holdings = derived.holdings.map(
      ({ fixtures: _, zeroZ: __, rawStock, ...h }): HeldView => ({ ...h, rawStock: rawStock.turnedOutline }),
    );
    return {
      ...(fresh('part', hashPart(part)) ? { part } : {}),
      ...(fresh('holdings', hashOf(...holdings.map(hashHeld))) ? { holdings } : {}),
      ...(fresh('order', hashOf(order)) ? { order } : {}),
      operations: changed,
      ...(fresh('times', hashOf([...times])) ? { times } : {}),
      ...(fresh('general', hashOf(general)) ? { general } : {}),
      ...(fresh('coverage', hashOf(derived.coverage)) ? { coverage: derived.coverage } : {}),
      ...(fresh('end', hashOf(hashRegion(end.leftover), hashRegion(end.gouge), end.leftoverVolume)) ? { end } : {}),
      ...(fresh('total', hashOf(derived.timeline.total)) ? { total: derived.timeline.total } : {}),
    };
  }
}

const must = <T>(value: T | undefined): T => {
  if (value === undefined) throw new Error('invariant: the first view says everything');
  return value;
};

/** The view after changes; what did not change keeps its identity. */
export const applyChanges = (before: DerivedView | null, c: ViewChanges): DerivedView => {
  const old = new Map(before?.operations.map((o) => [o.id, o]));
  const fresh = new Map(c.operations.map((o) => [o.id, o]));
  const order = c.order ?? must(before?.operations.map((o) => o.id));
  const operations = order.map((id, i): OperationView => {
    const times = c.times
      ? (Object.fromEntries(TIMES.map((k, j) => [k, must(c.times)[i * TIMES.length + j]])) as unknown as OperationTimes)
      : must(old.get(id)).times;
    const told = fresh.get(id);
    const known = old.get(id);
    if (!told && known && TIMES.every((k) => known.times[k] === times[k])) return known;
    return { ...must<Omit<OperationView, 'times'>>(told ?? known), times };
  });
  const own = before ? before.operations.reduce((s, o) => s + o.findings.length, 0) : 0;
  const general = c.general ?? must(before?.findings.slice(0, before.findings.length - own));
  return {
    part: c.part ?? must(before?.part),
    holdings: c.holdings ?? must(before?.holdings),
    operations,
    findings: [...general, ...operations.flatMap((o) => o.findings)],
    coverage: c.coverage ?? must(before?.coverage),
    end: c.end ?? must(before?.end),
    total: c.total ?? must(before?.total),
  };
};

/** Stock after an operation, in the coordinates of its holding; the raw stock for null. */
export const bodyAfter = (derived: Derived, id: string | null): Body =>
  derived.operations.find((o) => o.id === id)?.after ?? rawStockOf(derived);

/** Spindle speed of a channel over time: [seconds, rev/min] pairs, no finer than `step` seconds. */
export const speedLine = (derived: Derived, channel: string, step: number): Float64Array => {
  const points: number[] = [];
  let lastTime = Number.NEGATIVE_INFINITY;
  let lastSpeed = Number.NaN;
  const put = (t: number, speed: number): void => {
    if (t - lastTime < step && Math.abs(speed - lastSpeed) < 1) return;
    points.push(t, speed);
    lastTime = t;
    lastSpeed = speed;
  };
  for (const t of derived.timeline.channels.find((c) => c.id === channel)?.events ?? []) {
    put(t.start, t.speedStart);
    put(t.end, t.speedEnd);
  }
  if (points.length > 0) points.push(derived.timeline.total, lastSpeed);
  return Float64Array.from(points);
};

/** Ends of all moves of all channels in order: where the time cursor may stand. */
export const moveEnds = (derived: Derived): Float64Array =>
  Float64Array.from(
    derived.timeline.channels.flatMap((c) =>
      c.events.filter((t) => isMove(t.event) && t.end > t.start).map((t) => t.end),
    ),
  ).sort();

/** Index, start and end of each event of a channel's program, one after another, for holding its text against the time cursor. */
export const eventTimes = (derived: Derived, channel: string): Float64Array =>
  Float64Array.from(
    (derived.timeline.channels.find((c) => c.id === channel)?.events ?? []).flatMap((t) => [t.index, t.start, t.end]),
  );
