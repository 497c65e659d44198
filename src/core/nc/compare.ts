import { arcSweep, type Curve, distance, distanceToCurve, dot, type Point, pointAt, subtract } from '../geometry';
import { feedOf, type MotionEvent, MoveResolver, sectionPoint } from '../motion';

/** A move with all that was in force when it ran. */
interface Step {
  readonly index: number;
  readonly rapid: boolean;
  readonly curve: Curve;
  readonly feed: string;
  readonly tool: string;
  readonly spindle: string;
  readonly coolant: string;
  readonly workOffset: string;
  readonly others: string;
}

const feedText = (feed: ReturnType<typeof feedOf>): string =>
  !feed
    ? ''
    : 'perRev' in feed
      ? `perRev ${Number(feed.perRev.toFixed(3))}`
      : `perMin ${Number(feed.perMin.toFixed(3))}`;

/** Steps of a program, and what stands between them that is no move: dwells and stops. */
const stepsOf = (events: readonly MotionEvent[]): { steps: Step[]; pauses: { index: number; what: string }[] } => {
  const steps: Step[] = [];
  const pauses: { index: number; what: string }[] = [];
  const resolver = new MoveResolver();
  let tool = '';
  let spindle = '';
  let coolant = 'off';
  let workOffset = '';
  events.forEach((e, index) => {
    if (e.kind === 'tool') tool = `T${e.station}/${e.offset}`;
    if (e.kind === 'coolant') coolant = e.on ? 'on' : 'off';
    if (e.kind === 'work-offset') workOffset = e.code;
    if (e.kind === 'dwell') pauses.push({ index, what: `dwell ${e.seconds.toFixed(3)} s` });
    if (e.kind === 'reload' && !e.ends) pauses.push({ index, what: 'stop' });
    if (e.kind === 'slide')
      pauses.push({
        index,
        what: `${e.spindle} to ${e.to.toFixed(3)}${e.feed === null ? '' : ` at ${e.feed}`}${e.limited ? ' limited' : ''}`,
      });
    if (e.kind === 'synchronise')
      pauses.push({ index, what: `${e.follower} ${e.on ? 'with' : 'without'} ${e.leader}` });
    if (e.kind === 'device') pauses.push({ index, what: `${e.device} ${e.action}` });
    if (e.kind === 'remark') pauses.push({ index, what: `“${e.text}”` });
    if (e.kind === 'stop') pauses.push({ index, what: e.optional ? 'optional stop' : 'stop' });
    if (e.kind === 'spindle') {
      const limit = e.speed.mode === 'surface' ? ` max ${Math.round(e.speed.clamp)}` : '';
      spindle =
        e.direction === 'stop'
          ? 'stop'
          : `${e.spindle} ${e.direction} ${e.speed.mode} ${Math.round(e.speed.value)}${limit}`;
    }
    const move = resolver.next(e, index);
    if (!move) return;
    const others = move.others.map((k) => `${k}${move.to[k].toFixed(3)}`).join(' ');
    if (distance(sectionPoint(move.from), sectionPoint(move.to)) < 1e-9 && others === '') return;
    const { curve } = move;
    const rapid = move.event.kind === 'rapid';
    steps.push({ index, rapid, curve, feed: feedText(feedOf(move.event)), tool, spindle, coolant, workOffset, others });
  });
  return { steps, pauses };
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

/** Two straight ways that run against each other: what goes in and out of a hole lies on one line. */
const against = (a: Curve, b: Curve): boolean => {
  if (a.kind !== 'line' || b.kind !== 'line') return false;
  const [x, y] = [subtract(a.to, a.from), subtract(b.to, b.from)];
  return dot(x, y) < -0.9 * Math.hypot(x.x, x.y) * Math.hypot(y.x, y.y);
};

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
        if (b[k].rapid !== s.rapid || against(s.curve, b[k].curve)) continue;
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
    if (b[j]) tell?.(s, b[j]);
  }
  return { worst, at };
};

interface Group {
  readonly steps: readonly Step[];
  readonly pauses: readonly { readonly index: number; readonly what: string }[];
}

/** Steps between tool calls: each group is held against its counterpart. */
const groups = (events: readonly MotionEvent[]): Group[] => {
  const boundaries = events.flatMap((e, i) => (e.kind === 'tool' ? [i] : []));
  const { steps, pauses } = stepsOf(events);
  const result = Array.from({ length: boundaries.length + 1 }, () => ({
    steps: [] as Step[],
    pauses: [] as Group['pauses'][number][],
  }));
  const groupOf = (index: number): number => {
    let a = 0;
    let b = boundaries.length;
    while (a < b) {
      const m = (a + b) >> 1;
      if (boundaries[m] < index) a = m + 1;
      else b = m;
    }
    return a;
  };
  for (const s of steps) result[groupOf(s.index)].steps.push(s);
  for (const p of pauses) result[groupOf(p.index)].pauses.push(p);
  return result;
};

/** Most differences that are told. */
const MOST_DIFFERENCES = 20;

/** Holds a read-back program against the planned one, tool call by tool call. */
export const comparePrograms = (planned: readonly MotionEvent[], read: readonly MotionEvent[]): PathDifference => {
  const a = groups(planned);
  const b = groups(read);
  const moves = b.reduce((s, g) => s + g.steps.length, 0);
  const differences: { event: number; what: string; planned: string; read: string }[] = [];
  const tell = (event: number, what: string, one: string, other: string): void => {
    if (one === other || differences.length >= MOST_DIFFERENCES) return;
    if (!differences.some((d) => d.what === what && d.planned === one && d.read === other))
      differences.push({ event, what, planned: one, read: other });
  };
  tell(0, 'tool calls', String(a.length - 1), String(b.length - 1));
  let deviation = 0;
  let at: number | null = null;
  for (let i = 0; i < Math.max(a.length, b.length); i++) {
    const group: Group = a[i] ?? { steps: [], pauses: [] };
    const other: Group = b[i] ?? { steps: [], pauses: [] };
    const index = group.steps[0]?.index ?? 0;
    tell(
      index,
      'dwells, stops and remarks',
      group.pauses.map((p) => p.what).join(', ') || 'none',
      other.pauses.map((p) => p.what).join(', ') || 'none',
    );
    if (group.steps.length === 0 || other.steps.length === 0) {
      if (group.steps.length !== other.steps.length) {
        tell(index, 'moves', String(group.steps.length), String(other.steps.length));
        deviation = Number.POSITIVE_INFINITY;
        at ??= index;
      }
      continue;
    }
    const forward = oneWay(group.steps, other.steps, (s, t) => {
      tell(s.index, 'tool', s.tool, t.tool);
      if (!s.rapid) tell(s.index, 'spindle', s.spindle, t.spindle);
      if (!s.rapid) tell(s.index, 'coolant', s.coolant, t.coolant);
      tell(s.index, 'work offset', s.workOffset, t.workOffset);
      if (!s.rapid && !t.rapid) tell(s.index, 'feed', s.feed, t.feed);
      tell(s.index, 'axes', s.others, t.others);
    });
    const backward = oneWay(other.steps, group.steps);
    const worst = Math.max(forward.worst, backward.worst);
    if (worst > deviation) {
      deviation = worst;
      at = forward.at ?? index;
    }
  }
  return { deviation, at, moves, differences };
};
