import { z } from 'zod';
import { typed } from '../../units';
import { choiceField } from '../fields';
import { type Field, operationBase } from '../types';

const params = z.object({
  /** Metal left on walls and floor by the plunges, mm; the walls are then finished. */
  allowance: typed().default(0.15),
  /** How the metal comes out: plunge by plunge, level by level, or by a round blade that rolls in and out. */
  method: z.enum(['plunge', 'turn', 'roll']).default('plunge'),
  /** Depth of a level, mm; null = half the blade's width, or half the radius of a round one. */
  depth: typed().nullable().default(null),
  /** How plunges are posted. */
  output: z.enum(['moves', 'cycle']).default('moves'),
  /** All grooves of the side that have the same shape, one after another. */
  alike: z.boolean().default(false),
  /** Roughing, then walls and floor finished from both sides; or roughing alone; or the walls alone. */
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
    'The metal comes out first, then both walls are run down to the floor; or only one of the two.',
    { both: 'both', plunge: 'rough only', finish: 'walls only' },
  ),
  choiceField(
    'params.method',
    'Metal comes out',
    'Cut',
    'Plunges go from the middle outward, levels from wall to wall. A round blade may roll in and out: no chip is thicker than a level.',
    { plunge: 'by plunges', turn: 'by levels', roll: 'rolling, round blade' },
  ),
  {
    key: 'params.depth',
    label: 'Depth of a level',
    group: 'Cut',
    help: 'Empty: half the width of the blade; when rolling, half the radius of the round blade.',
    input: { kind: 'length', per: 'side', optional: 'half the blade' },
    showWhen: { key: 'params.method', isNot: 'plunge' },
  },
  {
    key: 'params.allowance',
    label: 'Left by roughing',
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
    showWhen: { key: 'params.method', is: 'plunge' },
  },
  {
    key: 'params.peck',
    label: 'Peck',
    group: 'Cut',
    help: 'Depth after which the blade goes back a little to break the chip. 0 plunges in one go.',
    input: { kind: 'length', per: 'side' },
    showWhen: { key: 'params.method', is: 'plunge' },
  },
  {
    key: 'params.dwell',
    label: 'Dwell at depth',
    group: 'Cut',
    help: 'Seconds to stay at the bottom of a plunge.',
    input: { kind: 'number', unit: 's', step: 0.1 },
    showWhen: { key: 'params.method', is: 'plunge' },
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
  {
    ...choiceField(
      'params.output',
      'Posted as',
      'Output',
      'Plunges of one depth can be the control’s grooving cycle; separate moves follow the stock as it is.',
      { moves: 'moves', cycle: 'cycle G75, in a face G74' },
    ),
    showWhen: { key: 'params.method', is: 'plunge' },
  },
  {
    key: 'params.alike',
    label: 'All grooves alike',
    group: 'Span ends',
    help: 'Cuts every groove of this side that has the same shape, one after another.',
    input: { kind: 'toggle' },
  },
];
