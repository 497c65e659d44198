import { z } from 'zod';
import { spiralByName, type ThreadForm, threadByName } from '../../threads';
import { typed } from '../../units';
import { choiceField } from '../fields';
import { type Field, operationBase } from '../types';

const params = z.object({
  /** Designation: M16x1.5, 1/2-13, G1/2, NPT1/2, Tr20x4 … */
  thread: z.string().max(40).default(''),
  hand: z.enum(['right', 'left']).default('right'),
  starts: typed().default(1),
  /** From the front of the span; null = all of it. */
  length: typed().nullable().default(null),
  /** From the crest, mm per side; null = by the standard and the insert. */
  depth: typed().nullable().default(null),
  passes: typed().default(6),
  /** Depth of the first pass; null = from the number of passes. */
  first: typed().nullable().default(null),
  least: typed().default(0.05),
  finish: typed().default(0.03),
  springPasses: typed().default(0),
  mode: z.enum(['equal-area', 'fixed']).default('equal-area'),
  infeed: z.enum(['straight', 'flank', 'alternating']).default('flank'),
  /** Between the infeed and the square to the axis, degrees. */
  infeedAngle: typed().default(27.5),
  /** In front of the thread, for the slide to come to its speed; null = what it needs. */
  runIn: typed().nullable().default(null),
  /** Beyond the thread's end; null = one pitch where there is room. */
  runOut: typed().nullable().default(null),
  output: z.enum(['moves', 'cycle', 'passes']).default('moves'),
});

export const OuterThreadSchema = z.object({ ...operationBase, kind: z.literal('outer-thread'), params });
export const InnerThreadSchema = z.object({ ...operationBase, kind: z.literal('inner-thread'), params });
/** No cycle of a control runs along a face: its passes are always moves. */
export const FaceThreadSchema = z.object({
  ...operationBase,
  kind: z.literal('face-thread'),
  params: params.omit({ output: true }),
});
export type ThreadOperation =
  | z.infer<typeof OuterThreadSchema>
  | z.infer<typeof InnerThreadSchema>
  | z.infer<typeof FaceThreadSchema>;

/** Which side of the part a thread is cut into. */
export type ThreadSide = 'outer' | 'inner' | 'face';
const SIDES = { 'outer-thread': 'outer', 'inner-thread': 'inner', 'face-thread': 'face' } as const;
export const sideOf = (op: ThreadOperation): ThreadSide => SIDES[op.kind];

/** The thread that an operation names; null for none. A spiral on a face has a pitch and no diameter. */
export const formOf = (op: ThreadOperation): ThreadForm | null =>
  op.kind === 'face-thread' ? spiralByName(op.params.thread) : threadByName(op.params.thread);

export const threadFields: Field[] = [
  {
    key: 'params.thread',
    label: 'Thread',
    group: 'Thread',
    help: 'Its designation: M16x1.5, 1/2-13, #10-32, G1/2, R1/2, NPT1/2, Tr20x4. M with any two numbers is a thread of your own.',
    input: { kind: 'text', placeholder: 'M16x1.5' },
  },
  choiceField('params.hand', 'Hand', 'Thread', 'Follows the way of the feed and the direction of the spindle.', {
    right: 'right',
    left: 'left',
  }),
  {
    key: 'params.starts',
    label: 'Starts',
    group: 'Thread',
    help: 'Threads side by side; the lead is the pitch times the starts.',
    input: { kind: 'number', unit: '', step: 1 },
  },
  {
    key: 'params.length',
    label: 'Length',
    group: 'Thread',
    help: 'From the front of the span. Empty: all of it.',
    input: { kind: 'length', optional: 'whole span' },
  },
  {
    key: 'params.depth',
    label: 'Depth',
    group: 'Depth',
    help: 'From the crest to the root. Empty: by the standard and the nose of the insert.',
    input: { kind: 'length', per: 'side', optional: 'standard' },
  },
  choiceField(
    'params.mode',
    'Passes of',
    'Depth',
    'Equal area keeps the load alike; fixed takes the same depth each time.',
    {
      'equal-area': 'equal area',
      fixed: 'fixed depth',
    },
  ),
  {
    key: 'params.passes',
    label: 'Passes',
    group: 'Depth',
    help: 'From which the first depth follows. The least depth may make it more.',
    input: { kind: 'number', unit: '', step: 1 },
  },
  {
    key: 'params.first',
    label: 'First depth',
    group: 'Depth',
    help: 'Depth of the first pass. Empty: from the number of passes.',
    input: { kind: 'length', per: 'side', optional: 'from passes' },
  },
  {
    key: 'params.least',
    label: 'Least depth',
    group: 'Depth',
    help: 'No pass takes less: a thinner chip only rubs.',
    input: { kind: 'length', per: 'side' },
  },
  {
    key: 'params.finish',
    label: 'Last pass',
    group: 'Depth',
    help: 'Left for one last pass to the whole depth. 0: none.',
    input: { kind: 'length', per: 'side' },
  },
  {
    key: 'params.springPasses',
    label: 'Spring passes',
    group: 'Depth',
    help: 'Passes again at the whole depth.',
    input: { kind: 'number', unit: '', step: 1 },
  },
  choiceField('params.infeed', 'Infeed', 'Cut', 'Straight in, along one flank, or by turns left and right.', {
    straight: 'straight',
    flank: 'by the flank',
    alternating: 'alternating',
  }),
  {
    key: 'params.infeedAngle',
    label: 'Infeed angle',
    group: 'Cut',
    help: 'Half the flank angle less 0.5 to 5°: the trailing flank is then just cut clean.',
    input: { kind: 'number', unit: '°', step: 0.5 },
    showWhen: { key: 'params.infeed', is: 'flank' },
  },
  {
    key: 'params.runIn',
    label: 'Run-in',
    group: 'Span ends',
    help: 'In front of the thread, for the slide to come to its speed. Empty: what it needs.',
    input: { kind: 'length', optional: 'as needed' },
  },
  {
    key: 'params.runOut',
    label: 'Run-out',
    group: 'Span ends',
    help: 'Beyond the end of the thread. Empty: one pitch, where there is room.',
    input: { kind: 'length', optional: 'one pitch' },
  },
  choiceField('params.output', 'Posted as', 'Output', 'Every pass as a block, or the control’s threading cycle.', {
    moves: 'moves G32',
    cycle: 'cycle G76',
    passes: 'passes G92',
  }),
];

/** The same for a spiral: what differs is what it is called, which way it runs, and that no cycle makes it. */
export const spiralFields: Field[] = threadFields.flatMap((f): Field[] => {
  switch (f.key) {
    case 'params.thread':
      return [
        {
          ...f,
          label: 'Spiral',
          help: 'P and its pitch: P1.5. P6x30 has flanks of 30° (a scroll), P2x55 of 55°.',
          input: { kind: 'text', placeholder: 'P1.5' },
        },
      ];
    case 'params.hand':
      return [{ ...f, help: 'A right-hand spiral closes in clockwise, seen from in front of the part.' }];
    case 'params.length':
      return [{ ...f, help: 'From the outer end of the span inward. Empty: all of it.' }];
    case 'params.runIn':
      return [
        { ...f, help: 'Beyond the end where it begins, for the slide to come to its speed. Empty: what it needs.' },
      ];
    case 'params.output':
      return [];
    default:
      return [f];
  }
});
