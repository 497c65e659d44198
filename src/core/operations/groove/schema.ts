import { z } from 'zod';
import { typed } from '../../units';
import { choiceField } from '../fields';
import { type Field, operationBase } from '../types';

const params = z.object({
  /** Metal left on walls and floor by the plunges, mm; the walls are then finished. */
  allowance: typed().default(0.15),
  /** Plunges, then walls and floor finished from both sides; or plunges alone; or the walls alone. */
  passes: z.enum(['both', 'plunge', 'finish']).default('both'),
  /** Distance of plunges; null = the width of the flat front. */
  step: typed().nullable().default(null),
  /** Depth after which the blade stops and goes back a little, so that the chip breaks; 0 = in one go. */
  peck: typed().default(0),
  dwell: typed().default(0),
  /** Share of the feed for walls and floor, %. */
  finishFeed: typed().default(80),
  /** How far one wall's pass runs over the other's on the floor, mm. */
  overlap: typed().default(0.2),
});

export const OuterGrooveSchema = z.object({ ...operationBase, kind: z.literal('outer-groove'), params });
export const InnerGrooveSchema = z.object({ ...operationBase, kind: z.literal('inner-groove'), params });
export const FaceGrooveSchema = z.object({ ...operationBase, kind: z.literal('face-groove'), params });
export type GrooveOperation =
  | z.infer<typeof OuterGrooveSchema>
  | z.infer<typeof InnerGrooveSchema>
  | z.infer<typeof FaceGrooveSchema>;

export const grooveFields: Field[] = [
  choiceField(
    'params.passes',
    'Passes',
    'Cut',
    'Plunges from the middle outward, then both walls down to the floor; or only one of the two.',
    { both: 'both', plunge: 'plunges only', finish: 'walls only' },
  ),
  {
    key: 'params.allowance',
    label: 'Left by plunges',
    group: 'Cut',
    help: 'On walls and floor, for the finishing passes.',
    input: { kind: 'length', per: 'side' },
  },
  {
    key: 'params.step',
    label: 'Step',
    group: 'Cut',
    help: 'From plunge to plunge. Empty: the flat front of the blade, which leaves no cusps.',
    input: { kind: 'length', optional: 'flat front' },
  },
  {
    key: 'params.peck',
    label: 'Peck',
    group: 'Cut',
    help: 'Depth after which the blade goes back a little to break the chip. 0 plunges in one go.',
    input: { kind: 'length', per: 'side' },
  },
  {
    key: 'params.dwell',
    label: 'Dwell at depth',
    group: 'Cut',
    help: 'Seconds to stay at the bottom of a plunge.',
    input: { kind: 'number', unit: 's', step: 0.1 },
  },
  {
    key: 'params.finishFeed',
    label: 'Feed of the walls',
    group: 'Cut',
    help: 'Share of the feed for walls and floor.',
    input: { kind: 'number', unit: '%', step: 5 },
  },
  {
    key: 'params.overlap',
    label: 'Overlap',
    group: 'Cut',
    help: 'How far one wall’s pass runs over the other’s on the floor.',
    input: { kind: 'length' },
  },
];
