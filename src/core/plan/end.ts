import { compareWithPart } from '../checks';
import { type Finding, note } from '../findings';
import { greatestHalfThickness, point, type Region, regionBounds, regionVolume } from '../geometry';
import { jawFront, jawLength } from '../holding';
import { isMove } from '../motion';
import { isCutting, kindOf } from '../operations';
import type { Part } from '../part';
import { separate } from '../stock';
import type { Shelf } from './cache';
import { type Coverage, coverageOf } from './coverage';
import type { DerivedOperation } from './derive';
import type { Job } from './document';
import { hashOf, hashRegion } from './hash';

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

export const endOf = (
  job: Job,
  part: Part,
  rawStock: Region,
  timed: readonly DerivedOperation[],
  ends: Shelf<End>,
): End => {
  const stock = timed.at(-1)?.after ?? rawStock;
  const severing = timed.find((d) => {
    const op = job.operations[d.id];
    return isCutting(op) && kindOf(op).covers === 'sever' && d.events.length > 0;
  });
  const finishing = timed
    .filter((d) => d.events.length > 0)
    .map((d) => job.operations[d.id])
    .filter(isCutting)
    .filter((op) => kindOf(op).covers === 'finish')
    .map((op) => kindOf(op).side);
  const key = hashOf(
    part.outer.map((e) => e.id),
    part.inner.map((e) => e.id),
    part.back.map((e) => e.id),
    hashRegion(stock),
    hashRegion(rawStock),
    hashRegion(part.region),
    job.holding,
    severing?.id,
    finishing,
  );
  const heldZ = jawFront(job.stock, job.holding) - jawLength(job.holding) / 2;
  const parted = separate(stock, heldZ);
  const off = severing !== undefined && parted.off.length > 0;
  return ends.get(key, () => {
    const finished = off ? parted.off : stock;
    const compared = compareWithPart(finished, part.region, off);
    return {
      finished,
      leftover: compared.leftover,
      gouge: compared.gouge,
      leftoverVolume: regionVolume(compared.leftover),
      thickness: 2 * greatestHalfThickness(compared.leftover, 1e-3, TELLING / 2),
      missing: 2 * greatestHalfThickness(compared.gouge, 1e-3, TELLING / 2),
      missingVolume: regionVolume(compared.gouge),
      coverage: coverageOf(part, finished, rawStock, finishing),
      finalStock: parted.held.length > 0 ? parted.held : stock,
      uncut: severing !== undefined && !off ? severing.id : null,
    };
  });
};

const centreOf = (region: Region): { x: number; y: number } | null => {
  if (region.length === 0) return null;
  const largest = region.reduce((best, r) => (regionVolume([r]) > regionVolume([best]) ? r : best));
  const b = regionBounds([largest]);
  return point((b.minX + b.maxX) / 2, (b.minY + b.maxY) / 2);
};

/** What the end of a job says about the job as a whole. */
export const endFindings = (end: End, part: Part, timed: readonly DerivedOperation[]): Finding[] => {
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
      ),
    );
  const uncut = timed.find((d) => d.id === end.uncut);
  if (uncut && !uncut.findings.some((f) => f.code === 'not-severed' || f.severity === 'blocking'))
    findings.push(note('blocking', 'not-severed', uncut.id, { left: 0, needed: 0.5 }));
  return findings;
};
