import { type CuttingOperation, kindOf } from '../operations';
import { isCoarse } from '../threads';
import { toolFacts } from '../tooling';
import type { Candidate } from './candidates';
import type { Job } from './document';

/** A cutoff comes behind all that takes more of the span's metal than what is left of 100 by this. */
const LAST = 96;

/** What a tool must take more of 100 of the span’s metal to be set up for it where others stand in the turret. */
const FROM_SHELF = 8;
/** The same of a drill: what its point leaves is seldom taken by another tool. */
const DRILL_FROM_SHELF = 2;

/** What the point that makes the bottom of a hole counts for, of 100 of the metal. */
const ITS_BOTTOM = 20;

/** What the coarse pitch of a diameter counts for: where nothing says which thread is meant, it is. */
const COARSE = 2;

/** Share of a span's metal that is worth a roughing before it is finished. */
const WORTH_ROUGHING = 0.1;

/** Roughing of a span that bridges its hollows. */
const isRoughing = ({ kind, operation: { params } }: Candidate): boolean =>
  kindOf({ kind }).covers === 'rough' && kindOf({ kind }).target === 'span' && !entersHollows(params);

const entersHollows = (params: CuttingOperation['params']): boolean =>
  'undercuts' in params && params.undercuts === 'enter';

/**
 * Ranks by what comes off, then by time; those that cannot come last, with their reason. What goes before others in a shop goes
 * before them here, as far as it has something to do: facing first, and roughing before the finishing that would take its metal.
 */
export const rankCandidates = (job: Job, found: readonly Candidate[]): Candidate[] => {
  // among equals a strong corner roughs better than a slender one, but not in hollows
  const strength = (c: Candidate): number => {
    if (kindOf(c).covers !== 'rough' || entersHollows(c.operation.params)) return 0;
    const tool = c.put?.tool ?? job.tools[c.tool];
    return (toolFacts(tool).insert?.cornerAngle ?? 0) / 10;
  };
  const worth = (c: Candidate): number =>
    c.reach > 0
      ? c.reach * 100 -
        c.seconds / 30 +
        strength(c) +
        (c.bottom ? ITS_BOTTOM : 0) +
        (c.makes !== null && isCoarse(c.makes) ? COARSE : 0) -
        (kindOf(c).covers === 'sever' ? LAST : 0) -
        (c.doubtful ? 60 : 0) -
        (c.put ? (kindOf(c).covers === 'hole' ? DRILL_FROM_SHELF : FROM_SHELF) : 0)
      : c.cure !== null
        ? -900
        : -1000;
  const scores = new Map(found.map((c) => [c, worth(c)]));
  const scoreOf = (c: Candidate): number => scores.get(c) ?? 0;
  const sound = found.filter((c) => c.reach > 0 && !c.doubtful);
  const best = (list: readonly Candidate[]): Candidate | undefined =>
    list.reduce<Candidate | undefined>((top, c) => (top && scoreOf(top) >= scoreOf(c) ? top : c), undefined);
  const shift = (list: readonly Candidate[], by: number): void => {
    for (const c of list) scores.set(c, scoreOf(c) + by);
  };
  // finishing waits while roughing has something to do; not for hollows alone
  const roughing = best(sound.filter((c) => isRoughing(c) && c.reach >= WORTH_ROUGHING));
  const finishing = sound.filter((c) => kindOf(c).deepest !== undefined);
  const finest = best(finishing);
  if (roughing && finest && scoreOf(finest) >= scoreOf(roughing))
    shift(finishing, scoreOf(roughing) - scoreOf(finest) - 1);
  // the front is made before what is measured from it
  const facing = sound.filter((c) => kindOf(c).covers === 'rough' && kindOf(c).target === 'none');
  const first = best(facing);
  const top = best(sound);
  if (first && top && first !== top) shift(facing, scoreOf(top) - scoreOf(first) + 1);
  return [...found].sort((a, b) => scoreOf(b) - scoreOf(a));
};
