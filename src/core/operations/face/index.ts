import { z } from 'zod';
import { passDepths } from '../../cutting';
import { clipGraph, line, point, regionBounds } from '../../geometry';
import { clearByLevels, levelsBetween } from '../clearing';
import { closeOperation, EventList, openOperation, perRev } from '../events';
import { FACE } from '../frame';
import { note, tourCuts, viewOf } from '../turning';
import { type Field, operationBase, type PlanContext, type Planned } from '../types';

export const FaceSchema = z.object({
  ...operationBase,
  kind: z.literal('face'),
  params: z.object({
    /** mm per pass along Z. */
    depth: z.number(),
    /** Last pass, mm; 0 = no separate pass. */
    finishDepth: z.number().default(0.3),
    finishFeed: z.number().default(0.12),
    /** Where the face comes to lie; null = the part's front. */
    targetZ: z.number().nullable().default(null),
    /** Diameter at which the pass ends; null = past the centre (or the bore). */
    toDiameter: z.number().nullable().default(null),
  }),
});
export type FaceOperation = z.infer<typeof FaceSchema>;

export const faceFields: Field[] = [
  {
    key: 'params.depth',
    label: 'Depth per pass',
    group: 'Cut',
    help: 'Greatest thickness taken in one pass along Z. The passes are made equal.',
    input: { kind: 'length' },
  },
  {
    key: 'params.finishDepth',
    label: 'Last pass',
    group: 'Cut',
    help: 'Thickness left for the last, fine pass. 0 makes no separate pass.',
    input: { kind: 'length' },
  },
  {
    key: 'params.finishFeed',
    label: 'Feed of last pass',
    group: 'Cut',
    help: 'Feed per turn in the last pass.',
    input: { kind: 'number', unit: 'mm/rev', step: 0.01 },
  },
  {
    key: 'params.targetZ',
    label: 'Face at Z',
    group: 'Span ends',
    help: 'Where the face comes to lie. Empty: the front of the part.',
    input: { kind: 'length', optional: 'part front' },
  },
  {
    key: 'params.toDiameter',
    label: 'End at ⌀',
    group: 'Span ends',
    help: 'Diameter at which the pass stops, to leave a hub. Empty: past the centre.',
    input: { kind: 'length', per: 'diameter', optional: 'centre' },
  },
];

export const planFace = (op: FaceOperation, ctx: PlanContext): Planned => {
  const list = new EventList(op.id, ctx.section.tip);
  const view = viewOf(ctx, FACE);
  const partFront = ctx.part.region.length > 0 ? regionBounds(ctx.part.region).maxX : 0;
  const target = op.params.targetZ ?? partFront;
  const stockBounds = regionBounds(ctx.stock);
  const top = stockBounds.maxX;
  const findings = [];
  if (target < partFront - 1e-6)
    findings.push(note('blocking', 'face-below-part', op.id, { target, front: partFront }, point(target, 0)));
  if (top - target <= 1e-6) {
    findings.push(note('attention', 'nothing-to-cut', op.id, { target, top }, point(target, 0)));
    return { events: [], findings, depth: 0, contourKey: null };
  }
  const total = top - target;
  const finish = Math.min(op.params.finishDepth, total);
  const depths = [...passDepths(total - finish, op.params.depth, 'equal'), ...(finish > 1e-9 ? [finish] : [])];
  const levels = levelsBetween(top, depths, view.noseRadius);
  const inner = op.params.toDiameter === null ? -0.02 : op.params.toDiameter / 2 + view.noseRadius;
  const outerEdge = stockBounds.maxY + view.noseRadius + ctx.holding.safeDistance * 2;
  const floor = clipGraph(
    [line(point(inner, target + view.noseRadius), point(outerEdge, target + view.noseRadius))],
    inner,
    outerEdge,
  );
  const clearLevel = top + view.noseRadius + ctx.holding.safeDistance;
  const cleared = clearByLevels({
    floor,
    levels,
    stock: view.stock,
    obstacles: view.obstacles,
    cutting: view.cutting,
    holder: view.holder,
    safe: ctx.holding.safeDistance,
    clearLevel,
    leadLength: 0,
    noseRadius: view.noseRadius,
    retract: Math.min(0.5, ctx.holding.safeDistance),
  });
  openOperation(list, ctx, op.cutting);
  const last = cleared.cuts.length - 1;
  tourCuts(list, {
    frame: FACE,
    cuts: cleared.cuts,
    clearLevel,
    gate: outerEdge,
    feed: (_, i) => perRev(finish > 1e-9 && i === last ? op.params.finishFeed : op.cutting.feed),
    view,
    stock: view.stock,
  });
  closeOperation(list, ctx);
  for (const p of cleared.skipped) findings.push(note('attention', 'not-approachable', op.id, {}, FACE.map(p)));
  return { events: list.events, findings, depth: Math.max(...depths), contourKey: null };
};
