import { type Finding, note } from '../findings';
import { channelOfCarrier, reachOf } from '../machine';
import { isMove, type MotionEvent } from '../motion';
import {
  type CuttingOperation,
  isCutting,
  kindOf,
  markName,
  type Operation,
  type Place,
  type WaitOperation,
} from '../operations';
import { mountedAt, type Tool, type ToolSection } from '../tooling';
import type { Job } from './document';
import { takesTool } from './references';

/**
 * One operation, two tools: a tool of another carrier takes the same passes at the same time from the other side. Both meet
 * before each pass, so that they stay in step whatever their slides can do; both channels say the same of the spindle. For
 * every turn of the work each edge takes the feed of the operation, so that both together go twice as fast.
 */

/** The tool that takes the same passes; null where one works alone. */
export const secondOf = (op: Operation | undefined): string | null =>
  op?.on && isCutting(op) ? (kindOf(op).second?.(op) ?? null) : null;

/** The channel that commands the second tool; null where it stands nowhere. */
export const secondChannel = (job: Job, op: Operation | undefined): string | null => {
  const tool = secondOf(op);
  const at = tool === null ? null : mountedAt(job.mounts, tool);
  const channel = at && channelOfCarrier(job.machine, at.carrier)?.id;
  return channel && channel !== op?.channel ? channel : null;
};

/** Whether an operation works with a tool, as its first or its second one. */
export const worksWith = (op: Operation, tool: string): boolean =>
  op.tool === tool || (isCutting(op) && kindOf(op).second?.(op) === tool);

const SUFFIX = '~2';
/** Name of the second tool's share of an operation or of one of its times. */
export const secondId = (id: string): string => `${id}${SUFFIX}`;
export const isSecond = (id: string): boolean => id.endsWith(SUFFIX);
/** The turn to which a second tool's share belongs. */
export const firstId = (id: string): string => (isSecond(id) ? id.slice(0, -SUFFIX.length) : id);

/** Tools of other carriers that could take the same passes: of a kind that it accepts, on a carrier that comes to its work. */
export const secondTools = (job: Job, op: CuttingOperation): Tool[] => {
  const spindle = job.holdings[op.holding]?.spindle ?? '';
  return Object.values(job.tools).filter((tool) => {
    const at = mountedAt(job.mounts, tool.id);
    const channel = at && channelOfCarrier(job.machine, at.carrier);
    return (
      takesTool(job, kindOf(op).tools, tool) &&
      tool.id !== op.tool &&
      channel &&
      channel.id !== op.channel &&
      channel.spindles.includes(spindle) &&
      reachOf(job.machine, at.carrier, spindle, at.station) !== null
    );
  });
};

/** Marks of operations with two tools, from the greatest number down; people count theirs from 1. */
const LAST_MARK = 899;
export const secondMark = (job: Job, operation: string): number =>
  LAST_MARK -
  Object.keys(job.operations)
    .filter((id) => secondOf(job.operations[id]) !== null)
    .indexOf(operation);

/** The operation as it is planned for two tools: in moves, with the path computed here, at the feed of both together. */
export const forTwo = (op: CuttingOperation): CuttingOperation => {
  const params = { ...op.params } as Record<string, unknown>;
  if ('output' in params) params.output = 'moves';
  if ('compensation' in params) params.compensation = 'computed';
  return { ...op, params, cutting: { ...op.cutting, feed: 2 * op.cutting.feed } } as CuttingOperation;
};

/** Events with a meeting of both channels before each cut and one after the last. */
export const inStep = (
  events: readonly MotionEvent[],
  op: string,
  mark: number,
  channels: readonly string[],
): MotionEvent[] => {
  const wait: MotionEvent = { kind: 'wait', op, purpose: 'setup', mark, channels: [...channels].sort() };
  const result: MotionEvent[] = [];
  let cutting = false;
  let cut = false;
  for (const e of events) {
    if (isMove(e)) {
      const feeds = e.kind !== 'rapid';
      // each meets the other where it stands before a cut, and once more before it leaves
      if ((feeds && !cutting) || (cut && e.purpose === 'tool-change')) result.push(wait);
      cutting = feeds;
      cut ||= feeds;
    }
    result.push(e);
  }
  return result;
};

/** The events of the second tool: the same ways under its own call. */
export const eventsOfSecond = (events: readonly MotionEvent[], id: string, place: Place, tool: string): MotionEvent[] =>
  events.map((e) =>
    e.kind === 'tool'
      ? { ...e, op: id, carrier: place.carrier, station: place.station, offset: place.offset, tool }
      : { ...e, op: id },
  );

/** How far two edges may differ and still cut one path, mm. */
const ALIKE = 1e-6;

/** Why two tools cannot take the same passes. */
export const secondFindings = (
  op: CuttingOperation,
  first: ToolSection,
  second: ToolSection,
  names: { readonly first: string; readonly second: string },
): Finding[] => {
  const tell = (what: string): Finding[] => [note('blocking', 'second-differs', op.id, { ...names, what })];
  if (first.spindle !== second.spindle) return tell('wants the spindle to turn the other way');
  if (Math.abs(first.noseRadius - second.noseRadius) > ALIKE)
    return tell(`has a nose of ${second.noseRadius} mm in place of ${first.noseRadius}`);
  if (Math.hypot(first.tip.x - second.tip.x, first.tip.y - second.tip.y) > ALIKE)
    return tell('is programmed at another point');
  const outline = (s: ToolSection): number[] => s.cutting.flatMap((c) => c.points.flatMap((p) => [p.x, p.y]));
  const [a, b] = [outline(first), outline(second)];
  if (a.length !== b.length || a.some((v, i) => Math.abs(v - b[i]) > 1e-3)) return tell('has another edge');
  return [];
};

/** The second tool's share of an operation in the list of its channel. */
export interface LaneItem {
  readonly operation: string;
  readonly second: boolean;
}

/**
 * A channel's list with the shares of its second tools. Such a share has no place of its own there: it comes as early as the
 * marks that the channel has in common with the operation's own one let it.
 */
export const laneOf = (job: Job, channel: string): LaneItem[] => {
  const own = (job.order[channel] ?? []).map((operation): LaneItem => ({ operation, second: false }));
  for (const [other, ids] of Object.entries(job.order)) {
    if (other === channel) continue;
    let after = 0;
    for (const id of ids) {
      const op = job.operations[id];
      if (op?.kind === 'wait' && op.on && op.params.channels.includes(channel)) {
        const at = own.findIndex((item, i) => i >= after && sameMark(job.operations[item.operation], op));
        if (at >= 0) after = at + 1;
      } else if (secondChannel(job, op) === channel) {
        own.splice(after, 0, { operation: id, second: true });
        after++;
      }
    }
  }
  return own;
};

const sameMark = (a: Operation | undefined, b: WaitOperation): boolean =>
  a?.kind === 'wait' && a.on && markName(a.params) === markName(b.params);
