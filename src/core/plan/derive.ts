import { checkMotion, frameOfTool } from '../checks';
import { type Finding, note } from '../findings';
import { type Region, regionVolume, unionRegions } from '../geometry';
import { chuckRegion, jawRegion, partZeroInMachine, stockRegion } from '../holding';
import {
  type ChannelTimeline,
  isMove,
  type MotionEvent,
  type MotionProgram,
  type OperationTimes,
  type Timeline,
  timeProgram,
} from '../motion';
import { type CuttingOperation, isCutting, kindOf, type Planned, planOperation, planWait, see } from '../operations';
import type { Part } from '../part';
import { type ToolSection, toolFacts } from '../tooling';
import { type Checked, DeriveCache, type Held, type SeenPart, seenPart } from './cache';
import type { Coverage } from './coverage';
import type { Job } from './document';
import { endFindings, endOf } from './end';
import { withFormulas } from './formulas';
import { hashOf, hashRegion, hashWay, keepHash } from './hash';
import { loadFindings, loadOf, type OperationLoad, roughnessFinding } from './load';
import { gripFindings, toolChangeFindings, validateHolding } from './practice';
import { type Resolved, resolveOperation, validateReferences } from './references';
import { markOrder, type Turn, unsynchronised } from './sequence';
import { validateOperation, validateOrder } from './validate';

export { hashRegion } from './hash';
export type { OperationLoad } from './load';

export type OperationState = 'ready' | 'attention' | 'blocked' | 'off';

export type { OperationTimes };

export interface DerivedOperation {
  readonly id: string;
  readonly channel: string;
  readonly state: OperationState;
  readonly station: number | null;
  readonly section: ToolSection | null;
  readonly events: readonly MotionEvent[];
  readonly before: Region;
  readonly after: Region;
  readonly removed: number;
  readonly findings: readonly Finding[];
  readonly times: OperationTimes;
  readonly load: OperationLoad | null;
  readonly depth: number;
  /** Changes with its path. */
  readonly key: string;
}

export interface Derived {
  readonly part: Part;
  readonly rawStock: Region;
  readonly jaws: Region;
  readonly chuck: Region;
  /** In the order in which they change the stock. */
  readonly operations: readonly DerivedOperation[];
  readonly program: MotionProgram;
  readonly timeline: Timeline;
  readonly findings: readonly Finding[];
  readonly coverage: Coverage;
  /** What stays in the chuck, and the piece that came off (or the whole front when nothing did). */
  readonly finalStock: Region;
  readonly finished: Region;
  readonly leftover: Region;
  readonly gouge: Region;
  readonly leftoverVolume: number;
}

export interface DeriveProgress {
  readonly done: number;
  readonly all: number;
}

const NO_TIMES: OperationTimes = { start: 0, end: 0, cutting: 0, rapid: 0, other: 0 };

/** Everything that follows from a job, the same for the same document. Runs in a worker, on the server and in the CLI alike. */
export const derive = (job: Job, cache: DeriveCache = new DeriveCache()): Derived => {
  const steps = deriveSteps(job, cache);
  for (;;) {
    const next = steps.next();
    if (next.done) return next.value;
  }
};

/** The same one operation at a time, so that the caller can show progress, let others in, or stop. */
export function* deriveSteps(job: Job, cache: DeriveCache): Generator<DeriveProgress, Derived> {
  const world = new World(job, cache);
  let order = markOrder(job);
  let done = yield* world.operations(order);
  let timeline = world.time(done);
  // channels that cut side by side change the stock in the order of time, which is known only now
  const inTime = byTime(order, timeline, job);
  if (inTime.some((t, i) => t.id !== order[i].id)) {
    order = inTime;
    done = yield* world.operations(order);
    timeline = world.time(done);
  }
  cache.sweep();
  return world.finish(done, timeline);
}

/** The order of operations by when they begin; those that never run keep their place after the one before them. */
const byTime = (order: readonly Turn[], timeline: Timeline, job: Job): Turn[] => {
  if (job.machine.channels.length < 2) return [...order];
  const start = new Map<string, number>();
  for (const c of timeline.channels)
    for (const t of c.events)
      if (isMove(t.event) && t.event.purpose === 'cut' && !start.has(t.event.op)) start.set(t.event.op, t.start);
  let last = 0;
  const at = order.map((t) => (last = start.get(t.id) ?? last));
  return order
    .map((t, i) => ({ t, i }))
    .sort((a, b) => at[a.i] - at[b.i] || a.i - b.i)
    .map(({ t }) => t);
};

/** One job with all that is the same for its operations. */
class World {
  readonly part: Part;
  /** The job with tools that stay the same objects from derive to derive as long as they say the same. */
  private readonly job: Job;
  private readonly seen: SeenPart;
  private readonly held: Held;
  private readonly general: Finding[];
  private readonly cutoffWidth: number;
  private readonly machineKey: string;
  private readonly checkBase: string;
  private readonly loadBase: string;

  constructor(
    document: Job,
    private readonly cache: DeriveCache,
  ) {
    const tools = Object.entries(document.tools).map(([id, t]) => [
      id,
      cache.tools.get(hashOf(t), () => structuredClone(t)),
    ]);
    const job: Job = { ...document, tools: Object.fromEntries(tools) };
    this.job = job;
    this.seen = cache.parts.get(hashOf(job.part, job.units), () => seenPart(structuredClone(job.part), job.units));
    this.part = this.seen.part;
    // a spindle that is not there is told; the drawing still needs a chuck to show
    const spindle = job.machine.spindles.find((s) => s.id === job.holding.spindle) ?? job.machine.spindles[0];
    this.held = cache.holdings.get(hashOf(job.stock, job.holding, spindle), () => {
      const jaws = jawRegion(job.stock, job.holding);
      const chuck = chuckRegion(job.stock, job.holding, spindle);
      return {
        rawStock: stockRegion(job.stock, job.holding, spindle),
        jaws,
        chuck,
        fixtures: unionRegions(jaws, chuck),
        zeroZ: partZeroInMachine(job.stock, job.holding, spindle),
      };
    });
    this.general = [
      ...validateReferences(job),
      ...validateHolding(job, this.part),
      ...validateOrder(job),
      ...unsynchronised(job),
      ...toolChangeFindings(job),
    ];
    this.cutoffWidth = Math.max(0, ...Object.values(job.operations).map((op) => this.bladeOf(op)));
    this.machineKey = hashOf(job.machine);
    this.checkBase = hashOf(
      hashRegion(this.part.region),
      hashRegion(this.held.fixtures),
      this.machineKey,
      this.held.zeroZ,
    );
    this.loadBase = hashOf(job.material, job.machine.spindles);
  }

  private bladeOf(op: Job['operations'][string]): number {
    if (!isCutting(op) || !op.on || kindOf(op).covers !== 'sever' || !op.tool) return 0;
    const tool = this.job.tools[op.tool];
    return tool ? toolFacts(tool).bladeWidth : 0;
  }

  /** Plans and checks every operation in its turn. */
  *operations(order: readonly Turn[]): Generator<DeriveProgress, DerivedOperation[]> {
    const done: DerivedOperation[] = [];
    const contours: string[] = [];
    let stock = this.held.rawStock;
    for (const [i, turn] of order.entries()) {
      yield { done: i, all: order.length };
      const made = this.operation(turn, stock, contours);
      stock = made.after;
      done.push(made);
    }
    return done;
  }

  private operation({ id, channel }: Turn, stock: Region, contours: string[]): DerivedOperation {
    const { job } = this;
    const listed = job.operations[id];
    const idle = (state: OperationState, more: Partial<DerivedOperation> = {}): DerivedOperation => ({
      id,
      channel,
      state,
      station: null,
      section: null,
      events: [],
      before: stock,
      after: stock,
      removed: 0,
      findings: [],
      times: NO_TIMES,
      load: null,
      depth: 0,
      key: '',
      ...more,
    });
    if (!listed.on) return idle('off');
    if (!isCutting(listed))
      return idle('ready', { events: this.cache.waits.get(hashOf(listed), () => planWait(listed)) });
    const { op, findings: broken } = withFormulas(listed, this.seen.names, job.units);
    const { resolved, station, section, findings } = resolveOperation(job, op, channel);
    const invalid = [...broken, ...findings, ...validateOperation(op)];
    if (!resolved || invalid.length > 0 || this.part.region.length === 0)
      return idle('blocked', { station, section, findings: invalid });
    const { planned, key } = this.plan(op, resolved, stock, contours);
    if (planned.contourKey) contours.push(planned.contourKey);
    const checked = this.check(op, resolved, planned, stock);
    const { load, findings: loading } = this.cache.loads.get(hashOf(key, this.loadBase), () => {
      const made = loadOf(job, op, planned.events, planned.depth, resolved.tool, resolved.place);
      return { load: made, findings: loadFindings(op, made, resolved.tool, job.material) };
    });
    const all = [
      ...planned.findings,
      ...checked.findings,
      ...loading,
      ...roughnessFinding(op, resolved.tool, this.askedRoughness(op)),
    ];
    return idle(worst(all), {
      station,
      section,
      events: planned.events,
      after: checked.after,
      removed: checked.removed,
      findings: all,
      load,
      depth: planned.depth,
      key,
    });
  }

  private plan(
    op: CuttingOperation,
    at: Resolved,
    stock: Region,
    contours: readonly string[],
  ): { planned: Planned; key: string } {
    const kind = kindOf(op);
    const seen = see(kind, op, {
      part: this.part,
      metal: stock,
      fixtures: this.held.fixtures,
      section: keepHash(at.section),
      tool: keepHash(at.tool),
      place: at.place,
      cutoffWidth: this.cutoffWidth,
      cycleContours: [...contours],
    });
    keepHash(seen.contour);
    keepHash(seen.metal);
    if (seen.fixtures) keepHash(seen.fixtures);
    // the name and the comment are the only things of an operation that its path cannot depend on
    const key = hashOf({ ...op, name: '', note: '' }, seen);
    const planned = this.cache.plans.get(key, () => {
      try {
        return planOperation(op, seen);
      } catch (error) {
        // one operation that fails must not take the job with it
        const reason = error instanceof Error ? error.message : String(error);
        return { events: [], findings: [note('blocking', 'internal', op.id, { reason })], depth: 0, contourKey: null };
      }
    });
    return { planned, key };
  }

  private check(op: CuttingOperation, at: Resolved, planned: Planned, stock: Region): Checked {
    const key = hashOf(op.id, hashWay(planned.events), keepHash(at.section), at.carrier.id, hashRegion(stock));
    return this.cache.checks.get(key + this.checkBase, () => {
      try {
        const { findings, stock: after } = checkMotion({
          op: op.id,
          events: planned.events,
          section: at.section,
          frame: frameOfTool(at.section),
          stock,
          part: this.part.region,
          jaws: this.held.jaws,
          chuck: this.held.chuck,
          machine: this.job.machine,
          carrier: at.carrier,
          zeroZ: this.held.zeroZ,
        });
        return { findings, after, removed: Math.max(0, regionVolume(stock) - regionVolume(after)) };
      } catch (error) {
        const reason = error instanceof Error ? error.message : String(error);
        return { findings: [note('blocking', 'internal', op.id, { reason })], after: stock, removed: 0 };
      }
    });
  }

  /** Finest roughness asked for on the elements of an operation's span, Ra in µm. */
  private askedRoughness(op: CuttingOperation): number | null {
    const { roughness } = this.seen;
    if (roughness.size === 0) return null;
    const list = kindOf(op).side === 'inner' ? this.part.inner : this.part.outer;
    const a = op.span ? list.findIndex((e) => e.id === op.span?.from) : 0;
    const b = op.span ? list.findIndex((e) => e.id === op.span?.to) : list.length - 1;
    const asked = list
      .slice(Math.min(a, b), Math.max(a, b) + 1)
      .flatMap((e) => roughness.get(e.id) ?? [])
      .filter((v) => v > 0);
    return asked.length > 0 ? Math.min(...asked) : null;
  }

  private program(done: readonly DerivedOperation[]): MotionProgram {
    const byId = new Map(done.map((d) => [d.id, d]));
    return {
      channels: this.job.machine.channels.map((c) => {
        const events = (this.job.order[c.id] ?? []).flatMap((id) => byId.get(id)?.events ?? []);
        return {
          channel: c.id,
          events:
            events.length > 0 ? [...this.cache.homings.get(events[0].op, () => homing(events[0].op)), ...events] : [],
        };
      }),
    };
  }

  private made: MotionProgram = { channels: [] };

  time(done: readonly DerivedOperation[]): Timeline {
    this.made = this.program(done);
    return timeProgram(this.made, this.job.machine, this.cache.timing(this.machineKey));
  }

  finish(done: readonly DerivedOperation[], timeline: Timeline): Derived {
    const { job } = this;
    const timed = withTimes(done, timeline.channels);
    const general = [
      ...this.general,
      ...gripFindings(
        job,
        done.map((d) => d.load),
      ),
    ];
    if (timeline.kind === 'deadlock')
      for (const w of timeline.waiting)
        general.push(
          note('blocking', 'deadlock', w.op, { channel: w.channel, mark: w.mark, channels: w.channels.join(' and ') }),
        );
    const end = endOf(job, this.part, this.held.rawStock, timed, this.cache.ends);
    general.push(...endFindings(end, this.part, timed));
    return {
      part: this.part,
      rawStock: this.held.rawStock,
      jaws: this.held.jaws,
      chuck: this.held.chuck,
      operations: timed,
      program: this.made,
      timeline,
      findings: [...general, ...timed.flatMap((d) => d.findings)],
      coverage: end.coverage,
      finalStock: end.finalStock,
      finished: end.finished,
      leftover: end.leftover,
      gouge: end.gouge,
      leftoverVolume: end.leftoverVolume,
    };
  }
}

/** Slides go to their reference places before the first tool is called, X before Z. */
const homing = (op: string): MotionEvent[] => [
  { kind: 'home', axes: ['X'], op, purpose: 'tool-change' },
  { kind: 'home', axes: ['Z'], op, purpose: 'tool-change' },
];

const worst = (findings: readonly Finding[]): OperationState =>
  findings.some((f) => f.severity === 'blocking')
    ? 'blocked'
    : findings.some((f) => f.severity === 'attention')
      ? 'attention'
      : 'ready';

const withTimes = (done: readonly DerivedOperation[], channels: readonly ChannelTimeline[]): DerivedOperation[] => {
  const times = new Map(channels.flatMap((c) => [...c.operations]));
  return done.map((d) => ({ ...d, times: times.get(d.id) ?? NO_TIMES }));
};
