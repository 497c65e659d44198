import { z } from 'zod';
import { type Finding, note } from '../../findings';
import { point, VOID } from '../../geometry';
import type { Part } from '../../part';
import { type ThreadOnPart, threadAlong, threadByName } from '../../threads';
import type { Tool } from '../../tooling';
import { typed } from '../../units';
import { workOnAxis } from '../axis';
import { EventList } from '../events';
import { choiceField } from '../fields';
import { FACE } from '../frame';
import { holeSketch } from '../holeSketch';
import { defineKind } from '../kind';
import { endsOfPart } from '../see';
import { type Field, nothing, operationBase, type Planned, type Seen } from '../types';

const TapOperationSchema = z.object({
  ...operationBase,
  kind: z.literal('tap'),
  params: z.object({
    /** Depth of full thread from the part's front; null = through the part. */
    depth: typed().nullable().default(null),
    hand: z.enum(['right', 'left']).default('right'),
    /** How the tap is held: fast, or in a chuck that gives along the axis. */
    chuck: z.enum(['rigid', 'floating']).default('rigid'),
    /** Feed of a floating chuck as a share of the pitch, %: the tap draws itself in, and the chuck gives the rest. */
    feedShare: typed().default(97),
    output: z.enum(['moves', 'cycle']).default('cycle'),
  }),
});
type TapOperation = z.infer<typeof TapOperationSchema>;

const fields: Field[] = [
  {
    key: 'params.depth',
    label: 'Full thread',
    group: 'Depth',
    help: 'Depth of full thread from the front. The chamfer of the tap goes further. Empty: through.',
    input: { kind: 'length', optional: 'through' },
  },
  choiceField('params.hand', 'Hand', 'Cut', 'A left-hand tap goes in with the spindle reversed.', {
    right: 'right',
    left: 'left',
  }),
  choiceField(
    'params.chuck',
    'Chuck',
    'Cut',
    'A rigid one follows the spindle exactly; a floating one is fed a little slower than the pitch and gives the rest.',
    { rigid: 'rigid', floating: 'floating' },
  ),
  {
    key: 'params.feedShare',
    label: 'Feed of the pitch',
    group: 'Cut',
    help: '95 to 98 %: the tap draws itself in, and the chuck is never pushed.',
    input: { kind: 'number', unit: '%', step: 1 },
    showWhen: { key: 'params.chuck', is: 'floating' },
  },
  choiceField(
    'params.output',
    'Posted as',
    'Output',
    'The control’s tapping cycle, or moves in step with the spindle.',
    { cycle: 'cycle G84', moves: 'moves G32' },
  ),
];

/** Room that stays under the tap in a blind hole, in pitches. */
const UNDER = 0.5;
/** How far a floating chuck gives, mm. */
const FLOAT = 6;
/** Where the tap starts in front of the work, in pitches: the feed is up by then. */
const BEFORE = 3;

const planTap = (op: TapOperation, seen: Seen): Planned => {
  if (seen.tool.kind !== 'tap') throw new Error('invariant: tapping has a tap');
  const { cutter } = seen.tool;
  const form = threadByName(cutter.thread);
  if (!form) return nothing([note('blocking', 'thread-unknown', op.id, { name: cutter.thread })]);
  const { speed } = op.cutting;
  if (speed.mode === 'surface') {
    const fixed = Math.max(1, Math.round(Math.min(seen.place.clamp, (1000 * speed.value) / (Math.PI * form.major))));
    return nothing([
      note('blocking', 'thread-needs-speed', op.id, {}, null, {
        remedy: {
          label: `${fixed} rev/min`,
          set: { [`/operations/${op.id}/cutting/speed`]: { mode: 'fixed', value: fixed } },
        },
      }),
    ]);
  }
  const findings: Finding[] = [];
  const { front, back } = seen.contour;
  const lead = cutter.chamfer * form.pitch;
  const core = form.minor / 2;
  const floor = seen.metal.top(-(core - 0.08 * form.pitch), core - 0.08 * form.pitch);
  const target = point(front, 0);
  const wanted = { thread: form.designation, drill: form.major - form.pitch };
  if (floor !== VOID && floor > front - form.pitch)
    return nothing([note('blocking', 'tap-hole', op.id, wanted, target)]);
  /** Whether there is metal for the thread at a radius, from near the front on. */
  const metalAt = (radius: number): boolean => {
    const around = seen.metal.top(-radius, radius);
    return around !== VOID && around >= front - 2 * form.pitch;
  };
  if (!metalAt(form.major / 2)) return nothing([note('blocking', 'tap-hole-wide', op.id, wanted, target)]);
  if (!metalAt(form.major / 2 - 0.15 * form.pitch))
    findings.push(note('attention', 'tap-hole-wide', op.id, wanted, target));
  const bottom = op.params.depth === null ? back - lead - form.pitch : front - op.params.depth - lead;
  const least = floor === VOID ? Number.NEGATIVE_INFINITY : floor + UNDER * form.pitch;
  if (bottom < least - 1e-6) {
    const depth = Math.floor((front - least - lead) * 10) / 10;
    return nothing([
      ...findings,
      note(
        'blocking',
        'tap-no-room',
        op.id,
        { needed: front - bottom + UNDER * form.pitch, free: front - floor, chamfer: lead },
        point(floor, 0),
        depth > 0
          ? { remedy: { label: `Full thread ${depth} mm`, set: { [`/operations/${op.id}/params/depth`]: depth } } }
          : {},
      ),
    ]);
  }
  if (front - bottom > cutter.threadLength)
    findings.push(
      note('blocking', 'drill-too-short', op.id, { depth: front - bottom, flutes: cutter.threadLength }, target),
    );
  const clearance = Math.round(Math.max(front + BEFORE * form.pitch, front + seen.place.safeDistance) * 1000) / 1000;
  // a floating chuck: the slide goes less far than the tap, which draws itself in
  const share = op.params.chuck === 'floating' ? op.params.feedShare / 100 : 1;
  const fed = Math.round(form.pitch * share * 1e6) / 1e6;
  const end = Math.round((clearance - (clearance - bottom) * share) * 1000) / 1000;
  const gives = end - bottom;
  if (gives > FLOAT) findings.push(note('attention', 'tap-float', op.id, { needed: gives, most: FLOAT }, target));
  const inward = (op.params.hand === 'right') === (seen.section.spindle === 'forward') ? 'forward' : 'reverse';
  const list = new EventList(op.id, seen.section.tip);
  const turn = (direction: 'forward' | 'reverse'): void =>
    list.add('cut', {
      kind: 'spindle',
      spindle: seen.place.spindle,
      direction,
      speed: { mode: 'fixed', value: Math.min(speed.value, seen.place.clamp) },
    });
  const asCycle = op.params.output === 'cycle';
  workOnAxis(
    list,
    seen,
    op.cutting,
    clearance,
    () => {
      if (asCycle) list.add('cut', { kind: 'cycle', cycle: { kind: 'tap', start: clearance, depth: end, lead: fed } });
      list.thread(point(end, 0), fed, 0);
      turn(inward === 'forward' ? 'reverse' : 'forward');
      list.thread(point(clearance, 0), fed, 0);
      turn(inward);
      if (asCycle) list.add('cut', { kind: 'cycle-end' });
    },
    inward,
  );
  return { events: list.events, findings, depth: form.outer.full, contourKey: null };
};

/** The thread of a tap, as deep as it is full. */
const threadOn = ({ params }: TapOperation, part: Part, tool: Tool | undefined): ThreadOnPart | null => {
  const form = tool?.kind === 'tap' ? threadByName(tool.cutter.thread) : null;
  if (!form) return null;
  const { front, back } = endsOfPart(part);
  const end = params.depth === null ? back : Math.max(back, front - params.depth);
  return threadAlong(form, front, end, { side: 'inner', depth: form.inner.full, starts: 1, hand: params.hand });
};

export const tap = defineKind({
  kind: 'tap',
  schema: TapOperationSchema,
  label: 'Tapping',
  short: 'tap',
  fields,
  tools: ['tap'],
  needs: 'a tap',
  purpose: 'tap',
  side: 'axis',
  rank: 72,
  target: 'none',
  covers: 'thread',
  needsHole: true,
  deep: false,
  leads: true,
  offeredFor: ['inner'],
  starting: () => ({}),
  validate: (op, need) => {
    need(op.params.depth === null || op.params.depth > 0, 'Full thread', op.params.depth ?? 0, 'above 0');
    need(
      op.params.feedShare >= 80 && op.params.feedShare <= 100,
      'Feed of the pitch',
      op.params.feedShare,
      '80 to 100 %',
    );
  },
  frame: () => FACE,
  threadOn,
  sketch: ({ params }, key, tool) => holeSketch(params, key, tool),
  plan: planTap,
});
