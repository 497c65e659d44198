import { z } from 'zod';

/** What happens where a row ends: a sharp corner, a straight cut or a round of `size` mm. */
export const CornerSchema = z.object({ kind: z.enum(['chamfer', 'fillet']), size: z.number() });
export type Corner = z.infer<typeof CornerSchema>;

const end = { id: z.string().min(1), diameter: z.number(), z: z.number(), corner: CornerSchema.nullable().default(null) };

/** One row of the element table: how to get from the end of the row above to this end. */
export const RowSchema = z.discriminatedUnion('kind', [
  z.object({ ...end, kind: z.literal('line') }),
  z.object({
    ...end,
    kind: z.literal('arc'),
    radius: z.number(),
    /** Seen with Z to the right and X up. */
    clockwise: z.boolean(),
    /** The long way round, more than half a turn. */
    long: z.boolean().default(false),
  }),
]);
export type Row = z.infer<typeof RowSchema>;

/** A contour from the front (greatest Z) to the back. */
export const ProfileSchema = z.object({
  start: z.object({ diameter: z.number(), z: z.number() }),
  rows: z.array(RowSchema),
});
export type Profile = z.infer<typeof ProfileSchema>;

export const PartSchema = z.object({
  outer: ProfileSchema,
  inner: ProfileSchema.nullable(),
});
export type PartDocument = z.infer<typeof PartSchema>;
