import { compareWithPart } from '../checks';
import { type Finding, note } from '../findings';
import { greatestHalfThickness, point, type Region, regionBounds, regionVolume } from '../geometry';
import { jawLength } from '../holding';
import { isMove } from '../motion';
import { isCutting, isSevering, kindOf } from '../operations';
import { type Part, turnedRound, turnedSide } from '../part';
import { type Body, NO_BODY, type Separated, separate } from '../stock';
import type { Shelf } from './cache';
import { type Coverage, coverageOf } from './coverage';
import type { DerivedOperation } from './derive';
import type { Job } from './document';
import { hashBody, hashOf, hashRegion } from './hash';
import { asDrawn, type Held } from './held';

/** The state of things after the last operation, held against the part. */
export interface End {
  /** The piece that came off, or the whole front when nothing did; what stays in the chuck. */
  readonly finished: Body;
  readonly finalStock: Body;
  readonly leftover: Region;
  readonly gouge: Region;
  readonly coverage: Coverage;
  /** mm³. */
  readonly leftoverVolume: number;
  readonly missingVolume: number;
  /** Thickest place of what is left and of what is missing, mm; 0 where it is not worth a word. */
  readonly thickness: number;
  readonly missing: number;
  /** Which part of how many this is, where several are made. */
  readonly number: number;
  readonly count: number;
  /** The operation that should have cut the part off, and did not. */
  readonly uncut: string | null;
}

/** Metal left or missing that is thinner than this is not worth a word, mm: a few chords of the polygons. */
const TELLING = 0.004;

/** What a holding leaves once its operations are done. */
export interface HoldingEnd {
  /** All the metal, what came off a bar, and what stays in the jaws. */
  readonly all: Body;
  readonly off: Body;
  readonly kept: Body;
  /** Parts that fell before the last one came off, as they are drawn. */
  readonly fallen: readonly Fallen[];
  /** The operation that should have taken a piece off. */
  readonly severing: string | null;
}

/** A part that came off while the bar goes on, in the coordinates of its own time. */
export interface Fallen {
  readonly piece: Body;
  /** Which of the parts it is, from 1. */
  readonly number: number;
}

/** What came off a holding's work, and what stays in its jaws. */
export const splitOff = (job: Job, held: Held, all: Body): Separated =>
  separate(all, held.seat.jawFront - jawLength(job.holdings[held.id]) / 2);

/** `shift` is how far along the last part lies, where several are made. */
export const endOfHolding = (
  job: Job,
  held: Held,
  own: readonly DerivedOperation[],
  fallen: readonly Fallen[],
  shift: number,
): HoldingEnd => {
  const all = own.at(-1)?.after ?? held.rawStock;
  const severing = own.findLast((d) => {
    const op = job.operations[d.operation];
    return isSevering(op) && d.events.length > 0;
  });
  if (!severing) return { all, off: NO_BODY, kept: all, fallen, severing: null };
  const { off, held: kept } = splitOff(job, held, all);
  return { all, off: off.movedAlong(shift), kept, fallen, severing: severing.operation };
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
  const { all, off, kept, fallen, severing } = ends[ends.length - 1];
  const [first] = holdings;
  const finishing = [
    ...new Set(
      timed
        .filter((d) => d.events.length > 0)
        .map((d) => job.operations[d.operation])
        .filter(isCutting)
        .filter((op) => kindOf(op).covers === 'finish')
        .map((op) => finishedSide(part, kindOf(op).side, job.holdings[op.holding].turned)),
    ),
  ];
  const key = hashOf(
    part.outer.map((e) => e.id),
    part.inner.map((e) => e.id),
    part.back.map((e) => e.id),
    hashBody(all),
    hashBody(off),
    fallen.map((f) => hashBody(f.piece)),
    hashBody(first.rawStock),
    hashRegion(part.region),
    holdings.map((h) => h.turned),
    severing,
    finishing,
  );
  const isOff = severing !== null && !off.isEmpty;
  return shelf.get(key, () => {
    const whole = isOff || holdings.length > 1;
    const made = [...fallen.map((f) => f.piece), isOff ? off : all];
    const held = made.map((piece) => heldAgainst(piece.turnedOutline, last.part.region, whole || made.length > 1));
    // of several parts the one that is furthest off is told
    const worst = held.reduce((w, k, i) => (distanceOff(k) > distanceOff(held[w]) + 1e-6 ? i : w), 0);
    const finished = made[worst];
    return {
      ...held[worst],
      finished,
      number: fallen[worst]?.number ?? made.length,
      count: made.length,
      coverage: coverageOf(
        part,
        asDrawn(part, last.turned, finished).turnedOutline,
        asDrawn(part, first.turned, first.rawStock).turnedOutline,
        finishing,
      ),
      finalStock: kept.isEmpty ? all : kept,
      uncut: severing !== null && !isOff ? severing : null,
    };
  });
};

/** How far a piece is off its part. */
const distanceOff = (k: { readonly thickness: number; readonly missing: number }): number =>
  Math.max(k.thickness, k.missing);

const heldAgainst = (piece: Region, part: Region, whole: boolean) => {
  const { leftover, gouge } = compareWithPart(piece, part, whole);
  return {
    leftover,
    gouge,
    leftoverVolume: regionVolume(leftover),
    thickness: 2 * greatestHalfThickness(leftover, 1e-3, TELLING / 2),
    missing: 2 * greatestHalfThickness(gouge, 1e-3, TELLING / 2),
    missingVolume: regionVolume(gouge),
  };
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
        { volume: end.leftoverVolume, thickness: end.thickness, copy: end.number, count: end.count },
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
        { volume: end.missingVolume, thickness: end.missing, copy: end.number, count: end.count },
        centreOf(end.gouge),
        { holding },
      ),
    );
  const uncut = timed.find((d) => d.id === end.uncut);
  if (uncut && !uncut.findings.some((f) => f.code === 'not-severed' || f.severity === 'blocking'))
    findings.push(note('blocking', 'not-severed', uncut.id, { left: 0, needed: 0.5 }));
  return findings;
};
