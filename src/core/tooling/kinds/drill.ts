import { z } from 'zod';
import { point } from '../../geometry';
import { angle as degrees } from '../../units';
import { assemblyBase, cutterBase, defineTool, length } from '../kind';
import { box, drillPointLength, sharp } from '../section';
import { onCentreSection, SleeveSchema } from './onCentre';

const DrillSchema = z.object({
  ...assemblyBase,
  kind: z.literal('drill'),
  cutter: z.object({
    kind: z.literal('drill'),
    diameter: length(),
    /** Edge to edge, degrees; 180 for a flat bottom. */
    pointAngle: degrees(1, 180).default(140),
    /** Length that can go into the hole, mm. */
    fluteLength: length(),
    ...cutterBase,
  }),
  holder: SleeveSchema,
});

export const drill = defineTool({
  kind: 'drill',
  schema: DrillSchema,
  name: 'a drill',
  describe: (t) => `⌀${t.cutter.diameter} · ${t.cutter.pointAngle}°`,
  fields: [
    { key: 'cutter.diameter', label: 'Diameter', help: 'Diameter of the drill.', input: 'length' },
    {
      key: 'cutter.pointAngle',
      label: 'Point angle',
      help: 'Angle of the point, edge to edge; 180° makes a flat bottom.',
      input: 'angle',
    },
    { key: 'cutter.fluteLength', label: 'Flutes', help: 'Length that can go into the hole.', input: 'length' },
    { key: 'holder.diameter', label: 'Sleeve ⌀', help: 'Outside of the sleeve that holds it.', input: 'length' },
  ],
  facts: (t) => ({
    approachAngle: t.cutter.pointAngle / 2,
    insert: null,
    onCentre: { diameter: t.cutter.diameter, pointAngle: t.cutter.pointAngle },
    bladeWidth: 0,
    slender: null,
    enclosed: true,
    stands: 'along',
  }),
  waysUp: ['usual'],
  section: (t) => {
    const r = t.cutter.diameter / 2;
    const { fluteLength } = t.cutter;
    const h = drillPointLength(t.cutter.diameter, t.cutter.pointAngle);
    const edges = sharp([point(0, 0), point(h, -r), point(fluteLength, -r), point(fluteLength, r), point(h, r)]);
    const bare = t.stickOut > fluteLength ? box(fluteLength, -r, t.stickOut, r) : null;
    return { ok: true, section: onCentreSection([edges], bare, t.holder, t.stickOut) };
  },
});
