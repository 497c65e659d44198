import { z } from 'zod';
import { point } from '../../geometry';
import { threadByName } from '../../threads';
import { amount, number } from '../../units';
import { assemblyBase, cutterBase, defineTool, length } from '../kind';
import { box, sharp } from '../section';
import { onCentreSection, SleeveSchema } from './onCentre';

const TapSchema = z.object({
  ...assemblyBase,
  kind: z.literal('tap'),
  cutter: z.object({
    kind: z.literal('tap'),
    /** Designation of its thread. */
    thread: z.string().max(40),
    /** Threads of its chamfer: form C 2 to 3, B and D 3.5 to 5, E 1.5 to 2. */
    chamfer: number(0.5, 12, 'threads').default(2.5),
    /** Length that can go into the hole, mm. */
    threadLength: length(),
    ...cutterBase,
  }),
  holder: SleeveSchema,
});

const ReamerSchema = z.object({
  ...assemblyBase,
  kind: z.literal('reamer'),
  cutter: z.object({
    kind: z.literal('reamer'),
    diameter: length(),
    /** Length of the chamfer that cuts, mm. */
    chamfer: amount(50).default(1),
    /** Length that can go into the hole, mm. */
    fluteLength: length(),
    ...cutterBase,
  }),
  holder: SleeveSchema,
});

const sleeveField = {
  key: 'holder.diameter',
  label: 'Sleeve ⌀',
  help: 'Outside of the sleeve that holds it.',
  input: 'length',
} as const;

export const tap = defineTool({
  kind: 'tap',
  schema: TapSchema,
  name: 'a tap',
  describe: (t) => `${t.cutter.thread} · chamfer ${t.cutter.chamfer}`,
  fields: [
    {
      key: 'cutter.thread',
      label: 'Thread',
      help: 'Designation of its thread: M8, M10x1, 1/4-20 …',
      input: 'thread',
    },
    {
      key: 'cutter.chamfer',
      label: 'Chamfer threads',
      help: 'Form C has 2 to 3, B and D 3.5 to 5, E 1.5 to 2.',
      input: 'length',
    },
    { key: 'cutter.threadLength', label: 'Thread length', help: 'Length that can go into the hole.', input: 'length' },
    sleeveField,
  ],
  facts: (t) => ({
    approachAngle: 90,
    insert: null,
    onCentre: { diameter: threadByName(t.cutter.thread)?.major ?? 1, pointAngle: 180 },
    bladeWidth: 0,
    slender: null,
    enclosed: true,
    stands: 'along',
  }),
  waysUp: ['usual'],
  section: (t) => {
    const form = threadByName(t.cutter.thread);
    if (!form) return { ok: false, code: 'thread', found: t.cutter.thread };
    const [r, core] = [form.major / 2, form.minor / 2 - 0.1 * form.pitch];
    const { threadLength } = t.cutter;
    const lead = Math.min(t.cutter.chamfer * form.pitch, threadLength - 0.1);
    const edges = sharp([
      point(0, -core),
      point(lead, -r),
      point(threadLength, -r),
      point(threadLength, r),
      point(lead, r),
      point(0, core),
    ]);
    const bare = t.stickOut > threadLength ? box(threadLength, -core, t.stickOut, core) : null;
    return { ok: true, section: onCentreSection([edges], bare, t.holder, t.stickOut) };
  },
});

export const reamer = defineTool({
  kind: 'reamer',
  schema: ReamerSchema,
  name: 'a reamer',
  describe: (t) => `⌀${t.cutter.diameter} · flutes ${t.cutter.fluteLength}`,
  fields: [
    { key: 'cutter.diameter', label: 'Diameter', help: 'Diameter of the finished hole.', input: 'length' },
    { key: 'cutter.chamfer', label: 'Chamfer', help: 'Length of the chamfer that cuts.', input: 'length' },
    { key: 'cutter.fluteLength', label: 'Flutes', help: 'Length that can go into the hole.', input: 'length' },
    sleeveField,
  ],
  facts: (t) => ({
    approachAngle: 45,
    insert: null,
    onCentre: { diameter: t.cutter.diameter, pointAngle: 180 },
    bladeWidth: 0,
    slender: null,
    enclosed: true,
    stands: 'along',
  }),
  waysUp: ['usual'],
  section: (t) => {
    const r = t.cutter.diameter / 2;
    const { fluteLength } = t.cutter;
    const c = Math.min(t.cutter.chamfer, r * 0.9, fluteLength - 0.1);
    const edges = sharp([
      point(0, -(r - c)),
      point(c, -r),
      point(fluteLength, -r),
      point(fluteLength, r),
      point(c, r),
      point(0, r - c),
    ]);
    const bare = t.stickOut > fluteLength ? box(fluteLength, -r * 0.9, t.stickOut, r * 0.9) : null;
    return { ok: true, section: onCentreSection([edges], bare, t.holder, t.stickOut) };
  },
});
