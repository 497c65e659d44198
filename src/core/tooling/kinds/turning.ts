import { z } from 'zod';
import { add, convexHull, fromAngle, type Point, point, radians, scale } from '../../geometry';
import { decodeInsert, type InsertGeometry } from '../insert';
import { angle, assemblyBase, defineTool, HandSchema, InsertCutterSchema, insertFields, length } from '../kind';
import type { Mount } from '../mount';
import { box, insertShape, mapShape, sharp, TIP_DIRECTION, type ToolSection, TURRET } from '../section';

const TurningSchema = z.object({
  ...assemblyBase,
  kind: z.literal('turning'),
  cutter: InsertCutterSchema,
  holder: z.object({
    kind: z.literal('shank'),
    hand: HandSchema.default('right'),
    /** κ between cutting edge and feed toward the chuck, degrees. */
    approachAngle: angle(),
    /** Side of the square shank, mm. */
    side: length().default(20),
  }),
});
type TurningTool = z.infer<typeof TurningSchema>;

const section = (tool: TurningTool, insert: InsertGeometry, wayUp: Mount['wayUp']): ToolSection => {
  const { approachAngle, hand } = tool.holder;
  const body = insertShape(insert, approachAngle);
  const rho = insert.noseRadius;
  const round = insert.shape === 'R';
  const trailingDeg = round ? 35 : Math.max(0, 180 - approachAngle - insert.cornerAngle);
  // the shank stays inside the insert's own wedge so that insert edges touch first
  const leftAt = (y: number): number =>
    round ? -insert.noseRadius * 0.4 : Math.max(0.8, y * Math.tan(radians(approachAngle - 90)) + 0.8);
  const shankBottom = (x: number): number => x * Math.tan(radians(trailingDeg)) + 1.5;
  let overhang = tool.stickOut;
  let left = leftAt(overhang);
  const bottom = Math.max(insert.edgeLength * 0.9, shankBottom(left + tool.holder.side));
  overhang = Math.max(overhang, bottom + 6);
  left = leftAt(overhang);
  const inner = body.points.map((p) =>
    add(
      scale(p, round ? 1 : 0.82),
      fromAngle(radians(180 - approachAngle - insert.cornerAngle / 2), round ? 0 : insert.edgeLength * 0.12),
    ),
  );
  const roundHead = [
    point(-insert.noseRadius * 0.4, insert.noseRadius * 0.6),
    point(insert.noseRadius * 0.4, insert.noseRadius * 0.6),
  ];
  const head = sharp(
    convexHull([
      ...(round ? roundHead : inner),
      point(left, bottom),
      point(left + tool.holder.side, bottom),
      point(left, bottom + 1),
      point(left + tool.holder.side, bottom + 1),
    ]),
  );
  const shank = box(left, bottom, left + tool.holder.side, overhang + 4);
  // a left hand mirrors the tool along Z, and so does turning it over about its shank; only the latter turns the rake over
  const mirrored = (hand === 'left') !== (wayUp === 'turned');
  const flip = (p: Point): Point => (mirrored ? point(-p.x, p.y) : p);
  // the turret itself is not mirrored: it stands 12 mm beyond the shank's side toward the chuck
  const side = (mirrored ? -left - tool.holder.side : left) - 12;
  const turret = box(side, overhang, side + 2 * TURRET.halfThickness, overhang + TURRET.depth);
  const tipNumber = round ? 0 : mirrored ? 4 : 3;
  const tip = scale(TIP_DIRECTION[tipNumber], rho);
  return {
    cutting: [mapShape(body, flip)],
    holder: [mapShape(head, flip), mapShape(shank, flip)],
    turret: [turret],
    noseRadius: rho,
    corners: [{ number: tipNumber, at: tip }],
    tipNumber,
    tip,
    gauge: point(0, overhang - tip.y),
    feeds: round ? 'both' : mirrored ? 'from-chuck' : 'toward-chuck',
    spindle: wayUp === 'turned' ? 'reverse' : 'forward',
  };
};

export const turning = defineTool({
  kind: 'turning',
  schema: TurningSchema,
  name: 'a turning tool',
  describe: (t) => `${t.cutter.designation} · κ ${t.holder.approachAngle}°`,
  fields: [
    ...insertFields('Right cuts toward the chuck with the usual way up.'),
    { key: 'holder.side', label: 'Shank', help: 'Side of the square shank.', input: 'length' },
  ],
  facts: (t) => {
    const insert = decodeInsert(t.cutter.designation);
    return {
      approachAngle: t.holder.approachAngle,
      insert: insert.ok ? insert.insert : null,
      onCentre: null,
      bladeWidth: 0,
      slender: null,
      enclosed: false,
      stands: 'across',
    };
  },
  waysUp: ['usual', 'turned'],
  section: (t, wayUp) => {
    const insert = decodeInsert(t.cutter.designation);
    if (!insert.ok) return { ok: false, code: insert.code, found: insert.found };
    return { ok: true, section: section(t, insert.insert, wayUp) };
  },
});
