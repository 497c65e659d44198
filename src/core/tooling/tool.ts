import { z } from 'zod';

const positive = z.number().positive();
const angle = z.number().min(1).max(179);

/** Which way the tool cuts: right = toward the main chuck for outside tools. */
export const HandSchema = z.enum(['right', 'left']);

const common = {
  id: z.string().min(1),
  name: z.string(),
  material: z.enum(['carbide', 'hss', 'cermet', 'cbn']).default('carbide'),
  /** Wear and geometry offset number; the station number when absent. */
  offset: z.number().int().positive().optional(),
  note: z.string().default(''),
};

const TurningSchema = z.object({
  ...common,
  kind: z.literal('turning'),
  insert: z.string(),
  hand: HandSchema.default('right'),
  /** Approach angle κ between cutting edge and feed toward the chuck, degrees. */
  approachAngle: angle,
  shank: positive.default(20),
  /** Nose to turret face, mm. */
  overhang: positive.default(40),
});

const BoringSchema = z.object({
  ...common,
  kind: z.literal('boring'),
  insert: z.string(),
  hand: HandSchema.default('right'),
  approachAngle: angle,
  barDiameter: positive,
  /** Nose to the bar's own axis, mm. */
  noseToAxis: positive,
  overhang: positive,
});

const DrillSchema = z.object({
  ...common,
  kind: z.literal('drill'),
  diameter: positive,
  pointAngle: angle.default(140),
  fluteLength: positive,
  overhang: positive,
});

const CutoffSchema = z.object({
  ...common,
  kind: z.literal('cutoff'),
  width: positive,
  cornerRadius: z.number().min(0).default(0.2),
  /** How far the thin blade reaches before its block, mm. */
  reach: positive,
  /** Angle of the front edge, degrees; the side toward the part leads. */
  leadAngle: z.number().min(0).max(20).default(0),
  shank: positive.default(20),
  overhang: positive.default(45),
});

export const ToolSchema = z.discriminatedUnion('kind', [TurningSchema, BoringSchema, DrillSchema, CutoffSchema]);
export type Tool = z.infer<typeof ToolSchema>;
export type TurningTool = z.infer<typeof TurningSchema>;
export type BoringTool = z.infer<typeof BoringSchema>;
export type DrillTool = z.infer<typeof DrillSchema>;
export type CutoffTool = z.infer<typeof CutoffSchema>;
