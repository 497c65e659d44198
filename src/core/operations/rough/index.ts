import { z } from 'zod';
import { passDepths } from '../../cutting';
import { type Finding, note } from '../../findings';
import { typed } from '../../units';
import { clearByPasses, levelsBetween, lowestContact } from '../clearing';
import { closeOperation, EventList, openOperation, perRev } from '../events';
import { INNER, OUTER, OUTER_BACK } from '../frame';
import { defineKind, type Need } from '../kind';
import { Metal } from '../metal';
import {
  clearingOf,
  nothingCut,
  outputField,
  passesOf,
  settleSide,
  sideParams,
  spanEndFields,
  undercutsField,
} from '../side';
import { tourCuts } from '../turning';
import { type Field, nothing, operationBase, type Planned, type Seen } from '../types';
import { planRoughCycle } from './cycle';

const params = z.object({
  /** mm per side. */
  depth: typed(),
  passes: z.enum(['equal', 'full']).default('equal'),
  /** On diameter, mm. */
  allowanceX: typed().default(0.4),
  allowanceZ: typed().default(0.1),
  ...sideParams,
  undercuts: sideParams.undercuts.default('bridge'),
});

const OuterRoughSchema = z.object({ ...operationBase, kind: z.literal('outer-rough'), params });
const InnerRoughSchema = z.object({ ...operationBase, kind: z.literal('inner-rough'), params });
export type RoughOperation = z.infer<typeof OuterRoughSchema> | z.infer<typeof InnerRoughSchema>;

const fields: Field[] = [
  {
    key: 'params.depth',
    label: 'Depth per pass',
    group: 'Cut',
    help: 'Greatest depth of one pass, per side.',
    input: { kind: 'length', per: 'side' },
  },
  {
    key: 'params.passes',
    label: 'Passes',
    group: 'Cut',
    help: 'Equal passes share the depth evenly; full ones leave the remainder to the last.',
    input: {
      kind: 'choice',
      options: [
        { value: 'equal', label: 'equal' },
        { value: 'full', label: 'full, last less' },
      ],
    },
  },
  {
    key: 'params.allowanceX',
    label: 'Allowance X',
    group: 'Cut',
    help: 'Metal left for finishing, on diameter.',
    input: { kind: 'length', per: 'diameter' },
  },
  {
    key: 'params.allowanceZ',
    label: 'Allowance Z',
    group: 'Cut',
    help: 'Metal left for finishing on faces.',
    input: { kind: 'length' },
  },
  undercutsField(
    'Bridge passes over hollows and leaves them to a later tool; enter goes in as far as the trailing edge allows.',
  ),
  ...spanEndFields,
  outputField('G71', 'A roughing cycle is shorter in the program; separate moves follow the stock as it is.'),
];

/** More levels than this are a mistake in a number, not a plan. */
const MOST_LEVELS = 2000;

const planRough = (op: RoughOperation, seen: Seen): Planned => {
  const side = op.kind === 'outer-rough' ? 'outer' : 'inner';
  const settled = settleSide({ ...op.params, id: op.id, side, allowanceRadius: op.params.allowanceX / 2 }, seen);
  if ('planned' in settled) return settled.planned;
  const { setting } = settled;
  const { frame, view, floor, top, clearLevel } = setting;
  const metal = new Metal(frame, seen.metal, seen.fixtures);
  const contact = lowestContact(floor, metal, view.cutting, setting.ceiling);
  if (contact === null) return nothing([note('attention', 'nothing-to-cut', op.id, {})]);
  // metal may be left on the bottom of a bore alone, above the level of its wall
  const lowest = Math.min(contact - view.noseRadius, top - 1e-3);
  if ((top - lowest) / op.params.depth > MOST_LEVELS)
    return nothing([
      note('blocking', 'too-much-work', op.id, {
        what: 'The number of passes',
        number: (top - lowest) / op.params.depth,
        most: MOST_LEVELS,
      }),
    ]);
  const depths = passDepths(top - lowest, op.params.depth, op.params.passes);
  const findings: Finding[] = [...setting.notes];
  if (op.params.output === 'cycle') {
    const cycle = planRoughCycle(op, seen, { ...setting, floor: setting.bareFloor() });
    if (cycle.kind === 'planned') return cycle.planned;
    findings.push(
      note('info', 'cycle-not-possible', op.id, { reason: cycle.reason }, cycle.at ? frame.map(cycle.at) : null),
    );
  }
  const levels = levelsBetween(top, depths, view.noseRadius);
  const cleared = clearByPasses(clearingOf(setting, seen, passesOf(setting, seen, levels, op.params.depth), 0));
  if (cleared.cuts.length === 0) return nothingCut(op.id, cleared.skipped);
  const list = new EventList(op.id, seen.section.tip);
  openOperation(list, seen, op.cutting);
  tourCuts(list, { frame, cuts: cleared.cuts, clearLevel, gate: setting.gate, feed: () => perRev(op.cutting.feed) });
  closeOperation(list, seen);
  for (const p of cleared.skipped) findings.push(note('attention', 'not-approachable', op.id, {}, frame.map(p)));
  if (depths[0] < view.noseRadius - 1e-9 && seen.section.noseRadius > 0 && depths.length > 1)
    findings.push(note('info', 'pass-below-nose', op.id, { depth: depths[0], nose: view.noseRadius }));
  return { events: list.events, findings, depth: depths[0], contourKey: null };
};

const validate = (op: RoughOperation, need: Need): void => {
  need(op.params.depth >= 0.02, 'Depth per pass', op.params.depth, 'at least 0.02 mm');
  need(op.params.allowanceX >= 0 && op.params.allowanceX <= 20, 'Allowance X', op.params.allowanceX, '0 to 20 mm');
  need(op.params.allowanceZ >= 0 && op.params.allowanceZ <= 10, 'Allowance Z', op.params.allowanceZ, '0 to 10 mm');
};

const common = {
  fields,
  purpose: 'rough',
  target: 'span',
  covers: 'rough',
  deep: true,
  validate,
  plan: planRough,
} as const;

export const outerRough = defineKind({
  ...common,
  kind: 'outer-rough',
  schema: OuterRoughSchema,
  label: 'Outer roughing',
  short: 'rough outside',
  tools: ['turning'],
  needs: 'a turning tool',
  side: 'outer',
  rank: 30,
  needsHole: false,
  offeredFor: ['outer'],
  starting: ({ depth }) => ({ depth: Math.min(2.5, depth ?? 2) }),
  frame: (s) => (s.feeds === 'from-chuck' ? OUTER_BACK : OUTER),
});

export const innerRough = defineKind({
  ...common,
  kind: 'inner-rough',
  schema: InnerRoughSchema,
  label: 'Inner roughing',
  short: 'rough bore',
  tools: ['boring'],
  needs: 'a boring bar',
  side: 'inner',
  rank: 40,
  needsHole: true,
  offeredFor: ['inner'],
  starting: ({ depth }) => ({ depth: Math.min(1, depth ?? 1), allowanceX: 0.3 }),
  frame: () => INNER,
});
