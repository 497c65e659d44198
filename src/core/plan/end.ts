import { compareWithPart } from '../checks';
import { type Finding, note } from '../findings';
import { greatestHalfThickness, point, type Region, regionBounds, regionVolume } from '../geometry';
import { jawLength } from '../holding';
import { isMove } from '../motion';
import { isCutting, kindOf } from '../operations';
import { type Part, turnedRound, turnedSide } from '../part';
import { separate } from '../stock';
import type { Shelf } from './cache';
import { type Coverage, coverageOf } from './coverage';
import type { DerivedOperation } from './derive';
import type { Job } from './document';
import { hashOf, hashRegion } from './hash';
import { asDrawn, type Held } from './held';

/** The state of things after the last operation, held against the part. */
export interface End {
  /** The piece that came off, or the whole front when nothing did; what stays in the chuck. */
  readonly finished: Region;
  readonly finalStock: Region;
  readonly leftover: Region;
  readonly gouge: Region;
  readonly coverage: Coverage;
  /** mm³. */
  readonly leftoverVolume: number;
  readonly missingVolume: number;
  /** Thickest place of what is left and of what is missing, mm; 0 where it is not worth a word. */
  readonly thickness: number;
  readonly missing: number;
  /** The operation that should have cut the part off, and did not. */
  readonly uncut: string | null;
}

/** Metal left or missing that is thinner than this is not worth a word, mm: a few chords of the polygons. */
const TELLING = 0.004;

/** What a holding leaves once its operations are done. */
export interface HoldingEnd {
  /** All the metal, what came off a bar, and what stays in the jaws. */
  readonly all: Region;
  readonly off: Region;
  readonly kept: Region;
  /** The operation that should have taken a piece off. */
  readonly severing: string | null;
}

export const endOfHolding = (job: Job, held: Held, own: readonly DerivedOperation[]): HoldingEnd => {
  const all = own.at(-1)?.after ?? held.rawStock;
  const severing = own.find((d) => {
    const op = job.operations[d.id];
    return isCutting(op) && kindOf(op).covers === 'sever' && d.events.length > 0;
  });
  if (!severing) return { all, off: [], kept: all, severing: null };
  const heldZ = held.seat.jawFront - jawLength(job.holdings[held.id]) / 2;
  const { off, held: kept } = separate(all, heldZ);
  return { all, off, kept, severing: severing.id };
};

/** `holdings` and `ends` go with one another; the last of them is where the part is done. */
export const endOf = (
  job: Job,
  part: Part,
  holdings: readonly Held[],
  ends: readonly HoldingEnd[],
  timed: readonly DerivedOperation[],
  shelf: Shelf<End>,
): End => {
  const last = holdings[holdings.length - 1];
  const { all, off, kept, severing } = ends[ends.length - 1];
  const [first] = holdings;
  const finishing = [
    ...new Set(
      timed
        .filter((d) => d.events.length > 0)
        .map((d) => job.operations[d.id])
        .filter(isCutting)
        .filter((op) => kindOf(op).covers === 'finish')
        .map((op) => finishedSide(part, kindOf(op).side, job.holdings[op.holding].turned)),
    ),
  ];
  const key = hashOf(
    part.outer.map((e) => e.id),
    part.inner.map((e) => e.id),
    part.back.map((e) => e.id),
    hashRegion(all),
    hashRegion(off),
    hashRegion(first.rawStock),
    hashRegion(part.region),
    holdings.map((h) => h.turned),
    severing,
    finishing,
  );
  const isOff = severing !== null && off.length > 0;
  return shelf.get(key, () => {
    const finished = isOff ? off : all;
    const compared = compareWithPart(finished, last.part.region, isOff || holdings.length > 1);
    return {
      finished,
      leftover: compared.leftover,
      gouge: compared.gouge,
      leftoverVolume: regionVolume(compared.leftover),
      thickness: 2 * greatestHalfThickness(compared.leftover, 1e-3, TELLING / 2),
      missing: 2 * greatestHalfThickness(compared.gouge, 1e-3, TELLING / 2),
      missingVolume: regionVolume(compared.gouge),
      coverage: coverageOf(
        part,
        asDrawn(part, last.turned, finished),
        asDrawn(part, first.turned, first.rawStock),
        finishing,
      ),
      finalStock: kept.length > 0 ? kept : all,
      uncut: severing !== null && !isOff ? severing : null,
    };
  });
};

/** The side of the drawn part that an operation finished. */
const finishedSide = (part: Part, side: 'outer' | 'inner' | 'axis', turned: boolean): string =>
  turned && side !== 'axis' ? turnedSide(turnedRound(part), side) : side;

const centreOf = (region: Region): { x: number; y: number } | null => {
  if (region.length === 0) return null;
  const largest = region.reduce((best, r) => (regionVolume([r]) > regionVolume([best]) ? r : best));
  const b = regionBounds([largest]);
  return point((b.minX + b.maxX) / 2, (b.minY + b.maxY) / 2);
};

/** What the end of a job says about the job as a whole. */
export const endFindings = (end: End, part: Part, timed: readonly DerivedOperation[], holding: string): Finding[] => {
  const findings: Finding[] = [];
  const active = timed.some((d) => d.events.some((e) => isMove(e)));
  const waiting = timed.some((d) => d.state === 'blocked');
  if (part.region.length > 0 && !active && !waiting && end.leftoverVolume > 1)
    findings.push(note('attention', 'nothing-made', null, { volume: end.leftoverVolume }));
  else if (active && end.leftoverVolume > 0.05 && end.thickness > 0)
    findings.push(
      note(
        'attention',
        'leftover',
        null,
        { volume: end.leftoverVolume, thickness: end.thickness },
        centreOf(end.leftover),
        { holding },
      ),
    );
  if (active && end.missing > 0)
    findings.push(
      note(
        'blocking',
        'metal-missing',
        null,
        { volume: end.missingVolume, thickness: end.missing },
        centreOf(end.gouge),
        { holding },
      ),
    );
  const uncut = timed.find((d) => d.id === end.uncut);
  if (uncut && !uncut.findings.some((f) => f.code === 'not-severed' || f.severity === 'blocking'))
    findings.push(note('blocking', 'not-severed', uncut.id, { left: 0, needed: 0.5 }));
  return findings;
};
