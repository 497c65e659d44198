import { z } from 'zod';
import { convexHull, type Point, point, type RoundedPolygon, scale } from '../../geometry';
import { amount, size } from '../../units';
import { assemblyBase, cutterBase, defineTool, length, type ToolFacts, type ToolField } from '../kind';
import type { Mount } from '../mount';
import { box, mapShape, TIP_DIRECTION, type ToolSection, TURRET } from '../section';
import { BarSchema, barBodies, barFields, barSlender, ShankSchema, shankFields } from './bar';

/** A blade that cuts in front and with both corners; with a corner radius of half its width it is round. */
const bladeBase = {
  kind: z.literal('groove-insert'),
  width: size(60),
  cornerRadius: amount(30).default(0.2),
  /** How deep it goes before its holder, mm. */
  reach: length(),
  ...cutterBase,
};
const BladeSchema = z.object(bladeBase);
const FaceBladeSchema = z.object({
  ...bladeBase,
  /** Outer diameter of the first plunge, least and greatest: beyond them the curved blade rubs. */
  diameterMin: size(5000),
  diameterMax: size(5000),
});
type Blade = z.infer<typeof BladeSchema>;

const GroovingSchema = z.object({
  ...assemblyBase,
  kind: z.literal('grooving'),
  cutter: BladeSchema,
  holder: ShankSchema,
});
const GroovingBarSchema = z.object({
  ...assemblyBase,
  kind: z.literal('grooving-bar'),
  cutter: BladeSchema,
  holder: BarSchema,
});
const FaceGroovingSchema = z.object({
  ...assemblyBase,
  kind: z.literal('face-grooving'),
  cutter: FaceBladeSchema,
  holder: ShankSchema,
});

const radiusOf = (b: Blade): number => Math.min(b.cornerRadius, b.width / 2);

/** The blade with the centre of its first corner at the origin, its front edge down, `reach` high. */
const bladeOf = (b: Blade): RoundedPolygon => {
  const rho = radiusOf(b);
  const w = b.width - 2 * rho;
  const top = Math.max(b.reach - rho, 0.1);
  return { points: convexHull([point(0, 0), point(w, 0), point(0, top), point(w, top)]), radius: rho };
};

/** How far the holder stands back behind the blade's side, mm. */
const BACK = 0.3;

const outerSection = (tool: z.infer<typeof GroovingSchema>, wayUp: Mount['wayUp']): ToolSection => {
  const { cutter, holder } = tool;
  const rho = radiusOf(cutter);
  const w = cutter.width - 2 * rho;
  const overhang = Math.max(tool.stickOut, cutter.reach + 8);
  const mirrored = (holder.hand === 'left') !== (wayUp === 'turned');
  // a mirrored holder stands on the other side of the blade
  const left = mirrored ? w + rho - BACK - holder.side : -rho + BACK;
  const side = left - 12;
  const tip = scale(TIP_DIRECTION[3], rho);
  return {
    cutting: [bladeOf(cutter)],
    holder: [box(left, cutter.reach, left + holder.side, overhang + 4)],
    turret: [box(side, overhang, side + 2 * TURRET.halfThickness, overhang + TURRET.depth)],
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

const innerSection = (tool: z.infer<typeof GroovingBarSchema>): ToolSection => {
  const { cutter, holder } = tool;
  const rho = radiusOf(cutter);
  const w = cutter.width - 2 * rho;
  const down = (p: Point): Point => point(p.x, -p.y);
  const tip = scale(TIP_DIRECTION[2], rho);
  return {
    ...barBodies(holder, tool.stickOut, rho - holder.noseToAxis, -rho + BACK, tip),
    cutting: [mapShape(bladeOf(cutter), down)],
    noseRadius: rho,
    corners: [
      { number: 2, at: tip },
      { number: 1, at: point(w + rho, rho) },
    ],
    tipNumber: 2,
    tip,
    feeds: 'both',
  };
};

/** A blade that plunges along the axis: its first corner is the one nearer to the axis. */
const faceSection = (tool: z.infer<typeof FaceGroovingSchema>): ToolSection => {
  const { cutter, holder } = tool;
  const rho = radiusOf(cutter);
  const w = cutter.width - 2 * rho;
  const over = (p: Point): Point => point(p.y, p.x);
  const axis = w / 2;
  const overhang = Math.max(tool.stickOut, cutter.reach + 8);
  const tip = scale(TIP_DIRECTION[3], rho);
  return {
    cutting: [mapShape(bladeOf(cutter), over)],
    // the blade stands at the inner edge of its holder, which leans outward
    holder: [box(cutter.reach, -rho + BACK, overhang + 4, -rho + BACK + holder.side)],
    turret: [
      box(overhang, axis - TURRET.below, overhang + 2 * TURRET.halfThickness, axis - TURRET.below + TURRET.depth),
    ],
    noseRadius: rho,
    corners: [
      { number: 3, at: tip },
      { number: 2, at: point(-rho, w + rho) },
    ],
    tipNumber: 3,
    works: 'face',
    tip,
    gauge: point(overhang - tip.x, axis - tip.y),
    feeds: 'both',
    spindle: holder.hand === 'left' ? 'reverse' : 'forward',
  };
};

const bladeFields: readonly ToolField[] = [
  { key: 'cutter.width', label: 'Blade width', help: 'Width of the cut.', input: 'length' },
  {
    key: 'cutter.cornerRadius',
    label: 'Corner radius',
    help: 'Radius of both corners; half the width makes a round blade.',
    input: 'length',
  },
  { key: 'cutter.reach', label: 'Reach', help: 'How deep the blade goes before its holder.', input: 'length' },
];
const facts = (b: Blade): Omit<ToolFacts, 'slender' | 'stands'> => ({
  approachAngle: 90,
  insert: null,
  onCentre: null,
  bladeWidth: 0,
  enclosed: true,
  blade: { width: b.width, cornerRadius: radiusOf(b), reach: b.reach, diameters: null },
});
const describeBlade = (b: Blade): string =>
  `${radiusOf(b) >= b.width / 2 - 1e-9 ? `round ⌀${b.width}` : `blade ${b.width}`} · reach ${b.reach}`;

export const grooving = defineTool({
  kind: 'grooving',
  schema: GroovingSchema,
  name: 'an outside grooving tool',
  describe: (t) => describeBlade(t.cutter),
  fields: [...bladeFields, ...shankFields],
  facts: (t) => ({ ...facts(t.cutter), slender: null, stands: 'across' }),
  waysUp: ['usual', 'turned'],
  section: (t, wayUp) => ({ ok: true, section: outerSection(t, wayUp) }),
});

export const groovingBar = defineTool({
  kind: 'grooving-bar',
  schema: GroovingBarSchema,
  name: 'an inside grooving bar',
  describe: (t) => describeBlade(t.cutter),
  fields: [...bladeFields, ...barFields],
  facts: (t) => ({
    ...facts(t.cutter),
    slender: barSlender(t.holder, t.stickOut),
    stands: 'along',
  }),
  waysUp: ['usual'],
  section: (t) => ({ ok: true, section: innerSection(t) }),
});

export const faceGrooving = defineTool({
  kind: 'face-grooving',
  schema: FaceGroovingSchema,
  name: 'a face grooving tool',
  describe: (t) => `${describeBlade(t.cutter)} · ⌀${t.cutter.diameterMin}–${t.cutter.diameterMax}`,
  fields: [
    ...bladeFields,
    {
      key: 'cutter.diameterMin',
      label: 'From ⌀',
      help: 'Least outer diameter of the first plunge: a smaller one rubs on the blade’s curve.',
      input: 'length',
    },
    {
      key: 'cutter.diameterMax',
      label: 'To ⌀',
      help: 'Greatest outer diameter of the first plunge.',
      input: 'length',
    },
    ...shankFields,
  ],
  facts: (t) => ({
    ...facts(t.cutter),
    blade: {
      width: t.cutter.width,
      cornerRadius: radiusOf(t.cutter),
      reach: t.cutter.reach,
      diameters: { least: t.cutter.diameterMin, most: t.cutter.diameterMax },
    },
    slender: null,
    stands: 'along',
  }),
  waysUp: ['usual'],
  section: (t) => ({ ok: true, section: faceSection(t) }),
});
