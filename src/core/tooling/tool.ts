import { z } from 'zod';
import { amount, angle as degrees, size } from '../units';

const positive = size(2000);
const angle = degrees(1, 179);

/** Which way the tool cuts: right = toward the main chuck for outside tools. */
export const HandSchema = z.enum(['right', 'left']);

/** How the tool is clamped: its rake where the usual spindle direction wants it, or turned over about its shank. */
export const WayUpSchema = z.enum(['usual', 'turned']);

const common = {
  id: z.string().min(1).max(80),
  name: z.string().max(120),
  material: z.enum(['carbide', 'hss', 'cermet', 'cbn']).default('carbide'),
  /** Wear and geometry offset number; the station number when absent. */
  offset: z.number().int().min(1).max(999, 'it must be at most 999').optional(),
  note: z.string().max(400).default(''),
  wayUp: WayUpSchema.default('usual'),
};

const TurningSchema = z.object({
  ...common,
  kind: z.literal('turning'),
  insert: z.string().max(40),
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
  insert: z.string().max(40),
  hand: HandSchema.default('right'),
  approachAngle: angle,
  barDiameter: positive,
  /** What the bar is made of: how far it may stick out. */
  bar: z.enum(['steel', 'carbide', 'damped']).default('steel'),
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
  cornerRadius: amount(100).default(0.2),
  /** How far the thin blade reaches before its block, mm. */
  reach: positive,
  /** Angle of the front edge, degrees; the side toward the part leads. */
  leadAngle: degrees(0, 20).default(0),
  shank: positive.default(20),
  overhang: positive.default(45),
});

export const ToolSchema = z.discriminatedUnion('kind', [TurningSchema, BoringSchema, DrillSchema, CutoffSchema]);
export type Tool = z.infer<typeof ToolSchema>;
export type TurningTool = z.infer<typeof TurningSchema>;
export type BoringTool = z.infer<typeof BoringSchema>;
export type DrillTool = z.infer<typeof DrillSchema>;
export type CutoffTool = z.infer<typeof CutoffSchema>;
