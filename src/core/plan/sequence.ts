import { type Finding, note } from '../findings';
import { isCutting, markName } from '../operations';
import type { Job } from './document';
import { markBetween } from './marks';
import { writtenOut } from './repeats';
import { laneOf, secondChannel, secondId } from './second';

export interface Turn {
  /** Name of this time; the first one has the operation's own. */
  readonly id: string;
  /** The operation of the document. */
  readonly operation: string;
  /** How many pitches of its repeat it is further on; 0 without one. */
  readonly copy: number;
  readonly channel: string;
  readonly holding: string;
  /** The second tool's share of the turn before it. */
  readonly second?: boolean;
}

const channelsOf = (job: Job): string[] => [
  ...job.machine.channels.map((c) => c.id),
  ...Object.keys(job.order).filter((id) => !job.machine.channels.some((c) => c.id === id)),
];

/** Operations of all channels, holding by holding, in an order that keeps their marks: channels take turns between common wait marks. */
export const markOrder = (job: Job): Turn[] => {
  const queues = channelsOf(job).map((channel) => ({
    channel,
    items: writtenOut(job, job.order[channel] ?? []),
    next: 0,
  }));
  const result: Turn[] = [];
  const left = (q: (typeof queues)[number]): boolean => q.next < q.items.length;
  const take = (q: (typeof queues)[number]): void => {
    const item = q.items[q.next++];
    const op = job.operations[item.operation];
    const turn = { ...item, channel: q.channel, holding: op.holding };
    result.push(turn);
    const other = secondChannel(job, op);
    if (other) result.push({ ...turn, id: secondId(turn.id), channel: other, second: true });
  };
  for (;;) {
    let moved = false;
    for (const q of queues)
      while (left(q) && isCutting(job.operations[q.items[q.next].operation])) {
        take(q);
        moved = true;
      }
    for (const q of queues)
      if (left(q)) {
        take(q);
        moved = true;
      }
    if (!moved) return byHolding(job, result);
  }
};

const byHolding = (job: Job, turns: readonly Turn[]): Turn[] => {
  const rank = new Map(job.holdingOrder.map((id, i) => [id, i]));
  return [...turns].sort((a, b) => (rank.get(a.holding) ?? 0) - (rank.get(b.holding) ?? 0));
};

interface Section {
  /** Mark that began it, with the channels tied; null at the start of the program. */
  readonly mark: string | null;
  readonly tied: readonly string[];
  readonly ids: string[];
}

/** A channel cut at its marks. */
const sectionsOf = (job: Job, channel: string, holding: string): Section[] => {
  const sections: Section[] = [{ mark: null, tied: [], ids: [] }];
  for (const { operation: id, second } of laneOf(job, channel)) {
    const op = job.operations[id];
    if (!op.on || op.holding !== holding) continue;
    const other = secondChannel(job, op);
    if (other) {
      // both tools begin together, and both channels are free after it: what follows has no order by that
      const tied = [op.channel, other];
      sections.push({ mark: `both ${id}`, tied, ids: second ? [] : [id] });
      sections.push({ mark: `after ${id} ${channel}`, tied, ids: [] });
      continue;
    }
    if (op.kind !== 'wait') sections[sections.length - 1].ids.push(id);
    else sections.push({ mark: markName(op.params), tied: op.params.channels, ids: [] });
  }
  return sections;
};

/**
 * Operations of different channels that cut the same part with nothing to say which comes first: no mark between them, and
 * none right before both that lets them begin together. One finding for each pair of sections.
 */
export const unsynchronised = (job: Job): Finding[] =>
  job.holdingOrder.flatMap((holding) => unsynchronisedIn(job, holding));

const unsynchronisedIn = (job: Job, holding: string): Finding[] => {
  const channels = channelsOf(job);
  const sections = channels.map((c) => sectionsOf(job, c, holding));
  const findings: Finding[] = [];
  for (let a = 0; a < channels.length; a++)
    for (let b = a + 1; b < channels.length; b++) {
      // marks that tie both channels, in order, part their sections into stages
      const both = (s: Section): boolean =>
        s.mark !== null && [channels[a], channels[b]].every((c) => s.tied.includes(c));
      const stages = (list: readonly Section[]): { mark: string | null; ids: string[] }[] => {
        const result: { mark: string | null; ids: string[] }[] = [{ mark: null, ids: [] }];
        for (const s of list) {
          if (both(s)) result.push({ mark: s.mark, ids: [...s.ids] });
          else result[result.length - 1].ids.push(...s.ids);
        }
        return result;
      };
      const left = stages(sections[a]);
      const right = stages(sections[b]);
      for (let i = 0; i < Math.min(left.length, right.length); i++) {
        const [p] = left[i].ids;
        const [q] = right[i].ids;
        if (!p || !q || (left[i].mark !== null && left[i].mark === right[i].mark)) continue;
        const other = job.operations[p].name;
        const set = markBetween(job, { operation: p, side: 'start' }, { operation: q, side: 'start' });
        findings.push(
          note('blocking', 'unsynchronised', q, { other, channels: `${channels[a]} and ${channels[b]}` }, null, {
            ...(set ? { remedy: { label: 'Let both begin together', set } } : {}),
          }),
        );
      }
    }
  return findings;
};
