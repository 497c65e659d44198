import { z } from 'zod';
import { type Point, point, radians, scale } from '../../geometry';
import { decodeInsert, type InsertGeometry } from '../insert';
import { angle, assemblyBase, defineTool, HandSchema, InsertCutterSchema, insertFields, length } from '../kind';
import { insertShape, mapShape, TIP_DIRECTION, type ToolSection } from '../section';
import { barBodies, barSlender } from './bar';

const BoringSchema = z.object({
  ...assemblyBase,
  kind: z.literal('boring'),
  cutter: InsertCutterSchema,
  holder: z.object({
    kind: z.literal('bar'),
    hand: HandSchema.default('right'),
    /** Which way its edge is made to feed: into the bore, or out of it from behind a shoulder. */
    cuts: z.enum(['toward-chuck', 'from-chuck']).default('toward-chuck'),
    /** κ between cutting edge and that feed, degrees. */
    approachAngle: angle(),
    diameter: length(),
    /** Nose to the bar's own axis, mm. */
    noseToAxis: length(),
    /** What the bar is made of: how far it may stick out. */
    material: z.enum(['steel', 'carbide', 'damped']).default('steel'),
  }),
});
type BoringTool = z.infer<typeof BoringSchema>;

/** How far a bar goes on past the insert of a back boring bar, mm. */
const NOSE_OF_BAR = 0.5;

const section = (tool: BoringTool, insert: InsertGeometry): ToolSection => {
  const back = tool.holder.cuts === 'from-chuck';
  const down = (p: Point): Point => point(back ? -p.x : p.x, -p.y);
  const body = mapShape(insertShape(insert, tool.holder.approachAngle), down);
  const rho = insert.noseRadius;
  const axis = rho - tool.holder.noseToAxis;
  const r = tool.holder.diameter / 2;
  // the bar begins behind the insert's leading edge; one that cuts out of the bore carries the insert on its far end
  const start = back
    ? Math.min(...body.points.map((p) => p.x)) - rho - NOSE_OF_BAR
    : Math.max(0.6, Math.tan(radians(Math.max(0, tool.holder.approachAngle - 90))) * (r - axis) + 0.6);
  const tipNumber = back ? 1 : 2;
  const tip = scale(TIP_DIRECTION[tipNumber], rho);
  return {
    ...barBodies(tool.holder, tool.stickOut, axis, start, tip),
    cutting: [body],
    noseRadius: rho,
    corners: [{ number: tipNumber, at: tip }],
    tipNumber,
    tip,
    feeds: tool.holder.cuts,
  };
};

export const boring = defineTool({
  kind: 'boring',
  schema: BoringSchema,
  name: 'a boring bar',
  describe: (t) =>
    `${t.cutter.designation} · bar ⌀${t.holder.diameter}${t.holder.cuts === 'from-chuck' ? ' · back' : ''}`,
  fields: [
    ...insertFields('A left-hand bar cuts with the spindle turning the other way.'),
    {
      key: 'holder.cuts',
      label: 'Cuts',
      help: 'Toward the chuck, into the bore; or from the chuck, out of it: chamfers and shoulders at the back of a bore.',
      input: { options: ['toward-chuck', 'from-chuck'] },
    },
    { key: 'holder.diameter', label: 'Bar ⌀', help: 'Diameter of the boring bar.', input: 'length' },
    { key: 'holder.noseToAxis', label: 'Nose to axis', help: 'From the nose to the bar’s own axis.', input: 'length' },
    {
      key: 'holder.material',
      label: 'Bar of',
      help: 'Steel may stick out 4 diameters, carbide 6, a damped bar 10.',
      input: { options: ['steel', 'carbide', 'damped'] },
    },
  ],
  facts: (t) => {
    const insert = decodeInsert(t.cutter.designation);
    return {
      approachAngle: t.holder.approachAngle,
      insert: insert.ok ? insert.insert : null,
      onCentre: null,
      bladeWidth: 0,
      slender: barSlender(t.holder, t.stickOut),
      enclosed: false,
      stands: 'along',
    };
  },
  // turned over it would work beyond the axis
  waysUp: ['usual'],
  section: (t) => {
    const insert = decodeInsert(t.cutter.designation);
    if (!insert.ok) return { ok: false, code: insert.code, found: insert.found };
    return { ok: true, section: section(t, insert.insert) };
  },
});
