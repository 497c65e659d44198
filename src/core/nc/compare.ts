import { arcSweep, type Curve, distance, distanceToCurve, line, type Point, point, pointAt } from '../geometry';
import { isMove, type MotionEvent } from '../motion';

/** A move with all that was in force when it ran. */
interface Step {
  readonly index: number;
  readonly rapid: boolean;
  readonly curve: Curve;
  readonly feed: string;
  readonly tool: string;
  readonly spindle: string;
}

const stepsOf = (events: readonly MotionEvent[]): Step[] => {
  const steps: Step[] = [];
  let at: Point | null = null;
  let tool = '';
  let spindle = '';
  events.forEach((e, index) => {
    if (e.kind === 'tool') tool = `T${e.station}/${e.offset}`;
    if (e.kind === 'spindle')
      spindle =
        e.direction === 'stop'
          ? 'stop'
          : `${e.direction} ${e.speed.mode} ${Math.round(e.speed.value)}${e.speed.mode === 'surface' ? ` max ${Math.round(e.speed.clamp)}` : ''}`;
    if (!isMove(e)) return;
    const to: Point = point(e.to.Z ?? at?.x ?? 0, e.to.X ?? at?.y ?? 0);
    const from: Point = at ?? to;
    at = to;
    if (distance(from, to) < 1e-9) return;
    const curve: Curve =
      e.kind === 'arc'
        ? { kind: 'arc', from, to, centre: point(e.centre.Z ?? 0, e.centre.X ?? 0), clockwise: e.clockwise }
        : line(from, to);
    const feed =
      e.kind === 'feed' || e.kind === 'arc'
        ? `${e.feed.mode} ${Number(e.feed.value.toFixed(3))}`
        : e.kind === 'thread'
          ? `lead ${e.lead}`
          : '';
    steps.push({ index, rapid: e.kind === 'rapid', curve, feed, tool, spindle });
  });
  return steps;
};

const samples = (c: Curve): Point[] => {
  if (c.kind === 'line') return [pointAt(c, 0.5), c.to];
  const count = Math.max(2, Math.ceil(Math.abs(arcSweep(c)) / 0.2));
  return Array.from({ length: count }, (_, i) => pointAt(c, (i + 1) / count));
};

export interface PathDifference {
  /** Greatest distance between the two paths, both ways, mm. */
  readonly deviation: number;
  /** Event of the first program where it occurs. */
  readonly at: number | null;
  readonly moves: number;
  /** Differences in tool, speed or feed. */
  readonly differences: readonly {
    readonly event: number;
    readonly what: string;
    readonly planned: string;
    readonly read: string;
  }[];
}

const WINDOW = 40;
/** Half of what a diameter word's last digit can be off, with a margin (mm). */
const NEAR = 1e-3;

/** Walks along `a` and looks for each sample on `b`, never going back by more than a step: order counts, not only shape. */
const oneWay = (
  a: readonly Step[],
  b: readonly Step[],
  tell?: (s: Step, t: Step) => void,
): { worst: number; at: number | null } => {
  let worst = 0;
  let at: number | null = null;
  let j = 0;
  for (const s of a) {
    for (const p of samples(s.curve)) {
      let best = Infinity;
      let found = j;
      let settled = false;
      for (let k = j; k < Math.min(b.length, j + WINDOW); k++) {
        if (b[k].rapid !== s.rapid) continue;
        const d = distanceToCurve(b[k].curve, p);
        if (d < best) {
          best = d;
          if (!settled) found = k;
        }
        // the earliest piece that is near enough is the one meant, so that runs back and forth are not skipped;
        // its neighbours may be nearer still at a shared corner
        if (settled && k >= found + 2) break;
        if (best <= NEAR) settled = true;
      }
      if (best > worst) {
        worst = best;
        at = s.index;
      }
      if (best < Infinity) j = found;
    }
    tell?.(s, b[j]);
  }
  return { worst, at };
};

/** Steps between tool calls: each group is held against its counterpart. */
const groups = (events: readonly MotionEvent[]): Step[][] => {
  const calls = new Set(events.flatMap((e, i) => (e.kind === 'tool' ? [i] : [])));
  const boundaries = [...calls];
  const result: Step[][] = [[], ...boundaries.map(() => [] as Step[])];
  for (const s of stepsOf(events)) result[boundaries.filter((b) => b < s.index).length].push(s);
  return result;
};

/** Holds a read-back program against the planned one, tool call by tool call. */
export const comparePrograms = (planned: readonly MotionEvent[], read: readonly MotionEvent[]): PathDifference => {
  const a = groups(planned);
  const b = groups(read);
  const moves = b.reduce((s, g) => s + g.length, 0);
  const differences: { event: number; what: string; planned: string; read: string }[] = [];
  if (a.length !== b.length)
    differences.push({ event: 0, what: 'tool calls', planned: String(a.length - 1), read: String(b.length - 1) });
  let deviation = 0;
  let at: number | null = null;
  a.forEach((group, i) => {
    const other = b[i] ?? [];
    const forward = oneWay(group, other, (s, t) => {
      if (!t || differences.length > 20) return;
      if (s.tool !== t.tool) differences.push({ event: s.index, what: 'tool', planned: s.tool, read: t.tool });
      if (s.spindle !== t.spindle)
        differences.push({ event: s.index, what: 'spindle', planned: s.spindle, read: t.spindle });
      if (!s.rapid && !t.rapid && s.feed !== t.feed)
        differences.push({ event: s.index, what: 'feed', planned: s.feed, read: t.feed });
    });
    const backward = oneWay(other, group);
    const worst = Math.max(forward.worst, backward.worst);
    if (worst > deviation) {
      deviation = worst;
      at = forward.at ?? group[0]?.index ?? null;
    }
  });
  return { deviation, at, moves, differences };
};
