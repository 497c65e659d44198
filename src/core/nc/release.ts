import { familyOf, findDialect, type PostedProgram, type ReadProgram, type ToolTableEntry } from '../dialects';
import { greatestHalfThickness, type Region, regionVolume, scale, subtractRegion, unionRegions } from '../geometry';
import type { Machine } from '../machine';
import { type MotionEvent, type Move, MoveResolver, timeProgram } from '../motion';
import { isCutting, namesOf, PECK_CLEARANCE } from '../operations';
import type { Derived, Job } from '../plan';
import { cutStock, feedRuns, withoutLoose } from '../stock';
import { mountList, offsetOf, TIP_DIRECTION, type ToolSection, toolSection } from '../tooling';
import { comparePrograms } from './compare';
import { lostWaits } from './waits';

/**
 * Programs of all channels; none for a control whose dialect is not known. `date` is printed in the head; the same job and
 * date give the same bytes.
 */
export const postJob = (job: Job, derived: Derived, date: string): PostedProgram[] => {
  const dialect = findDialect(job.machine.dialect);
  if (!dialect) return [];
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
    familyOf(dialect).post(
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
            const station = derived.operations.find((o) => job.operations[o.id].tool === id)?.station;
            return `T${String(station ?? '--').padStart(2, '0')} ${tool.name}${'designation' in tool.cutter ? ` ${tool.cutter.designation}` : ''}`;
          }),
          ...derived.operations
            .filter((o) => o.channel === c.channel && o.state === 'off')
            .map((o) => `left out: ${job.operations[o.id].name}`),
        ],
        operationComment: (id) => {
          const op = job.operations[id];
          return `${op.name || namesOf(op).label}${isCutting(op) && op.note ? ` - ${op.note}` : ''}`;
        },
      },
      channels,
    ),
  );
};

export const programText = (p: PostedProgram): string => `${p.lines.map((l) => l.text).join('\n')}\n`;

interface Tooling {
  readonly table: Map<number, ToolTableEntry>;
  readonly sections: Map<number, ToolSection>;
}

/** The control's tool table of a carrier, and the sections of its stations. */
const toolingOf = (job: Job, carrier: string): Tooling => {
  const table = new Map<number, ToolTableEntry>();
  const sections = new Map<number, ToolSection>();
  for (const m of mountList({ [carrier]: job.mounts[carrier] ?? {} })) {
    const tool = job.tools[m.mount.tool];
    const made = tool ? toolSection(tool, m.mount.wayUp) : null;
    if (!made?.ok || !/^\d+$/.test(m.station)) continue;
    const { section } = made;
    table.set(offsetOf(m), {
      noseRadius: section.noseRadius,
      tip: section.noseRadius > 0 ? scale(section.tip, 1 / section.noseRadius) : TIP_DIRECTION[0],
      station: Number(m.station),
    });
    sections.set(Number(m.station), section);
  }
  return { table, sections };
};

/** Tool tables of all carriers of a job, by carrier. */
export const toolTables = (job: Job): Map<string, Map<number, ToolTableEntry>> =>
  new Map(job.machine.carriers.map((c) => [c.id, toolingOf(job, c.id).table]));

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
  /** The text does what the plan says, and nothing stands against the plan. */
  readonly ok: boolean;
  /** The text does what the plan says. */
  readonly agrees: boolean;
  /** Findings that block the plan itself: a faithful program of a bad plan is no good program. */
  readonly blocked: number;
  readonly maxDeviation: number;
  readonly moves: number;
  readonly channels: readonly ChannelProof[];
  /** Stock that the program as read leaves, held against the plan's. */
  readonly stock: { readonly volume: number; readonly plannedVolume: number; readonly thickness: number };
  readonly deadlock: boolean;
}

export const PROOF_LIMIT = 0.001;

/** One text for each channel of a machine, interpreted as its control would. */
export const readTexts = (
  texts: readonly string[],
  machine: Machine,
  spindle: string,
  tableOf: (carrier: string) => Map<number, ToolTableEntry>,
): ReadProgram[] | null => {
  const dialect = findDialect(machine.dialect);
  if (!dialect) return null;
  const channels = machine.channels.map((c) => c.id);
  return texts.map((text, i) => {
    const carrier = machine.carriers.find((c) => c.channel === channels[i]);
    return familyOf(dialect).read(text, dialect, {
      toolTable: carrier ? tableOf(carrier.id) : new Map(),
      channels,
      carrier: carrier?.id ?? '',
      spindle,
      peckClearance: PECK_CLEARANCE,
    });
  });
};

/** Reads texts back, posted here or from elsewhere, and holds path, settings and final stock against the plan. */
export const proveJob = (job: Job, derived: Derived, texts: readonly string[]): Proof => {
  const channels = job.machine.channels.map((c) => c.id);
  const tooling = new Map(job.machine.carriers.map((c) => [c.id, toolingOf(job, c.id)]));
  const reads = readTexts(texts, job.machine, job.holding.spindle, (id) => tooling.get(id)?.table ?? new Map()) ?? [];
  const program = {
    channels: reads.slice(0, channels.length).map((r, i) => ({ channel: channels[i], events: r.events })),
  };
  const timeline = timeProgram(program, job.machine);
  const waits = lostWaits(reads, timeline);
  const proofs = channels.map((id, i): ChannelProof => {
    const planned = derived.program.channels[i]?.events ?? [];
    const read = reads[i];
    if (!read) {
      const problems = [{ line: 0, message: `There is no program for channel ${id}. Post it, or name its file.` }];
      return { id, maxDeviation: Number.POSITIVE_INFINITY, moves: 0, at: null, problems, differences: [] };
    }
    const d = comparePrograms(planned, read.events);
    return {
      id,
      maxDeviation: d.deviation,
      moves: d.moves,
      at: d.at,
      problems: [...read.problems, ...waits[i]],
      differences: d.differences,
    };
  });
  const cut = reads.slice(0, channels.length).reduce((stock, r, i) => {
    const carrier = job.machine.carriers.find((c) => c.channel === channels[i]);
    return stockOfProgram(stock, r.events, tooling.get(carrier?.id ?? '')?.sections ?? new Map());
  }, derived.rawStock);
  const left = withoutLoose(cut, derived.part.region);
  const planned = derived.operations.at(-1)?.after ?? derived.rawStock;
  const apart = unionRegions(subtractRegion(left, planned), subtractRegion(planned, left));
  const thickness = 2 * greatestHalfThickness(apart);
  const maxDeviation = Math.max(0, ...proofs.map((p) => p.maxDeviation));
  const agrees =
    maxDeviation <= PROOF_LIMIT &&
    thickness <= 2 * PROOF_LIMIT &&
    timeline.kind === 'timed' &&
    proofs.every((p) => p.problems.length === 0 && p.differences.length === 0);
  const blocked = derived.findings.filter((f) => f.severity === 'blocking').length + derived.part.problems.length;
  return {
    ok: agrees && blocked === 0,
    agrees,
    blocked,
    maxDeviation,
    moves: proofs.reduce((s, p) => s + p.moves, 0),
    channels: proofs,
    stock: { volume: regionVolume(left), plannedVolume: regionVolume(planned), thickness },
    deadlock: timeline.kind === 'deadlock',
  };
};

/** Stock after a whole program, tool by tool, by exact polygons: a second opinion on what the plan simulated in its own way. */
const stockOfProgram = (
  stock: Region,
  events: readonly MotionEvent[],
  sections: ReadonlyMap<number, ToolSection>,
): Region => {
  const resolver = new MoveResolver();
  let result = stock;
  let batch: Move[] = [];
  let section: ToolSection | undefined;
  const flush = (): void => {
    if (section) for (const run of feedRuns(batch, section)) result = cutStock(result, section, run.path);
    batch = [];
  };
  events.forEach((e, i) => {
    const move = resolver.next(e, i);
    if (e.kind === 'tool') {
      flush();
      section = sections.get(e.station);
    } else if (move) batch.push(move);
  });
  flush();
  return result;
};
