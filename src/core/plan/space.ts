import { type Finding, note } from '../findings';
import {
  type Bounds,
  boundsOfCurves,
  boundsOfShapes,
  counterClockwise,
  grownBy,
  intersectRegions,
  mapRegion,
  onceForEach,
  type Point,
  point,
  type Region,
  type RoundedPolygon,
  regionArea,
  regionBounds,
  subtract,
  sweepAlong,
} from '../geometry';
import { carrierOf, type Reach, reachOf, spindleStand, standsBelow } from '../machine';
import { type MotionEvent, placeWithin, type TimedEvent, type Timeline } from '../motion';
import { titleOf } from '../operations';
import type { ToolSection } from '../tooling';
import type { DerivedOperation } from './derive';
import type { Job } from './document';
import type { Held } from './held';
import { behind } from './turns';

/**
 * What moves in one space: tools of different carriers, and a spindle on a slide among the tools. Everything is looked at in
 * the machine's plane, x along the spindles from the main one's face, y across them, at the times at which it happens. What
 * an operation meets at its own work is the checks' (`checkMotion`); this is about what others do meanwhile.
 */

/** Nearer than this counts as met, mm. */
const NEAR = 0.5;
/** Farthest that anything moves between two looks, mm. */
const STEP = 1;
/** More looks than this at one pair of moves are not needed to find two ways that cross, and take long. */
const MOST_LOOKS = 400;

/** Something that is somewhere over a stretch of time. */
interface Stay {
  readonly start: number;
  readonly end: number;
  /** All that it may cover in that time. */
  readonly box: Bounds;
  /** Length of its way, mm. */
  readonly way: number;
  readonly regionAt: (time: number) => Region;
}

interface ToolStay extends Stay {
  readonly op: DerivedOperation;
  readonly event: MotionEvent;
  /** It is at work, and does not only stand there while something else is done. */
  readonly own: boolean;
  /** How far the tool reaches from its tip toward the spindle's axis, mm. */
  readonly inward: number;
  readonly tipAt: (time: number) => Point;
}

const overlaps = (a: Bounds, b: Bounds): boolean =>
  a.minX < b.maxX + NEAR && b.minX < a.maxX + NEAR && a.minY < b.maxY + NEAR && b.minY < a.maxY + NEAR;

/** Shapes of a tool as the machine's plane has them, around the programmed tip, and how far they reach from it. */
const asStanding = onceForEach(
  (section: ToolSection, { direction, below }: { readonly direction: number; readonly below: boolean }) => {
    const turn = (p: Point): Point => {
      const q = subtract(p, section.tip);
      return point(direction * q.x, below ? -q.y : q.y);
    };
    const shapes = [...section.cutting, ...section.holder].map(
      ({ points, radius }): RoundedPolygon => ({ points: counterClockwise(points.map(turn)), radius }),
    );
    return { shapes, box: boundsOfShapes(shapes) };
  },
  ({ direction, below }) => `${direction} ${below}`,
);

const regionOf = (shapes: readonly RoundedPolygon[], at: Point): Region =>
  grownBy(shapes, NEAR / 2).flatMap((s) => sweepAlong(s, [at]));

/** Where a channel's tool is, from its first placed move on, also while it only stands there. */
const staysOf = (
  job: Job,
  channel: string,
  events: readonly TimedEvent[],
  ops: ReadonlyMap<string, DerivedOperation>,
  holdings: ReadonlyMap<string, Held>,
): ToolStay[] => {
  const below = standsBelow(job.machine, channel);
  const carrier = carrierOf(job.machine, channel)?.id ?? '';
  const stays: ToolStay[] = [];
  let now = null as { op: DerivedOperation; section: ToolSection; held: Held; axes: Reach['axes'] } | null;
  let placed = false;
  for (const t of events) {
    const op = ops.get(t.event.op);
    const held = op && holdings.get(op.holding);
    if (t.event.kind === 'tool' || t.event.kind === 'home' || t.event.kind === 'reload') placed = false;
    if (op?.section && held && op !== now?.op) {
      const axes = reachOf(job.machine, carrier, job.holdings[held.id].spindle)?.axes ?? {};
      // a share of a repeat is said in coordinates of its own
      now = op.copy > 0 ? null : { op, section: op.section, held, axes };
    }
    if (t.move) placed = t.move.placed || placed;
    if (!now || !placed || (t.move && !t.move.placed) || t.end - t.start < 1e-9) continue;
    const { section, axes } = now;
    const { zeroZ, direction } = now.held;
    const { shapes, box } = asStanding(section, { direction, below });
    const machineOf = (tip: Point): Point => point(zeroZ + direction * tip.x, below ? -tip.y : tip.y);
    const ends = [machineOf(t.from), machineOf(t.to)];
    const bends = t.move && t.event.kind === 'arc' ? boundsOfCurves([t.move.curve]) : null;
    const all = bends
      ? [...ends, machineOf(point(bends.minX, bends.minY)), machineOf(point(bends.maxX, bends.maxY))]
      : ends;
    const b = regionBounds([all]);
    const lasting = t.end - t.start - t.waiting;
    const tipAt = (time: number): Point => {
      const share = lasting <= 0 ? 1 : Math.max(0, Math.min(1, (time - t.start - t.waiting) / lasting));
      return placeWithin(t, share, axes, job.machine.rapidPath);
    };
    stays.push({
      op: now.op,
      event: t.event,
      own: t.event.op === now.op.id,
      inward: below ? box.maxY : -box.minY,
      start: t.start,
      end: t.end,
      box: { minX: b.minX + box.minX, maxX: b.maxX + box.maxX, minY: b.minY + box.minY, maxY: b.maxY + box.maxY },
      way: Math.hypot(b.maxX - b.minX, b.maxY - b.minY),
      tipAt,
      regionAt: (time) => regionOf(shapes, machineOf(tipAt(time))),
    });
  }
  return stays;
};

/** The first moment at which two stays meet; null when they never do. */
const meeting = (a: Stay, b: Stay): number | null => {
  const [from, to] = [Math.max(a.start, b.start), Math.min(a.end, b.end)];
  if (to <= from || !overlaps(a.box, b.box)) return null;
  const shareOf = (s: Stay): number => (s.way * (to - from)) / (s.end - s.start);
  const looks = Math.min(MOST_LOOKS, 1 + Math.ceil((shareOf(a) + shareOf(b)) / STEP));
  for (let k = 0; k <= looks; k++) {
    const time = from + ((to - from) * k) / looks;
    if (regionArea(intersectRegions(a.regionAt(time), b.regionAt(time))) > 1e-3) return time;
  }
  return null;
};

/** Pairs of two lists in the order of time that go on at one time. */
function* together<A extends Stay, B extends Stay>(first: readonly A[], second: readonly B[]): Generator<[A, B]> {
  let begin = 0;
  for (const a of first) {
    while (begin < second.length && second[begin].end <= a.start) begin++;
    for (let k = begin; k < second.length && second[k].start < a.end; k++) yield [a, second[k]];
  }
}

/** Tools of different carriers that come to one place at one time; one finding for each two operations. */
const toolsAmongThemselves = (job: Job, channels: readonly (readonly ToolStay[])[]): Finding[] => {
  const found = new Map<string, Finding>();
  for (let i = 0; i < channels.length; i++)
    for (let j = i + 1; j < channels.length; j++)
      for (const [a, b] of together(channels[i], channels[j])) {
        const key = `${a.op.id} ${b.op.id}`;
        if (found.has(key)) continue;
        const at = meeting(a, b);
        if (at === null) continue;
        // the one that begins later is told to wait
        const [first, then] = a.op.times.start <= b.op.times.start ? [a, b] : [b, a];
        const other = `“${titleOf(job.operations[first.op.operation])}”`;
        const numbers = { other, channel: first.op.channel, at };
        const more = { event: eventIn(then), remedy: behind(job, then.op.id, first.op.id) };
        found.set(key, note('blocking', 'tools-meet', then.op.id, numbers, then.tipAt(at), more));
      }
  return [...found.values()];
};

/** Chuck and jaws of a spindle, or the work in them, over the whole time: at home, and on the way of its slide. */
interface Visitor {
  readonly spindle: string;
  readonly name: string;
  readonly what: 'spindle' | 'work';
  /** Greatest radius, mm. */
  readonly radius: number;
  readonly stays: readonly Stay[];
}

/** Where a spindle stands or goes from one time to another, mm from its place at home. */
interface Along {
  readonly start: number;
  readonly end: number;
  readonly from: number;
  readonly to: number;
}

/** A region (in the machine's plane with the spindle at home) carried along between two times. */
const carried = (whole: Region, { start, end, from, to }: Along, since = start, until = end): Stay => {
  const b = regionBounds(whole);
  const offset = (time: number): number => from + ((to - from) * (time - start)) / (end - start);
  const ends = [offset(since), offset(until)];
  return {
    start: since,
    end: until,
    box: { ...b, minX: b.minX + Math.min(...ends), maxX: b.maxX + Math.max(...ends) },
    way: Math.abs(ends[1] - ends[0]),
    regionAt: (time) => mapRegion(whole, (p) => point(p.x + offset(time), p.y), false),
  };
};

/** A half section of a holding as it stands in the machine's plane, both halves. */
const bothHalves = (r: Region, { zeroZ, direction }: Held): Region => {
  const upper = mapRegion(r, (p) => point(zeroZ + direction * p.x, p.y), direction < 0);
  return [...upper, ...mapRegion(upper, (p) => point(p.x, -p.y), true)];
};

/** Work in a holding while it is there, from change to change: from its handover, or the beginning, until it is ejected. */
const workIn = (
  job: Job,
  held: Held,
  timed: readonly DerivedOperation[],
  total: number,
): { start: number; end: number; body: Region }[] => {
  const own = timed.filter((d) => d.holding === held.id).sort((a, b) => a.times.end - b.times.end);
  const come = timed.find((d) => {
    const op = job.operations[d.operation];
    return op.kind === 'handover' && op.params.to === held.id;
  });
  const gone = own.find((d) => job.operations[d.operation].kind === 'eject');
  const until = gone?.times.end ?? total;
  let since = job.holdings[held.id].stock.form === 'bar' ? 0 : (come?.times.end ?? total);
  let body = held.rawStock.turnedOutline;
  const result: { start: number; end: number; body: Region }[] = [];
  for (const d of own) {
    const end = Math.min(until, d.times.end);
    // what is about to be cut is still there until it is done
    if (d.after.turnedOutline === body || end <= since) continue;
    result.push({ start: since, end, body });
    [since, body] = [end, d.after.turnedOutline];
  }
  if (until > since) result.push({ start: since, end: until, body });
  return result.filter((r) => r.body.length > 0);
};

const visitorsOf = (
  job: Job,
  holdings: readonly Held[],
  timed: readonly DerivedOperation[],
  timeline: Timeline,
): Visitor[] =>
  job.machine.spindles.flatMap((spindle): Visitor[] => {
    const held = holdings.find((h) => job.holdings[h.id].spindle === spindle.id);
    const stand = spindleStand(job.machine, spindle.id);
    if (!held || !stand) return [];
    const whole = [held.jaws, held.chuck].flatMap((r) => bothHalves(r, held));
    const slides = timeline.channels
      .flatMap((c) => c.events)
      .flatMap((t) => (t.event.kind === 'slide' && t.event.spindle === spindle.id ? [{ t, to: t.event.to }] : []))
      .sort((p, q) => p.t.start - q.t.start);
    const ways: Along[] = [];
    const go = (start: number, end: number, from: number, to: number): void => {
      if (end - start >= 1e-9) ways.push({ start, end, from: from - stand.face, to: to - stand.face });
    };
    let [at, since] = [stand.face, 0];
    for (const { t, to } of slides) {
      go(since, t.start + t.waiting, at, at);
      go(t.start + t.waiting, t.end, at, to);
      [at, since] = [to, t.end];
    }
    go(since, timeline.total, at, at);
    const visitor = (what: Visitor['what'], stays: readonly Stay[]): Visitor[] => {
      const radius = Math.max(...stays.map((s) => s.box.maxY));
      return stays.length === 0 ? [] : [{ spindle: spindle.id, name: spindle.name, what, radius, stays }];
    };
    const work = workIn(job, held, timed, timeline.total).flatMap(({ start, end, body }) => {
      const there = bothHalves(body, held);
      return ways
        .filter((w) => w.start < end && w.end > start)
        .map((w) => carried(there, w, Math.max(w.start, start), Math.min(w.end, end)));
    });
    return [
      ...(whole.length > 0
        ? visitor(
            'spindle',
            ways.map((w) => carried(whole, w)),
          )
        : []),
      ...visitor('work', work),
    ];
  });

/** When a spindle holds the work of a holding beside its own: from its grip until it withdraws. */
const joinedIn = (job: Job, timed: readonly DerivedOperation[], spindle: string): ((s: ToolStay) => boolean) => {
  const meets = timed.filter((d) => {
    const op = job.operations[d.operation];
    const to = op.kind === 'handover' || op.kind === 'withdraw' ? job.holdings[op.params.to] : undefined;
    return to?.spindle === spindle;
  });
  const grips = meets.filter((d) => job.operations[d.operation].kind === 'handover');
  return ({ op }) =>
    grips.some((g) => {
      const until = meets.find((w) => w.times.start > g.times.start && job.operations[w.operation].kind === 'withdraw');
      return (
        op.holding === g.holding &&
        op.times.start >= g.times.end - 1e-6 &&
        op.times.start < (until?.times.start ?? Number.POSITIVE_INFINITY)
      );
    });
};

/** Tools that stand or work where a spindle comes or is that does not hold their work; one finding for each operation. */
const toolsAndSpindles = (
  job: Job,
  timed: readonly DerivedOperation[],
  visitors: readonly Visitor[],
  channels: readonly (readonly ToolStay[])[],
): Finding[] => {
  const found = new Map<string, Finding>();
  for (const v of visitors) {
    const joined = joinedIn(job, timed, v.spindle);
    for (const list of channels)
      for (const [a, b] of together(list, v.stays)) {
        const key = `${a.op.id} ${v.spindle}`;
        // at its own work an operation is held against all that it may meet there
        if (found.has(key) || job.holdings[a.op.holding].spindle === v.spindle || (a.own && joined(a))) continue;
        const at = meeting(a, b);
        if (at === null) continue;
        const numbers = { spindle: v.name, what: v.what, at, stands: !a.own };
        const diameter = 10 * Math.ceil((v.radius + 5 + a.inward) / 5);
        const set = { [`/holdings/${a.op.holding}/toolChange/diameter`]: diameter };
        const remedy = a.own ? null : { label: `Change tools at ⌀${diameter}`, set };
        const more = { event: eventIn(a), remedy };
        found.set(key, note('blocking', 'tool-meets-spindle', a.op.id, numbers, a.tipAt(at), more));
      }
  }
  return [...found.values()];
};

const eventIn = (s: ToolStay): number | null => {
  const index = s.op.events.indexOf(s.event);
  return index < 0 ? null : index;
};

/** What meets in the space of the machine though each operation is sound by itself. */
export const spaceFindings = (
  job: Job,
  holdings: readonly Held[],
  timed: readonly DerivedOperation[],
  timeline: Timeline,
): Finding[] => {
  const { machine } = job;
  if (timeline.kind === 'deadlock' || (machine.carriers.length < 2 && machine.spindles.length < 2)) return [];
  const ops = new Map(timed.map((d) => [d.id, d]));
  const places = new Map(holdings.map((h) => [h.id, h]));
  const channels = timeline.channels.map((c) => staysOf(job, c.id, c.events, ops, places));
  return [
    ...toolsAmongThemselves(job, channels),
    ...toolsAndSpindles(job, timed, visitorsOf(job, holdings, timed, timeline), channels),
  ];
};
