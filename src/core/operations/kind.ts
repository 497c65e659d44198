import type { z } from 'zod';
import type { Material, Purpose } from '../cutting';
import type { Part } from '../part';
import type { ThreadOnPart } from '../threads';
import type { Tool, ToolSection } from '../tooling';
import type { Frame } from './frame';
import type { Sketcher } from './sketch';
import type { Field, Planned, Seen } from './types';

/** Says that a number is out of its range: field, value, what it must be. */
export type Need = (ok: boolean, field: string, value: number, must: string) => void;

/** What is known when a new operation gets its starting values. */
export interface Starting {
  readonly material: Material;
  readonly tool: Tool | null;
  /** The part as it lies in the holding. */
  readonly part: Part;
  /** Elements that it is pointed at; null for the whole side. */
  readonly span: { readonly from: string; readonly to: string } | null;
  /** Depth from the table, mm. */
  readonly depth: number | undefined;
}

/** Why a tool of an accepted kind is still the wrong one: what is needed and what was found. */
export interface Refusal {
  readonly needs: string;
  readonly found: string;
}

/** Everything about one kind of cutting operation. Nothing about a kind stands outside its folder. */
export interface KindDefinition<K extends string, S extends z.ZodType> {
  readonly kind: K;
  readonly schema: S;
  readonly label: string;
  /** Short word for a lane. */
  readonly short: string;
  readonly fields: readonly Field[];
  /** Kinds of tool that can run it, and their names in a sentence. */
  readonly tools: readonly Tool['kind'][];
  readonly needs: string;
  /** Looks at hand and direction of a tool of an accepted kind. */
  readonly accepts?: (section: ToolSection) => Refusal | null;
  readonly purpose: Purpose;
  /** Mean thickness of metal, mm, above which it wants others to rough first. */
  readonly deepest?: number;
  readonly side: 'outer' | 'inner' | 'axis';
  /** Usual place in a sequence: a new operation lands after those with a smaller or the same rank. */
  readonly rank: number;
  /** What it is pointed at. */
  readonly target: 'span' | 'none';
  /** The span that belongs to picked elements, where that is more or less than they are; null where it is none of its own. */
  readonly spanFor?: (part: Part, span: Starting['span']) => Starting['span'];
  /** Z down to which one without a span looks at the contour; null or nothing where it does not. */
  readonly looksDownTo?: (op: z.output<S>) => number | null;
  /** Further spans of the part that an operation works on in the same way as on its own. */
  readonly alikeSpans?: (part: Part, op: z.output<S>) => readonly { readonly from: string; readonly to: string }[];
  /** What it does to an element: leaves an allowance, makes it, opens the way for others, guides what follows, or takes the part off, or gives an element its thread. */
  readonly covers: 'rough' | 'finish' | 'hole' | 'seat' | 'sever' | 'thread';
  /** It wants a hole before it. */
  readonly needsHole: boolean;
  /** Its feed follows the roughness asked for by itself. */
  readonly meetsRoughness?: (op: z.output<S>) => boolean;
  /** Metal that an operation which takes the part off leaves on its back, mm. */
  readonly leaves?: (op: z.output<S>) => number;
  /** A tool of another carrier that takes the same passes at the same time; null or nothing where one works alone. */
  readonly second?: (op: z.output<S>) => string | null;
  /** A depth of cut that is held against the insert's edge. */
  readonly deep: boolean;
  /** Its feed is the lead of what it cuts: the feed of the operation does not count. */
  readonly leads?: boolean;
  /** Whether it is offered among what can cut a picked span of a side. */
  readonly offeredFor: readonly ('outer' | 'inner')[];
  /** Nothing in a part's shape asks for it: where it is offered, this stands by it. */
  readonly onlyWhereAsked?: string;
  /** The thread that it gives the part, in its holding's coordinates; null where what it needs is not there yet. */
  readonly threadOn?: (op: z.output<S>, part: Part, tool: Tool | undefined) => ThreadOnPart | null;
  /** A small drawing that explains the number in a field, by its key; null where a drawing would say nothing. */
  readonly sketch?: Sketcher<z.output<S>>;
  readonly starting: (facts: Starting) => Record<string, unknown>;
  readonly validate: (op: z.output<S>, need: Need) => void;
  /** The frame in which the operation sees metal. */
  readonly frame: (section: ToolSection, op: z.output<S>) => Frame;
  readonly plan: (op: z.output<S>, seen: Seen) => Planned;
}

export const defineKind = <K extends string, S extends z.ZodType>(d: KindDefinition<K, S>): KindDefinition<K, S> => d;
