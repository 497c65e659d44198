import { z } from 'zod';
import { onceForEach } from '../geometry';
import type { SectionResult, ToolFacts, ToolKindDefinition } from './kind';
import { boring } from './kinds/boring';
import { centring } from './kinds/centring';
import { cutoff } from './kinds/cutoff';
import { drill } from './kinds/drill';
import { form } from './kinds/form';
import { faceGrooving, grooving, groovingBar } from './kinds/grooving';
import { reamer, tap } from './kinds/holes';
import { faceThreading, threading, threadingBar } from './kinds/threading';
import { turning } from './kinds/turning';
import type { Mount } from './mount';

/** A cutter in its holder, set up to a length. One line here adds a kind. */
export const ToolSchema = z.discriminatedUnion('kind', [
  turning.schema,
  boring.schema,
  drill.schema,
  centring.schema,
  cutoff.schema,
  threading.schema,
  threadingBar.schema,
  faceThreading.schema,
  grooving.schema,
  groovingBar.schema,
  faceGrooving.schema,
  form.schema,
  tap.schema,
  reamer.schema,
]);
export type Tool = z.infer<typeof ToolSchema>;
export type ToolOf<K extends Tool['kind']> = Extract<Tool, { kind: K }>;

type AnyToolKind = ToolKindDefinition<Tool['kind'], z.ZodType<Tool>>;

const KINDS: { readonly [K in Tool['kind']]: AnyToolKind } = Object.fromEntries(
  [
    turning,
    boring,
    drill,
    centring,
    cutoff,
    threading,
    threadingBar,
    faceThreading,
    grooving,
    groovingBar,
    faceGrooving,
    form,
    tap,
    reamer,
  ].map((k) => [k.kind, k as unknown as AnyToolKind]),
) as Record<Tool['kind'], AnyToolKind>;

export const toolKind = (tool: Pick<Tool, 'kind'>): AnyToolKind => KINDS[tool.kind];

/** What any part of the core may ask of a tool without knowing its kind. */
export const toolFacts = (tool: Tool): ToolFacts => toolKind(tool).facts(tool);

const sections = onceForEach(
  (tool: Tool, wayUp: Mount['wayUp']): SectionResult => toolKind(tool).section(tool, wayUp),
  (wayUp) => wayUp,
);

/** Section of any tool as it is mounted, made once for each; a designation that cannot be read is reported with the letter at fault. */
export const toolSection = (tool: Tool, wayUp: Mount['wayUp'] = 'usual'): SectionResult => sections(tool, wayUp);
