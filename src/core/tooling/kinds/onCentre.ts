import { z } from 'zod';
import { point, type RoundedPolygon } from '../../geometry';
import { length } from '../kind';
import { box, type ToolSection, TURRET } from '../section';

/** The sleeve of a tool that stands on the axis. */
export const SleeveSchema = z.object({
  kind: z.literal('sleeve'),
  diameter: length(),
  /** From its mouth to the carrier's face, mm. */
  length: length().default(30),
});
type Sleeve = z.infer<typeof SleeveSchema>;

/** A cutter on the axis of the work, its point at the origin, in its sleeve; `bare` is the shank between edges and sleeve. */
export const onCentreSection = (
  cutting: readonly RoundedPolygon[],
  bare: RoundedPolygon | null,
  sleeve: Sleeve,
  stickOut: number,
): ToolSection => {
  const grip = sleeve.diameter / 2;
  const face = stickOut + sleeve.length;
  return {
    cutting,
    holder: [...(bare ? [bare] : []), box(stickOut, -grip, face, grip)],
    turret: [box(face, -TURRET.below, face + 2 * TURRET.halfThickness, TURRET.depth - TURRET.below)],
    noseRadius: 0,
    corners: [{ number: 7, at: point(0, 0) }],
    tipNumber: 7,
    tip: point(0, 0),
    gauge: point(face, 0),
    feeds: 'toward-chuck',
    spindle: 'forward',
  };
};
