import { z } from 'zod';
import { convexHull, point, type RoundedPolygon, radians, scale } from '../../geometry';
import { amount, angle as degrees } from '../../units';
import { assemblyBase, cutterBase, defineTool, length } from '../kind';
import type { Mount } from '../mount';
import { box, TIP_DIRECTION, type ToolSection, TURRET } from '../section';

const CutoffSchema = z.object({
  ...assemblyBase,
  kind: z.literal('cutoff'),
  cutter: z.object({
    kind: z.literal('blade'),
    width: length(),
    cornerRadius: amount(100).default(0.2),
    /** How far the thin blade reaches before its block, mm. */
    reach: length(),
    /** Angle of the front edge, degrees; the side toward the part leads. */
    leadAngle: degrees(0, 20).default(0),
    ...cutterBase,
  }),
  holder: z.object({
    kind: z.literal('block'),
    /** Thickness of the block along Z, mm. */
    side: length().default(20),
  }),
});
type CutoffTool = z.infer<typeof CutoffSchema>;

const section = (tool: CutoffTool, wayUp: Mount['wayUp']): ToolSection => {
  const { width, reach, leadAngle } = tool.cutter;
  const { side } = tool.holder;
  const rho = Math.min(tool.cutter.cornerRadius, width / 2);
  const w = width - 2 * rho;
  const rise = w * Math.tan(radians(leadAngle));
  const edge: RoundedPolygon = {
    points: convexHull([point(0, rise), point(w, 0), point(0, reach), point(w, reach)]),
    radius: rho,
  };
  const overhang = Math.max(tool.stickOut, reach + 8);
  const block = box(-rho - (side - width) * 0.15, reach, w + rho + (side - width) * 0.85, overhang + 4);
  const turret = box(-12, overhang, -12 + 2 * TURRET.halfThickness, overhang + TURRET.depth);
  const tip = scale(TIP_DIRECTION[3], rho);
  return {
    cutting: [edge],
    holder: [block],
    turret: [turret],
    noseRadius: rho,
    corners: [
      { number: 3, at: tip },
      { number: 4, at: point(w + rho, -rho) },
    ],
    tipNumber: 3,
    tip,
    gauge: point(0, overhang - tip.y),
    feeds: 'both',
    spindle: wayUp === 'turned' ? 'reverse' : 'forward',
  };
};

export const cutoff = defineTool({
  kind: 'cutoff',
  schema: CutoffSchema,
  name: 'a cutoff blade',
  describe: (t) => `blade ${t.cutter.width} · reach ${t.cutter.reach}`,
  fields: [
    { key: 'cutter.width', label: 'Blade width', help: 'Width of the cut.', input: 'length' },
    { key: 'cutter.cornerRadius', label: 'Corner radius', help: 'Radius of the blade’s corners.', input: 'length' },
    { key: 'cutter.reach', label: 'Reach', help: 'How deep the blade goes before its block.', input: 'length' },
    {
      key: 'cutter.leadAngle',
      label: 'Lead angle',
      help: 'Slope of the front edge; the side toward the part leads.',
      input: 'angle',
    },
  ],
  facts: (t) => ({
    approachAngle: 90,
    insert: null,
    onCentre: null,
    bladeWidth: t.cutter.width,
    blade: {
      width: t.cutter.width,
      cornerRadius: t.cutter.cornerRadius,
      reach: t.cutter.reach,
      diameters: null,
      beside: Math.max(0, (t.holder.side - t.cutter.width) * 0.15),
    },
    slender: null,
    enclosed: true,
    stands: 'across',
  }),
  waysUp: ['usual', 'turned'],
  section: (t, wayUp) => ({ ok: true, section: section(t, wayUp) }),
});
