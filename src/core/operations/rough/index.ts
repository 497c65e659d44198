import { z } from 'zod';
import { passDepths } from '../../cutting';
import { type Finding, note } from '../../findings';
import { graphPoints, greatestDistance, line, point, upperEnvelope, VOID } from '../../geometry';
import { deepestPositions } from '../../tooling';
import { typed } from '../../units';
import { clearByPasses, levelsBetween } from '../clearing';
import type { Pass } from '../clearingJob';
import { closeOperation, EventList, openOperation, perRev } from '../events';
import { choiceField } from '../fields';
import { lowestContact, meetsMetal } from '../inMetal';
import { defineKind, type Need } from '../kind';
import { cutsWith, Metal } from '../metal';
import { secondField, secondParam } from '../second';
import {
  clearingOf,
  innerFrame,
  nothingCut,
  outerFrame,
  outputField,
  passesOf,
  settleSide,
  sideParams,
  spanEndFields,
  undercutsField,
} from '../side';
import { FAR, type SideSetting } from '../sideRequest';
import { linesOf, tourCuts } from '../turning';
import { type Field, nothing, operationBase, type Planned, type Seen } from '../types';
import { type CycleOutcome, planPatternCycle, planRoughCycle } from './cycle';
import { roughSketch } from './sketch';

const params = z.object({
  /** mm per side. */
  depth: typed(),
  passes: z.enum(['equal', 'full', 'falling']).default('equal'),
  /** Which way the passes run: along the axis, across it, or along the contour. */
  along: z.enum(['z', 'x', 'contour']).default('z'),
  /** On diameter, mm. */
  allowanceX: typed().default(0.4),
  allowanceZ: typed().default(0.1),
  ...sideParams,
  undercuts: sideParams.undercuts.default('bridge'),
});

const OuterRoughSchema = z.object({
  ...operationBase,
  kind: z.literal('outer-rough'),
  params: params.extend(secondParam),
});
const InnerRoughSchema = z.object({ ...operationBase, kind: z.literal('inner-rough'), params });
export type RoughOperation = z.infer<typeof OuterRoughSchema> | z.infer<typeof InnerRoughSchema>;

const wayField = (options: Readonly<Record<string, string>>): Field =>
  choiceField(
    'params.along',
    'Passes run',
    'Cut',
    'Along Z for long shapes; along X for flat ones, in a bore outward; along the contour where the stock has its shape.',
    options,
  );

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
    help: 'Equal ones share the depth; full ones leave the remainder to the last; falling ones take less and less, for tough skins.',
    input: {
      kind: 'choice',
      options: [
        { value: 'equal', label: 'equal' },
        { value: 'full', label: 'full, last less' },
        { value: 'falling', label: 'falling' },
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
  outputField('G71–G73', 'A roughing cycle is shorter in the program; separate moves follow the stock as it is.'),
];

/** More passes along the contour than this are a mistake in a number. */
const MOST_OFFSETS = 200;
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
  const along = op.params.along === 'contour';
  const thickness = along ? thicknessOver(op, setting, metal) : top - lowest;
  const depths = passDepths(thickness, op.params.depth, op.params.passes, view.noseRadius);
  const findings: Finding[] = [...setting.notes];
  if (op.params.output === 'cycle') {
    const bare = { ...setting, floor: setting.bareFloor() };
    const cycle: CycleOutcome = along ? planPatternCycle(op, seen, bare, thickness) : planRoughCycle(op, seen, bare);
    if (cycle.kind === 'planned') {
      const { planned } = cycle;
      if (op.params.passes === 'equal') return planned;
      const own = note('info', 'cycle-own-way', op.id, { what: 'takes equal passes' });
      return { ...planned, findings: [...planned.findings, own] };
    }
    findings.push(
      note('info', 'cycle-not-possible', op.id, { reason: cycle.reason }, cycle.at ? frame.out(cycle.at) : null),
    );
  }
  const passes = along
    ? upAlongLimit(
        setting,
        frame.outward ? op.params.frontLimit : op.params.backLimit,
        passesAlong(setting, thickness, depths),
      )
    : passesOf(setting, seen, levelsBetween(top, depths, view.noseRadius), op.params.depth);
  const cleared = clearByPasses({ ...clearingOf(setting, seen, passes, 0), again: along });
  if (cleared.cuts.length === 0) return nothingCut(op.id, cleared.skipped);
  const list = new EventList(op.id, seen.section.tip);
  openOperation(list, seen, op.cutting);
  tourCuts(list, { frame, cuts: cleared.cuts, clearLevel, gate: setting.gate, feed: () => perRev(op.cutting.feed) });
  closeOperation(list, seen);
  for (const p of cleared.skipped) findings.push(note('attention', 'not-approachable', op.id, {}, frame.out(p)));
  if (depths[0] < view.noseRadius - 1e-9 && seen.section.noseRadius > 0 && depths.length > 1)
    findings.push(note('info', 'pass-below-nose', op.id, { depth: depths[0], nose: view.noseRadius }));
  return { events: list.events, findings, depth: depths[0], contourKey: null };
};

/** Passes that follow the contour, each so much nearer to it, from the outermost that still meets metal. */
const passesAlong = (s: SideSetting, thickness: number, depths: readonly number[]): Pass[] => {
  let left = thickness;
  return depths.map((d): Pass => {
    left -= d;
    return { graph: s.floorAbove(Math.max(0, left)), level: null };
  });
};

/**
 * A limit is no contour: where that rises behind it, the first passes follow the rise in front of the limit, and those that
 * end at the limit face away what stays between.
 */
const upAlongLimit = (s: SideSetting, limit: number | null, passes: readonly Pass[]): readonly Pass[] => {
  const top = Number.isFinite(s.ceiling) ? s.ceiling : s.clearLevel;
  if (limit === null) return passes;
  return passes.map((pass) => {
    const end = pass.graph[0]?.from;
    return !end || end.y > top - 1e-6 ? pass : { ...pass, graph: [line(point(end.x, top), end), ...pass.graph] };
  });
};

/** How near the thickness of a layer is found, as a share of a pass. */
const NEAR_ENOUGH = 1 / 32;
/** Corners of metal that move its top by no more than this are passed over while its thickness is looked for, mm. */
const THINNED = 0.02;

/**
 * Thickest layer of metal over the contour with its allowance, where the tool meets it, mm. Metal left all round the contour
 * pushes the tool's lowest places off by as much: how far the places where it touches metal lie from them is the thickness,
 * unless something else holds the tool off.
 */
const thicknessOver = (op: RoughOperation, s: SideSetting, metal: Metal): number => {
  const meets = (more: number): boolean => meetsMetal(s.floorAbove(more), metal, s.view.cutting, s.ceiling);
  const near = op.params.depth * NEAR_ENOUGH;
  const farthest = MOST_OFFSETS * op.params.depth;
  const top = metal.surface.upperPoints(THINNED, s.from - FAR, s.to + FAR).filter((p) => p.y > VOID);
  const touching = deepestPositions(linesOf(top), cutsWith(s.frame, s.view.cutting), s.from, s.to);
  const over = graphPoints(upperEnvelope([...s.floor, ...touching]), THINNED);
  const most = Math.min(farthest, greatestDistance(over, s.floor, near / 2) + near / 2);
  // outside, a first pass that meets nothing after all does no harm
  if (!meets(most) && (s.ceiling === Number.POSITIVE_INFINITY || meets(most - near))) return most;
  let high = most;
  while (high < farthest && meets(high)) high += op.params.depth;
  let low = high - op.params.depth;
  // from outside inward: between two layers there may be none
  while (low > 0 && !meets(low)) [low, high] = [Math.max(0, low - op.params.depth), low];
  while (high - low > near) {
    const middle = (low + high) / 2;
    if (meets(middle)) low = middle;
    else high = middle;
  }
  return high;
};

const validate = (op: RoughOperation, need: Need): void => {
  need(op.params.depth >= 0.02, 'Depth per pass', op.params.depth, 'at least 0.02 mm');
  need(op.params.allowanceX >= 0 && op.params.allowanceX <= 20, 'Allowance X', op.params.allowanceX, '0 to 20 mm');
  need(op.params.allowanceZ >= 0 && op.params.allowanceZ <= 10, 'Allowance Z', op.params.allowanceZ, '0 to 10 mm');
};

const common = {
  purpose: 'rough',
  target: 'span',
  covers: 'rough',
  deep: true,
  validate,
  sketch: roughSketch,
  plan: planRough,
} as const;

export const outerRough = defineKind({
  ...common,
  fields: [wayField({ z: 'along Z', x: 'along X', contour: 'along the contour' }), ...fields, secondField],
  second: (op) => op.params.second,
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
  frame: (s, op) => outerFrame(s, op.params.along),
});

export const innerRough = defineKind({
  ...common,
  fields: [wayField({ z: 'along Z', x: 'along X', contour: 'along the contour' }), ...fields],
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
  frame: (s, op) => innerFrame(s, op.params.along),
});
