import { z } from 'zod';
import { angle, curve, place } from '../units';
import { FeatureNoteSchema, FeatureSchema } from './feature';

/**
 * What happens where a row ends: a straight cut or a round of `size` mm, or a standard shape at a shoulder: DIN 509 forms E
 * and F by their radius, a DIN 76 thread relief by its pitch.
 */
export const CornerSchema = z.object({
  kind: z.enum(['chamfer', 'fillet', 'undercut-e', 'undercut-f', 'relief', 'sharp']),
  size: place(),
});
export type Corner = z.infer<typeof CornerSchema>;

/** A groove cut into a straight row, by the Z of its front edge. */
export const CutSchema = z.discriminatedUnion('kind', [
  z.object({ id: z.string().min(1).max(80), kind: z.literal('ring'), z: place() }),
  z.object({
    id: z.string().min(1).max(80),
    kind: z.literal('square'),
    z: place(),
    width: place(),
    diameter: place(),
  }),
  z.object({
    id: z.string().min(1).max(80),
    kind: z.literal('v'),
    z: place(),
    depth: place(),
    angle: angle(-360, 360),
    radius: place().default(0),
  }),
  z.object({ id: z.string().min(1).max(80), kind: z.literal('belt'), z: place(), radius: place(), depth: place() }),
]);
export type Cut = z.infer<typeof CutSchema>;

const number = place().nullable().default(null);
const end = {
  id: z.string().min(1).max(80),
  /** Where the row ends; null = not given: unchanged, or following from the other values. */
  diameter: place().nullable(),
  z: place().nullable(),
  corner: CornerSchema.nullable().default(null),
  /** Formulas by field name; they win over the number in the field. */
  formulas: z.record(z.string(), z.string().max(200)).optional(),
};

/** One row of the element table: how to get from the end of the row above to this end. */
export const RowSchema = z.discriminatedUnion('kind', [
  z.object({
    ...end,
    kind: z.literal('line'),
    /** Direction of travel in degrees: 0 along −Z, 90 outward. */
    angle: number.optional(),
    length: number.optional(),
    cuts: z.array(CutSchema).max(500).optional(),
  }),
  z.object({
    ...end,
    kind: z.literal('arc'),
    radius: curve().nullable(),
    /** Seen with Z to the right and X up. */
    clockwise: z.boolean(),
    /** The long way round, more than half a turn. */
    long: z.boolean().default(false),
    /** Runs on from the row above without a corner. */
    tangent: z.boolean().optional(),
    centreDiameter: curve().nullable().default(null).optional(),
    centreZ: curve().nullable().default(null).optional(),
  }),
]);
export type Row = z.infer<typeof RowSchema>;

/** A contour from the front (greatest Z) to the back. */
export const ProfileSchema = z.object({
  start: z.object({ diameter: place(), z: place() }),
  rows: z.array(RowSchema).max(5000, 'there may be at most 5000 rows'),
});
export type Profile = z.infer<typeof ProfileSchema>;

/** A named dimension; its formula may use others. */
export const DimensionSchema = z.object({ name: z.string().max(40), formula: z.string().max(200) });
export type Dimension = z.infer<typeof DimensionSchema>;

const vec3 = z.tuple([z.number(), z.number(), z.number()]);

/** The file that a profile came from and how it was read; the file itself is kept beside the job by its hash. */
export const SourceSchema = z.object({
  name: z.string().max(120),
  kind: z.enum(['step', 'stl', 'dxf']),
  /** SHA-256 of the file's bytes, hexadecimal. */
  hash: z.string().regex(/^[0-9a-f]{64}$/),
  axis: z.object({ point: vec3, direction: vec3 }).nullable().default(null),
  /** The choices made when it was read, as the reader of that kind takes them. */
  wish: z.record(z.string(), z.unknown()).default({}),
});
export type Source = z.infer<typeof SourceSchema>;

/** Edges that are not drawn otherwise are broken: a chamfer of 45° or a round of `size` mm (ISO 13715). */
export const EdgesSchema = z.object({ kind: z.enum(['chamfer', 'fillet']), size: place() });
export type Edges = z.infer<typeof EdgesSchema>;

export const PartSchema = z.object({
  outer: ProfileSchema,
  inner: ProfileSchema.nullable(),
  /** A blind bore from the back, from the back face to the axis. */
  back: ProfileSchema.nullable().optional(),
  dimensions: z.array(DimensionSchema).max(500).optional(),
  edges: EdgesSchema.nullable().optional(),
  /** Radius of inside corners that are not drawn otherwise, mm: what a nose leaves there is no fault (ISO 13715). */
  corners: place().nullable().optional(),
  /** Cylinders with a tolerance are made to their size, or to the middle of the tolerance. */
  aim: z.enum(['size', 'middle']).optional(),
  source: SourceSchema.nullable().optional(),
  /** Features that turning does not make, from the solid or added by hand. */
  features: z.array(FeatureSchema).optional(),
  /** What the user says of features, by feature id. */
  notes: z.record(z.string(), FeatureNoteSchema).optional(),
  /** Features that count as one: the first lends its id and kind. */
  merged: z.array(z.array(z.string())).optional(),
  /** Features that count as one for each element or copy. */
  split: z.array(z.string()).optional(),
  /** The revision before this one, to draw the two over each other. */
  previous: z
    .object({
      revision: z.string().max(40),
      outer: ProfileSchema,
      inner: ProfileSchema.nullable(),
      back: ProfileSchema.nullable().optional(),
      dimensions: z.array(DimensionSchema).max(500).optional(),
    })
    .nullable()
    .optional(),
});
export type PartDocument = z.infer<typeof PartSchema>;
