import { z } from 'zod';
import { type Finding, note } from '../../findings';
import { ChainDistance, type Curve, contourOfCentrePath, flattenChain, offsetChain, point } from '../../geometry';
import { typed } from '../../units';
import { type Cut, clearByPasses } from '../clearing';
import { backThrough, blocksOf, closeOperation, EventList, openOperation, perRev } from '../events';
import { INNER, OUTER, OUTER_BACK } from '../frame';
import { defineKind, type Need } from '../kind';
import { contourKeyOf, cycleGap, onGrid, steadyContour } from '../rough/cycle';
import {
  clearingOf,
  nothingCut,
  outputField,
  passesOf,
  type SideSetting,
  settleSide,
  sideParams,
  spanEndFields,
  undercutsField,
} from '../side';
import { tourCuts } from '../turning';
import { type Field, operationBase, type Planned, type Seen } from '../types';

/** Mean thickness of a finishing cut, mm, above which the metal wants roughing first. */
const DEEPEST_FINISH = 1.5;

const params = z.object({
  ...sideParams,
  undercuts: sideParams.undercuts.default('enter'),
  /** Who shifts the nose: the path is computed for it, or the control does it by G41/G42. */
  compensation: z.enum(['computed', 'control']).default('computed'),
  /** Passes again over the finished contour: what has sprung away comes off. */
  springPasses: typed().default(0),
});

const OuterFinishSchema = z.object({ ...operationBase, kind: z.literal('outer-finish'), params });
const InnerFinishSchema = z.object({ ...operationBase, kind: z.literal('inner-finish'), params });
type FinishOperation = z.infer<typeof OuterFinishSchema> | z.infer<typeof InnerFinishSchema>;

const fields: Field[] = [
  undercutsField('Enter follows hollows as far as the trailing edge allows; bridge passes over them.'),
  ...spanEndFields,
  {
    key: 'params.compensation',
    label: 'Nose radius',
    group: 'Output',
    help: 'Computed: the program names tip positions. By control: it names the contour with G41/G42, so that the operator can correct wear.',
    input: {
      kind: 'choice',
      options: [
        { value: 'computed', label: 'computed' },
        { value: 'control', label: 'G41 / G42' },
      ],
    },
  },
  {
    key: 'params.springPasses',
    label: 'Spring passes',
    group: 'Cut',
    help: 'Passes again over the same contour, for what a slender part or bar has sprung away from.',
    input: { kind: 'number', unit: '', step: 1 },
  },
  outputField('G70', 'The finishing cycle follows the contour blocks of an earlier roughing cycle of the same span.'),
];

const planFinish = (op: FinishOperation, seen: Seen): Planned => {
  const side = op.kind === 'outer-finish' ? 'outer' : 'inner';
  const settled = settleSide({ ...op.params, id: op.id, side, allowanceZ: 0, allowanceRadius: 0 }, seen);
  if ('planned' in settled) return settled.planned;
  const { setting } = settled;
  const { frame, view, clearLevel } = setting;
  const findings: Finding[] = [...setting.notes];
  if (op.params.output === 'cycle') {
    const cycle = planFinishCycle(op, seen, setting);
    if ('events' in cycle) return cycle;
    findings.push(note('info', 'cycle-not-possible', op.id, { reason: cycle.reason }));
  }
  const control = op.params.compensation === 'control';
  const cleared = clearByPasses(
    clearingOf(setting, seen, passesOf(setting, seen, null, 1), control ? view.noseRadius * 1.2 : 0),
  );
  if (cleared.cuts.length === 0) return nothingCut(op.id, cleared.skipped);
  const list = new EventList(op.id, seen.section.tip);
  openOperation(list, seen, op.cutting);
  // the tool stands on the right of travel in the frame; a mirrored frame turns that over
  const left = frame.mirrors;
  tourCuts(
    list,
    {
      frame,
      cuts: withSprings(cleared.cuts, op.params.springPasses),
      clearLevel,
      gate: setting.gate,
      feed: () => perRev(op.cutting.feed),
    },
    control
      ? (cut, write) => {
          const straightIn = cut.leadIn.length === 1 && cut.leadIn[0].kind === 'line';
          const made = straightIn
            ? compensable(cut.pieces, view.noseRadius, seen.place.grid)
            : { reason: 'there is no straight way in' };
          if ('reason' in made) {
            findings.push(
              note('info', 'compensation-not-possible', op.id, { reason: made.reason }, frame.map(cut.pieces[0].from)),
            );
            write();
            return;
          }
          const blocks = blocksOf(backThrough(frame, made.contour));
          const begin = frame.map(made.contour[0].from);
          const { noseRadius } = view;
          const { tipNumber } = seen.section;
          list.add('cut', {
            kind: 'compensation',
            side: left ? 'left' : 'right',
            noseRadius,
            tipNumber,
            contour: [{ kind: 'line', X: begin.y, Z: begin.x }, ...blocks],
          });
          write();
          list.add('cut', { kind: 'compensation', side: 'off', noseRadius, tipNumber, contour: [] });
        }
      : undefined,
  );
  closeOperation(list, seen);
  for (const p of cleared.skipped) findings.push(note('attention', 'not-approachable', op.id, {}, frame.map(p)));
  const depth = Math.max(0, ...cleared.cuts.map((c) => c.depth));
  if (depth > DEEPEST_FINISH)
    findings.push(note('attention', 'finish-too-deep', op.id, { depth, most: DEEPEST_FINISH }));
  return { events: list.events, findings, depth, contourKey: null };
};

/** The cuts, and again as many times: each time from over the clear level. */
const withSprings = (cuts: readonly Cut[], times: number): Cut[] => {
  const again = cuts.map((c, i): Cut => (i === 0 ? { ...c, link: 'over' } : c));
  return [...cuts, ...Array.from({ length: times }, () => again).flat()];
};

/** Greatest distance of points of one chain from another. */
const apart = (a: readonly Curve[], b: readonly Curve[]): number => {
  const to = new ChainDistance(b);
  return flattenChain(a, 0.01).reduce((most, p) => Math.max(most, to.from(p)), 0);
};

/** How far the control's path may be off the computed one, mm. */
const SAME_PATH = 2e-4;
/** The same with the contour’s words rounded, mm: below what a proof accepts. */
const ROUNDED_PATH = 8e-4;

/**
 * Contour whose compensated path is the given centre path again, checked over its whole length by offsetting it: a hollow
 * that the nose bridges is no contour, for the control would run straight across it.
 */
const compensable = (
  pieces: readonly Curve[],
  noseRadius: number,
  grid: number,
): { contour: Curve[] } | { reason: string } => {
  const made = contourOfCentrePath(pieces, -noseRadius);
  if (made.kind !== 'chain' || made.chain.length === 0) return { reason: 'the nose radius does not fit the contour' };
  const again = offsetChain(made.chain, -noseRadius);
  if (again.kind !== 'chain' || again.chain.length === 0) return { reason: 'the nose radius does not fit the contour' };
  if (Math.max(apart(pieces, again.chain), apart(again.chain, pieces)) > SAME_PATH)
    return { reason: 'the nose bridges a hollow that the control would cut across' };
  // near tangent pieces meet far off when their words are rounded: the contour is tried as the control will read it
  const written = offsetChain(onGrid(made.chain, grid), -noseRadius);
  if (written.kind !== 'chain' || Math.max(apart(pieces, written.chain), apart(written.chain, pieces)) > ROUNDED_PATH)
    return { reason: 'rounding its words would bend the control’s path' };
  return { contour: made.chain };
};

const planFinishCycle = (op: FinishOperation, seen: Seen, s: SideSetting): Planned | { reason: string } => {
  const { frame, view } = s;
  if (op.params.frontLimit !== null || op.params.backLimit !== null) return { reason: 'limits are set' };
  if (op.params.springPasses > 0) return { reason: 'the cycle runs the contour once' };
  const startU = Math.round((seen.place.stockFront + seen.place.safeDistance + 1) * 1000) / 1000;
  const contour = steadyContour(seen, s, startU);
  if ('reason' in contour) return { reason: contour.reason };
  const key = contourKeyOf(contour.chain);
  if (!seen.cycleContours.includes(key)) return { reason: 'there is no earlier roughing cycle over the same contour' };
  const centre = offsetChain(contour.chain, -view.noseRadius);
  if (centre.kind !== 'chain') return { reason: 'the nose is larger than an inside round of the contour' };
  if (frame.name === 'inner' && centre.chain.some((c) => c.to.y > s.ceiling))
    return { reason: 'it goes past the axis' };
  const list = new EventList(op.id, seen.section.tip);
  openOperation(list, seen, op.cutting);
  const tip = frame.map(seen.section.tip);
  const startV = Math.round((s.top + cycleGap(seen, Number.POSITIVE_INFINITY)) * 1000) / 1000;
  // the start is a tip position, the list wants nose centres
  const start = point(startU - tip.x, startV - tip.y);
  const place = (p: { x: number; y: number }) => frame.map(p);
  list.rapid('approach', place(start));
  const first = frame.map(contour.chain[0].from);
  const startTip = list.tipOf(place(start));
  list.add('cut', {
    kind: 'cycle',
    cycle: {
      kind: 'finish-contour',
      contour: [{ kind: 'line', X: first.y, Z: first.x }, ...blocksOf(backThrough(frame, contour.chain))],
      start: startTip,
      feed: op.cutting.feed,
      side: frame.mirrors ? 'left' : 'right',
      noseRadius: view.noseRadius,
    },
  });
  const chain = centre.chain;
  list.rapid('approach', place(chain[0].from));
  list.feed('cut', backThrough(frame, chain), perRev(op.cutting.feed));
  const last = chain[chain.length - 1].to;
  list.rapid('retract', place(point(last.x, start.y)));
  list.rapid('retract', place(start));
  list.add('cut', { kind: 'cycle-end' });
  if (frame.name === 'inner') list.rapid('retract', place(point(start.x + 1, start.y)));
  closeOperation(list, seen);
  return { events: list.events, findings: [], depth: 0, contourKey: null };
};

const common = {
  fields,
  purpose: 'finish',
  target: 'span',
  covers: 'finish',
  deep: false,
  starting: () => ({}),
  validate: ({ params }: FinishOperation, need: Need) =>
    need(
      Number.isInteger(params.springPasses) && params.springPasses >= 0 && params.springPasses <= 5,
      'Spring passes',
      params.springPasses,
      'a whole number, 0 to 5',
    ),
  plan: planFinish,
} as const;

export const outerFinish = defineKind({
  ...common,
  kind: 'outer-finish',
  schema: OuterFinishSchema,
  label: 'Outer finishing',
  short: 'finish outside',
  tools: ['turning'],
  needs: 'a turning tool',
  side: 'outer',
  rank: 50,
  needsHole: false,
  offeredFor: ['outer'],
  frame: (s) => (s.feeds === 'from-chuck' ? OUTER_BACK : OUTER),
});

export const innerFinish = defineKind({
  ...common,
  kind: 'inner-finish',
  schema: InnerFinishSchema,
  label: 'Inner finishing',
  short: 'finish bore',
  tools: ['boring'],
  needs: 'a boring bar',
  side: 'inner',
  rank: 60,
  needsHole: true,
  offeredFor: ['inner'],
  frame: () => INNER,
});
