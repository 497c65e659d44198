import {
  type ChannelText,
  controlOf,
  familyOf,
  type PostHead,
  type ReadProgram,
  type ToolTableEntry,
} from '../dialects';
import { greatestHalfThickness, type Region, regionVolume, subtractRegion, unionRegions } from '../geometry';
import { carrierOf, type Machine, mainSpindle } from '../machine';
import { type MotionEvent, type Move, MoveResolver, timeProgram } from '../motion';
import { isCutting, PECK_CLEARANCE, titleOf } from '../operations';
import {
  type Derived,
  documentId,
  heldIn,
  isSecond,
  type Job,
  operationOf,
  repeatOf,
  secondOf,
  splitOff,
} from '../plan';
import { type Body, cutStock, feedRuns, type Separated, withoutLoose } from '../stock';
import {
  FIRST_POSITION,
  mountList,
  offsetOf,
  programmedAt,
  TIP_DIRECTION,
  type ToolSection,
  toolFacts,
  toolInPlace,
  toolSection,
} from '../tooling';
import { comparePrograms } from './compare';
import { type Run, runsOf } from './runs';
import { lostWaits } from './waits';
import { zerosToSet, zeroWords } from './zeros';

/** A channel's text with its place among the programs of a job. */
export interface PostedProgram extends ChannelText {
  /** Which of the programs between which the work is held anew, from 0, and how many there are. */
  readonly run: number;
  readonly runs: number;
}

/**
 * Programs of all channels, for each run of holdings between which the work is held anew by hand; none for a control whose
 * dialect is not known. `date` is printed in the head; the same job and date give the same bytes.
 */
export const postJob = (job: Job, derived: Derived, date: string): PostedProgram[] => {
  const dialect = controlOf(job.machine);
  if (!dialect) return [];
  const channels = job.machine.channels.map((c) => c.id);
  const runs = runsOf(derived);
  const times = new Map(derived.operations.map((o) => [o.id, o.time]));
  const subProgram: PostHead['subProgram'] = (id) => {
    const repeat = repeatOf(job, documentId(job, id));
    const time = times.get(id);
    if (repeat?.output !== 'sub-program' || !time) return null;
    // by tool each operation has a sub-program of its own
    const which = repeat.by === 'tool' ? `${repeat.id} ${documentId(job, id)}` : repeat.id;
    return { repeat: which, number: time.number };
  };
  const zeros = zerosToSet(job, derived);
  return runs.flatMap((run, r) => {
    const names = run.holdings.map((id) => job.holdings[id].name).join(' and ');
    return run.channels.map(({ channel, events, offset }) => {
      const own = derived.operations.filter((o) => o.channel === channel && run.holdings.includes(o.holding));
      const tools = new Map(
        own.flatMap((o) => {
          const op = job.operations[o.operation];
          return o.events.length > 0 ? [[(isSecond(o.id) ? secondOf(op) : op.tool) ?? '', o.station] as const] : [];
        }),
      );
      const posted = familyOf(dialect).post(
        channel,
        events,
        dialect,
        {
          programNumber: job.header.programNumber + r,
          comments: [
            `${job.header.number} ${job.header.name} rev ${job.header.revision}`,
            `${date} ${job.header.author}`,
            `${job.machine.name} ${dialect.name}${channels.length > 1 ? ` channel ${channel}` : ''}`,
            ...(job.holdingOrder.length > 1
              ? [`${names}${runs.length > 1 ? `, program ${r + 1} of ${runs.length}` : ''}`]
              : []),
            ...run.holdings.map((id) => heldWords(job, derived, id)),
            ...zeros.filter((z) => run.holdings.includes(z.holding)).map((z) => zeroWords(job, z)),
            ...[...tools].flatMap(([id, station]) => {
              const tool = job.tools[id];
              return tool
                ? `T${String(station ?? '--').padStart(2, '0')} ${tool.name}${'designation' in tool.cutter ? ` ${tool.cutter.designation}` : ''}`
                : [];
            }),
            ...own
              .filter((o) => o.state === 'off' && o.id === o.operation)
              .map((o) => `left out: ${job.operations[o.id].name}`),
          ],
          spindle: mainSpindle(job.machine),
          turned: (id) => heldIn(derived, operationOf(job, id)?.holding ?? '').direction < 0,
          subProgram,
          holdingName: (id) => job.holdings[id]?.name ?? id,
          operationComment: (id) => {
            const op = operationOf(job, id);
            if (!op) return id;
            const time = times.get(id);
            const which = time && !subProgram(id) ? ` ${time.number} of ${time.count}` : '';
            const share = isSecond(id) ? ' second tool' : '';
            return `${titleOf(op)}${which}${share}${isCutting(op) && op.note ? ` - ${op.note}` : ''}`;
          },
        },
        channels,
      );
      // events are counted in the whole channel, whichever program they stand in
      return {
        ...posted,
        run: r,
        runs: runs.length,
        lines: posted.lines.map((l) => (l.event === null || offset === 0 ? l : { ...l, event: l.event + offset })),
        problems: posted.problems.map((k) => ({ ...k, event: k.event + offset })),
      };
    });
  });
};

/** What is held, and how, for the head of a program. */
const heldWords = (job: Job, derived: Derived, id: string): string => {
  const { stock, grip } = job.holdings[id];
  if (stock.form === 'bar') return `${job.material.name} bar ⌀${stock.diameter} stick-out ${stock.stickOut}`;
  const { radius } = heldIn(derived, id).seat;
  return `piece from ${job.holdings[stock.holding].name}, grip ${grip} on ⌀${Number((2 * radius).toFixed(2))}`;
};

/** A name for files of a job, of letters that every file system takes. */
export const fileStem = ({ header }: Pick<Job, 'header'>): string =>
  header.number
    .normalize('NFKD')
    .replace(/[^A-Za-z0-9._-]+/g, '-')
    .replace(/^[-.]+|[-.]+$/g, '')
    .slice(0, 60) || 'program';

/** File name of a program. */
export const programName = (stem: string, p: PostedProgram): string =>
  `${stem}${p.runs > 1 ? `-${p.run + 1}` : ''}-ch${p.channel}.nc`;

export const programText = (p: ChannelText): string => `${p.lines.map((l) => l.text).join('\n')}\n`;

/** The control's tool table of a carrier: nose and tip as the machine's directions have them, by offset. */
const tableOf = (job: Job, carrier: string): Map<number, ToolTableEntry> => {
  const table = new Map<number, ToolTableEntry>();
  for (const m of mountList({ [carrier]: job.mounts[carrier] ?? {} })) {
    const tool = job.tools[m.mount.tool];
    const made = tool ? toolSection(tool, m.mount.wayUp) : null;
    if (!tool || !made?.ok || !/^\d+$/.test(m.station)) continue;
    const { noseRadius, tipNumber } = programmedAt(made.section, m.mount.point);
    const over = toolFacts(tool).stands === 'along' && m.mount.facing === 'sub';
    const direction = TIP_DIRECTION[noseRadius > 0 ? tipNumber : 0];
    table.set(offsetOf(m), {
      noseRadius,
      tip: over ? { x: -direction.x, y: direction.y } : direction,
      station: Number(m.station),
    });
  }
  return table;
};

/** Sections of a carrier's tools as work in a spindle sees them, by station and offset, and by station alone for the first of each. */
const sectionsAt = (job: Job, carrier: string, turned: boolean): Map<string, ToolSection> =>
  new Map(
    mountList({ [carrier]: job.mounts[carrier] ?? {} }).flatMap((m) => {
      const made = toolInPlace(job.tools, job.mounts, m, turned);
      if (!made?.ok || !/^\d+$/.test(m.station)) return [];
      const station = Number(m.station);
      const names = [called(station, offsetOf(m)), ...(m.position === FIRST_POSITION ? [String(station)] : [])];
      return names.map((name) => [name, made.section] as const);
    }),
  );

/** A tool as a program calls it. */
const called = (station: number, offset: number): string => `${station}/${offset}`;

/** Tool tables of all carriers of a job, by carrier. */
export const toolTables = (job: Job): Map<string, Map<number, ToolTableEntry>> =>
  new Map(job.machine.carriers.map((c) => [c.id, tableOf(job, c.id)]));

export interface ChannelProof {
  readonly id: string;
  /** Which of the programs between which the work is held anew, from 0. */
  readonly run: number;
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
  turnedZeros: ReadonlySet<string>,
  tables: (carrier: string) => Map<number, ToolTableEntry>,
  zeroShifts: ReadonlyMap<string, number> = new Map(),
): ReadProgram[] | null => {
  const dialect = controlOf(machine);
  if (!dialect) return null;
  const channels = machine.channels.map((c) => c.id);
  return texts.map((text, i) => {
    const carrier = carrierOf(machine, channels[i]);
    return familyOf(dialect).read(text, dialect, {
      toolTable: carrier ? tables(carrier.id) : new Map(),
      channels,
      carrier: carrier?.id ?? '',
      spindle: mainSpindle(machine),
      turnedZeros,
      zeroShifts,
      peckClearance: PECK_CLEARANCE,
    });
  });
};

/** Zeros of their own that times of a repeat have: how far along Z each lies from its holding's, as the operator sets them. */
const zeroShifts = (derived: Derived): Map<string, number> =>
  new Map(
    derived.program.channels.flatMap((c) =>
      c.events.flatMap((e) => (e.kind === 'work-offset' && e.shift && !e.local ? [[e.code, e.shift] as const] : [])),
    ),
  );

/** Reads texts back, posted here or from elsewhere, and holds path, settings and final stock against the plan. */
export const proveJob = (job: Job, derived: Derived, texts: readonly string[]): Proof => {
  const channels = job.machine.channels.map((c) => c.id);
  const tables = toolTables(job);
  const shifts = zeroShifts(derived);
  const turnedZeros = new Set(
    derived.holdings.flatMap((h) => (h.direction < 0 ? [job.holdings[h.id].workOffset] : [])),
  );
  const proofs: ChannelProof[] = [];
  const stocks: { left: Region; planned: Region }[] = [];
  let timed = true;
  for (const [r, run] of runsOf(derived).entries()) {
    const own = texts.slice(r * channels.length, (r + 1) * channels.length);
    const reads = readTexts(own, job.machine, turnedZeros, (id) => tables.get(id) ?? new Map(), shifts) ?? [];
    const program = { channels: reads.map((k, i) => ({ channel: channels[i], events: k.events })) };
    const timeline = timeProgram(program, job.machine);
    if (timeline.kind !== 'timed') timed = false;
    const waits = lostWaits(reads, timeline);
    channels.forEach((id, i) => {
      const planned = run.channels[i];
      const read = reads[i];
      if (!read) {
        const problems = [{ line: 0, message: `There is no program for channel ${id}. Post it, or name its file.` }];
        proofs.push({ id, run: r, maxDeviation: Infinity, moves: 0, at: null, problems, differences: [] });
        return;
      }
      const d = comparePrograms(planned.events, read.events);
      proofs.push({
        id,
        run: r,
        maxDeviation: d.deviation,
        moves: d.moves,
        at: d.at === null ? null : d.at + planned.offset,
        problems: [...read.problems, ...waits[i]],
        differences: d.differences.map((k) => ({ ...k, event: k.event + planned.offset })),
      });
    });
    stocks.push(...stocksOfRun(job, derived, run, reads));
  }
  const compared = stocks.map(({ left, planned }) => {
    const apart = unionRegions(subtractRegion(left, planned), subtractRegion(planned, left));
    return {
      volume: regionVolume(left),
      plannedVolume: regionVolume(planned),
      thickness: 2 * greatestHalfThickness(apart),
    };
  });
  const last = compared[compared.length - 1] ?? { volume: 0, plannedVolume: 0 };
  const thickness = Math.max(0, ...compared.map((c) => c.thickness));
  const maxDeviation = Math.max(0, ...proofs.map((p) => p.maxDeviation));
  const agrees =
    maxDeviation <= PROOF_LIMIT &&
    thickness <= 2 * PROOF_LIMIT &&
    timed &&
    proofs.every((p) => p.problems.length === 0 && p.differences.length === 0);
  const blocked = derived.findings.filter((f) => f.severity === 'blocking').length + derived.part.problems.length;
  return {
    ok: agrees && blocked === 0,
    agrees,
    blocked,
    maxDeviation,
    moves: proofs.reduce((s, p) => s + p.moves, 0),
    channels: proofs,
    stock: { volume: last.volume, plannedVolume: last.plannedVolume, thickness },
    deadlock: !timed,
  };
};

/**
 * Stock that the programs of a run leave in each of its holdings, beside what the plan leaves there. A holding begins with
 * what the plan gives it: what the program before it left has been held against the plan already.
 */
const stocksOfRun = (
  job: Job,
  derived: Derived,
  run: Run,
  reads: readonly ReadProgram[],
): { left: Region; planned: Region }[] => {
  const channels = job.machine.channels.map((c) => c.id);
  return run.holdings.map((id, k) => {
    const held = heldIn(derived, id);
    const own = derived.operations.filter((o) => o.holding === id);
    const several = own.some((o) => o.time !== null);
    const fallen: Body[] = [];
    const cut = reads.reduce((stock, r, i) => {
      const carrier = carrierOf(job.machine, channels[i]);
      const zeros = run.holdings.map((h) => job.holdings[h].workOffset);
      const stopsIn = run.holdings.map((h) => plannedStops(derived, h, channels[i]));
      const made = stockOfProgram(
        stock,
        partsByZero(r.events, zeros, stopsIn)[k],
        sectionsAt(job, carrier?.id ?? '', held.direction < 0),
        several ? (left) => splitOff(job, held, left) : null,
      );
      fallen.push(...made.fallen);
      return made.stock;
    }, held.rawStock);
    const last = own.at(-1)?.after ?? held.rawStock;
    // crumbs that fall with a part are no part
    const most = Math.max(0, ...fallen.map((f) => f.volume));
    const parts = fallen.filter((f) => f.volume > most / 100).map((f) => f.turnedOutline);
    return {
      left: unionRegions(withoutLoose(cut, held.part.region).turnedOutline, ...parts),
      planned: unionRegions(last.turnedOutline, ...fallenFrom(own)),
    };
  });
};

/** Parts that fell between the operations of a plan: what one left and the next did not find. */
const fallenFrom = (own: Derived['operations']): Region[] =>
  own
    .slice(1)
    .flatMap((o, i) =>
      o.before === own[i].after ? [] : [subtractRegion(own[i].after.turnedOutline, o.before.turnedOutline)],
    );

/** Stops of a channel that belong to its work in a holding. */
const plannedStops = (derived: Derived, holding: string, channel: string): number =>
  derived.operations
    .filter((d) => d.holding === holding && d.channel === channel)
    .reduce((n, d) => n + d.events.filter((e) => e.kind === 'stop' && !e.optional).length, 0);

/**
 * What a program does in each of several holdings: told apart by their work offsets, or by its stops where those are the
 * same. A tool that is called before the offset is named belongs to what follows.
 */
const partsByZero = (
  events: readonly MotionEvent[],
  zeros: readonly string[],
  stopsIn: readonly number[],
): MotionEvent[][] => {
  const parts: MotionEvent[][] = zeros.map(() => []);
  const distinct = new Set(zeros).size === zeros.length;
  let now = 0;
  let stops = 0;
  let tool: MotionEvent | null = null;
  for (const e of events) {
    if (e.kind === 'tool') tool = e;
    const named = distinct && e.kind === 'work-offset' ? zeros.indexOf(e.code) : -1;
    // stops that are meant within a holding come before the one at which the work is held anew
    const anew = e.kind === 'stop' && !e.optional && ++stops > (stopsIn[now] ?? 0);
    const next = distinct ? (named < 0 ? now : named) : anew ? now + 1 : now;
    if (next !== now && next < parts.length) {
      now = next;
      stops = 0;
      // where the slides stand in the other holding's coordinates is not known
      parts[now].push({ kind: 'home', axes: ['X', 'Z'], op: e.op, purpose: 'setup' });
      if (tool) parts[now].push(tool);
    }
    parts[now].push(e);
  }
  return parts;
};

/** Stock after a whole program, and the parts that fell on the way, tool by tool, by exact polygons: a second opinion on what the plan simulated in its own way. */
const stockOfProgram = (
  stock: Body,
  events: readonly MotionEvent[],
  sections: ReadonlyMap<string, ToolSection>,
  split: ((stock: Body) => Separated) | null,
): { stock: Body; fallen: Body[] } => {
  const fallen: Body[] = [];
  const resolver = new MoveResolver();
  let result = stock;
  let batch: Move[] = [];
  let section: ToolSection | undefined;
  const flush = (): void => {
    if (section) for (const run of feedRuns(batch, section)) result = cutStock(result, section, run.path);
    batch = [];
    const parted = split?.(result);
    if (!parted || parted.off.isEmpty) return;
    fallen.push(parted.off);
    result = parted.held;
  };
  events.forEach((e, i) => {
    const move = resolver.next(e, i);
    if (e.kind === 'tool') {
      flush();
      section = sections.get(called(e.station, e.offset)) ?? sections.get(String(e.station));
    } else if (move) batch.push(move);
  });
  flush();
  return { stock: result, fallen };
};
