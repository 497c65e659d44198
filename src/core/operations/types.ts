import { z } from 'zod';
import type { Material } from '../cutting';
import type { Point, Region } from '../geometry';
import type { Holding, Stock } from '../holding';
import type { Machine, Spindle } from '../machine';
import type { MotionEvent } from '../motion';
import type { Part } from '../part';
import type { Tool, ToolSection } from '../tooling';

export type Severity = 'info' | 'attention' | 'blocking';

/** Something to tell: data only, the sentence is made in checks/wording. */
export interface Finding {
  readonly severity: Severity;
  readonly code: string;
  readonly operation: string | null;
  readonly numbers: Readonly<Record<string, number | string>>;
  /** Place in part coordinates. */
  readonly at: Point | null;
  /** Index of the event within the operation. */
  readonly event: number | null;
}

export const CuttingSchema = z.object({
  /** m/min with 'surface', rev/min with 'fixed'. */
  speedMode: z.enum(['surface', 'fixed']),
  speed: z.number(),
  /** mm/rev. */
  feed: z.number(),
  coolant: z.boolean().default(true),
});
export type Cutting = z.infer<typeof CuttingSchema>;

/** Two elements of the contour, both included; null = the whole side. */
export const SpanSchema = z.object({ from: z.string(), to: z.string() }).nullable();
export type Span = z.infer<typeof SpanSchema>;

export const operationBase = {
  id: z.string().min(1),
  name: z.string(),
  channel: z.string(),
  tool: z.string().nullable(),
  on: z.boolean().default(true),
  cutting: CuttingSchema,
  span: SpanSchema.default(null),
  note: z.string().default(''),
};

/** All that an operation may look at; everything in part coordinates. */
export interface PlanContext {
  readonly part: Part;
  readonly stockDocument: Stock;
  readonly holding: Holding;
  readonly machine: Machine;
  readonly spindle: Spindle;
  readonly material: Material;
  readonly tool: Tool;
  readonly station: number;
  readonly section: ToolSection;
  /** Stock as the operations before have left it. */
  readonly stock: Region;
  /** Jaws and chuck. */
  readonly fixtures: Region;
  /** Width of the cutoff blade used later in the job, for the room behind the part; 0 without one. */
  readonly cutoffWidth: number;
  /** Contours already named by a roughing cycle of the program, by operation. */
  readonly cycleContours: readonly { readonly operation: string; readonly key: string }[];
}

export interface Planned {
  readonly events: readonly MotionEvent[];
  readonly findings: readonly Finding[];
  /** Greatest depth of cut, mm per side. */
  readonly depth: number;
  /** Name of the contour that a posted cycle of this operation defines. */
  readonly contourKey: string | null;
}

/** How one field of the card is shown; `key` is a path inside the operation. */
export interface Field {
  readonly key: string;
  readonly label: string;
  readonly group: 'Cut' | 'Span ends' | 'Output' | 'Depth' | 'Edge';
  readonly help: string;
  readonly input:
    | { readonly kind: 'length'; readonly per?: 'side' | 'diameter'; readonly optional?: string }
    | { readonly kind: 'number'; readonly unit: string; readonly step: number }
    | { readonly kind: 'choice'; readonly options: readonly { readonly value: string; readonly label: string }[] }
    | { readonly kind: 'toggle' };
  readonly showWhen?: { readonly key: string; readonly is: string | number | boolean };
}
