import { z } from 'zod';
import { type Curve, contourOfCentrePath, offsetChain, point } from '../../geometry';
import { clearByLevels } from '../clearing';
import { backThrough, blocksOf, closeOperation, EventList, openOperation, perRev } from '../events';
import { contourKeyOf, steadyContour } from '../rough/cycle';
import {
  clearingOf,
  nothingCut,
  outputField,
  type SideSetting,
  settleSide,
  sideParams,
  spanEndFields,
  undercutsField,
} from '../side';
import { note, tourCuts } from '../turning';
import { type Field, type Finding, operationBase, type PlanContext, type Planned } from '../types';

/** Mean thickness of a finishing cut, mm, above which the metal wants roughing first. */
const DEEPEST_FINISH = 1.5;

const params = z.object({
  ...sideParams,
  undercuts: sideParams.undercuts.default('enter'),
  /** Who shifts the nose: the path is computed for it, or the control does it by G41/G42. */
  compensation: z.enum(['computed', 'control']).default('computed'),
});

export const OuterFinishSchema = z.object({ ...operationBase, kind: z.literal('outer-finish'), params });
export const InnerFinishSchema = z.object({ ...operationBase, kind: z.literal('inner-finish'), params });
export type FinishOperation = z.infer<typeof OuterFinishSchema> | z.infer<typeof InnerFinishSchema>;

export const finishFields: Field[] = [
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
  outputField('G70', 'The finishing cycle follows the contour blocks of an earlier roughing cycle of the same span.'),
];

export const planFinish = (op: FinishOperation, ctx: PlanContext): Planned => {
  const side = op.kind === 'outer-finish' ? 'outer' : 'inner';
  const settled = settleSide({ ...op.params, id: op.id, side, span: op.span, allowanceZ: 0, allowanceRadius: 0 }, ctx);
  if ('planned' in settled) return settled.planned;
  const { setting } = settled;
  const { frame, view, clearLevel } = setting;
  const findings: Finding[] = [];
  if (op.params.output === 'cycle') {
    const cycle = planFinishCycle(op, ctx, setting);
    if ('events' in cycle) return cycle;
    findings.push(note('info', 'cycle-not-possible', op.id, { reason: cycle.reason }));
  }
  const cleared = clearByLevels(
    clearingOf(setting, ctx, [null], op.params.compensation === 'control' ? view.noseRadius * 1.2 : 0),
  );
  if (cleared.cuts.length === 0) return nothingCut(op.id, cleared.skipped);
  const list = new EventList(op.id, ctx.section.tip);
  openOperation(list, ctx, op.cutting);
  const left = frame.mirrors; // the tool stands on the right of travel in the frame; a mirrored frame turns that over
  tourCuts(
    list,
    {
      frame,
      cuts: cleared.cuts,
      clearLevel,
      gate: setting.gate,
      feed: () => perRev(op.cutting.feed),
      view,
      stock: view.stock,
    },
    op.params.compensation === 'control'
      ? (cut, write) => {
          const straightIn = cut.leadIn.length === 1 && cut.leadIn[0].kind === 'line';
          const contour = straightIn ? compensable(cut.pieces, view.noseRadius) : null;
          if (!contour) {
            findings.push(note('info', 'compensation-not-possible', op.id, {}, frame.map(cut.pieces[0].from)));
            write();
            return;
          }
          const blocks = blocksOf(backThrough(frame, contour));
          const begin = frame.map(contour[0].from);
          list.add('cut', {
            kind: 'compensation',
            side: left ? 'left' : 'right',
            noseRadius: view.noseRadius,
            tipNumber: ctx.section.tipNumber,
            contour: [{ kind: 'line', X: begin.y, Z: begin.x }, ...blocks],
          });
          write();
          list.add('cut', {
            kind: 'compensation',
            side: 'off',
            noseRadius: view.noseRadius,
            tipNumber: ctx.section.tipNumber,
            contour: [],
          });
        }
      : undefined,
  );
  closeOperation(list, ctx);
  for (const p of cleared.skipped) findings.push(note('attention', 'not-approachable', op.id, {}, frame.map(p)));
  const depth = Math.max(0, ...cleared.cuts.map((c) => c.depth));
  if (depth > DEEPEST_FINISH)
    findings.push(note('attention', 'finish-too-deep', op.id, { depth, most: DEEPEST_FINISH }));
  return { events: list.events, findings, depth, contourKey: null };
};

/** Contour whose compensated path is the given centre path again (checked by offsetting it), or null. */
const compensable = (pieces: readonly Curve[], noseRadius: number): Curve[] | null => {
  const contour = contourOfCentrePath(pieces, -noseRadius);
  if (contour.kind !== 'chain' || contour.chain.length === 0) return null;
  const again = offsetChain(contour.chain, -noseRadius);
  if (again.kind !== 'chain' || again.chain.length === 0) return null;
  const close = (a: { x: number; y: number }, b: { x: number; y: number }): boolean =>
    Math.hypot(a.x - b.x, a.y - b.y) < 2e-4;
  return close(again.chain[0].from, pieces[0].from) &&
    close(again.chain[again.chain.length - 1].to, pieces[pieces.length - 1].to)
    ? contour.chain
    : null;
};

const planFinishCycle = (op: FinishOperation, ctx: PlanContext, s: SideSetting): Planned | { reason: string } => {
  const { frame, view } = s;
  const startU = Math.round((ctx.stockDocument.frontAllowance + ctx.holding.safeDistance + 1) * 1000) / 1000;
  const contour = steadyContour(ctx, s, startU);
  if ('reason' in contour) return { reason: contour.reason };
  const key = contourKeyOf(contour.chain);
  if (!ctx.cycleContours.some((c) => c.key === key))
    return { reason: 'no earlier roughing cycle over the same contour' };
  const centre = offsetChain(contour.chain, -view.noseRadius);
  if (centre.kind !== 'chain') return { reason: 'the nose is larger than an inside round of the contour' };
  const list = new EventList(op.id, ctx.section.tip);
  openOperation(list, ctx, op.cutting);
  const tip = frame.map(ctx.section.tip);
  const startV = Math.round((s.top + (frame.name === 'inner' ? 0.5 : ctx.holding.safeDistance)) * 1000) / 1000;
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
  closeOperation(list, ctx);
  return { events: list.events, findings: [], depth: 0, contourKey: null };
};
