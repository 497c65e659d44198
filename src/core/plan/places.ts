import { type Finding, note } from '../findings';
import { rectangle } from '../geometry';
import { type ActorOperation, isSevering } from '../operations';
import type { Part } from '../part';
import { type Body, NO_BODY, type Separated } from '../stock';
import { addedCutoff } from './adding';
import { type Along, alongOf } from './along';
import type { DeriveCache } from './cache';
import type { DerivedOperation } from './derive';
import type { Job } from './document';
import { type HoldingEnd, splitOff } from './end';
import { type Encounter, encounter, uncutPiece, withPartner } from './handover';
import { hashBody, hashOf, hashRegion } from './hash';
import { asDrawn, cutoffWidthIn, givenBy, type Held, hold, pieceFindings, spindleOf } from './held';
import type { Turn } from './sequence';
import { type Standing, withSupports } from './supports';

/** A holding with what all its operations have in common. */
export interface Workplace {
  readonly held: Held;
  /** The part as operations look at it; a repeat at several places of one part shows them the first place. */
  readonly drawn: Part;
  readonly cutoffWidth: number;
  readonly checkBase: string;
  readonly supports: readonly Standing[];
}

/** Where the work is held in its turn, one holding after another. */
export class Workplaces {
  readonly list: Workplace[] = [];
  /** What each holding has left, in their order. */
  readonly ends: HoldingEnd[] = [];
  /** Found while the work passes from holding to holding. */
  readonly passing: Finding[] = [];

  constructor(
    readonly job: Job,
    readonly cache: DeriveCache,
    private readonly part: Part,
    private readonly partKey: string,
    private readonly machineKey: string,
  ) {}

  /** From the beginning again, in another order. */
  begin(): void {
    this.list.length = 0;
    this.ends.length = 0;
    this.passing.length = 0;
  }

  /** Puts the work into a holding: its bar, or what the one before has left. */
  enter(id: string): Workplace {
    const { job, cache, part } = this;
    const holding = job.holdings[id];
    const spindle = spindleOf(job, holding);
    const piece = this.pieceFor(holding);
    const key = hashOf(id, holding, this.machineKey, this.partKey, piece === null ? null : hashBody(piece));
    const held = this.begun(
      id,
      cache.holdings.get(key, () => hold(id, holding, job.machine, spindle, part, piece)),
    );
    if (piece !== null) this.passing.push(...pieceFindings(job, held, holding));
    const place = this.workplace(held, held.part, cutoffWidthIn(job, id));
    this.list.push(place);
    return place;
  }

  workplace(held: Held, drawn: Part, cutoffWidth: number): Workplace {
    const { spindle } = this.job.holdings[held.id];
    return {
      held,
      drawn,
      cutoffWidth,
      checkBase: hashOf(
        hashRegion(held.part.region),
        hashRegion(held.others),
        hashRegion(held.fixtures),
        this.machineKey,
        spindle,
        held.zeroFromFace,
      ),
      supports: [],
    };
  }

  /** A bar of which some parts are made already is shorter by them. */
  begun(id: string, held: Held): Held {
    const { job } = this;
    const repeat = Object.values(job.repeats).find(
      (r) => r.first > 1 && job.operations[r.operations[0]]?.holding === id,
    );
    const { stock } = job.holdings[id];
    if (!repeat || stock.form !== 'bar') return held;
    const turn = { operation: repeat.operations[0], copy: repeat.first - 1, holding: id };
    const along = alongOf(job, turn, held.part.region, cutoffWidthIn(job, id));
    if (!along?.parts || along.shift <= 0) return held;
    const key = hashOf('begun', hashBody(held.rawStock), along.shift);
    const rawStock = this.cache.moved.get(key, () =>
      held.rawStock.within(rectangle(-1e5, 0, held.seat.front - along.shift, 1e4)),
    );
    return this.cache.movedHoldings.get(key, () => ({ ...held, rawStock }));
  }

  /** The piece that a holding takes over, in its own coordinates; null for a bar. */
  pieceFor(holding: Job['holdings'][string]): Body | null {
    const { stock } = holding;
    if (stock.form === 'bar') return null;
    const i = this.list.findIndex((p) => p.held.id === stock.holding);
    if (i < 0) return NO_BODY;
    const from = this.list[i].held;
    const { piece, whole } = givenBy(from, this.job.holdings[from.id], this.ends[i].off, this.ends[i].all);
    if (whole) {
      const more = { holding: from.id, remedy: addedCutoff(this.job, from.id) };
      const numbers = { holding: holding.name, from: from.name };
      this.passing.push(note('blocking', 'piece-not-off', null, numbers, null, more));
    }
    const key = hashOf('piece', hashBody(piece), this.partKey, from.turned, holding.turned);
    return this.cache.pieces.get(key, () => asDrawn(this.part, holding.turned, asDrawn(this.part, from.turned, piece)));
  }

  /** How far along a repeat an operation works. */
  alongOf(turn: Pick<Turn, 'operation' | 'holding' | 'copy'>, place: Workplace): Along | null {
    return alongOf(this.job, turn, place.held.part.region, place.cutoffWidth);
  }

  /** The part that came off before the next one is made, as it is drawn; the bar goes on without it. */
  fall(turn: Turn, place: Workplace, made: DerivedOperation): Separated | null {
    const op = this.job.operations[turn.operation];
    if (!isSevering(op) || made.events.length === 0) return null;
    const shift = this.alongOf(turn, place)?.shift ?? 0;
    const key = hashOf('fall', hashBody(made.after), shift);
    const split = (): Separated => splitOff(this.job, place.held, made.after);
    const off = this.cache.moved.get(`${key} off`, () => split().off.movedAlong(shift));
    return off.isEmpty ? null : { off, held: this.cache.moved.get(`${key} held`, () => split().held) };
  }

  /** Where the holding that an operation names meets the one it takes the part from; null where it takes nothing. */
  meet(op: Extract<ActorOperation, { kind: 'handover' | 'withdraw' }>, at: Workplace, stock: Body) {
    const { job, part } = this;
    const holding = job.holdings[op.params.to];
    if (!holding || holding.stock.form === 'bar' || holding.stock.holding !== at.held.id || stock.isEmpty) return null;
    const piece = asDrawn(part, holding.turned, asDrawn(part, at.held.turned, uncutPiece(at.held, stock)));
    const spindle = spindleOf(job, holding);
    const key = hashOf('meet', op.params.to, holding, spindle, this.partKey, hashBody(piece));
    const to = this.cache.holdings.get(key, () => hold(op.params.to, holding, this.job.machine, spindle, part, piece));
    return encounter(job, part, at.held, to, op.kind === 'handover' ? op.params.clearance : 0);
  }

  /** The place with what supports the work in front of the jaws. */
  supported(place: Workplace, supports: readonly Standing[]): Workplace {
    if (supports.length === 0) return place;
    const key = hashOf('supported', place.checkBase, ...supports.map((s) => hashRegion(s.region)));
    const held = this.cache.holdings.get(key, () => withSupports(place.held, supports));
    return { ...place, held, supports, checkBase: hashOf(place.checkBase, hashRegion(held.fixtures)) };
  }

  /** The place with the other spindle's jaws beside its own. */
  beside(place: Workplace, met: Encounter): Workplace {
    const key = hashOf('beside', place.checkBase, hashRegion(met.jaws), hashRegion(met.chuck));
    const held = this.cache.holdings.get(key, () => withPartner(place.held, met));
    return { ...place, held, checkBase: hashOf(place.checkBase, hashRegion(held.fixtures)) };
  }
}
