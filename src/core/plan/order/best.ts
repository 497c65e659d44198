import { type Finding, wordFinding } from '../../findings';
import { carrierOf, indexTime } from '../../machine';
import { isCutting, type Operation } from '../../operations';
import { DeriveCache } from '../cache';
import { cycleOf } from '../cycle';
import { type Derived, derive } from '../derive';
import type { Job } from '../document';
import { stationOf } from '../references';
import { documentId, repeatOf } from '../repeats';
import { secondChannel } from '../second';
import { type Forced, forcedByTrade } from './rules';
import { type Block, fewestChanges } from './search';

/** What an order costs. */
export interface OrderCost {
  /** Tools that are turned in, all channels. */
  readonly changes: number;
  /** s from part to part; null where the plan has no time. */
  readonly time: number | null;
}

/** A tool that is turned in again, and what stands between that must come before. */
export interface ComesBack {
  readonly operation: string;
  readonly tool: string;
  readonly because: Forced | null;
}

export interface BestOrder {
  /** Channel → operations, as it would be; as it is where no order is better. */
  readonly order: Job['order'];
  readonly before: OrderCost;
  readonly after: OrderCost;
  /** Operations that another one overtakes, in the new order. */
  readonly moved: readonly string[];
  readonly comesBack: readonly ComesBack[];
  /** Orders that were planned and refused, with what planning found. */
  readonly refused: readonly Forced[];
  /** Whole plans that it took. */
  readonly plans: number;
}

/** Whole plans at the most: each that fails teaches at least one pair. */
const MOST_PLANS = 40;
/** Metal left or missing that differs by more than this is another result, mm³. */
const SAME_METAL = 0.5;
/** An order that saves less is left as it is, s. */
const LEAST_GAIN = 1e-3;

interface Run {
  readonly channel: string;
  readonly from: number;
  /** Operations of each block, in their order. */
  readonly blocks: readonly (readonly string[])[];
}

/** Whether an operation keeps its place: what moves no tool, or ties two channels, is a barrier that nothing crosses. */
const stays = (job: Job, op: Operation): boolean => !isCutting(op) || secondChannel(job, op) !== null;

/** Runs of operations between barriers, one holding at a time. */
const runsOf = (job: Job): Run[] =>
  Object.entries(job.order).flatMap(([channel, ids]) => {
    const runs: { channel: string; from: number; blocks: string[][] }[] = [];
    let open: (typeof runs)[number] | null = null;
    for (const [i, id] of ids.entries()) {
      const op = job.operations[id];
      if (stays(job, op)) {
        open = null;
        continue;
      }
      const last: string[] | undefined = open?.blocks.at(-1);
      if (!open || (last && job.operations[last[0]].holding !== op.holding)) {
        open = { channel, from: i, blocks: [[id]] };
        runs.push(open);
        continue;
      }
      const group = repeatOf(job, id);
      // one that is off stays behind the one before it
      if (last && ((group && last.some((k) => group.operations.includes(k))) || !op.on)) last.push(id);
      else open.blocks.push([id]);
    }
    return runs.filter((r) => r.blocks.length > 1);
  });

const toolsOf = (job: Job, ids: readonly string[]): string[] =>
  ids.flatMap((id) => {
    const op = job.operations[id];
    return isCutting(op) && op.on && op.tool ? [op.tool] : [];
  });

/** Tools that a channel turns in, one after another. */
const changesIn = (job: Job, ids: readonly string[]): number =>
  toolsOf(job, ids).filter((t, i, all) => i === 0 || t !== all[i - 1]).length;

const costOf = (job: Job, d: Derived): OrderCost => ({
  changes: Object.values(job.order).reduce((n, ids) => n + changesIn(job, ids), 0),
  time: cycleOf(job, d)?.time ?? null,
});

/** The order with every run rearranged, as few tool changes as what is forced allows. */
const arranged = (job: Job, runs: readonly Run[], forced: readonly Forced[]): Job['order'] => {
  const order = Object.fromEntries(Object.entries(job.order).map(([c, ids]) => [c, [...ids]]));
  for (const run of runs) {
    const placeOf = new Map(run.blocks.flatMap((b, i) => b.map((id) => [id, i] as const)));
    const after = run.blocks.map(() => new Set<number>());
    for (const f of forced) {
      const [a, b] = [placeOf.get(f.first), placeOf.get(f.next)];
      if (a !== undefined && b !== undefined && a !== b) after[b].add(a);
    }
    const blocks = run.blocks.map((ids): Block => {
      const tools = toolsOf(job, ids);
      return { first: tools[0] ?? null, last: tools.at(-1) ?? null };
    });
    const carrier = carrierOf(job.machine, run.channel);
    const change = (from: string | null, to: string): number => {
      const [a, b] = [from === null ? null : stationOf(job, from), stationOf(job, to)];
      return carrier && b !== null ? indexTime(job.machine, carrier, a, b) : 0;
    };
    const entry = toolsOf(job, order[run.channel].slice(0, run.from)).at(-1) ?? null;
    const found = fewestChanges({ blocks, after, entry, change }).flatMap((k) => run.blocks[k]);
    order[run.channel].splice(run.from, found.length, ...found);
  }
  return order;
};

const serious = (d: Derived): Finding[] => d.findings.filter((f) => f.severity !== 'info');
const nameOf = (f: Finding): string => `${f.code} ${f.operation ?? ''}`;

/** What a plan finds that another did not, or null: its first finding, with the operation where there is one. */
const worseThan = (was: Derived, now: Derived): { operation: string | null; why: string } | null => {
  const known = new Set(serious(was).map(nameOf));
  const fresh = serious(now).find((f) => !known.has(nameOf(f)));
  if (fresh) return { operation: fresh.operation, why: wordFinding(fresh).message };
  const differs = Math.abs(was.leftoverVolume - now.leftoverVolume) > SAME_METAL;
  return differs ? { operation: null, why: 'other metal would be left on the part' } : null;
};

/** Pairs that a new order turned round, each as it stands now. */
const turnedPairs = (job: Job, order: Job['order'], runs: readonly Run[]): { first: string; next: string }[] =>
  runs.flatMap((run) => {
    const ids = run.blocks.flat();
    const place = new Map(order[run.channel].map((id, i) => [id, i] as const));
    const on = (id: string): boolean => job.operations[id].on;
    return ids.flatMap((next, j) =>
      ids
        .slice(0, j)
        .filter((first) => on(first) && on(next) && (place.get(first) ?? 0) > (place.get(next) ?? 0))
        .map((first) => ({ first, next })),
    );
  });

/** Tools that come back in a run although they were there, with the pair that keeps them apart. */
const comingBack = (job: Job, order: Job['order'], runs: readonly Run[], forced: readonly Forced[]): ComesBack[] =>
  runs.flatMap((run) => {
    const size = run.blocks.reduce((n, b) => n + b.length, 0);
    const ids = order[run.channel].slice(run.from, run.from + size).filter((id) => toolsOf(job, [id]).length > 0);
    const tool = (id: string): string => toolsOf(job, [id])[0];
    return ids.flatMap((id, i) => {
      const used = ids.findLastIndex((k, j) => j < i && tool(k) === tool(id));
      if (used < 0 || used === i - 1) return [];
      const between = ids.slice(used + 1, i);
      const because =
        forced.findLast((f) => f.next === id && between.includes(f.first)) ??
        // the one before could not wait either
        forced.findLast((f) => f.first === ids[used] && between.includes(f.next)) ??
        null;
      return [{ operation: id, tool: tool(id), because }];
    });
  });

/**
 * The order of the fewest tool changes, and among those the shortest way of the carriers, in which the job plans as well as
 * it does now: no finding that was not there, the same metal left. What must come first by the trade is kept; what planning
 * finds beyond that is learnt pair by pair.
 */
export const bestOrder = (job: Job): BestOrder => {
  const cache = new DeriveCache();
  const was = derive(job, cache);
  const runs = runsOf(job);
  const forced = runs.flatMap((r) => forcedByTrade(job, r.blocks.flat(), was.part));
  const refused: Forced[] = [];
  const before = costOf(job, was);
  const found = (order: Job['order'], after: OrderCost, plans: number): BestOrder => ({
    order,
    before,
    after,
    moved: [...new Set(turnedPairs(job, order, runs).map((p) => p.next))],
    comesBack: comingBack(job, order, runs, forced),
    refused,
    plans,
  });
  const asItIs = (plans: number): BestOrder => found(job.order, before, plans);
  for (let plans = 1; plans <= MOST_PLANS; plans++) {
    const order = arranged(job, runs, forced);
    const turned = turnedPairs(job, order, runs);
    if (turned.length === 0) return asItIs(plans);
    const next: Job = { ...job, order };
    const now = derive(next, cache);
    const worse = worseThan(was, now);
    if (!worse) {
      const after = costOf(next, now);
      const slower = after.time !== null && before.time !== null && after.time > before.time - LEAST_GAIN;
      return slower ? asItIs(plans) : found(order, after, plans);
    }
    const at = worse.operation === null ? null : documentId(job, worse.operation);
    const blamed = turned.filter((p) => p.first === at || p.next === at);
    // an order that nothing names is tried again without its first pair
    const learnt = (blamed.length > 0 ? blamed : turned.slice(0, 1)).map((p) => ({ ...p, why: worse.why }));
    refused.push(...learnt);
    forced.push(...learnt);
  }
  return asItIs(MOST_PLANS);
};
