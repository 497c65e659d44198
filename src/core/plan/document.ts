import { z } from 'zod';
import { MaterialSchema } from '../cutting';
import { HoldingSchema } from '../holding';
import { MachineSchema } from '../machine';
import { OperationSchema } from '../operations';
import { PartSchema } from '../part';
import { MountsSchema, ToolSchema } from '../tooling';
import { RepeatSchema } from './repeats';
import { upgraded } from './upgrade';

export const JOB_FORMAT = 'lively-spindle-job';
export const JOB_VERSION = 5;

const text = (most: number) => z.string().max(most);

/** The job file: the only thing that is edited and saved. All else is derived from it. */
export const JobSchema = z.object({
  format: z.literal(JOB_FORMAT),
  version: z.literal(JOB_VERSION),
  header: z.object({
    number: text(60),
    name: text(200),
    revision: text(40).default('A'),
    batch: z.number().int().min(1).default(1),
    programNumber: z.number().int().min(1).max(9999).default(1),
    author: text(120).default(''),
    note: text(4000).default(''),
  }),
  units: z.enum(['mm', 'inch']).default('mm'),
  material: MaterialSchema,
  machine: MachineSchema,
  part: PartSchema,
  holdings: z.record(z.string().max(80), HoldingSchema),
  /** The holdings in the order in which the work passes through them. */
  holdingOrder: z.array(z.string().max(80)).min(1).max(12),
  /** Between two holdings by hand: a program for each, or one program with a stop. */
  programs: z.enum(['each', 'one']).default('each'),
  tools: z.record(z.string().max(80), ToolSchema),
  /** Where each tool stands, for each carrier. */
  mounts: MountsSchema,
  operations: z.record(z.string().max(80), OperationSchema),
  /** Order of operations in each channel. */
  order: z.record(z.string().max(40), z.array(z.string().max(80)).max(5000)),
  /** Groups of operations that run several times along Z. */
  repeats: z.record(z.string().max(80), RepeatSchema).default({}),
});
export type Job = z.infer<typeof JobSchema>;

export interface DocumentProblem {
  readonly code: 'not-json' | 'not-a-job' | 'newer-version' | 'shape' | 'reference';
  /** Where in the file, as names joined by dots. */
  readonly place: string;
  readonly message: string;
}

export type ReadJob =
  | { readonly ok: true; readonly job: Job }
  | { readonly ok: false; readonly problems: readonly DocumentProblem[] };

const bad = (code: DocumentProblem['code'], place: string, message: string): ReadJob => ({
  ok: false,
  problems: [{ code, place, message }],
});

/** Names that point at nothing inside the document. */
const danglingReferences = (job: Job): DocumentProblem[] => {
  const problems: DocumentProblem[] = [];
  const say = (place: string, message: string): void => {
    problems.push({ code: 'reference', place, message });
  };
  const listed = new Set<string>();
  for (const [channel, ids] of Object.entries(job.order)) {
    if (!job.machine.channels.some((c) => c.id === channel))
      say(
        `order.${channel}`,
        `The machine has no channel “${channel}”. Move its operations to one of ${job.machine.channels.map((c) => c.id).join(', ')}.`,
      );
    ids.forEach((id, i) => {
      if (!(id in job.operations))
        say(`order.${channel}.${i}`, `No operation is called “${id}”. Remove it from the order or add the operation.`);
      if (listed.has(id)) say(`order.${channel}.${i}`, `Operation “${id}” stands twice in the order. Keep one.`);
      listed.add(id);
    });
  }
  const holdings = Object.keys(job.holdings);
  const known = holdings.join(', ');
  job.holdingOrder.forEach((id, i) => {
    if (!(id in job.holdings))
      say(`holdingOrder.${i}`, `No holding is called “${id}”. Remove it from the order or add the holding.`);
    if (job.holdingOrder.indexOf(id) < i)
      say(`holdingOrder.${i}`, `Holding “${id}” stands twice in the order. Keep one.`);
  });
  for (const [id, holding] of Object.entries(job.holdings)) {
    const place = job.holdingOrder.indexOf(id);
    if (place < 0) say(`holdings.${id}`, 'The holding is not in the order of holdings. Add it there.');
    const { stock } = holding;
    if (stock.form === 'bar') continue;
    const source = job.holdingOrder.indexOf(stock.holding);
    if (source < 0 || source >= place)
      say(
        `holdings.${id}.stock.holding`,
        `Its work comes from holding “${stock.holding}”, which does not come before it. Name one that does, or give it a bar.`,
      );
  }
  for (const [id, op] of Object.entries(job.operations)) {
    if (!(op.holding in job.holdings))
      say(`operations.${id}.holding`, `The job has no holding “${op.holding}”. Name one of ${known}.`);
    if (op.id !== id)
      say(`operations.${id}.id`, `The operation says “${op.id}” but is filed under “${id}”. Make both the same.`);
    if (!listed.has(id)) say(`operations.${id}`, 'The operation is in no channel’s order. Add it to one.');
  }
  const repeated = new Map<string, string>();
  for (const [id, repeat] of Object.entries(job.repeats)) {
    if (repeat.id !== id)
      say(`repeats.${id}.id`, `The repeat says “${repeat.id}” but is filed under “${id}”. Make both the same.`);
    repeat.operations.forEach((op, i) => {
      const place = `repeats.${id}.operations.${i}`;
      if (!(op in job.operations)) say(place, `No operation is called “${op}”. Remove it from the repeat.`);
      else if (repeated.has(op)) say(place, `Operation “${op}” is repeated twice over. Keep it in one repeat.`);
      repeated.set(op, id);
    });
  }
  for (const [id, tool] of Object.entries(job.tools))
    if (tool.id !== id)
      say(`tools.${id}.id`, `The tool says “${tool.id}” but is filed under “${id}”. Make both the same.`);
  return problems;
};

/** Reads a job of any version from parsed JSON, brought up to the present one; every complaint names the place, the reason and what to do. */
export const readJob = (value: unknown): ReadJob => {
  if (typeof value !== 'object' || value === null || Array.isArray(value))
    return bad(
      'not-a-job',
      '',
      'This is not a job file: it holds no object. Choose a file that ends in .spindle.json.',
    );
  const head = value as { format?: unknown; version?: unknown };
  if (head.format !== JOB_FORMAT)
    return bad(
      'not-a-job',
      'format',
      `This is not a job file: “format” should be “${JOB_FORMAT}”. Choose a file that ends in .spindle.json.`,
    );
  if (typeof head.version === 'number' && head.version > JOB_VERSION)
    return bad(
      'newer-version',
      'version',
      `The file was written by a newer program (version ${head.version}; this one reads up to ${JOB_VERSION}). Update Lively Spindle, or save the job there for version ${JOB_VERSION}.`,
    );
  const parsed = JobSchema.safeParse(upgraded(value, JOB_VERSION));
  if (!parsed.success)
    return {
      ok: false,
      problems: parsed.error.issues.slice(0, 20).map((i) => ({
        code: 'shape',
        place: i.path.join('.'),
        message: `${i.path.join('.') || 'The file'}: ${i.message}. Correct this value and load the file again.`,
      })),
    };
  const dangling = danglingReferences(parsed.data);
  return dangling.length > 0 ? { ok: false, problems: dangling } : { ok: true, job: parsed.data };
};

/** The same from text. */
export const readJobText = (content: string): ReadJob => {
  try {
    return readJob(JSON.parse(content));
  } catch (error) {
    return bad(
      'not-json',
      '',
      `The file is not readable JSON (${error instanceof Error ? error.message.slice(0, 160) : 'broken'}). It may be cut short; load an unbroken copy.`,
    );
  }
};

/** The published JSON Schema of the job file. */
export const jobJsonSchema = (): unknown => z.toJSONSchema(JobSchema, { io: 'input' });
