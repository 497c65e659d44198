import { z } from 'zod';
import { type Finding, note } from '../../findings';
import { line, lowerSideOn, point, VOID } from '../../geometry';
import { DIN332 } from '../../part';
import { centringDepth } from '../../tooling';
import { typed } from '../../units';
import { dwellField, needDwell, workOnAxis } from '../axis';
import { EventList, perRev } from '../events';
import { FACE, shapeInto } from '../frame';
import { defineKind } from '../kind';
import { type Field, nothing, operationBase, type Planned, type Seen } from '../types';

const CentreSchema = z.object({
  ...operationBase,
  kind: z.literal('centre'),
  params: z.object({
    /** Diameter of the 60° seat at the face; null = d2 of DIN 332 for the pilot. */
    mouth: typed().nullable().default(null),
    dwell: typed().default(0.2),
  }),
});
type CentreOperation = z.infer<typeof CentreSchema>;

const fields: Field[] = [
  {
    key: 'params.mouth',
    label: 'Mouth',
    group: 'Depth',
    help: 'Diameter of the 60° seat at the face. Empty: what DIN 332 has for this pilot.',
    input: { kind: 'length', per: 'diameter', optional: 'by DIN 332' },
  },
  dwellField('Seconds to stay at the bottom, so that the seat is round.'),
];

/** d2 of DIN 332 form A; pilots of no standard size keep its proportion, d2 = 2.12 d1. */
const mouthFor = (pilot: number): number => DIN332.find((s) => Math.abs(s.d1 - pilot) < 0.01)?.d2 ?? 2.12 * pilot;

const planCentre = (op: CentreOperation, seen: Seen): Planned => {
  if (seen.tool.kind !== 'centring') throw new Error('invariant: centring has a centre drill');
  const { cutter } = seen.tool;
  const mouth = op.params.mouth ?? mouthFor(cutter.pilot);
  const findings: Finding[] = [];
  if (mouth > cutter.body + 1e-9 || mouth < cutter.pilot)
    findings.push(
      note('blocking', 'centre-mouth', op.id, { mouth, least: cutter.pilot, most: cutter.body }, null, {
        remedy: { label: 'Mouth by DIN 332', set: { [`/operations/${op.id}/params/mouth`]: null } },
      }),
    );
  const top = seen.metal.top(-mouth / 2, mouth / 2);
  const surface = top === VOID ? seen.contour.front : top;
  const bottom = seen.contour.front - centringDepth(cutter, mouth);
  const clearance = Math.round((surface + seen.place.safeDistance) * 1000) / 1000;
  const way = [point(0, clearance), point(0, bottom)] as const;
  // in a hole that is deeper already there is nothing to sit on
  if (
    surface <= bottom ||
    seen.section.cutting.every((c) => seen.metal.clears(lowerSideOn(shapeInto(FACE, c), ...way)))
  )
    return nothing([...findings, note('attention', 'nothing-to-cut', op.id, {}, point(bottom, 0))]);
  const list = new EventList(op.id, seen.section.tip);
  workOnAxis(list, seen, op.cutting, clearance, () => {
    list.feed('cut', [line(point(clearance, 0), point(bottom, 0))], perRev(op.cutting.feed));
    if (op.params.dwell > 0) list.add('cut', { kind: 'dwell', seconds: op.params.dwell });
    list.rapid('retract', point(clearance, 0));
  });
  return { events: list.events, findings, depth: cutter.pilot / 2, contourKey: null };
};

export const centre = defineKind({
  kind: 'centre',
  schema: CentreSchema,
  label: 'Centre drilling',
  short: 'centre',
  fields,
  tools: ['centring'],
  needs: 'a centre drill',
  purpose: 'drill',
  side: 'axis',
  rank: 15,
  target: 'none',
  covers: 'seat',
  needsHole: false,
  deep: false,
  offeredFor: ['inner'],
  starting: () => ({}),
  validate: (op, need) => {
    need(op.params.mouth === null || op.params.mouth > 0, 'Mouth', op.params.mouth ?? 0, 'above 0');
    needDwell(need, op.params.dwell);
  },
  frame: () => FACE,
  plan: planCentre,
});
