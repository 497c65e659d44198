import { greatestHalfThickness, type Region, regionVolume, scale, subtractRegion, unionRegions } from '../geometry';
import { isMove, type MotionEvent, timeProgram } from '../motion';
import { KINDS, PECK_CLEARANCE } from '../operations';
import type { Derived, Job } from '../plan';
import { cutStock, feedRuns } from '../stock';
import { TIP_DIRECTION, type ToolSection, toolSection } from '../tooling';
import { comparePrograms } from './compare';
import { dialectOf } from './dialects/dialect';
import { type PostedProgram, postChannel } from './post/post';
import { type ReadProgram, readProgram, type ToolTableEntry } from './reader/reader';

/** Programs of all channels. `date` is printed in the head; the same job and date give the same bytes. */
export const postJob = (job: Job, derived: Derived, date: string): PostedProgram[] => {
  const dialect = dialectOf(job.machine.dialect);
  const channels = job.machine.channels.map((c) => c.id);
  const usedTools = (channel: string): string[] => [
    ...new Set(
      derived.operations
        .filter((o) => o.channel === channel && o.events.length > 0)
        .map((o) => job.operations[o.id].tool)
        .filter((t): t is string => t !== null),
    ),
  ];
  return derived.program.channels.map((c, i) =>
    postChannel(
      c.channel,
      c.events,
      dialect,
      {
        programNumber: job.header.programNumber,
        comments: [
          `${job.header.number} ${job.header.name} rev ${job.header.revision}`,
          `${date} ${job.header.author}`,
          `${job.machine.name} ${dialect.name}${channels.length > 1 ? ` channel ${channels[i]}` : ''}`,
          `${job.material.name} bar ⌀${job.stock.diameter} stick-out ${job.holding.stickOut}`,
          ...usedTools(c.channel).map((id) => {
            const tool = job.tools[id];
            const station = derived.operations.find((o) => job.operations[o.id].tool === id)?.station ?? 0;
            return `T${String(station).padStart(2, '0')} ${tool.name}${'insert' in tool ? ` ${tool.insert}` : ''}`;
          }),
          ...derived.operations
            .filter((o) => o.channel === c.channel && o.state === 'off')
            .map((o) => `left out: ${job.operations[o.id].name}`),
        ],
        operationComment: (id) => {
          const op = job.operations[id];
          return `${op.name || KINDS[op.kind].label}${op.note ? ` - ${op.note}` : ''}`;
        },
      },
      channels,
    ),
  );
};

export const programText = (p: PostedProgram): string => `${p.lines.map((l) => l.text).join('\n')}\n`;

const toolTableOf = (job: Job): { table: Map<number, ToolTableEntry>; sections: Map<number, ToolSection> } => {
  const table = new Map<number, ToolTableEntry>();
  const sections = new Map<number, ToolSection>();
  for (const stations of Object.values(job.stations))
    for (const [station, id] of Object.entries(stations)) {
      const tool = job.tools[id];
      const section = tool ? toolSection(tool) : null;
      if (!tool || !section?.ok) continue;
      table.set(tool.offset ?? Number(station), {
        noseRadius: section.section.noseRadius,
        tip:
          section.section.noseRadius > 0
            ? scale(section.section.tip, 1 / section.section.noseRadius)
            : TIP_DIRECTION[0],
      });
      sections.set(Number(station), section.section);
    }
  return { table, sections };
};

export interface ChannelProof {
  readonly id: string;
  readonly maxDeviation: number;
  readonly moves: number;
  readonly at: number | null;
  readonly problems: readonly { readonly line: number; readonly message: string }[];
  readonly differences: readonly {
    readonly event: number;
    readonly what: string;
    readonly planned: string;
    readonly read: string;
  }[];
}

export interface Proof {
  readonly ok: boolean;
  readonly maxDeviation: number;
  readonly moves: number;
  readonly channels: readonly ChannelProof[];
  /** Stock that the program as read leaves, held against the plan's. */
  readonly stock: { readonly volume: number; readonly plannedVolume: number; readonly thickness: number };
  readonly deadlock: boolean;
}

export const PROOF_LIMIT = 0.001;

/** Reads posted text back, interprets it, and holds path, settings and final stock against the plan. */
export const proveJob = (job: Job, derived: Derived, texts: readonly string[]): Proof => {
  const { table, sections } = toolTableOf(job);
  const dialect = dialectOf(job.machine.dialect);
  const channels = job.machine.channels.map((c) => c.id);
  const reads: ReadProgram[] = texts.map((text, i) =>
    readProgram(text, {
      toolTable: table,
      channels,
      carrier: job.machine.carriers.find((c) => c.channel === channels[i])?.id ?? job.machine.carriers[0].id,
      spindle: job.holding.spindle,
      peckClearance: PECK_CLEARANCE,
      waitBase: dialect.wait.base,
    }),
  );
  const proofs = reads.map((r, i): ChannelProof => {
    const planned = derived.program.channels[i]?.events ?? [];
    const d = comparePrograms(planned, r.events);
    return {
      id: channels[i],
      maxDeviation: d.deviation,
      moves: d.moves,
      at: d.at,
      problems: r.problems,
      differences: d.differences,
    };
  });
  const timeline = timeProgram(
    { channels: reads.map((r, i) => ({ channel: channels[i], events: r.events })) },
    job.machine,
  );
  const left = reads.reduce((stock, r) => stockOfProgram(stock, r.events, sections), derived.rawStock);
  const planned = derived.operations.at(-1)?.after ?? derived.rawStock;
  const apart = unionRegions(subtractRegion(left, planned), subtractRegion(planned, left));
  const thickness = 2 * greatestHalfThickness(apart);
  const maxDeviation = Math.max(0, ...proofs.map((p) => p.maxDeviation));
  const ok =
    maxDeviation <= PROOF_LIMIT &&
    thickness <= 2 * PROOF_LIMIT &&
    timeline.kind === 'timed' &&
    proofs.every((p) => p.problems.length === 0 && p.differences.length === 0);
  return {
    ok,
    maxDeviation,
    moves: proofs.reduce((s, p) => s + p.moves, 0),
    channels: proofs,
    stock: { volume: regionVolume(left), plannedVolume: regionVolume(planned), thickness },
    deadlock: timeline.kind === 'deadlock',
  };
};

/** Stock after a whole program, tool by tool. */
const stockOfProgram = (
  stock: Region,
  events: readonly MotionEvent[],
  sections: ReadonlyMap<number, ToolSection>,
): Region => {
  let result = stock;
  let batch: MotionEvent[] = [];
  let section: ToolSection | undefined;
  let last: MotionEvent | null = null;
  const flush = (): void => {
    if (!section || batch.length === 0) return;
    const s = section;
    for (const run of feedRuns(batch, s, null)) result = cutStock(result, s, run.path);
    last = batch.filter(isMove).at(-1) ?? last;
    batch = [];
  };
  for (const e of events) {
    if (e.kind === 'tool') {
      flush();
      section = sections.get(e.station);
      batch = last ? [last] : [];
      continue;
    }
    batch.push(e);
  }
  flush();
  return result;
};
