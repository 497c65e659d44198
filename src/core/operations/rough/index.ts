import { z } from 'zod';
import { passDepths } from '../../cutting';
import { clearByLevels, levelsBetween, lowestContact } from '../clearing';
import { closeOperation, EventList, openOperation, perRev } from '../events';
import {
  clearingOf,
  nothingCut,
  nothingPlanned,
  outputField,
  settleSide,
  sideParams,
  spanEndFields,
  undercutsField,
} from '../side';
import { note, tourCuts } from '../turning';
import { type Field, operationBase, type PlanContext, type Planned } from '../types';
import { planRoughCycle } from './cycle';

const params = z.object({
  /** mm per side. */
  depth: z.number(),
  passes: z.enum(['equal', 'full']).default('equal'),
  /** On diameter, mm. */
  allowanceX: z.number().default(0.4),
  allowanceZ: z.number().default(0.1),
  ...sideParams,
  undercuts: sideParams.undercuts.default('bridge'),
});

export const OuterRoughSchema = z.object({ ...operationBase, kind: z.literal('outer-rough'), params });
export const InnerRoughSchema = z.object({ ...operationBase, kind: z.literal('inner-rough'), params });
export type RoughOperation = z.infer<typeof OuterRoughSchema> | z.infer<typeof InnerRoughSchema>;

export const roughFields: Field[] = [
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

export const planRough = (op: RoughOperation, ctx: PlanContext): Planned => {
  const side = op.kind === 'outer-rough' ? 'outer' : 'inner';
  const settled = settleSide(
    { ...op.params, id: op.id, side, span: op.span, allowanceRadius: op.params.allowanceX / 2 },
    ctx,
  );
  if ('planned' in settled) return settled.planned;
  const { setting } = settled;
  const { frame, view, floor, top, clearLevel } = setting;
  const contact = lowestContact({ floor, stock: view.stock, cutting: view.cutting });
  if (contact === null || top - (contact - view.noseRadius) < 1e-3)
    return nothingPlanned(op.id, 'nothing-to-cut', 'attention');
  const lowest = contact - view.noseRadius;
  const depths = passDepths(top - lowest, op.params.depth, op.params.passes);
  const findings = [];
  if (op.params.output === 'cycle') {
    const cycle = planRoughCycle(op, ctx, { ...setting, floor: setting.bareFloor() });
    if (cycle.kind === 'planned') return cycle.planned;
    findings.push(
      note('info', 'cycle-not-possible', op.id, { reason: cycle.reason }, cycle.at ? frame.map(cycle.at) : null),
    );
  }
  const cleared = clearByLevels(clearingOf(setting, ctx, levelsBetween(top, depths, view.noseRadius), 0));
  if (cleared.cuts.length === 0) return nothingCut(op.id, cleared.skipped);
  const list = new EventList(op.id, ctx.section.tip);
  openOperation(list, ctx, op.cutting);
  tourCuts(list, {
    frame,
    cuts: cleared.cuts,
    clearLevel,
    gate: setting.gate,
    feed: () => perRev(op.cutting.feed),
    view,
    stock: view.stock,
  });
  closeOperation(list, ctx);
  for (const p of cleared.skipped) findings.push(note('attention', 'not-approachable', op.id, {}, frame.map(p)));
  if (depths[0] < view.noseRadius - 1e-9 && ctx.tool.kind === 'turning' && depths.length > 1)
    findings.push(note('info', 'pass-below-nose', op.id, { depth: depths[0], nose: view.noseRadius }));
  return { events: list.events, findings, depth: depths[0], contourKey: null };
};
