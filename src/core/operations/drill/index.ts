import { z } from 'zod';
import { type Finding, note } from '../../findings';
import { heightAt, line, lowerSideOn, mapCurve, point, type RoundedPolygon, upperEnvelope, VOID } from '../../geometry';
import type { Part } from '../../part';
import { deepestPositions, drillPointLength, type Tool, toolSection } from '../../tooling';
import { typed } from '../../units';
import { dwellField, needDwell, workOnAxis } from '../axis';
import { EventList, perRev } from '../events';
import { choiceField } from '../fields';
import { curveInto, FACE, rightward, shapeInto } from '../frame';
import { holeSketch } from '../holeSketch';
import { defineKind } from '../kind';
import { Metal } from '../metal';
import { type Field, nothing, operationBase, type Planned, type Seen } from '../types';

const DrillSchema = z.object({
  ...operationBase,
  kind: z.literal('drill'),
  params: z.object({
    /** Where the hole ends, as a positive depth from the part's front; null = through the part. */
    depth: typed().nullable().default(null),
    /** What `depth` is measured to. */
    depthTo: z.enum(['point', 'full-diameter']).default('full-diameter'),
    /** Beyond the back of the part when drilling through, mm of full diameter. */
    breakThrough: typed().default(1),
    /** Depth of one peck; 0 = in one go. */
    peck: typed().default(0),
    /** After a peck: out of the hole, to clear chips, or back a little, to break them. */
    chips: z.enum(['clear', 'break']).default('clear'),
    /** How far it comes back to break chips, mm. */
    back: typed().default(0.5),
    /** Share of a peck that the next one keeps, %: deep holes want shorter and shorter ones. */
    keep: typed().default(100),
    dwell: typed().default(0),
    output: z.enum(['moves', 'cycle']).default('cycle'),
  }),
});
type DrillOperation = z.infer<typeof DrillSchema>;

const fields: Field[] = [
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
    ...choiceField(
      'params.chips',
      'After a peck',
      'Cut',
      'Out of the hole clears the chips and lets coolant in; back a little only breaks them, and is quicker.',
      { clear: 'out of the hole', break: 'back a little' },
    ),
  },
  {
    key: 'params.back',
    label: 'Back by',
    group: 'Cut',
    help: 'How far the drill comes back to break the chip.',
    input: { kind: 'length' },
    showWhen: { key: 'params.chips', is: 'break' },
  },
  {
    key: 'params.keep',
    label: 'Each next peck',
    group: 'Cut',
    help: 'Share of the peck before it. 100 keeps them alike; a deep hole wants 80 to 90. None becomes shorter than a third of the first.',
    input: { kind: 'number', unit: '%', step: 5 },
  },
  dwellField('Seconds to stay at the bottom.'),
  {
    key: 'params.output',
    label: 'Posted as',
    group: 'Output',
    help: 'Pecks can be left to the control’s cycle.',
    input: {
      kind: 'choice',
      options: [
        { value: 'cycle', label: 'cycle G83, G74' },
        { value: 'moves', label: 'moves' },
      ],
    },
  },
];

/** How close the drill comes to the last bottom before it feeds again, mm; the control's own setting is the same. */
export const PECK_CLEARANCE = 0.5;

/** Z of the point at the end of the hole. */
const drillBottom = (op: DrillOperation, diameter: number, pointAngle: number, front: number, back: number): number => {
  const tip = drillPointLength(diameter, pointAngle);
  if (op.params.depth === null) return back - op.params.breakThrough - tip;
  return front - op.params.depth - (op.params.depthTo === 'full-diameter' ? tip : 0);
};

/** Metal left under the point in a blind bore, for the tool that finishes its bottom, mm. */
const BOTTOM = 0.2;

/** A hole may be this much narrower than a drill and still be what it makes, mm in radius. */
const FIT = 0.005;

/** A shape about the middle line, narrower by so much on either side: its tip stays where it is. */
const slimmer = (s: RoundedPolygon, by: number): RoundedPolygon => {
  const widest = Math.max(...s.points.map((p) => Math.abs(p.x))) || 1;
  return { ...s, points: s.points.map((p) => point(p.x * (1 - by / widest), p.y)) };
};

/** How deep the point may go in a blind bore, from the front; null where the bore goes through, or the drill does not fit in. */
const blindDepth = (part: Part, tool: Tool): number | null => {
  const made = toolSection(tool);
  if (!made.ok) return null;
  const half = part.boundary.map((c) => curveInto(FACE, c));
  const ground = upperEnvelope(rightward([...half, ...half.map((c) => mapCurve(c, (p) => point(-p.x, p.y), true))]));
  // a drill goes into a hole of its own size
  const drill = made.section.cutting.map((s) => slimmer(shapeInto(FACE, s), FIT));
  const bottom = heightAt(deepestPositions(ground, drill, -0.01, 0.01), 0);
  const front = Math.max(0, ...part.outer.map((e) => e.curve.from.x));
  if (bottom === null) return null;
  const depth = isOwnBottom(part, tool)
    ? Math.round((front - bottom) * 1000) / 1000
    : Math.floor((front - bottom - BOTTOM) * 10) / 10;
  return depth > 0.5 ? depth : null;
};

/** How far a bottom may differ from a drill's own point, degrees and mm, and still be what it leaves. */
const ALIKE = { angle: 0.3, radius: 0.01 };

/** Whether the bottom of a bore is the cone that this drill's point leaves: then it is drilled to the end. */
const isOwnBottom = (part: Part, tool: Tool): boolean => {
  const end = part.inner.at(-1)?.curve;
  if (tool.kind !== 'drill' || end?.kind !== 'line' || end.to.y > ALIKE.radius) return false;
  const included = (2 * Math.atan2(end.from.y, Math.abs(end.to.x - end.from.x)) * 180) / Math.PI;
  return (
    Math.abs(included - tool.cutter.pointAngle) < ALIKE.angle &&
    Math.abs(end.from.y - tool.cutter.diameter / 2) < ALIKE.radius
  );
};

/** A hole this many diameters deep is pecked, or its chips do not come out. */
const DEEP = 3;
/** A through hole goes on so far at its full diameter, mm. */
const BREAK_THROUGH = 3;
/** Stock in front of a part that is drilled with it, mm. */
const FACE_STOCK = 1;
/** More pecks than this are a mistake in a number. */
const MOST_PECKS = 2000;

/** Why the control's cycles do not peck like this; null where they do. */
const noPeckCycle = ({ params }: DrillOperation, seen: Seen): string | null => {
  if (params.keep !== 100) return 'its pecks are all alike';
  const { cycleRetract } = seen.place;
  if (params.chips !== 'break') return null;
  if (cycleRetract !== null && Math.abs(cycleRetract - params.back) > 1e-9)
    return `it comes back by ${cycleRetract} mm, a setting of the control`;
  return params.dwell > 0 ? 'it does not stay at the bottom' : null;
};

/** A hole is there where the metal on the axis begins so far behind the part's front, mm. */
const HOLE = 1;

/** A drill with a point wider than this squares the bottom of a hole, degrees. */
const FLAT = 170;
/** How deep it may go into solid metal, in its own diameters. */
const FLAT_IN_SOLID = 2;

/** How much deeper a blind hole gets at the drill's full diameter, mm; null where there is none yet, or it goes through. */
const deeperThanHole = (
  { params }: DrillOperation,
  seen: Seen,
  drill: { readonly diameter: number; readonly pointAngle: number },
  surface: number,
  bottom: number,
): number | null => {
  const radius = drill.diameter / 2;
  if (params.depth === null || surface > seen.contour.front - HOLE) return null;
  // the bottom of a hole of its own size is what a flat drill is for
  const own = seen.metal.top(radius + FIT, radius + 2 * HOLE) > surface + HOLE;
  if (drill.pointAngle > FLAT && own) return null;
  const rim = seen.metal.top(radius - 2 * FIT, radius - FIT);
  return Math.max(0, rim - (bottom + drillPointLength(drill.diameter, drill.pointAngle)));
};

const planDrill = (op: DrillOperation, seen: Seen): Planned => {
  if (seen.tool.kind !== 'drill') throw new Error('invariant: a drilling operation has a drill');
  const tool = seen.tool.cutter;
  const findings: Finding[] = [];
  const { front, back } = seen.contour;
  const bottom = drillBottom(op, tool.diameter, tool.pointAngle, front, back);
  const top = seen.metal.top(-tool.diameter / 2 + 1e-3, tool.diameter / 2 - 1e-3);
  const surface = top === VOID ? front : top;
  const safe = seen.place.safeDistance;
  const clearance = Math.round((surface + safe) * 1000) / 1000;
  if (op.params.peck > 0 && (surface - bottom) / op.params.peck > MOST_PECKS)
    return nothing([
      note('blocking', 'too-much-work', op.id, {
        what: 'The number of pecks',
        number: (surface - bottom) / op.params.peck,
        most: MOST_PECKS,
      }),
    ]);
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
  const metal = new Metal(FACE, seen.metal.clone(), null);
  const drill = shapeInto(FACE, seen.section.cutting[0]);
  if (seen.metal.clears(lowerSideOn(drill, point(0, clearance), point(0, bottom))))
    return nothing([...findings, note('attention', 'nothing-to-cut', op.id, {}, target)]);
  if (tool.pointAngle > FLAT && surface - bottom > FLAT_IN_SOLID * tool.diameter)
    findings.push(
      note('attention', 'flat-drill-solid', op.id, { depth: surface - bottom, diameter: tool.diameter }, target),
    );
  const deeper = deeperThanHole(op, seen, tool, surface, bottom);
  if (deeper !== null && deeper < tool.diameter / 2)
    findings.push(note('attention', 'drill-hardly-deeper', op.id, { deeper, diameter: tool.diameter }, target));
  metal.cut(drill, point(0, clearance), point(0, bottom));
  const holder = seen.section.holder.map((h) => shapeInto(FACE, h));
  if (
    !metal.clearsAlong(
      holder.map((h) => ({ points: h.points, radius: h.radius - 0.005 })),
      [point(0, bottom)],
    )
  )
    findings.push(note('attention', 'drill-holder-meets-stock', op.id, {}, target));
  const deep = (surface - bottom) / tool.diameter;
  const inOneGo = op.params.peck === 0 || op.params.peck >= surface - bottom;
  if (inOneGo && deep > DEEP + 1e-9)
    findings.push(
      note(
        'attention',
        'drill-needs-pecks',
        op.id,
        { depth: surface - bottom, diameter: tool.diameter, ratio: deep },
        target,
        {
          remedy: {
            label: `Peck every ${Math.round(tool.diameter)} mm`,
            set: { [`/operations/${op.id}/params/peck`]: Math.max(0.5, Math.round(tool.diameter)) },
          },
        },
      ),
    );

  const list = new EventList(op.id, seen.section.tip);
  const feed = perRev(op.cutting.feed);
  const peck = op.params.peck;
  const { chips, keep, back: comesBack } = op.params;
  const why = peck > 0 && op.params.output === 'cycle' ? noPeckCycle(op, seen) : null;
  if (why) findings.push(note('info', 'cycle-not-possible', op.id, { reason: why }));
  const asCycle = op.params.output === 'cycle' && peck > 0 && why === null;
  // a control counts pecks from the numbers that it reads: a depth that is whole pecks but for less than a step of the words has no further one
  const { grid } = seen.place;
  const snap = (v: number): number => (asCycle ? Math.round(v / grid) * grid : v);
  const [level, end, step] = [snap(clearance), snap(bottom), asCycle ? Math.max(grid, snap(peck)) : peck];
  workOnAxis(list, seen, op.cutting, clearance, () => {
    if (asCycle)
      list.add('cut', {
        kind: 'cycle',
        cycle: {
          kind: 'peck',
          back: chips === 'break' ? comesBack : null,
          start: clearance,
          clearance: PECK_CLEARANCE,
          depth: bottom,
          peck: step,
          feed: op.cutting.feed,
          dwell: op.params.dwell,
        },
      });
    let z = level;
    let length = step;
    while (z > end + 1e-9) {
      // what is left after it and no step of the words is no peck of its own
      const next = step > 0 && z - length > end + 1e-9 ? z - length : end;
      length = Math.max(step / 3, (length * keep) / 100);
      if (z < level) list.rapid('link', point(z + (chips === 'break' ? comesBack : PECK_CLEARANCE), 0));
      const from = list.place ?? point(clearance, 0);
      list.feed('cut', [line(from, point(next === end ? bottom : next, 0))], feed);
      if (next === end && op.params.dwell > 0) list.add('cut', { kind: 'dwell', seconds: op.params.dwell });
      if (next === end) list.rapid('retract', point(clearance, 0));
      else if (chips === 'clear') list.rapid('link', point(clearance, 0));
      z = next;
    }
    if (asCycle) list.add('cut', { kind: 'cycle-end' });
  });
  return { events: list.events, findings, depth: tool.diameter / 2, contourKey: null };
};

export const drill = defineKind({
  kind: 'drill',
  schema: DrillSchema,
  label: 'Drilling on centre',
  short: 'drill',
  fields,
  tools: ['drill'],
  needs: 'a drill',
  purpose: 'drill',
  side: 'axis',
  rank: 20,
  target: 'none',
  covers: 'hole',
  needsHole: false,
  deep: false,
  offeredFor: ['inner'],
  starting: ({ tool, part }) => {
    if (tool?.kind !== 'drill') return { depth: null, breakThrough: BREAK_THROUGH, peck: 0 };
    const { diameter, pointAngle } = tool.cutter;
    const blind = blindDepth(part, tool);
    const through = BREAK_THROUGH + drillPointLength(diameter, pointAngle);
    // it begins at the face of the stock, which stands in front of the part
    const long = FACE_STOCK + (blind ?? through - Math.min(0, ...part.outer.map((e) => e.curve.to.x)));
    return {
      depth: blind,
      depthTo: blind === null ? 'full-diameter' : 'point',
      breakThrough: BREAK_THROUGH,
      peck: long > DEEP * diameter ? Math.round(diameter) : 0,
    };
  },
  validate: (op, need) => {
    need(op.params.depth === null || op.params.depth > 0, 'Depth', op.params.depth ?? 0, 'above 0');
    need(op.params.peck === 0 || op.params.peck >= 0.05, 'Peck', op.params.peck, '0, or at least 0.05 mm');
    need(
      op.params.chips === 'clear' || (op.params.back >= 0.05 && op.params.back <= 20),
      'Back by',
      op.params.back,
      '0.05 to 20 mm',
    );
    need(op.params.keep >= 50 && op.params.keep <= 100, 'Each next peck', op.params.keep, '50 to 100 %');
    needDwell(need, op.params.dwell);
    need(op.params.breakThrough >= 0, 'Break-through', op.params.breakThrough, '0 or more');
  },
  frame: () => FACE,
  sketch: ({ params }, key, tool) => holeSketch({ ...params, toPoint: params.depthTo === 'point' }, key, tool),
  plan: planDrill,
});
