import { z } from 'zod';
import type { ThreadEdge } from '../threads';
import { angle as degrees, size } from '../units';
import type { InsertGeometry } from './insert';
import type { Mount } from './mount';
import type { ToolSection } from './section';

export const length = () => size(2000);
export const angle = () => degrees(1, 179);

/** Which way the tool cuts: right = toward the main chuck for outside tools. */
export const HandSchema = z.enum(['right', 'left']);

/** What every cutter says. */
export const cutterBase = { material: z.enum(['carbide', 'hss', 'cermet', 'cbn']).default('carbide') };

/** A cutter in its holder, set up to a length: what stands in a mount. */
export const assemblyBase = {
  id: z.string().min(1).max(80),
  name: z.string().max(120),
  note: z.string().max(400).default(''),
  /** In which its lengths are shown; they are kept in mm. */
  unit: z.enum(['mm', 'inch']).default('mm'),
  /** From the tip to the carrier's face, mm. */
  stickOut: length(),
};

/** The insert of a turning tool, by its ISO 1832 designation. */
export const InsertCutterSchema = z.object({
  kind: z.literal('insert'),
  designation: z.string().max(40),
  ...cutterBase,
});

/** How far a bar may stick out, in diameters, by what it is made of. */
export const SLENDER = {
  steel: { most: 4, name: 'a steel bar' },
  carbide: { most: 6, name: 'a carbide bar' },
  damped: { most: 10, name: 'a damped bar' },
} as const;

/** What other parts of the core ask of a tool, whatever its kind. */
export interface ToolFacts {
  /** κ of the cutting edge, degrees. */
  readonly approachAngle: number;
  readonly insert: InsertGeometry | null;
  /** A cutter that makes its own diameter on centre. */
  readonly onCentre: { readonly diameter: number; readonly pointAngle: number } | null;
  /** Width of a blade, mm; 0 for others. */
  readonly bladeWidth: number;
  /** How far it stands out free, in its own diameters; and the most that stays still, where that is known. */
  readonly slender: { readonly ratio: number; readonly most: number; readonly name: string } | null;
  /** Chips are shut in where it cuts. */
  readonly enclosed: boolean;
  /** A blade for grooves; the outer diameters of a first plunge that a face blade can make. */
  readonly blade?: {
    readonly width: number;
    readonly cornerRadius: number;
    readonly reach: number;
    readonly diameters: { readonly least: number; readonly most: number } | null;
    /** Room that its block wants behind the blade, mm. */
    readonly beside?: number;
  };
  /** What a threading insert brings; none for others. */
  readonly thread?: ThreadEdge & { readonly pitchMin: number; readonly pitchMax: number };
  /** How it stands in a carrier: across the axis of the work, or along it. */
  readonly stands: 'across' | 'along';
}

/** One field of the card of a tool; `key` is a path inside the tool. */
export interface ToolField {
  readonly key: string;
  readonly label: string;
  readonly help: string;
  readonly input: 'length' | 'angle' | 'designation' | 'thread' | 'profile' | { readonly options: readonly string[] };
}

/** Fields of a tool with an insert; what its hand means differs. */
export const insertFields = (hand: string): readonly ToolField[] => [
  {
    key: 'cutter.designation',
    label: 'Insert',
    help: 'Designation by ISO 1832: shape, clearance, tolerance, form, size, thickness, nose.',
    input: 'designation',
  },
  {
    key: 'holder.approachAngle',
    label: 'Approach angle',
    help: 'Between the cutting edge and the feed that it is made for.',
    input: 'angle',
  },
  { key: 'holder.hand', label: 'Hand', help: hand, input: { options: ['right', 'left'] } },
];

export type SectionResult =
  | { readonly ok: true; readonly section: ToolSection }
  | { readonly ok: false; readonly code: string; readonly found: string };

/** Everything about one kind of tool. Nothing about a kind stands outside its file. */
export interface ToolKindDefinition<K extends string, S extends z.ZodType> {
  readonly kind: K;
  readonly schema: S;
  /** In a sentence, with its article. */
  readonly name: string;
  /** The few numbers that tell it from its like. */
  readonly describe: (tool: z.output<S>) => string;
  readonly fields: readonly ToolField[];
  readonly facts: (tool: z.output<S>) => ToolFacts;
  /** Ways up in which it can work. */
  readonly waysUp: readonly Mount['wayUp'][];
  readonly section: (tool: z.output<S>, wayUp: Mount['wayUp']) => SectionResult;
}

export const defineTool = <K extends string, S extends z.ZodType>(
  d: ToolKindDefinition<K, S>,
): ToolKindDefinition<K, S> => d;
