import { z } from 'zod';
import { point, type Region, rectangle, unionRegions } from '../geometry';
import type { Spindle } from '../machine';
import { amount, number, place, size } from '../units';

export const StockSchema = z.object({
  form: z.literal('bar'),
  diameter: size(1500),
  /** Bore of a tube; 0 for solid bar. */
  bore: amount(1400).default(0),
  /** Metal in front of the part's front face, mm. */
  frontAllowance: amount(500),
});
export type Stock = z.infer<typeof StockSchema>;

export const HoldingSchema = z.object({
  spindle: z.string().max(40),
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
  /** Length of the bar inside the jaws, mm. */
  grip: size(1000),
  /** Front of the stock to the jaws' front, mm. */
  stickOut: size(5000),
  workOffset: z.enum(['G54', 'G55', 'G56', 'G57', 'G58', 'G59']),
  /** Programmed tip at tool change, in part coordinates. */
  toolChange: z.object({ diameter: size(5000), z: place() }),
  /** No rapid comes closer to metal than this, mm. */
  safeDistance: size(100).default(1),
  /** Job limit on the spindle, rev/min. */
  maxSpeed: number(1, 200_000, 'rev/min'),
});
export type Holding = z.infer<typeof HoldingSchema>;

/** The usual three-jaw chuck with two-step jaws; what a job says otherwise goes over it. */
export const usualHolding = (say: Pick<Holding, 'spindle' | 'stickOut' | 'maxSpeed'> & Partial<Holding>): Holding => ({
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

/** Z of the jaws' front in part coordinates. */
export const jawFront = (stock: Stock, holding: Holding): number => stock.frontAllowance - holding.stickOut;

/** Section of the jaws in part coordinates: stepped, standing on the stock, the grip reaching `grip` behind the front. */
export const jawRegion = (stock: Stock, holding: Holding): Region => {
  const front = jawFront(stock, holding);
  const r = stock.diameter / 2;
  const total = jawLength(holding);
  let z = front;
  const parts: Region[] = [];
  for (const step of holding.jaws.steps) {
    parts.push(rectangle(front - total, r, z, r + step.height));
    z -= step.length;
  }
  // behind the grip the jaw stands clear of the bar
  if (total > holding.grip)
    return unionRegions(...parts).length === 0
      ? []
      : subtractRelief(unionRegions(...parts), front - total, front - holding.grip, r);
  return unionRegions(...parts);
};

const subtractRelief = (jaw: Region, from: number, to: number, r: number): Region =>
  jaw.map((ring) =>
    ring.flatMap((p) =>
      Math.abs(p.y - r) < 1e-6 && Math.abs(p.x - from) < 1e-6
        ? [point(from, r + 2), point(to, r + 2), point(to, r)]
        : [p],
    ),
  );

export const jawLength = (holding: Holding): number =>
  Math.max(
    holding.grip,
    holding.jaws.steps.reduce((s, step) => s + step.length, 0),
  );

/** Section of the chuck body behind the jaws, in part coordinates. */
export const chuckRegion = (stock: Stock, holding: Holding, spindle: Spindle): Region => {
  const back = jawFront(stock, holding) - jawLength(holding);
  return rectangle(back - spindle.chuckLength, stock.diameter / 2 + 2, back, spindle.chuckDiameter / 2);
};

/** Section of the raw bar, from the back of the chuck to the front of the stock. */
export const stockRegion = (stock: Stock, holding: Holding, spindle: Spindle): Region => {
  const back = jawFront(stock, holding) - jawLength(holding) - spindle.chuckLength;
  return rectangle(back, stock.bore / 2, stock.frontAllowance, stock.diameter / 2);
};

/** Machine Z of part zero: chuck face, jaws, then the part. */
export const partZeroInMachine = (stock: Stock, holding: Holding, spindle: Spindle): number =>
  spindle.chuckFaceZ + jawLength(holding) - jawFront(stock, holding);
