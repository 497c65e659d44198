import { type DerivedView, isSecond, type Job, type OperationView } from '@/core/plan';

/** Left of the lanes stand their names. */
export const LEFT = 118;
export const RIGHT = 20;
/** Place of the first lane, and what stands under each: spindle speed and marks. */
const LANES_TOP = 34;
export const LANE_FOOT = 42;

const CHANNEL_COLOURS = ['var(--color-woad)', 'var(--color-walnut)', 'var(--color-verdigris)', 'var(--color-heather)'];
export const channelColour = (lane: number): string => CHANNEL_COLOURS[lane % CHANNEL_COLOURS.length];
const CHANNEL_GROUNDS = ['var(--color-woad-pale)', 'var(--color-walnut-pale)'];
export const channelGround = (lane: number): string => CHANNEL_GROUNDS[lane % CHANNEL_GROUNDS.length];

/** An operation in its lane. */
export interface Laid {
  readonly id: string;
  /** Place in its channel's list. */
  readonly index: number;
  /** Seconds, or even shares of the whole. */
  readonly start: number;
  readonly end: number;
  readonly derived: OperationView | undefined;
}

/** Every channel's operations side by side: as long as they take, or evenly. */
export const layBlocks = (job: Job, derived: DerivedView | null, total: number, even: boolean): Laid[][] => {
  const byId = new Map(derived?.operations.map((o) => [o.id, o]) ?? []);
  return job.machine.channels.map((c) => {
    const ids = job.order[c.id] ?? [];
    let pen = 0;
    return ids.map((id, index) => {
      const d = byId.get(id);
      const timed = d !== undefined && d.times.end > d.times.start;
      const start = even ? (index / ids.length) * total : timed ? d.times.start : pen;
      const end = even ? ((index + 0.92) / ids.length) * total : timed ? d.times.end : pen;
      pen = Math.max(pen, end);
      return { id, index, start, end, derived: d };
    });
  });
};

/** The second tool's share of an operation, in the lane of its channel. */
export interface Share {
  readonly id: string;
  readonly operation: string;
  readonly lane: number;
  readonly start: number;
  readonly end: number;
  readonly derived: OperationView;
}

/** Shares of second tools: as long as they take, or beside the operation that they belong to. */
export const layShares = (
  job: Job,
  derived: DerivedView | null,
  blocks: readonly (readonly Laid[])[],
  even: boolean,
): Share[] =>
  (derived?.operations ?? []).flatMap((d): Share[] => {
    const lane = job.machine.channels.findIndex((c) => c.id === d.channel);
    const first = isSecond(d.id) ? blocks.flat().find((b) => b.id === d.operation) : undefined;
    if (!first || lane < 0 || !d.moves) return [];
    const { start, end } = even ? first : d.times;
    return [{ id: d.id, operation: d.operation, lane, start, end, derived: d }];
  });

/** Where lanes and moments lie in the picture, px. */
export interface Picture {
  readonly total: number;
  readonly even: boolean;
  readonly rowHeight: number;
  readonly laneTop: (lane: number) => number;
  readonly x: (seconds: number) => number;
  /** Where the time cursor stands. With even spacing it keeps its place inside each block. */
  readonly cursor: (time: number) => number;
  /** The moment under a place. */
  readonly timeAt: (px: number) => number;
  /** The lane nearest to one that is `dy` px further down. */
  readonly laneBeside: (lane: number, dy: number) => number;
}

/** A value between two ends carried over to two others. */
const carried = (v: number, from: readonly [number, number], to: readonly [number, number]): number =>
  to[0] + ((v - from[0]) / Math.max(1e-9, from[1] - from[0])) * (to[1] - to[0]);

export const pictureOf = (
  size: { readonly width: number; readonly height: number },
  blocks: readonly (readonly Laid[])[],
  total: number,
  even: boolean,
): Picture => {
  const lanes = blocks.length;
  const width = Math.max(50, size.width - LEFT - RIGHT);
  const rowHeight = Math.max(44, Math.min(64, (size.height - 58) / lanes - 40));
  const x = (t: number): number => LEFT + (t / total) * width;
  const find = (holds: (b: Laid, times: OperationView['times']) => boolean) => {
    for (const b of blocks.flat()) if (b.derived && holds(b, b.derived.times)) return { b, times: b.derived.times };
    return null;
  };
  return {
    total,
    even,
    rowHeight,
    laneTop: (lane) => LANES_TOP + lane * (rowHeight + LANE_FOOT),
    x,
    cursor: (time) => {
      if (!even) return x(time);
      const at = find((_, times) => time >= times.start && time <= times.end);
      return x(at ? carried(time, [at.times.start, at.times.end], [at.b.start, at.b.end]) : total);
    },
    timeAt: (px) => {
      const t = Math.max(0, Math.min(total, ((px - LEFT) / width) * total));
      const at = even ? find((b) => t >= b.start && t <= b.end) : null;
      return at ? carried(t, [at.b.start, at.b.end], [at.times.start, at.times.end]) : t;
    },
    laneBeside: (lane, dy) => Math.max(0, Math.min(lanes - 1, Math.round(lane + dy / (rowHeight + LANE_FOOT)))),
  };
};

/** Last lane of a handover's block: it spans to the lane of the channel that works on in the other holding, where that one is free. */
export const spanOf = (job: Job, blocks: readonly (readonly Laid[])[], lane: number, b: Laid): number => {
  const op = job.operations[b.id];
  if (op?.kind !== 'handover' || b.end <= b.start) return lane;
  const other = blocks.findIndex(
    (row, k) => k !== lane && row.some((o) => job.operations[o.id]?.holding === op.params.to),
  );
  if (other < 0) return lane;
  const between = blocks.slice(Math.min(lane, other), Math.max(lane, other) + 1).flat();
  const free = between.every(
    (o) => o.id === b.id || job.operations[o.id]?.kind === 'wait' || o.end <= b.start + 1e-6 || o.start >= b.end - 1e-6,
  );
  return free ? other : lane;
};
