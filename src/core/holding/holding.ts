import { z } from 'zod';
import { intersectRegions, type Region, rectangle, regionBounds, subtractRegion, unionRegions } from '../geometry';
import type { Spindle } from '../machine';
import { amount, number, place, size } from '../units';

export const WORK_OFFSETS = ['G54', 'G55', 'G56', 'G57', 'G58', 'G59'] as const;

/** Name of the first holding of a job. */
export const FIRST_HOLDING = 'h1';

const BarSchema = z.object({
  form: z.literal('bar'),
  diameter: size(1500),
  /** Bore of a tube; 0 for solid bar. */
  bore: amount(1400).default(0),
  /** Metal in front of the part's front face, mm. */
  frontAllowance: amount(500),
  /** Front of the bar to the jaws' front, mm. */
  stickOut: size(5000),
});
export type Bar = z.infer<typeof BarSchema>;

/** What another holding has left. */
const TakenSchema = z.object({
  form: z.literal('from'),
  /** The holding that it comes from. */
  holding: z.string().max(80),
  by: z.enum(['hand', 'handover']),
});

export const StockSchema = z.discriminatedUnion('form', [BarSchema, TakenSchema]);
export type Stock = z.infer<typeof StockSchema>;

/** One way of holding the work: in which spindle, by what, where its zero lies, and what is held. */
export const HoldingSchema = z.object({
  name: z.string().max(120),
  spindle: z.string().max(40),
  stock: StockSchema,
  /** The part lies with its back to the front; its zero is on the back face. */
  turned: z.boolean().default(false),
  jaws: z.object({
    count: z.number().int().min(2).max(6).default(3),
    /** From the gripping edge outward: how far each step lies back from the jaw's front and how high it stands above the grip. */
    steps: z
      .array(z.object({ length: size(500), height: size(500) }))
      .min(1)
      .max(8),
    /** kg of one jaw, for grip loss with speed. */
    mass: number(0.001, 200, 'kg').default(0.6),
  }),
  /** Clamping force of all jaws together at rest, N. */
  gripForce: number(100, 1_000_000, 'N').default(36_000),
  /** Length of the work inside the jaws, mm. A piece that comes from elsewhere lies with its end so deep in them. */
  grip: size(1000),
  workOffset: z.enum(WORK_OFFSETS),
  /** Programmed tip at tool change, in the holding's coordinates. */
  toolChange: z.object({ diameter: size(5000), z: place() }),
  /** No rapid comes closer to metal than this, mm. */
  safeDistance: size(100).default(1),
  /** Job limit on the spindle, rev/min. */
  maxSpeed: number(1, 200_000, 'rev/min'),
});
export type Holding = z.infer<typeof HoldingSchema>;

/** Whether the work is put into the jaws by hand, or fed as a bar; else another spindle hands it over. */
export const heldByHand = ({ stock }: Holding): boolean => stock.form === 'bar' || stock.by === 'hand';

/** The usual three-jaw chuck with two-step jaws; what a job says otherwise goes over it. */
export const usualHolding = (say: Pick<Holding, 'spindle' | 'stock' | 'maxSpeed'> & Partial<Holding>): Holding => ({
  name: 'First side',
  turned: false,
  jaws: {
    count: 3,
    steps: [
      { length: 14, height: 12 },
      { length: 16, height: 26 },
    ],
    mass: 0.6,
  },
  gripForce: 36_000,
  grip: 30,
  workOffset: 'G54',
  toolChange: { diameter: 160, z: 100 },
  safeDistance: 1,
  ...say,
});

/** Where work lies in its jaws, in the holding's coordinates, mm. */
export interface Seat {
  /** Front of what is held. */
  readonly front: number;
  readonly jawFront: number;
  /** Radius on which the jaws close. */
  readonly radius: number;
}

export const barSeat = (bar: Bar): Seat => ({
  front: bar.frontAllowance,
  jawFront: bar.frontAllowance - bar.stickOut,
  radius: bar.diameter / 2,
});

/** Jaws on a piece: its end lies `grip` deep in them, and they close on the thickest place there. */
export const pieceSeat = (holding: Holding, piece: Region): Seat => {
  const b = regionBounds(piece);
  const jawFront = b.minX + holding.grip;
  return { front: b.maxX, jawFront, radius: thickest(piece, b.minX, jawFront) };
};

/** Greatest radius of a region between two places. */
const thickest = (region: Region, from: number, to: number): number => {
  const inside = intersectRegions(region, rectangle(from, 0, to, 1e4));
  return inside.length === 0 ? 0 : regionBounds(inside).maxY;
};

/** How far a place may lie off the greatest radius in a grip and still be touched by the jaws, mm. */
export const TOUCHES = 0.02;

/** Length over which jaws touch a piece, mm: what lies within `slack` of their radius. */
export const contactLength = (holding: Holding, piece: Region, slack = TOUCHES): number => {
  const seat = pieceSeat(holding, piece);
  const skin = intersectRegions(
    piece,
    rectangle(seat.jawFront - holding.grip, seat.radius - slack, seat.jawFront, seat.radius + 1),
  );
  return skin.reduce((sum, ring) => {
    const b = regionBounds([ring]);
    return sum + (b.maxX - b.minX);
  }, 0);
};

/** Section of the jaws: stepped, standing on the work, the grip reaching `grip` behind the front. */
export const jawRegion = (seat: Seat, holding: Holding): Region => {
  const front = seat.jawFront;
  const r = seat.radius;
  const total = jawLength(holding);
  let z = front;
  const parts: Region[] = [];
  for (const step of holding.jaws.steps) {
    parts.push(rectangle(front - total, r, z, r + step.height));
    z -= step.length;
  }
  const whole = unionRegions(...parts);
  // behind the grip the jaw stands clear of the work
  return total > holding.grip
    ? subtractRegion(whole, rectangle(front - total - 1, r - 1, front - holding.grip, r + RELIEF))
    : whole;
};

/** How far jaws stand clear of the work behind their grip, mm. */
const RELIEF = 2;

export const jawLength = (holding: Holding): number =>
  Math.max(
    holding.grip,
    holding.jaws.steps.reduce((s, step) => s + step.length, 0),
  );

/** Section of the chuck body behind the jaws. */
export const chuckRegion = (seat: Seat, holding: Holding, spindle: Spindle): Region => {
  const back = seat.jawFront - jawLength(holding);
  return rectangle(back - spindle.chuckLength, seat.radius + 2, back, spindle.chuckDiameter / 2);
};

/** Section of the raw bar, from the back of the chuck to its front. */
export const barRegion = (bar: Bar, holding: Holding, spindle: Spindle): Region => {
  const seat = barSeat(bar);
  const back = seat.jawFront - jawLength(holding) - spindle.chuckLength;
  return rectangle(back, bar.bore / 2, seat.front, bar.diameter / 2);
};

/** The chuck's face in the holding's coordinates. */
export const chuckFace = (seat: Seat, holding: Holding): number => seat.jawFront - jawLength(holding);

/** The holding's zero in front of the chuck's face, mm: the jaws, then the work. */
export const zeroFromFace = (seat: Seat, holding: Holding): number => -chuckFace(seat, holding);
