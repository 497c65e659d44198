import { z } from 'zod';
import { type Point, point, type RoundedPolygon, scale } from '../../geometry';
import { amount } from '../../units';
import { assemblyBase, cutterBase, defineTool, length, type SectionResult } from '../kind';
import type { Mount } from '../mount';
import { box, TIP_DIRECTION, TURRET } from '../section';
import { ShankSchema, shankFields } from './bar';

const FormSchema = z.object({
  ...assemblyBase,
  kind: z.literal('form'),
  cutter: z.object({
    kind: z.literal('profile'),
    /** Front edge from left to right as places `z x` in mm, x from the lowest place upward, parted by semicolons. */
    profile: z.string().max(8000),
    /** Round of every corner: the places are the centres of a nose of this radius. */
    radius: amount(50).default(0),
    /** From the lowest place to the holder, mm. */
    reach: length(),
    ...cutterBase,
  }),
  holder: ShankSchema,
});
type FormTool = z.infer<typeof FormSchema>;

const MOST_POINTS = 400;

/** Places of a profile; a text that is none is told with the piece at fault. */
export const readProfile = (text: string): { ok: true; points: Point[] } | { ok: false; found: string } => {
  const pieces = text
    .split(/[;\n]/)
    .map((s) => s.trim())
    .filter((s) => s !== '');
  const points: Point[] = [];
  for (const piece of pieces) {
    const read = /^(-?\d*\.?\d+)[\s,]+(-?\d*\.?\d+)$/.exec(piece);
    if (!read) return { ok: false, found: piece.slice(0, 30) };
    const p = point(Number(read[1]), Number(read[2]));
    // the edge runs from left to right; it may rise straight up but never back
    if (points.length > 0 && p.x < points[points.length - 1].x) return { ok: false, found: piece.slice(0, 30) };
    points.push(p);
  }
  const [first, last] = [points[0], points[points.length - 1]];
  if (points.length < 2 || points.length > MOST_POINTS || last.x - first.x < 0.05)
    return { ok: false, found: text.slice(0, 30) };
  return { ok: true, points };
};

/** Places as the text of a profile has them. */
export const profileText = (points: readonly Point[]): string => points.map((p) => `${p.x} ${p.y}`).join('; ');

/** Convex pieces under a profile: what lies over each stretch of the edge, up to the holder. */
const pieces = (points: readonly Point[], radius: number, top: number): RoundedPolygon[] =>
  points.slice(1).flatMap((b, i) => {
    const a = points[i];
    if (b.x - a.x < 1e-6) return [];
    return [{ points: [a, b, point(b.x, top), point(a.x, top)], radius }];
  });

const section = (tool: FormTool, wayUp: Mount['wayUp']): SectionResult => {
  const { cutter, holder } = tool;
  const read = readProfile(cutter.profile);
  if (!read.ok) return { ok: false, code: 'profile', found: read.found };
  const low = Math.min(...read.points.map((p) => p.y));
  const lowest = read.points.find((p) => p.y === low) as Point;
  // the lowest place is the origin
  const edge = read.points.map((p) => point(p.x - lowest.x, p.y - low));
  const high = Math.max(...edge.map((p) => p.y));
  if (high >= cutter.reach) return { ok: false, code: 'profile', found: `${high} mm high, reach ${cutter.reach}` };
  const overhang = Math.max(tool.stickOut, cutter.reach + 8);
  const middle = (edge[0].x + edge[edge.length - 1].x) / 2;
  const left = middle - Math.max(holder.side, edge[edge.length - 1].x - edge[0].x) / 2;
  const width = 2 * (middle - left);
  const tip = scale(TIP_DIRECTION[8], cutter.radius);
  return {
    ok: true,
    section: {
      cutting: pieces(edge, cutter.radius, cutter.reach),
      holder: [box(left, cutter.reach, left + width, overhang + 4)],
      turret: [box(left - 12, overhang, left - 12 + 2 * TURRET.halfThickness, overhang + TURRET.depth)],
      noseRadius: cutter.radius,
      corners: [{ number: 8, at: tip }],
      tipNumber: 8,
      tip,
      gauge: point(0, overhang - tip.y),
      feeds: 'both',
      spindle: wayUp === 'turned' ? 'reverse' : 'forward',
    },
  };
};

const widthOf = (t: FormTool): number => {
  const read = readProfile(t.cutter.profile);
  return read.ok ? read.points[read.points.length - 1].x - read.points[0].x + 2 * t.cutter.radius : 0;
};

export const form = defineTool({
  kind: 'form',
  schema: FormSchema,
  name: 'a form tool',
  describe: (t) => `form ${Number(widthOf(t).toFixed(2))} wide · reach ${t.cutter.reach}`,
  fields: [
    {
      key: 'cutter.profile',
      label: 'Profile',
      help: 'Front edge from left to right as places “z x”, parted by semicolons; x counts from the lowest place upward.',
      input: 'profile',
    },
    {
      key: 'cutter.radius',
      label: 'Corner radius',
      help: 'The places are the centres of a nose of this radius; 0 for sharp corners.',
      input: 'length',
    },
    { key: 'cutter.reach', label: 'Reach', help: 'From the lowest place of the edge to the holder.', input: 'length' },
    ...shankFields,
  ],
  facts: () => ({
    approachAngle: 90,
    insert: null,
    onCentre: null,
    bladeWidth: 0,
    slender: null,
    enclosed: true,
    stands: 'across',
  }),
  waysUp: ['usual', 'turned'],
  section,
});
