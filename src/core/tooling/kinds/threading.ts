import { z } from 'zod';
import { convexHull, type Point, point, type RoundedPolygon, radians, scale } from '../../geometry';
import { amount, angle as degrees, size } from '../../units';
import { assemblyBase, cutterBase, defineTool, type ToolFacts, type ToolField } from '../kind';
import type { Mount } from '../mount';
import { box, mapShape, TIP_DIRECTION, type ToolSection, TURRET } from '../section';
import { BarSchema, barBodies, barFields, barSlender, ShankSchema, shankFields } from './bar';

/** An insert that cuts one groove of a thread: a V with a nose, or the whole form with its crests. */
const ThreadCutterSchema = z.object({
  kind: z.literal('thread-insert'),
  /** Between the flanks, degrees. */
  angle: degrees(20, 90).default(60),
  /** A partial form makes the flanks and the root of a range of pitches; a full one makes the crest of its own pitch too. */
  profile: z.enum(['partial', 'full']).default('partial'),
  /** Pitches that it can cut, mm. */
  pitchMin: size(25),
  pitchMax: size(25),
  noseRadius: amount(5),
  /** Width of the form, mm. */
  width: size(60),
  ...cutterBase,
});

const ThreadingSchema = z.object({
  ...assemblyBase,
  kind: z.literal('threading'),
  cutter: ThreadCutterSchema,
  holder: ShankSchema,
});

const ThreadingBarSchema = z.object({
  ...assemblyBase,
  kind: z.literal('threading-bar'),
  cutter: ThreadCutterSchema,
  holder: BarSchema,
});

/** It stands along the axis and cuts spirals into faces. */
const FaceThreadingSchema = z.object({
  ...assemblyBase,
  kind: z.literal('face-threading'),
  cutter: ThreadCutterSchema,
  holder: ShankSchema,
});
type Cutter = z.infer<typeof ThreadCutterSchema>;
type ThreadingTool = z.infer<typeof ThreadingSchema>;
type ThreadingBar = z.infer<typeof ThreadingBarSchema>;

/** How far the holder stands back behind the insert's side, mm. */
const BACK = 0.2;
/** Height of the insert above its form, mm. */
const BODY = 5;

const halfOf = (c: Cutter): number => Math.max(0.05, c.width / 2 - c.noseRadius);
/** Height of the form's shoulders above the middle of the nose, mm. */
const shoulderOf = (c: Cutter): number => halfOf(c) / Math.tan(radians(c.angle / 2));

/** The insert with the middle of its nose at the origin, the nose down. */
const insertOf = (c: Cutter): RoundedPolygon => {
  const half = halfOf(c);
  const shoulder = shoulderOf(c);
  const top = shoulder + BODY;
  return {
    points: convexHull([
      point(0, 0),
      point(half, shoulder),
      point(half, top),
      point(-half, top),
      point(-half, shoulder),
    ]),
    radius: c.noseRadius,
  };
};

const outerSection = (tool: ThreadingTool, wayUp: Mount['wayUp']): ToolSection => {
  const { cutter, holder } = tool;
  const bottom = shoulderOf(cutter) + BODY - 0.5;
  const overhang = Math.max(tool.stickOut, bottom + 8);
  const left = -cutter.width / 2 + BACK;
  const shank = box(left, bottom, left + holder.side, overhang + 4);
  const mirrored = (holder.hand === 'left') !== (wayUp === 'turned');
  const flip = (p: Point): Point => (mirrored ? point(-p.x, p.y) : p);
  const side = (mirrored ? -left - holder.side : left) - 12;
  const tip = scale(TIP_DIRECTION[8], cutter.noseRadius);
  return {
    cutting: [insertOf(cutter)],
    holder: [mapShape(shank, flip)],
    turret: [box(side, overhang, side + 2 * TURRET.halfThickness, overhang + TURRET.depth)],
    noseRadius: cutter.noseRadius,
    corners: [{ number: 8, at: tip }],
    tipNumber: 8,
    tip,
    gauge: point(0, overhang - tip.y),
    feeds: 'both',
    spindle: wayUp === 'turned' ? 'reverse' : 'forward',
  };
};

const innerSection = (tool: ThreadingBar): ToolSection => {
  const { cutter, holder } = tool;
  const down = (p: Point): Point => point(p.x, -p.y);
  const tip = scale(TIP_DIRECTION[6], cutter.noseRadius);
  const axis = cutter.noseRadius - holder.noseToAxis;
  return {
    ...barBodies(holder, tool.stickOut, axis, -cutter.width / 2 + BACK, tip),
    cutting: [mapShape(insertOf(cutter), down)],
    noseRadius: cutter.noseRadius,
    corners: [{ number: 6, at: tip }],
    tipNumber: 6,
    tip,
    feeds: 'both',
  };
};

const faceSection = ({ cutter, holder, stickOut }: z.infer<typeof FaceThreadingSchema>): ToolSection => {
  const over = (p: Point): Point => point(p.y, p.x);
  const reach = shoulderOf(cutter) + BODY - 0.5;
  const overhang = Math.max(stickOut, reach + 8);
  const tip = scale(TIP_DIRECTION[7], cutter.noseRadius);
  const inner = -cutter.width / 2 + BACK;
  return {
    cutting: [mapShape(insertOf(cutter), over)],
    // the insert stands at the inner edge of its holder, which leans outward
    holder: [box(reach, inner, overhang + 4, inner + holder.side)],
    turret: [box(overhang, -TURRET.below, overhang + 2 * TURRET.halfThickness, -TURRET.below + TURRET.depth)],
    noseRadius: cutter.noseRadius,
    corners: [{ number: 7, at: tip }],
    tipNumber: 7,
    works: 'face',
    tip,
    gauge: point(overhang - tip.x, -tip.y),
    feeds: 'both',
    spindle: holder.hand === 'left' ? 'reverse' : 'forward',
  };
};

const pitches = (c: Cutter): string =>
  c.pitchMin === c.pitchMax ? `P ${c.pitchMin}` : `P ${c.pitchMin}–${c.pitchMax}`;
const describeCutter = (c: Cutter): string => `${c.angle}°${c.profile === 'full' ? ' full' : ''} · ${pitches(c)}`;

const cutterFields: readonly ToolField[] = [
  { key: 'cutter.angle', label: 'Flank angle', help: 'Included angle of the form: 60, 55 or 30°.', input: 'angle' },
  {
    key: 'cutter.profile',
    label: 'Form',
    help: 'A partial form cuts a range of pitches; a full one makes the crest of its own pitch too.',
    input: { options: ['partial', 'full'] },
  },
  { key: 'cutter.pitchMin', label: 'Least pitch', help: 'The finest thread that the insert cuts.', input: 'length' },
  {
    key: 'cutter.pitchMax',
    label: 'Greatest pitch',
    help: 'The coarsest thread that the insert cuts.',
    input: 'length',
  },
  { key: 'cutter.noseRadius', label: 'Nose radius', help: 'Radius at the root of the thread.', input: 'length' },
  { key: 'cutter.width', label: 'Form width', help: 'Width of the insert beside the thread.', input: 'length' },
];

const facts = (c: Cutter): Omit<ToolFacts, 'slender' | 'stands'> => ({
  approachAngle: 90 - c.angle / 2,
  insert: null,
  onCentre: null,
  bladeWidth: 0,
  enclosed: false,
  thread: { angle: c.angle, noseRadius: c.noseRadius, profile: c.profile, pitchMin: c.pitchMin, pitchMax: c.pitchMax },
});

export const threading = defineTool({
  kind: 'threading',
  schema: ThreadingSchema,
  name: 'an outside threading tool',
  describe: (t) => describeCutter(t.cutter),
  fields: [...cutterFields, ...shankFields],
  facts: (t) => ({ ...facts(t.cutter), slender: null, stands: 'across' }),
  waysUp: ['usual', 'turned'],
  section: (t, wayUp) => ({ ok: true, section: outerSection(t, wayUp) }),
});

export const threadingBar = defineTool({
  kind: 'threading-bar',
  schema: ThreadingBarSchema,
  name: 'an inside threading bar',
  describe: (t) => `${describeCutter(t.cutter)} · bar ⌀${t.holder.diameter}`,
  fields: [...cutterFields, ...barFields],
  facts: (t) => ({
    ...facts(t.cutter),
    slender: barSlender(t.holder, t.stickOut),
    stands: 'along',
  }),
  waysUp: ['usual'],
  section: (t) => ({ ok: true, section: innerSection(t) }),
});

export const faceThreading = defineTool({
  kind: 'face-threading',
  schema: FaceThreadingSchema,
  name: 'a face threading tool',
  describe: (t) => describeCutter(t.cutter),
  fields: [...cutterFields, ...shankFields],
  facts: (t) => ({ ...facts(t.cutter), slender: null, stands: 'along' }),
  waysUp: ['usual'],
  section: (t) => ({ ok: true, section: faceSection(t) }),
});
