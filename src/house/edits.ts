import { z } from 'zod';
import type { Diff } from '../core/plan';

/** One edit as it is sent: the server takes it once, however often it comes. Who made it is known from the session. */
export const EditSchema = z.object({
  edit: z.uuid(),
  base: z.number().int().min(1).max(2_000_000_000),
  label: z.string().max(200).default(''),
  diff: z.object({
    added: z.record(z.string(), z.unknown()),
    updated: z.record(z.string(), z.tuple([z.unknown(), z.unknown()])),
    removed: z.record(z.string(), z.unknown()),
  }),
});
export type Edit = Omit<z.infer<typeof EditSchema>, 'diff'> & { readonly diff: Diff };

/** What a page is told while it has a job open. */
export type News =
  /** The job stands at this version. */
  | { readonly kind: 'version'; readonly version: number; readonly by: string; readonly edit: string | null }
  /** Who has it open, this tab included. */
  | { readonly kind: 'present'; readonly people: readonly { readonly tab: string; readonly name: string }[] }
  | { readonly kind: 'deleted'; readonly by: string };
