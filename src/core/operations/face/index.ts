import { z } from 'zod';
import { passDepths } from '../../cutting';
import { type Finding, note } from '../../findings';
import { boundsOfCurves, clipGraph, line, point, VOID } from '../../geometry';
import { typed } from '../../units';
import { clearByPasses, levelPasses, levelsBetween } from '../clearing';
import { closeOperation, EventList, openOperation, perRev } from '../events';
import { FACE } from '../frame';
import { defineKind } from '../kind';
import { Lips } from '../lips';
import { Metal } from '../metal';
import { groundOf, tourCuts, viewOf } from '../turning';
import { type Field, nothing, operationBase, type Planned, type Seen, topOver } from '../types';
import { faceSketch } from './sketch';

const FaceSchema = z.object({
  ...operationBase,
  kind: z.literal('face'),
  params: z.object({
    /** mm per pass along Z. */
    depth: typed(),
    /** Last pass, mm; 0 = no separate pass. */
    finishDepth: typed().default(0.3),
    finishFeed: typed().default(0.12),
    /** Where the face comes to lie; null = the part's front. */
    targetZ: typed().nullable().default(null),
    /** Diameter at which the pass ends; null = past the centre (or the bore). */
    toDiameter: typed().nullable().default(null),
  }),
});
export type FaceOperation = z.infer<typeof FaceSchema>;

const fields: Field[] = [
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

/** An insert that reaches further toward the chuck than its tip cuts into the face that it has made, mm. */
const AHEAD = 0.05;

/** Greatest Z of the part outside a radius. */
const partTop = (seen: Seen, from: number, to: number): number => {
  const ground = clipGraph(groundOf(seen, FACE, 0), from + 1e-3, to);
  return ground.length === 0 ? Number.NEGATIVE_INFINITY : boundsOfCurves(ground).maxY;
};

const planFace = (op: FaceOperation, seen: Seen): Planned => {
  const list = new EventList(op.id, seen.section.tip);
  const view = viewOf(seen);
  // in this frame heights are Z and places are radii
  const edge = seen.metal.right;
  const hub = op.params.toDiameter === null ? 0 : op.params.toDiameter / 2;
  const top = seen.metal.top(hub, edge);
  const target = op.params.targetZ ?? seen.contour.front;
  // a hub that is left standing may be higher than the face around it
  const front = hub > 0 && op.params.targetZ !== null ? partTop(seen, hub, edge) : seen.contour.front;
  const findings: Finding[] = [];
  if (target < front - 1e-6)
    findings.push(note('blocking', 'face-below-part', op.id, { target, front }, point(target, 0)));
  if (top === VOID || top - target <= 1e-6)
    return nothing([...findings, note('attention', 'nothing-to-cut', op.id, {}, point(target, 0))]);
  const total = top - target;
  const finish = Math.min(op.params.finishDepth, total);
  const depths = [...passDepths(total - finish, op.params.depth, 'equal'), ...(finish > 1e-9 ? [finish] : [])];
  const levels = levelsBetween(top, depths, view.noseRadius);
  const inner = op.params.toDiameter === null ? -0.02 : hub + view.noseRadius;
  const safe = seen.place.safeDistance;
  const gate = edge + view.noseRadius + safe * 2;
  const floor = [line(point(inner, target + view.noseRadius), point(gate, target + view.noseRadius))];
  const clearLevel = Math.max(topOver(seen, -1e-3, gate), top) + view.noseRadius + safe;
  const cleared = clearByPasses({
    passes: levelPasses(floor, levels),
    metal: new Metal(FACE, seen.metal.clone(), seen.fixtures),
    lips: seen.lips && new Lips(FACE, seen.lips),
    cutting: view.cutting,
    holder: view.holder,
    safe,
    clearLevel,
    ceiling: Number.POSITIVE_INFINITY,
    leadLength: 0,
    noseRadius: view.noseRadius,
    retract: Math.min(0.5, safe),
  });
  if (cleared.cuts.length === 0) {
    const code = cleared.skipped.length > 0 ? 'not-approachable' : 'nothing-to-cut';
    return nothing([
      ...findings,
      note(code === 'nothing-to-cut' ? 'attention' : 'blocking', code, op.id, {}, point(target, 0)),
    ]);
  }
  openOperation(list, seen, op.cutting);
  const last = cleared.cuts.length - 1;
  tourCuts(list, {
    frame: FACE,
    cuts: cleared.cuts,
    clearLevel,
    gate,
    feed: (_, i) => perRev(finish > 1e-9 && i === last ? op.params.finishFeed : op.cutting.feed),
  });
  closeOperation(list, seen);
  for (const p of cleared.skipped) findings.push(note('attention', 'not-approachable', op.id, {}, FACE.out(p)));
  return { events: list.events, findings, depth: Math.max(...depths), contourKey: null };
};

export const face = defineKind({
  kind: 'face',
  schema: FaceSchema,
  label: 'Facing',
  short: 'face',
  fields,
  // around a hub the face may lie behind the front of the part
  looksDownTo: (op) => (op.params.toDiameter === null ? null : op.params.targetZ),
  tools: ['turning'],
  needs: 'a turning tool',
  accepts: (s) => {
    if (s.feeds === 'from-chuck') return { needs: 'a right-hand tool', found: 'one that cuts away from the chuck' };
    // from the nose, whatever point is programmed
    const ahead = -s.noseRadius - Math.min(...s.cutting.flatMap((c) => c.points.map((p) => p.x - c.radius)));
    if (ahead <= AHEAD) return null;
    return { needs: 'a tool whose edge stands back from its tip', found: 'one whose edge leans over the face' };
  },
  purpose: 'rough',
  side: 'axis',
  rank: 10,
  target: 'none',
  covers: 'rough',
  needsHole: false,
  deep: true,
  offeredFor: ['outer'],
  starting: ({ depth }) => ({ depth: Math.min(1.5, depth ?? 1) }),
  validate: (op, need) => {
    need(op.params.depth >= 0.02, 'Depth per pass', op.params.depth, 'at least 0.02 mm');
    need(op.params.finishDepth >= 0, 'Last pass', op.params.finishDepth, '0 or more');
    need(
      op.params.finishFeed > 0 && op.params.finishFeed <= 5,
      'Feed of last pass',
      op.params.finishFeed,
      'above 0 and at most 5 mm/rev',
    );
  },
  frame: () => FACE,
  sketch: faceSketch,
  plan: planFace,
});
