import { z } from 'zod';
import { line, overlapsMoreThan, point, regionBounds, subtractRegion, sweepAlong, TOLERANCE } from '../../geometry';
import { drillPointLength } from '../../tooling';
import { closeOperation, EventList, openOperation, perRev } from '../events';
import { note, topOf } from '../turning';
import { type Field, operationBase, type PlanContext, type Planned } from '../types';

export const DrillSchema = z.object({
  ...operationBase,
  kind: z.literal('drill'),
  params: z.object({
    /** Where the hole ends, as a positive depth from the part's front; null = through the part. */
    depth: z.number().nullable().default(null),
    /** What `depth` is measured to. */
    depthTo: z.enum(['point', 'full-diameter']).default('full-diameter'),
    /** Beyond the back of the part when drilling through, mm of full diameter. */
    breakThrough: z.number().default(1),
    /** Depth of one peck; 0 = in one go. */
    peck: z.number().default(0),
    dwell: z.number().default(0),
    output: z.enum(['moves', 'cycle']).default('cycle'),
  }),
});
export type DrillOperation = z.infer<typeof DrillSchema>;

export const drillFields: Field[] = [
  {
    key: 'params.depth',
    label: 'Depth',
    group: 'Depth',
    help: 'From the front of the part. Empty: through, with the break-through below.',
    input: { kind: 'length', optional: 'through' },
  },
  {
    key: 'params.depthTo',
    label: 'Measured to',
    group: 'Depth',
    help: 'Whether the depth counts to the point or to the end of the full diameter.',
    input: {
      kind: 'choice',
      options: [
        { value: 'full-diameter', label: 'full diameter' },
        { value: 'point', label: 'point' },
      ],
    },
  },
  {
    key: 'params.breakThrough',
    label: 'Break-through',
    group: 'Depth',
    help: 'How far the full diameter goes beyond the back of a through hole; long enough for the boring bar that follows.',
    input: { kind: 'length' },
  },
  {
    key: 'params.peck',
    label: 'Peck',
    group: 'Cut',
    help: 'Depth after which the drill comes out to clear chips. 0 drills in one go.',
    input: { kind: 'length' },
  },
  {
    key: 'params.dwell',
    label: 'Dwell at depth',
    group: 'Cut',
    help: 'Seconds to stay at the bottom.',
    input: { kind: 'number', unit: 's', step: 0.1 },
  },
  {
    key: 'params.output',
    label: 'Posted as',
    group: 'Output',
    help: 'Pecks can be left to the control’s cycle.',
    input: {
      kind: 'choice',
      options: [
        { value: 'cycle', label: 'cycle G83' },
        { value: 'moves', label: 'moves' },
      ],
    },
  },
];

/** How close the drill comes to the last bottom before it feeds again, mm; the control's own setting is the same. */
export const PECK_CLEARANCE = 0.5;

/** Z of the point at the end of the hole. */
export const drillBottom = (
  op: DrillOperation,
  diameter: number,
  pointAngle: number,
  front: number,
  back: number,
): number => {
  const tip = drillPointLength(diameter, pointAngle);
  if (op.params.depth === null) return back - op.params.breakThrough - tip;
  return front - op.params.depth - (op.params.depthTo === 'full-diameter' ? tip : 0);
};

export const planDrill = (op: DrillOperation, ctx: PlanContext): Planned => {
  const tool = ctx.tool;
  if (tool.kind !== 'drill')
    return {
      events: [],
      findings: [note('blocking', 'wrong-tool', op.id, { needs: 'a drill' })],
      depth: 0,
      contourKey: null,
    };
  const findings = [];
  const bounds = regionBounds(ctx.part.region);
  const bottom = drillBottom(op, tool.diameter, tool.pointAngle, bounds.maxX, bounds.minX);
  const surface =
    topOf([...ctx.stock.map((ring) => ring.map((p) => point(p.y, p.x)))], 0, tool.diameter / 2 - 1e-3) ?? bounds.maxX;
  const clearance = Math.round((surface + ctx.holding.safeDistance) * 1000) / 1000;
  if (surface - bottom > tool.fluteLength)
    findings.push(
      note(
        'blocking',
        'drill-too-short',
        op.id,
        { depth: surface - bottom, flutes: tool.fluteLength },
        point(bottom, 0),
      ),
    );
  const target = point(bottom, 0);
  const swept = sweepAlong(ctx.section.cutting[0], [point(clearance, 0), target]);
  if (!overlapsMoreThan(ctx.stock, swept, TOLERANCE.touch))
    return {
      events: [],
      findings: [...findings, note('attention', 'nothing-to-cut', op.id, {}, target)],
      depth: 0,
      contourKey: null,
    };
  const rest = subtractRegion(ctx.stock, swept);
  if (ctx.section.holder.some((h) => overlapsMoreThan(rest, sweepAlong(h, [target]), TOLERANCE.collision)))
    findings.push(note('attention', 'drill-holder-meets-stock', op.id, {}, target));

  const list = new EventList(op.id, ctx.section.tip);
  openOperation(list, ctx, op.cutting);
  list.rapid('approach', point(clearance, 0));
  const feed = perRev(op.cutting.feed);
  const peck = op.params.peck;
  const asCycle = op.params.output === 'cycle' && peck > 0;
  if (asCycle)
    list.add('cut', {
      kind: 'cycle',
      cycle: {
        kind: 'peck',
        start: clearance,
        clearance: PECK_CLEARANCE,
        depth: bottom,
        peck,
        feed: op.cutting.feed,
        dwell: op.params.dwell,
      },
    });
  let z = clearance;
  while (z > bottom + 1e-9) {
    const next = peck > 0 ? Math.max(bottom, z - peck) : bottom;
    if (z < clearance) list.rapid('link', point(z + PECK_CLEARANCE, 0));
    const from = list.place ?? point(clearance, 0);
    list.feed('cut', [line(from, point(next, 0))], feed);
    if (next === bottom && op.params.dwell > 0) list.add('cut', { kind: 'dwell', seconds: op.params.dwell });
    list.rapid(next === bottom ? 'retract' : 'link', point(clearance, 0));
    z = next;
  }
  if (asCycle) list.add('cut', { kind: 'cycle-end' });
  closeOperation(list, ctx);
  return { events: list.events, findings, depth: tool.diameter / 2, contourKey: null };
};
