import { z } from 'zod';
import { type Finding, note } from '../../findings';
import { line, lowerSideOn, point, VOID } from '../../geometry';
import { typed } from '../../units';
import { dwellField, needDwell, workOnAxis } from '../axis';
import { EventList, perRev } from '../events';
import { FACE, shapeInto } from '../frame';
import { holeSketch } from '../holeSketch';
import { defineKind } from '../kind';
import { type Field, nothing, operationBase, type Planned, type Seen } from '../types';

const ReamSchema = z.object({
  ...operationBase,
  kind: z.literal('ream'),
  params: z.object({
    /** Depth of full diameter from the part's front; null = through the part. */
    depth: typed().nullable().default(null),
    /** Beyond the back of the part when reaming through, mm. */
    breakThrough: typed().default(2),
    dwell: typed().default(0),
  }),
});
type ReamOperation = z.infer<typeof ReamSchema>;

const fields: Field[] = [
  {
    key: 'params.depth',
    label: 'Depth',
    group: 'Depth',
    help: 'Of full diameter, from the front of the part. Empty: through.',
    input: { kind: 'length', optional: 'through' },
  },
  {
    key: 'params.breakThrough',
    label: 'Break-through',
    group: 'Depth',
    help: 'How far the full diameter goes beyond the back of a through hole.',
    input: { kind: 'length' },
  },
  dwellField('Seconds to stay at the bottom.'),
];

/** What a reamer may take off, on diameter: least, and most for its size, mm. */
const LEAST = 0.05;
const mostFor = (diameter: number): number => (diameter < 6 ? 0.2 : diameter < 16 ? 0.35 : 0.5);

const planReam = (op: ReamOperation, seen: Seen): Planned => {
  if (seen.tool.kind !== 'reamer') throw new Error('invariant: reaming has a reamer');
  const { diameter, chamfer, fluteLength } = seen.tool.cutter;
  const { front, back } = seen.contour;
  const { depth, breakThrough, dwell } = op.params;
  const bottom = (depth === null ? back - breakThrough : front - depth) - chamfer;
  const clearance = Math.round((front + seen.place.safeDistance) * 1000) / 1000;
  const findings: Finding[] = [];
  const most = mostFor(diameter);
  const within = (d: number): number => seen.metal.top(-d / 2 + 1e-3, d / 2 - 1e-3);
  const target = point(front, 0);
  const inside = within(diameter - most);
  if (inside !== VOID && inside > bottom + 1e-3)
    return nothing([
      note(
        'blocking',
        'ream-hole',
        op.id,
        { diameter, least: diameter - most, deep: front - bottom },
        point(inside, 0),
      ),
    ]);
  const skin = within(diameter - LEAST);
  if (skin === VOID || skin < front - 1)
    findings.push(note('attention', 'ream-thin', op.id, { diameter, least: LEAST }, target));
  if (front - bottom > fluteLength)
    findings.push(note('blocking', 'drill-too-short', op.id, { depth: front - bottom, flutes: fluteLength }, target));
  const edges = shapeInto(FACE, seen.section.cutting[0]);
  if (seen.metal.clears(lowerSideOn(edges, point(0, clearance), point(0, bottom))))
    return nothing([...findings, note('attention', 'nothing-to-cut', op.id, {}, target)]);
  const list = new EventList(op.id, seen.section.tip);
  const feed = perRev(op.cutting.feed);
  workOnAxis(list, seen, op.cutting, clearance, () => {
    list.feed('cut', [line(point(clearance, 0), point(bottom, 0))], feed);
    if (dwell > 0) list.add('cut', { kind: 'dwell', seconds: dwell });
    // a reamer is fed out with the spindle turning: a rapid would leave a spiral
    list.feed('lead-out', [line(point(bottom, 0), point(clearance, 0))], feed);
  });
  return { events: list.events, findings, depth: most / 2, contourKey: null };
};

export const ream = defineKind({
  kind: 'ream',
  schema: ReamSchema,
  label: 'Reaming',
  short: 'ream',
  fields,
  tools: ['reamer'],
  needs: 'a reamer',
  purpose: 'ream',
  side: 'axis',
  rank: 66,
  target: 'none',
  covers: 'hole',
  needsHole: true,
  deep: false,
  offeredFor: ['inner'],
  starting: () => ({}),
  validate: (op, need) => {
    need(op.params.depth === null || op.params.depth > 0, 'Depth', op.params.depth ?? 0, 'above 0');
    need(op.params.breakThrough >= 0, 'Break-through', op.params.breakThrough, '0 or more');
    needDwell(need, op.params.dwell);
  },
  frame: () => FACE,
  sketch: ({ params }, key, tool) => holeSketch(params, key, tool),
  plan: planReam,
});
