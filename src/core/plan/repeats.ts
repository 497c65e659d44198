import { z } from 'zod';
import { type Finding, note } from '../findings';
import { type Region, regionBounds } from '../geometry';
import { WORK_OFFSETS } from '../holding';
import { isCutting, isSevering, kindOf, type Operation } from '../operations';
import type { Part } from '../part';
import { typed } from '../units';
import type { Job } from './document';
import { firstId } from './second';
import type { Turn } from './sequence';

/**
 * A group of operations that runs again and again along Z, each time one pitch further toward the chuck. A group that takes
 * the part off makes one part after another from one stick-out; any other cuts the same thing at several places of a part.
 */
export const RepeatSchema = z.object({
  id: z.string().min(1).max(80),
  name: z.string().max(120),
  /** Operations of the group; they stand together in their channel. */
  operations: z.array(z.string().max(80)).min(1).max(200),
  /** How many times in all. */
  count: z.number().int().min(1).max(200),
  /** mm from one to the next; null = part, blade, what is left on the back and what is faced off. */
  pitch: typed().nullable().default(null),
  /** The first that is still made, from 1: work that was broken off goes on there. */
  first: z.number().int().min(1).max(200).default(1),
  /** One zero for all, or a work offset for each. */
  zeros: z.enum(['one', 'each']).default('one'),
  /** Part by part (place by place), or each operation at all places before the next one. */
  by: z.enum(['part', 'tool']).default('part'),
  /** Every time written out, or once as a sub-program that the zero is shifted for. */
  output: z.enum(['moves', 'sub-program']).default('moves'),
});
export type Repeat = z.infer<typeof RepeatSchema>;

/** The first time keeps the operation's own name; the others carry their number. */
const turnId = (operation: string, copy: number): string => (copy === 0 ? operation : `${operation}#${copy + 1}`);

/** The operation of the document that a turn runs. */
export const documentId = (job: Pick<Job, 'operations'>, id: string): string =>
  id in job.operations ? id : firstId(id).replace(/#\d+$/, '');

/** The operation itself. */
export const operationOf = (job: Pick<Job, 'operations'>, id: string): Operation | undefined =>
  job.operations[documentId(job, id)];

export const repeatOf = (job: Job, operation: string): Repeat | null =>
  Object.values(job.repeats).find((r) => r.operations.includes(operation)) ?? null;

type QueueItem = Pick<Turn, 'id' | 'operation' | 'copy'>;

/** A channel's list with its repeats written out: a run of neighbours of one group as often as it is asked for. */
export const writtenOut = (job: Job, ids: readonly string[]): QueueItem[] => {
  const list: QueueItem[] = [];
  for (let i = 0; i < ids.length; ) {
    const repeat = repeatOf(job, ids[i]);
    let end = i + 1;
    if (repeat) while (end < ids.length && repeat.operations.includes(ids[end])) end++;
    const run = ids.slice(i, end);
    const first = repeat ? repeat.first - 1 : 0;
    // the first one that is made carries the operation's own name, so that it can be picked and drawn
    const times = Array.from({ length: Math.max(1, (repeat?.count ?? 1) - first) }, (_, k) => k);
    const turn = (operation: string, k: number): QueueItem => ({
      id: turnId(operation, k),
      operation,
      copy: first + k,
    });
    if (repeat?.by === 'tool') for (const operation of run) list.push(...times.map((k) => turn(operation, k)));
    else for (const k of times) list.push(...run.map((operation) => turn(operation, k)));
    i = end;
  }
  return list;
};

const severing = (job: Job, repeat: Repeat) =>
  repeat.operations.map((id) => job.operations[id]).find((op) => op?.on && isSevering(op));

/** Whether each time makes another part. */
export const makesParts = (job: Job, repeat: Repeat): boolean => severing(job, repeat) !== undefined;

/** Times of a repeat by tool whose parts are still in the bar when an operation works at one of them. */
export const stillThere = (job: Job, repeat: Repeat, operation: string, copy: number): number[] => {
  if (repeat.by !== 'tool' || !makesParts(job, repeat)) return [];
  const channel = Object.values(job.order).find((ids) => ids.includes(operation)) ?? [];
  const cut = channel.indexOf(severing(job, repeat)?.id ?? '');
  const at = channel.indexOf(operation);
  const gone = at > cut ? repeat.count : at === cut ? copy : 0;
  return Array.from({ length: repeat.count }, (_, k) => k).filter(
    (k) => k >= Math.max(repeat.first - 1, gone) && k !== copy,
  );
};

/** Whether an operation comes to its part from the front, where the parts before it stand. */
const isAtFront = (op: Operation): boolean =>
  op.on && isCutting(op) && (kindOf(op).side === 'axis' || kindOf(op).needsHole);

const holdingOf = (job: Job, repeat: Repeat) => {
  const op = repeat.operations.map((id) => job.operations[id]).find((k) => k !== undefined);
  return op ? { id: op.holding, holding: job.holdings[op.holding] } : null;
};

/** What a repeat that makes parts takes of its bar; null for one that makes none, or from no bar. */
const takenBy = (job: Job, repeat: Repeat, part: Region) => {
  const op = severing(job, repeat);
  const at = holdingOf(job, repeat);
  if (!op || !at || !isCutting(op) || part.length === 0 || at.holding.stock.form !== 'bar') return null;
  const b = regionBounds(part);
  const leaves = kindOf(op).leaves?.(op) ?? 0;
  return { at, stock: at.holding.stock, leaves, length: b.maxX - b.minX };
};

/**
 * mm from one to the next: as asked for; else what a part takes of the bar: its length, what is left on its back, the blade,
 * and what is faced off the next one. Null where nothing says it.
 */
export const pitchOf = (job: Job, repeat: Repeat, part: Region, blade: number): number | null => {
  if (repeat.pitch !== null) return repeat.pitch;
  const taken = takenBy(job, repeat, part);
  if (!taken) return null;
  return Math.round((taken.length + taken.leaves + blade + taken.stock.frontAllowance) * 1000) / 1000;
};

/** Parts that come from a stick-out, and how long it may be before the bar wants support. */
export interface StickOutYield {
  readonly fits: number;
  /** Stick-out that so many parts want, mm. */
  readonly needed: (count: number) => number;
  /** Most parts before the stick-out passes `SLENDER` diameters. */
  readonly steady: number;
  /** The least that the pitch may be, mm. */
  readonly least: number;
}

/** Stick-out over diameter from which a bar wants a tailstock. */
const SLENDER = 3;

/** A blade that takes parts off: its width, and the room that its block wants behind it, mm. */
export interface Blade {
  readonly width: number;
  readonly beside: number;
}

/** How many parts a repeat gets out of its stick-out; null for one that makes none. */
export const stickOutYield = (
  job: Job,
  repeat: Repeat,
  part: Region,
  blade: Blade,
  pitch: number,
): StickOutYield | null => {
  const taken = takenBy(job, repeat, part);
  if (!taken) return null;
  const { stock, at } = taken;
  const least = taken.length + taken.leaves + blade.width;
  const one = stock.frontAllowance + least + blade.beside + at.holding.safeDistance;
  const needed = (count: number): number => Math.round((one + (count - 1) * pitch) * 10 + 0.4999) / 10;
  const most = (stickOut: number): number => Math.max(0, Math.floor((stickOut - one) / pitch + 1e-6) + 1);
  return { fits: most(stock.stickOut), needed, steady: most(SLENDER * stock.diameter), least };
};

/** Codes of the zeros of a repeat that has one for each; null for numbers past the last. */
export const zeroCode = (base: string, copy: number): string | null =>
  WORK_OFFSETS[WORK_OFFSETS.indexOf(base as (typeof WORK_OFFSETS)[number]) + copy] ?? null;

/** What is wrong with repeats, seen from the list alone. */
export const validateRepeats = (job: Job, part: Part, bladeOf: (holding: string) => Blade): Finding[] =>
  Object.values(job.repeats).flatMap((r): Finding[] => {
    const at = holdingOf(job, r);
    const members = r.operations.filter((id) => job.operations[id] !== undefined);
    if (!at || members.length === 0) return [];
    const found: Finding[] = [];
    const to = members[0];
    for (const ids of Object.values(job.order)) {
      const places = ids.flatMap((id, i) => (members.includes(id) ? [i] : []));
      const gap = places.find((p, i) => i > 0 && p !== places[i - 1] + 1);
      if (gap !== undefined)
        found.push(
          note('blocking', 'repeat-parted', to, { repeat: r.name, between: job.operations[ids[gap - 1]].name }),
        );
    }
    if (members.some((id) => job.operations[id].holding !== at.id))
      found.push(note('blocking', 'repeat-holdings', to, { repeat: r.name }));
    const front = r.count > r.first ? members.map((id) => job.operations[id]).find(isAtFront) : undefined;
    if (front && r.by === 'tool' && makesParts(job, r))
      found.push(
        note('blocking', 'repeat-in-the-way', front.id, { repeat: r.name }, null, {
          remedy: { label: 'One part after another', set: { [`/repeats/${r.id}/by`]: 'part' } },
        }),
      );
    const blade = bladeOf(at.id);
    const pitch = pitchOf(job, r, part.region, blade.width);
    if (pitch === null || pitch <= 0.01) {
      found.push(note('blocking', 'repeat-no-pitch', to, { repeat: r.name, pitch: pitch ?? 0 }));
      return found;
    }
    if (r.first > r.count)
      found.push(
        note('blocking', 'repeat-first', to, { repeat: r.name, first: r.first, count: r.count }, null, {
          remedy: { label: 'Begin with the first', set: { [`/repeats/${r.id}/first`]: 1 } },
        }),
      );
    if (r.zeros === 'each') {
      const most = WORK_OFFSETS.length - WORK_OFFSETS.indexOf(at.holding.workOffset);
      if (r.count > most)
        found.push(
          note('blocking', 'repeat-zeros', to, { repeat: r.name, count: r.count, most }, null, {
            remedy: { label: 'One zero for all', set: { [`/repeats/${r.id}/zeros`]: 'one' } },
          }),
        );
    }
    const { stock } = at.holding;
    const says = at.holding.turned ? null : stickOutYield(job, r, part.region, blade, pitch);
    if (!says || stock.form !== 'bar') return found;
    const { least, fits } = says;
    if (pitch < least - 1e-6)
      found.push(
        note('blocking', 'repeat-pitch', to, { repeat: r.name, pitch, least }, null, {
          remedy: { label: 'Pitch from part and blade', set: { [`/repeats/${r.id}/pitch`]: null } },
        }),
      );
    if (fits < r.count && r.count > 1) {
      const needed = says.needed(r.count);
      found.push(
        note('blocking', 'repeat-too-long', to, { count: r.count, needed, stickOut: stock.stickOut, fits }, null, {
          remedy: { label: `Stick-out ${needed} mm`, set: { [`/holdings/${at.id}/stock/stickOut`]: needed } },
        }),
      );
    }
    return found;
  });
