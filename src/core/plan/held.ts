import { type Finding, note } from '../findings';
import { point, type Region, rectangle, regionBounds, unionRegions } from '../geometry';
import {
  barRegion,
  barSeat,
  chuckRegion,
  contactLength,
  type Holding,
  jawRegion,
  pieceSeat,
  type Seat,
  TOUCHES,
  zeroFromFace,
} from '../holding';
import { type Machine, type Spindle, spindleStand } from '../machine';
import { isCutting, isSevering, kindOf, titleOf } from '../operations';
import { type Part, turnAbout, turnedRound } from '../part';
import { type Body, NO_BODY, turnedBody } from '../stock';
import { type Tool, toolFacts } from '../tooling';
import type { Job } from './document';
import { bestGrip, gripsWell, LEAST_GRIP } from './grip';
import type { Blade } from './repeats';

/** A holding with what it holds, in its own coordinates: all that an operation in it finds around itself. */
export interface Held {
  readonly id: string;
  readonly name: string;
  /** The part lies with its back to the front. */
  readonly turned: boolean;
  /** The part as it lies here. */
  readonly part: Part;
  /** Parts of other times of a repeat that still stand in the bar: nothing may be taken off them. */
  readonly others: Region;
  readonly seat: Seat;
  /** What was put into the jaws. */
  readonly rawStock: Body;
  readonly jaws: Region;
  readonly chuck: Region;
  /** What supports the work in front of the jaws, at this moment. */
  readonly support: Region;
  /** All that a tool may not meet. */
  readonly fixtures: Region;
  /** The zero in front of the chuck's face, mm. */
  readonly zeroFromFace: number;
  /** Machine coordinate of the zero along Z, with the spindle where it works. */
  readonly zeroZ: number;
  /** Which way along the machine's Z the holding's Z runs. */
  readonly direction: 1 | -1;
}

/** The holding's spindle; one that is not there is told elsewhere, and the drawing still needs a chuck to show. */
export const spindleOf = (job: Job, holding: Holding): Spindle =>
  job.machine.spindles.find((s) => s.id === holding.spindle) ?? job.machine.spindles[0];

/** Puts a bar, or a piece that another holding has left, into the jaws. `part` is the part as it is drawn. */
export const hold = (
  id: string,
  holding: Holding,
  machine: Machine,
  spindle: Spindle,
  part: Part,
  piece: Body | null,
): Held => {
  const { stock } = holding;
  const seat = stock.form === 'bar' ? barSeat(stock) : pieceSeat(holding, piece?.turnedOutline ?? []);
  const jaws = jawRegion(seat, holding);
  const chuck = chuckRegion(seat, holding, spindle);
  const { face, direction } = spindleStand(machine, spindle.id) ?? { face: 0, direction: 1 as const };
  const fromFace = zeroFromFace(seat, holding);
  return {
    id,
    name: holding.name,
    turned: holding.turned,
    part: holding.turned ? turnedRound(part) : part,
    others: [],
    seat,
    rawStock: stock.form === 'bar' ? turnedBody(barRegion(stock, holding, spindle)) : (piece ?? NO_BODY),
    jaws,
    chuck,
    support: [],
    fixtures: unionRegions(jaws, chuck),
    zeroFromFace: fromFace,
    zeroZ: face + direction * fromFace,
    direction,
  };
};

/** A body of one holding as the part is drawn, and the other way. */
export const asDrawn = (part: Part, turned: boolean, body: Body): Body => {
  const turn = turnAbout(part);
  return turned ? body.placed((x) => turn({ x, y: 0 }).x, true) : body;
};

/** The greatest of something that is asked of the tools that take a part off in a holding; 0 where none does. */
const ofCutoffs = (job: Job, holding: string, ask: (tool: Tool) => number): number =>
  Math.max(
    0,
    ...Object.values(job.operations).map((op) => {
      if (op.holding !== holding || !op.on || !isSevering(op)) return 0;
      const tool = op.tool ? job.tools[op.tool] : undefined;
      return tool ? ask(tool) : 0;
    }),
  );

/** Width of the widest blade that takes a part off in a holding, mm; 0 where none does. */
export const cutoffWidthIn = (job: Job, holding: string): number =>
  ofCutoffs(job, holding, (t) => toolFacts(t).bladeWidth);

/** That width with the room that such a blade wants behind it for its block. */
export const cutoffBladeIn = (job: Job, holding: string): Blade => ({
  width: cutoffWidthIn(job, holding),
  beside: ofCutoffs(job, holding, (t) => toolFacts(t).blade?.beside ?? 0),
});

/** Metal behind the back of a part that nothing has taken off its bar yet, mm. */
const TO_FACE = 1;

/** What a holding gives on once its operations are done, with what is wrong with that. */
export interface Given {
  readonly piece: Body;
  /** Nothing has come off the bar. */
  readonly whole: boolean;
}

/**
 * The piece that leaves a holding: what came off its bar, or all of a piece. From a bar that is still whole the part's length
 * is taken with a little for facing, so that the next holding can be shown and the back is not taken for made.
 */
export const givenBy = (from: Held, holding: Holding, off: Body, all: Body): Given => {
  if (holding.stock.form !== 'bar') return { piece: all, whole: false };
  if (!off.isEmpty) return { piece: off, whole: false };
  const back = from.part.region.length > 0 ? regionBounds(from.part.region).minX : from.seat.jawFront;
  return { piece: all.within(rectangle(back - TO_FACE, 0, from.seat.front + 1, 1e4)), whole: true };
};

/** Outside threads cut before a holding closes its jaws that lie under them: a hard jaw spoils their crests. */
const threadFindings = (job: Job, held: Held, holding: Holding): Finding[] => {
  const { jawFront, radius } = held.seat;
  const end = regionBounds(held.rawStock.turnedOutline).minX;
  const rank = job.holdingOrder.indexOf(held.id);
  return Object.values(job.operations).flatMap((op): Finding[] => {
    if (!op.on || !isCutting(op) || job.holdingOrder.indexOf(op.holding) >= rank) return [];
    const { covers, side } = kindOf(op);
    const curve = covers === 'thread' && side === 'outer' && held.part.outer.find((e) => e.id === op.span?.from)?.curve;
    if (!curve || Math.max(curve.from.y, curve.to.y) < radius - TOUCHES) return [];
    const [from, to] = [Math.min(curve.from.x, curve.to.x), Math.max(curve.from.x, curve.to.x)];
    const length = Math.min(to, jawFront) - Math.max(from, jawFront - holding.grip);
    if (length < TOUCHES) return [];
    // what of the grip would still be left in front of the thread
    const clear = Math.floor((from - end) * 10) / 10;
    const shorter = { label: `Grip ${clear} mm`, set: { [`/holdings/${held.id}/grip`]: clear } };
    const numbers = { operation: titleOf(op), length };
    return [
      note('attention', 'grip-on-thread', null, numbers, point(jawFront, radius), {
        holding: held.id,
        ...(clear >= LEAST_GRIP ? { remedy: shorter } : {}),
      }),
    ];
  });
};

/** What is wrong with a piece in its jaws. */
export const pieceFindings = (job: Job, held: Held, holding: Holding): Finding[] => [
  ...seatFindings(held, holding),
  ...(held.rawStock.isEmpty ? [] : threadFindings(job, held, holding)),
];

const seatFindings = (held: Held, holding: Holding): Finding[] => {
  const piece = held.rawStock.turnedOutline;
  if (piece.length === 0) return [];
  const b = regionBounds(piece);
  const at = { x: held.seat.jawFront, y: held.seat.radius };
  const length = b.maxX - b.minX;
  const set = (grip: number) => ({
    remedy: { label: `Grip ${grip} mm`, set: { [`/holdings/${held.id}/grip`]: grip } },
    holding: held.id,
  });
  if (holding.grip >= length)
    return [
      note(
        'blocking',
        'grip-beyond-piece',
        null,
        { grip: holding.grip, length },
        at,
        set(Math.max(1, Math.floor(length / 2))),
      ),
    ];
  if (gripsWell(holding, piece, holding.grip)) return [];
  const better = bestGrip(holding, piece);
  const numbers = { contact: contactLength(holding, piece), grip: holding.grip };
  return [note('attention', 'grip-on-air', null, numbers, at, better === null ? { holding: held.id } : set(better))];
};
