import { z } from 'zod';
import { point, type RoundedPolygon, radians } from '../../geometry';
import { assemblyBase, cutterBase, defineTool, length } from '../kind';
import { drillPointLength, sharp } from '../section';
import { onCentreSection, SleeveSchema } from './onCentre';

/** Angle of the pilot's point and of the seat for the centre, degrees (DIN 332 form A, DIN 333). */
const POINT = 118;
export const SEAT = 60;

const CentringSchema = z.object({
  ...assemblyBase,
  kind: z.literal('centring'),
  cutter: z.object({
    kind: z.literal('centre-drill'),
    /** d1 of the centre hole, mm. */
    pilot: length(),
    /** From the point to where the seat begins, mm. */
    pilotLength: length(),
    /** Diameter of the body, mm: the widest mouth that it can make. */
    body: length(),
    ...cutterBase,
  }),
  holder: SleeveSchema,
});
type CentringTool = z.infer<typeof CentringSchema>;

/** Depth of the point below a mouth of a diameter, mm: pilot, then the 60° seat. */
export const centringDepth = (cutter: CentringTool['cutter'], mouth: number): number =>
  cutter.pilotLength + (mouth - cutter.pilot) / 2 / Math.tan(radians(SEAT / 2));

/** Pilot with its point, and seat with the body behind it: two convex pieces. */
const pieces = ({ cutter, stickOut }: CentringTool): RoundedPolygon[] => {
  const r1 = cutter.pilot / 2;
  const r2 = cutter.body / 2;
  const tip = drillPointLength(cutter.pilot, POINT);
  const seat = cutter.pilotLength;
  const shoulder = centringDepth(cutter, cutter.body);
  const end = Math.max(stickOut, shoulder + 1);
  return [
    sharp([point(0, 0), point(tip, -r1), point(shoulder, -r1), point(shoulder, r1), point(tip, r1)]),
    sharp([
      point(seat, -r1),
      point(shoulder, -r2),
      point(end, -r2),
      point(end, r2),
      point(shoulder, r2),
      point(seat, r1),
    ]),
  ];
};

export const centring = defineTool({
  kind: 'centring',
  schema: CentringSchema,
  name: 'a centre drill',
  describe: (t) => `centre ⌀${t.cutter.pilot} · body ⌀${t.cutter.body}`,
  fields: [
    { key: 'cutter.pilot', label: 'Pilot ⌀', help: 'd1 of the centre hole by DIN 332.', input: 'length' },
    { key: 'cutter.pilotLength', label: 'Pilot length', help: 'From the point to the 60° seat.', input: 'length' },
    { key: 'cutter.body', label: 'Body ⌀', help: 'The widest mouth it can make.', input: 'length' },
    { key: 'holder.diameter', label: 'Sleeve ⌀', help: 'Outside of the sleeve that holds it.', input: 'length' },
  ],
  facts: (t) => ({
    approachAngle: SEAT / 2,
    insert: null,
    onCentre: { diameter: t.cutter.pilot, pointAngle: POINT },
    bladeWidth: 0,
    slender: null,
    enclosed: true,
    stands: 'along',
  }),
  waysUp: ['usual'],
  section: (t) => ({ ok: true, section: onCentreSection(pieces(t), null, t.holder, t.stickOut) }),
});
