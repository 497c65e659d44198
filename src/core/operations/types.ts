import { z } from 'zod';
import type { Finding } from '../findings';
import { type Curve, type Surface, VOID } from '../geometry';
import { FIRST_HOLDING } from '../holding';
import type { MotionEvent } from '../motion';
import type { Element } from '../part';
import type { Tool, ToolSection } from '../tooling';
import { typed } from '../units';
import type { Frame } from './frame';

/** Speed of the spindle for a cut: constant surface speed, or one speed. */
export const SpeedSchema = z.discriminatedUnion('mode', [
  z.object({
    mode: z.literal('surface'),
    /** m/min. */
    value: typed(),
    /** rev/min that are not passed; null = what machine and holding allow. */
    clamp: typed().nullable().default(null),
  }),
  z.object({
    mode: z.literal('fixed'),
    /** rev/min. */
    value: typed(),
  }),
]);
export type Speed = z.infer<typeof SpeedSchema>;

export const CuttingSchema = z.object({
  speed: SpeedSchema,
  /** mm/rev. */
  feed: typed(),
  coolant: z.boolean().default(true),
});
export type Cutting = z.infer<typeof CuttingSchema>;

/** Two elements of the contour, both included; null = the whole side. */
export const SpanSchema = z.object({ from: z.string().max(80), to: z.string().max(80) }).nullable();
export type Span = z.infer<typeof SpanSchema>;

export const operationBase = {
  id: z.string().min(1).max(80),
  name: z.string().max(120),
  channel: z.string().max(40),
  /** How the work is held when it runs. */
  holding: z.string().max(80).default(FIRST_HOLDING),
  tool: z.string().max(80).nullable(),
  on: z.boolean().default(true),
  cutting: CuttingSchema,
  span: SpanSchema.default(null),
  note: z.string().max(400).default(''),
  /** Formulas over the part's named dimensions, by path of the field; they win over its number. */
  formulas: z.record(z.string().max(80), z.string().max(200)).optional(),
};

/** Facts of holding and machine that an operation may look at (mm, rev/min). */
export interface Place {
  readonly carrier: string;
  readonly station: number;
  readonly offset: number;
  readonly holding: string;
  readonly spindle: string;
  /** Least of what machine, holding and operation allow. */
  readonly clamp: number;
  readonly workOffset: string;
  readonly toolChange: { readonly diameter: number; readonly z: number };
  readonly safeDistance: number;
  readonly stickOut: number;
  /** Z of the jaws' front. */
  readonly jawFront: number;
  /** Retract of the control's roughing cycle where a program cannot say it, mm. */
  readonly cycleRetract: number | null;
  /** Head of the control's threading cycle; null for one without. */
  readonly threadCycle: 'two-block' | 'one-block' | null;
  /** Of the slides along Z and X: mm/min and mm/s², X in radius. */
  readonly slides: Readonly<Record<'Z' | 'X', { readonly rapid: number; readonly acceleration: number }>>;
  /** The part catcher that its channel commands; null without one. */
  readonly catcher: string | null;
  /** Smallest step of a length word of the control, mm. */
  readonly grid: number;
  readonly stockDiameter: number;
  /** Z of the front of what is held. */
  readonly stockFront: number;
  /** A centre stands in front of the work: the way in and out leads over it. */
  readonly centred: boolean;
}

/** The part as far as an operation looks at it; everything in part coordinates. */
export interface Contour {
  /** Pieces of the half-section within reach. */
  readonly boundary: readonly Curve[];
  /** Elements of the operation's span, in order; null when its ends are gone. */
  readonly span: readonly Element[] | null;
  /** Further spans that the operation works on in the same way. */
  readonly alike: readonly (readonly Element[])[];
  /** Whether the part has anything on the operation's side. */
  readonly present: boolean;
  readonly front: number;
  readonly back: number;
}

/**
 * All that an operation may look at, as plain values: planning gets nothing else, so a hash of this says whether a plan
 * still holds. Metal and fixtures are seen from the tool's side only.
 */
export interface Seen {
  readonly frame: Frame['name'];
  readonly contour: Contour;
  /** Top of the metal as the operations before have left it, in the frame. */
  readonly metal: Surface;
  /** Lips that the top looks through: a cut may take them along, a rapid may not meet them. Null where there are none. */
  readonly lips: Surface | null;
  readonly fixtures: Surface | null;
  /** The slot behind a face that the tool works in: what stands behind it, seen from the side in the section, and the radius of its floor. */
  readonly slot: { readonly wall: Surface; readonly floor: number } | null;
  readonly section: ToolSection;
  readonly tool: Tool;
  readonly place: Place;
  /** Width of the cutoff blade used later in the job, for the room behind the part; 0 without one. */
  readonly cutoffWidth: number;
  /** Radius of the hole in the metal where a blade takes the part off; 0 for solid, and for operations that take nothing off. */
  readonly bore: number;
  /** Roughness asked for on elements of the span, Ra in µm, by their ids. */
  readonly asked: Readonly<Record<string, number>>;
  /** Contours already named by a roughing cycle of the program. */
  readonly cycleContours: readonly string[];
}

/** Greatest height of anything that a rapid could meet over a stretch, lips included; VOID where nothing stands. */
export const topOver = ({ metal, lips }: Pick<Seen, 'metal' | 'lips'>, from: number, to: number): number =>
  Math.max(metal.top(from, to), lips?.top(from, to) ?? VOID);

export interface Planned {
  readonly events: readonly MotionEvent[];
  readonly findings: readonly Finding[];
  /** Greatest depth of cut, mm per side. */
  readonly depth: number;
  /** Name of the contour that a posted cycle of this operation defines. */
  readonly contourKey: string | null;
}

export const nothing = (findings: readonly Finding[]): Planned => ({
  events: [],
  findings,
  depth: 0,
  contourKey: null,
});

/** How one field of the card is shown; `key` is a path inside the operation. */
export interface Field {
  readonly key: string;
  readonly label: string;
  readonly group: 'Thread' | 'Cut' | 'Span ends' | 'Output' | 'Depth' | 'Edge';
  readonly help: string;
  readonly input:
    | { readonly kind: 'length'; readonly per?: 'side' | 'diameter'; readonly optional?: string }
    | { readonly kind: 'number'; readonly unit: string; readonly step: number }
    | { readonly kind: 'choice'; readonly options: readonly { readonly value: string; readonly label: string }[] }
    | { readonly kind: 'toggle' }
    | { readonly kind: 'text'; readonly placeholder: string }
    /** One of the tools that could take the same passes from another carrier. */
    | { readonly kind: 'second-tool' }
    /** What a device of the machine can be asked to do. */
    | { readonly kind: 'device-action' }
    /** Further spans of the same side. */
    | { readonly kind: 'spans' }
    /** Feed and speed of single elements. */
    | { readonly kind: 'elements' };
  readonly showWhen?: { readonly key: string } & (
    | { readonly is: string | number | boolean }
    | { readonly isNot: string | number | boolean }
  );
}
