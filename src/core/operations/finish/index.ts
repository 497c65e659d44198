import { z } from 'zod';
import { type Finding, note } from '../../findings';
import {
  ChainDistance,
  type Curve,
  contourOfCentrePath,
  flattenChain,
  heightAt,
  insetShape,
  offsetChain,
  type Point,
  point,
  straightened,
  translateCurve,
  VOID,
} from '../../geometry';
import type { Part } from '../../part';
import { toolFacts } from '../../tooling';
import { typed } from '../../units';
import { clearByPasses } from '../clearing';
import type { Cut, Pass } from '../clearingJob';
import { backThrough, blocksOf, closeOperation, EventList, openOperation, perRev, spindleFor } from '../events';
import { choiceField } from '../fields';
import type { Frame } from '../frame';
import { meetsMetal } from '../inMetal';
import { defineKind, type Need } from '../kind';
import { Metal } from '../metal';
import { contourKeyOf, cycleGap, cycleStartOf, hasRoomToStart, onGrid, steadyContour } from '../rough/cycle';
import { secondField, secondParam } from '../second';
import {
  clearingOf,
  innerFrame,
  isLimited,
  nothingCut,
  outerFrame,
  outputField,
  passesOf,
  settleSide,
  sideParams,
  spanEndFields,
  undercutsField,
} from '../side';
import type { SideSetting } from '../sideRequest';
import { tourCuts, type View } from '../turning';
import { type Field, nothing, operationBase, type Planned, type Seen } from '../types';
import { elementsOf, feedsAlong, speedsAlong } from './elements';
import { finishSketch } from './sketch';

/** Mean thickness of a finishing cut, mm, above which the metal wants roughing first. */
const DEEPEST_FINISH = 1.5;

/** What roughing leaves on walls beside a pass, mm, is no metal over it. */
const SKIN = 0.35;
/** Share of the edge that a pass may use. */
const EDGE = 0.5;

const WaySchema = z.enum(['as-fits', 'tangent', 'square', 'arc']);

const params = z.object({
  /** Which way the tool goes along the contour: along the axis, across it as seen from the front, or into a corner of both. */
  along: z.enum(['z', 'x', 'corner']).default('z'),
  /** Which end of the span it begins at: as the tool is made for, or toward the chuck or the axis, or away from it. */
  direction: z.enum(['tool', 'toward', 'away']).default('tool'),
  ...sideParams,
  undercuts: sideParams.undercuts.default('enter'),
  /** Who shifts the nose: the path is computed for it, or the control does it by G41/G42. */
  compensation: z.enum(['computed', 'control']).default('computed'),
  /** Passes that take the allowance off, each `passDepth` nearer; the last one makes the contour. */
  passes: typed().default(1),
  /** mm between two passes. */
  passDepth: typed().default(0.2),
  /** One feed, or on elements with a roughness the feed that leaves it. */
  feeds: z.enum(['one', 'roughness']).default('one'),
  /** Feed (mm/rev) and speed (in the operation's own mode) of single elements, by their ids; they win over `feeds`. */
  own: z
    .record(
      z.string().max(80),
      z.object({ feed: typed().nullable().default(null), speed: typed().nullable().default(null) }),
    )
    .default({}),
  /** Further spans, finished in the same way. */
  more: z
    .array(z.object({ from: z.string().max(80), to: z.string().max(80) }))
    .max(20)
    .default([]),
  /** How the tool comes to the contour. */
  lead: WaySchema.default('as-fits'),
  /** Length of the way in, mm; null = the safe distance. */
  leadLength: typed().nullable().default(null),
  /** How it leaves the contour. */
  leadOut: WaySchema.default('as-fits'),
  leadOutLength: typed().nullable().default(null),
  /** Passes again over the finished contour: what has sprung away comes off. */
  springPasses: typed().default(0),
});

const OuterFinishSchema = z.object({
  ...operationBase,
  kind: z.literal('outer-finish'),
  params: params.extend(secondParam),
});
const InnerFinishSchema = z.object({ ...operationBase, kind: z.literal('inner-finish'), params });
export type FinishOperation = z.infer<typeof OuterFinishSchema> | z.infer<typeof InnerFinishSchema>;

const WAYS = { 'as-fits': 'as it fits', tangent: 'tangent', square: 'square', arc: 'in an arc' };

/** A way in or out, and its length where one is chosen. */
const wayFields = (key: 'lead' | 'leadOut', way: string, does: string): Field[] => [
  choiceField(
    `params.${key}`,
    `Way ${way}`,
    'Span ends',
    `How the tool ${does} the contour; where the way is not free it takes another.`,
    WAYS,
  ),
  {
    key: `params.${key}Length`,
    label: `Length of way ${way}`,
    group: 'Span ends',
    help: `Length of a straight way ${way}, or radius of an arc. Empty: the safe distance.`,
    input: { kind: 'length', optional: 'safe' },
    showWhen: { key: `params.${key}`, isNot: 'as-fits' },
  },
];

const alongField = (help: string, ways: Readonly<Record<string, string>>): Field =>
  choiceField('params.along', 'Passes run', 'Cut', help, ways);

const fields: Field[] = [
  choiceField(
    'params.direction',
    'Direction',
    'Cut',
    'As the tool is made for; toward the chuck, along X the axis; or away from it. Along X in a bore, or from behind, it is given.',
    { tool: 'as the tool cuts', toward: 'toward chuck, axis', away: 'away from it' },
  ),
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
    key: 'params.passes',
    label: 'Passes',
    group: 'Cut',
    help: 'How many passes take off what roughing has left; the last one makes the contour.',
    input: { kind: 'number', unit: '', step: 1 },
  },
  {
    key: 'params.passDepth',
    label: 'Between passes',
    group: 'Cut',
    help: 'How much nearer each pass comes, per side.',
    input: { kind: 'length', per: 'side' },
    showWhen: { key: 'params.passes', isNot: 1 },
  },
  choiceField(
    'params.feeds',
    'Feeds',
    'Cut',
    'One feed for all, or on elements with a roughness the feed at which the nose leaves just that, if it is less.',
    { one: 'one for all', roughness: 'by roughness' },
  ),
  ...wayFields('lead', 'in', 'comes to'),
  ...wayFields('leadOut', 'out', 'leaves'),
  {
    key: 'params.springPasses',
    label: 'Spring passes',
    group: 'Cut',
    help: 'Passes again over the same contour, for what a slender part or bar has sprung away from.',
    input: { kind: 'number', unit: '', step: 1 },
  },
  {
    key: 'params.own',
    label: 'Feed and speed of elements',
    group: 'Cut',
    help: 'Single elements may have a feed and a speed of their own; the others have those of the operation.',
    input: { kind: 'elements' },
  },
  {
    key: 'params.more',
    label: 'Further spans',
    group: 'Span ends',
    help: 'Spans of the same side that are finished in this operation too.',
    input: { kind: 'spans' },
  },
  outputField('G70', 'The finishing cycle follows the contour blocks of an earlier roughing cycle of the same span.'),
];

const planFinish = (op: FinishOperation, seen: Seen): Planned => {
  const side = op.kind === 'outer-finish' ? 'outer' : 'inner';
  // each span is settled as if it were the only one; what lies in front is cut first
  const settings: SideSetting[] = [];
  for (const span of [seen.contour.span, ...seen.contour.alike]) {
    const settled = settleSide(
      { ...op.params, id: op.id, side, spanOnly: true, allowanceZ: 0, allowanceRadius: 0 },
      { ...seen, contour: { ...seen.contour, span } },
    );
    if ('planned' in settled) return settled.planned;
    settings.push(settled.setting);
  }
  settings.sort((a, b) => b.to - a.to);
  const [setting] = settings;
  const { frame, view } = setting;
  const findings: Finding[] = [...settings.flatMap((s) => s.notes), ...aboutDirection(op, seen, frame)];
  if (op.params.output === 'cycle') {
    const cycle = planFinishCycle(op, seen, setting);
    if ('events' in cycle) return { ...cycle, findings: [...cycle.findings, ...aboutCycle(op)] };
    findings.push(note('info', 'cycle-not-possible', op.id, { reason: cycle.reason }));
  }
  if (frame.alongAxis || frame.slanted) {
    const metal = new Metal(frame, seen.metal, seen.fixtures, seen.slot?.wall);
    const edge = edgeOver(view);
    const core = view.cutting.flatMap((shape) => insetShape(shape, SKIN) ?? []);
    const buried = ({ floor, ceiling }: SideSetting): boolean => {
      const over = floor.map((c) => translateCurve(c, point(0, edge)));
      return meetsMetal(over, metal, core, ceiling);
    };
    if (settings.some(buried)) return nothing([note('blocking', 'finish-buried', op.id, { most: edge })]);
  }
  const control = op.params.compensation === 'control';
  const all = settings.map((one) => {
    const before = Array.from({ length: op.params.passes - 1 }, (_, k): Pass => {
      return { graph: one.floorAbove((op.params.passes - 1 - k) * op.params.passDepth), level: null };
    });
    return clearByPasses({
      ...clearingOf(one, seen, [...before, ...passesOf(one, seen, null, 1)], control ? view.noseRadius * 1.2 : 0),
      lead: { style: op.params.lead, length: op.params.leadLength },
      leadOut: { style: op.params.leadOut, length: op.params.leadOutLength },
    });
  });
  const cuts = all.flatMap((c) => c.cuts.map((cut, i): Cut => (i === 0 ? { ...cut, link: 'over' } : cut)));
  const skipped = all.flatMap((c) => c.skipped);
  if (cuts.length === 0) return nothingCut(op.id, skipped);
  const list = new EventList(op.id, seen.section.tip);
  openOperation(list, seen, op.cutting);
  const feeds = feedsAlong(op.cutting, seen, view, op.params.own, op.params.feeds === 'roughness');
  const speeds = speedsAlong(op.cutting, seen, view, op.params.own);
  // the tool stands on the right of travel in the frame; a mirrored frame turns that over
  const left = frame.mirrors;
  tourCuts(
    list,
    {
      frame,
      cuts: withSprings(cuts, op.params.springPasses),
      clearLevel: Math.max(...settings.map((s) => s.clearLevel)),
      gate: frame.outward ? Math.min(...settings.map((s) => s.gate)) : Math.max(...settings.map((s) => s.gate)),
      over: setting.over,
      feed: () => perRev(op.cutting.feed),
      ...(feeds ? { feedsOf: (pieces) => feeds(pieces).map(perRev) } : {}),
      ...(speeds
        ? { speedsOf: speeds, setSpeed: (value) => list.add('cut', spindleFor(seen, op.cutting, value)) }
        : {}),
    },
    control
      ? (cut, write) => {
          const straightIn = cut.leadIn.length === 1 && cut.leadIn[0].kind === 'line';
          const straightOut = cut.leadOut[0]?.kind === 'line';
          const made = speeds
            ? { reason: 'the speed changes along the contour' }
            : straightIn && straightOut
              ? compensable(feeds ? cut.pieces : straightened(cut.pieces), view.noseRadius, frame, seen.place.grid)
              : { reason: `there is no straight way ${straightIn ? 'out' : 'in'}` };
          if ('reason' in made) {
            findings.push(
              note('info', 'compensation-not-possible', op.id, { reason: made.reason }, frame.out(cut.pieces[0].from)),
            );
            write();
            return;
          }
          const along = feeds?.(made.contour);
          const blocks = along
            ? made.contour.flatMap((c, i) => blocksOf(backThrough(frame, [c])).map((b) => ({ ...b, feed: along[i] })))
            : blocksOf(backThrough(frame, made.contour));
          const begin = frame.out(made.contour[0].from);
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
  for (const p of skipped) findings.push(note('attention', 'not-approachable', op.id, {}, frame.out(p)));
  const depth = Math.max(0, ...cuts.map((c) => c.depth));
  if (depth > DEEPEST_FINISH)
    findings.push(note('attention', 'finish-too-deep', op.id, { depth, most: DEEPEST_FINISH }));
  return { events: list.events, findings, depth, contourKey: null };
};

/** What was set and does not count where the control runs the contour. */
const aboutCycle = ({ id, params }: FinishOperation): Finding[] => {
  const own = [
    ...(params.compensation === 'computed' ? ['shifts the nose itself by G41/G42'] : []),
    ...(params.lead === 'as-fits' && params.leadOut === 'as-fits' ? [] : ['has its own way in and out']),
  ];
  return own.length > 0 ? [note('info', 'cycle-own-way', id, { what: own.join(' and ') })] : [];
};

/** What to know of a direction that was set: it cannot be had, or the edge is not made for it. */
const aboutDirection = (op: FinishOperation, { tool, section }: Seen, frame: Frame): Finding[] => {
  const { direction } = op.params;
  if (direction === 'tool') return [];
  // across a bore and from behind a corner the way in lies elsewhere
  const away = frame.outward || frame.name === 'inner-across' || frame.name === 'corner-back';
  if (away !== (direction === 'away')) {
    const way = frame.slanted ? 'into a corner' : frame.name === 'face-back' ? 'from behind' : 'across a bore';
    return [note('attention', 'direction-fixed', op.id, { way })];
  }
  const { insert, approachAngle } = toolFacts(tool);
  const against = direction === 'away' ? 'toward-chuck' : 'from-chuck';
  if (frame.alongAxis || section.feeds !== against || !insert) return [];
  return [note('info', 'edge-trails', op.id, { angle: Math.max(0, 180 - approachAngle - insert.cornerAngle) })];
};

/** How far a tool's cutting shapes rise over its lowest place in the frame, mm: what one pass can take. */
const edgeOver = ({ cutting }: View): number =>
  Math.max(...cutting.map((s) => Math.max(...s.points.map((p) => p.y)) - Math.min(...s.points.map((p) => p.y)))) * EDGE;

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

/** A contour may lie so far below the floor by rounding, mm. */
const REACHED = 2e-3;
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
  frame: Frame,
  grid: number,
): { contour: Curve[] } | { reason: string } => {
  const made = contourOfCentrePath(pieces, -noseRadius);
  if (made.kind !== 'chain' || made.chain.length === 0) return { reason: 'the nose radius does not fit the contour' };
  const again = offsetChain(made.chain, -noseRadius);
  if (again.kind !== 'chain' || again.chain.length === 0) return { reason: 'the nose radius does not fit the contour' };
  if (Math.max(apart(pieces, again.chain), apart(again.chain, pieces)) > SAME_PATH)
    return { reason: 'the nose bridges a hollow that the control would cut across' };
  // near tangent pieces meet far off when their words are rounded: the contour is tried as the control will read it
  const words = onGrid(backThrough(frame, made.chain), grid);
  const written = offsetChain(words, frame.mirrors ? noseRadius : -noseRadius);
  const planned = backThrough(frame, pieces);
  if (written.kind !== 'chain' || Math.max(apart(planned, written.chain), apart(written.chain, planned)) > ROUNDED_PATH)
    return { reason: 'rounding its words would bend the control’s path' };
  return { contour: made.chain };
};

const planFinishCycle = (op: FinishOperation, seen: Seen, s: SideSetting): Planned | { reason: string } => {
  const { frame, view } = s;
  if (isLimited(op.params)) return { reason: 'limits are set' };
  if (frame.outward) return { reason: 'it runs the other way' };
  if (frame.slanted) return { reason: 'it goes into a corner that hangs over on both sides' };
  if (op.params.springPasses > 0 || op.params.passes > 1) return { reason: 'the cycle runs the contour once' };
  if (seen.contour.alike.length > 0) return { reason: 'it runs over several spans' };
  if (
    (op.params.feeds === 'roughness' && Object.keys(seen.asked).length > 0) ||
    elementsOf(seen).some((e) => op.params.own[e.id])
  )
    return { reason: 'its feed or speed changes along the contour' };
  const startU = cycleStartOf(seen, s);
  if (startU === null) return { reason: 'there is no hole as deep as it, to start in' };
  if (!hasRoomToStart(seen, s, startU)) return { reason: 'the bar has no room at its start point' };
  const contour = steadyContour(seen, s, startU);
  if ('reason' in contour) return { reason: contour.reason };
  const key = contourKeyOf(contour.chain, frame);
  if (!seen.cycleContours.includes(key)) return { reason: 'there is no earlier roughing cycle over the same contour' };
  const centre = offsetChain(contour.chain, -view.noseRadius);
  if (centre.kind !== 'chain') return { reason: 'the nose is larger than an inside round of the contour' };
  if (frame.name === 'inner' && centre.chain.some((c) => c.to.y > s.ceiling))
    return { reason: 'it goes past the axis' };
  // at a wall the floor just in front of it counts
  const reached = (p: Point): boolean =>
    p.x < s.from - 1e-6 || (heightAt(s.floor, p.x + REACHED) ?? VOID) < p.y + REACHED;
  if (!flattenChain(centre.chain, 0.01).every(reached)) return { reason: 'the tool does not reach all of it' };
  const list = new EventList(op.id, seen.section.tip);
  openOperation(list, seen, op.cutting);
  const tip = frame.into(seen.section.tip);
  const startV = Math.round((s.top + cycleGap(seen, Number.POSITIVE_INFINITY)) * 1000) / 1000;
  // the start is a tip position, the list wants nose centres
  const start = point(startU - tip.x, startV - tip.y);
  const place = (p: { x: number; y: number }) => frame.out(p);
  // in front of a bore something may stand out further
  const overMouth = frame.name === 'inner-across' ? point(start.x, s.clearLevel) : null;
  if (overMouth) list.rapid('approach', place(overMouth));
  list.rapid('approach', place(start));
  const first = frame.out(contour.chain[0].from);
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
  if (overMouth) list.rapid('retract', place(overMouth));
  if (frame.name === 'inner') list.rapid('retract', place(point(start.x + 1, start.y)));
  closeOperation(list, seen);
  return { events: list.events, findings: [], depth: 0, contourKey: null };
};

const common = {
  fields,
  purpose: 'finish',
  deepest: DEEPEST_FINISH,
  target: 'span',
  covers: 'finish',
  deep: false,
  alikeSpans: (_: Part, op: FinishOperation) => op.params.more,
  meetsRoughness: (op: FinishOperation) => op.params.feeds === 'roughness',
  starting: () => ({}),
  sketch: finishSketch,
  validate: ({ params }: FinishOperation, need: Need) => {
    const whole = (v: number, least: number, most: number): boolean => Number.isInteger(v) && v >= least && v <= most;
    for (const { feed, speed } of Object.values(params.own)) {
      need(feed === null || (feed > 0 && feed <= 5), 'Feed of an element', feed ?? 0, 'above 0 and at most 5 mm/rev');
      need(
        speed === null || (speed > 0 && speed <= 20_000),
        'Speed of an element',
        speed ?? 0,
        'above 0 and at most 20000',
      );
    }
    need(whole(params.springPasses, 0, 5), 'Spring passes', params.springPasses, 'a whole number, 0 to 5');
    need(whole(params.passes, 1, 10), 'Passes', params.passes, 'a whole number, 1 to 10');
    need(
      params.passes === 1 || (params.passDepth >= 0.01 && params.passDepth <= 5),
      'Between passes',
      params.passDepth,
      '0.01 to 5 mm',
    );
    for (const [name, length] of [
      ['Length of way in', params.leadLength],
      ['Length of way out', params.leadOutLength],
    ] as const)
      need(length === null || (length >= 0.05 && length <= 50), name, length ?? 0, '0.05 to 50 mm');
  },
  plan: planFinish,
} as const;

export const outerFinish = defineKind({
  ...common,
  fields: [
    alongField(
      'Along Z; along X over faces, seen from the front; into a corner, where a relief hangs over on both its sides.',
      { z: 'along Z', x: 'along X', corner: 'into a corner' },
    ),
    ...common.fields,
    secondField,
  ],
  second: (op) => op.params.second,
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
  frame: (s, op) => outerFrame(s, op.params.along, op.params.direction),
});

export const innerFinish = defineKind({
  ...common,
  fields: [
    alongField('Along Z toward the chuck; along X over faces and what is hollow in them, outward.', {
      z: 'along Z',
      x: 'along X',
    }),
    ...common.fields,
  ],
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
  frame: (s, op) => innerFrame(s, op.params.along, op.params.direction),
});
