import { checkMotion, compareWithPart, frameOfTool } from '../checks';
import { type Finding, note } from '../findings';
import { greatestHalfThickness, point, type Region, regionBounds, regionVolume, unionRegions } from '../geometry';
import { chuckRegion, jawFront, jawLength, jawRegion, partZeroInMachine, stockRegion } from '../holding';
import {
  type ChannelTimeline,
  isMove,
  type MotionEvent,
  type MotionProgram,
  type Timeline,
  timeProgram,
} from '../motion';
import { type CuttingOperation, isCutting, kindOf, type Planned, planOperation, planWait, see } from '../operations';
import { buildPart, listFeatures, type Part } from '../part';
import { separate } from '../stock';
import { type ToolSection, toolFacts } from '../tooling';
import { type Coverage, coverageOf } from './coverage';
import type { Job } from './document';
import { dimensionNames, withFormulas } from './formulas';
import { hashOf, hashRegion, keepHash } from './hash';
import { loadFindings, loadOf, type OperationLoad, roughnessFinding } from './load';
import { gripFindings, toolChangeFindings, validateHolding } from './practice';
import { type Resolved, resolveOperation, validateReferences } from './references';
import { markOrder, type Turn, unsynchronised } from './sequence';
import { validateOperation, validateOrder } from './validate';

export { hashRegion } from './hash';
export type { OperationLoad } from './load';

export type OperationState = 'ready' | 'attention' | 'blocked' | 'off';

export interface OperationTimes {
  readonly start: number;
  readonly end: number;
  readonly cutting: number;
  readonly rapid: number;
  readonly other: number;
}

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

/** Results by a hash of all that they were made from; what the last derives did not use is forgotten once there is much. */
class Shelf<T> {
  private entries = new Map<string, T>();
  private touched = new Set<string>();
  hits = 0;
  misses = 0;

  get(key: string, make: () => T): T {
    this.touched.add(key);
    const found = this.entries.get(key);
    if (found !== undefined) {
      this.hits++;
      return found;
    }
    this.misses++;
    const made = make();
    this.entries.set(key, made);
    return made;
  }

  sweep(keep: number): void {
    if (this.entries.size <= keep) return;
    for (const key of this.entries.keys()) if (!this.touched.has(key)) this.entries.delete(key);
    this.touched.clear();
  }
}

interface Checked {
  readonly findings: readonly Finding[];
  readonly after: Region;
  readonly removed: number;
}

/** What is kept from derive to derive: a shelf for each stage, each keyed by what that stage reads. */
export class DeriveCache {
  readonly plans = new Shelf<Planned>();
  readonly checks = new Shelf<Checked>();
  readonly loads = new Shelf<OperationLoad | null>();
  readonly ends = new Shelf<
    Pick<Derived, 'coverage' | 'finalStock' | 'finished' | 'leftover' | 'gouge' | 'leftoverVolume'> & {
      thickness: number;
      missing: number;
      missingVolume: number;
    }
  >();

  sweep(): void {
    this.plans.sweep(3000);
    this.checks.sweep(3000);
    this.loads.sweep(3000);
    this.ends.sweep(50);
  }
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
  private readonly rawStock: Region;
  private readonly jaws: Region;
  private readonly chuck: Region;
  private readonly fixtures: Region;
  private readonly general: Finding[];
  private readonly cutoffWidth: number;
  private readonly zeroZ: number;
  private readonly checkBase: string;
  private readonly names: ReadonlyMap<string, number>;
  private readonly roughness: ReadonlyMap<string, number>;

  constructor(
    private readonly job: Job,
    private readonly cache: DeriveCache,
  ) {
    this.part = buildPart(job.part, job.units);
    // a spindle that is not there is told; the drawing still needs a chuck to show
    const spindle = job.machine.spindles.find((s) => s.id === job.holding.spindle) ?? job.machine.spindles[0];
    this.rawStock = stockRegion(job.stock, job.holding, spindle);
    this.jaws = jawRegion(job.stock, job.holding);
    this.chuck = chuckRegion(job.stock, job.holding, spindle);
    this.fixtures = unionRegions(this.jaws, this.chuck);
    this.zeroZ = partZeroInMachine(job.stock, job.holding, spindle);
    this.general = [
      ...validateReferences(job),
      ...validateHolding(job, this.part),
      ...validateOrder(job),
      ...unsynchronised(job),
      ...toolChangeFindings(job),
    ];
    this.cutoffWidth = Math.max(0, ...Object.values(job.operations).map((op) => this.bladeOf(op)));
    this.checkBase = hashOf(hashRegion(this.part.region), hashRegion(this.fixtures), job.machine, this.zeroZ);
    this.names = dimensionNames(job.part.dimensions, job.units);
    this.roughness = roughnessOf(job, this.part);
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
    let stock = this.rawStock;
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
    if (!isCutting(listed)) return idle('ready', { events: planWait(listed) });
    const { op, findings: broken } = withFormulas(listed, this.names, job.units);
    const { resolved, station, section, findings } = resolveOperation(job, op, channel);
    const invalid = [...broken, ...findings, ...validateOperation(op)];
    if (!resolved || invalid.length > 0 || this.part.region.length === 0)
      return idle('blocked', { station, section, findings: invalid });
    const { planned, key } = this.plan(op, resolved, stock, contours);
    if (planned.contourKey) contours.push(planned.contourKey);
    const checked = this.check(op, resolved, planned, key, stock);
    const load = this.cache.loads.get(hashOf(key, job.material, job.machine.spindles), () =>
      loadOf(job, op, planned.events, planned.depth, resolved.tool, resolved.place),
    );
    const all = [
      ...planned.findings,
      ...checked.findings,
      ...loadFindings(op, load, resolved.tool, job.material),
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
      fixtures: this.fixtures,
      section: keepHash(at.section),
      tool: keepHash(at.tool),
      place: at.place,
      cutoffWidth: this.cutoffWidth,
      cycleContours: [...contours],
    });
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

  private check(op: CuttingOperation, at: Resolved, planned: Planned, key: string, stock: Region): Checked {
    return this.cache.checks.get(hashOf(key, hashRegion(stock), this.checkBase), () => {
      try {
        const { findings, stock: after } = checkMotion({
          op: op.id,
          events: planned.events,
          section: at.section,
          frame: frameOfTool(at.section),
          stock,
          part: this.part.region,
          jaws: this.jaws,
          chuck: this.chuck,
          machine: this.job.machine,
          carrier: at.carrier,
          zeroZ: this.zeroZ,
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
    if (this.roughness.size === 0) return null;
    const list = kindOf(op).side === 'inner' ? this.part.inner : this.part.outer;
    const a = op.span ? list.findIndex((e) => e.id === op.span?.from) : 0;
    const b = op.span ? list.findIndex((e) => e.id === op.span?.to) : list.length - 1;
    const asked = list
      .slice(Math.min(a, b), Math.max(a, b) + 1)
      .flatMap((e) => this.roughness.get(e.id) ?? [])
      .filter((v) => v > 0);
    return asked.length > 0 ? Math.min(...asked) : null;
  }

  private program(done: readonly DerivedOperation[]): MotionProgram {
    const byId = new Map(done.map((d) => [d.id, d]));
    return {
      channels: this.job.machine.channels.map((c) => {
        const events = (this.job.order[c.id] ?? []).flatMap((id) => byId.get(id)?.events ?? []);
        return { channel: c.id, events: events.length > 0 ? [...homing(events[0].op), ...events] : [] };
      }),
    };
  }

  private made: MotionProgram = { channels: [] };

  time(done: readonly DerivedOperation[]): Timeline {
    this.made = this.program(done);
    return timeProgram(this.made, this.job.machine);
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
    const end = this.end(timed);
    const active = done.some((d) => d.events.some((e) => isMove(e)));
    const waiting = done.some((d) => d.state === 'blocked');
    if (this.part.region.length > 0 && !active && !waiting && end.leftoverVolume > 1)
      general.push(note('attention', 'nothing-made', null, { volume: end.leftoverVolume }));
    else if (active && end.leftoverVolume > 0.05 && end.thickness > 0)
      general.push(
        note(
          'attention',
          'leftover',
          null,
          { volume: end.leftoverVolume, thickness: end.thickness },
          centreOf(end.leftover),
        ),
      );
    if (active && end.missing > 0)
      general.push(
        note(
          'blocking',
          'metal-missing',
          null,
          { volume: end.missingVolume, thickness: end.missing },
          centreOf(end.gouge),
        ),
      );
    for (const d of timed)
      if (
        end.uncut &&
        d.id === end.uncut &&
        !d.findings.some((f) => f.code === 'not-severed' || f.severity === 'blocking')
      )
        general.push(note('blocking', 'not-severed', d.id, { left: 0, needed: 0.5 }));
    return {
      part: this.part,
      rawStock: this.rawStock,
      jaws: this.jaws,
      chuck: this.chuck,
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

  /** The state of things after the last operation, held against the part. */
  private end(timed: readonly DerivedOperation[]) {
    const { job, part } = this;
    const stock = timed.at(-1)?.after ?? this.rawStock;
    const severing = timed.find((d) => {
      const op = job.operations[d.id];
      return isCutting(op) && kindOf(op).covers === 'sever' && d.events.length > 0;
    });
    const finishing = timed
      .filter((d) => d.events.length > 0)
      .map((d) => job.operations[d.id])
      .filter(isCutting)
      .filter((op) => kindOf(op).covers === 'finish')
      .map((op) => kindOf(op).side);
    const key = hashOf(
      part.outer.map((e) => e.id),
      part.inner.map((e) => e.id),
      part.back.map((e) => e.id),
      hashRegion(stock),
      hashRegion(this.rawStock),
      hashRegion(part.region),
      job.holding,
      severing !== undefined,
      finishing,
    );
    const heldZ = jawFront(job.stock, job.holding) - jawLength(job.holding) / 2;
    const parted = separate(stock, heldZ);
    const off = severing !== undefined && parted.off.length > 0;
    const uncut = severing !== undefined && !off ? severing.id : null;
    const kept = this.cache.ends.get(key, () => {
      const finished = off ? parted.off : stock;
      const compared = compareWithPart(finished, part.region, off);
      return {
        finished,
        leftover: compared.leftover,
        gouge: compared.gouge,
        leftoverVolume: regionVolume(compared.leftover),
        thickness: 2 * greatestHalfThickness(compared.leftover, 1e-3, TELLING / 2),
        missing: 2 * greatestHalfThickness(compared.gouge, 1e-3, TELLING / 2),
        missingVolume: regionVolume(compared.gouge),
        coverage: coverageOf(part, finished, this.rawStock, finishing),
        finalStock: parted.held.length > 0 ? parted.held : stock,
      };
    });
    return { ...kept, uncut };
  }
}

/** Metal left or missing that is thinner than this is not worth a word, mm: a few chords of the polygons. */
const TELLING = 0.004;

/** Slides go to their reference places before the first tool is called, X before Z. */
const homing = (op: string): MotionEvent[] => [
  { kind: 'home', axes: ['X'], op, purpose: 'tool-change' },
  { kind: 'home', axes: ['Z'], op, purpose: 'tool-change' },
];

const roughnessOf = (job: Job, part: Part): ReadonlyMap<string, number> => {
  const result = new Map<string, number>();
  if (!Object.values(job.part.notes ?? {}).some((n) => n.roughness !== null)) return result;
  for (const f of listFeatures(job.part, part)) {
    if (f.note.roughness === null) continue;
    for (const e of f.elements) result.set(e, Math.min(result.get(e) ?? Number.POSITIVE_INFINITY, f.note.roughness));
  }
  return result;
};

const centreOf = (region: Region): { x: number; y: number } | null => {
  if (region.length === 0) return null;
  const largest = region.reduce((best, r) => (regionVolume([r]) > regionVolume([best]) ? r : best));
  const b = regionBounds([largest]);
  return point((b.minX + b.maxX) / 2, (b.minY + b.maxY) / 2);
};

const worst = (findings: readonly Finding[]): OperationState =>
  findings.some((f) => f.severity === 'blocking')
    ? 'blocked'
    : findings.some((f) => f.severity === 'attention')
      ? 'attention'
      : 'ready';

const withTimes = (done: readonly DerivedOperation[], channels: readonly ChannelTimeline[]): DerivedOperation[] => {
  const sums = new Map<string, Mutable<OperationTimes>>();
  for (const channel of channels) {
    let id = '';
    let sum: Mutable<OperationTimes> | undefined;
    for (const t of channel.events) {
      // events of an operation follow on one another
      if (!sum || t.event.op !== id) {
        id = t.event.op;
        sum = sums.get(id);
        if (!sum) sums.set(id, (sum = { ...NO_TIMES, start: t.start }));
      }
      sum.start = Math.min(sum.start, t.start);
      sum.end = Math.max(sum.end, t.end);
      if (!isMove(t.event)) sum.other += t.end - t.start;
      else {
        const moving = t.end - t.start - t.waiting;
        if (t.event.kind === 'rapid') sum.rapid += moving;
        else sum.cutting += moving;
        sum.other += t.waiting;
      }
    }
  }
  return done.map((d) => ({ ...d, times: sums.get(d.id) ?? NO_TIMES }));
};

type Mutable<T> = { -readonly [K in keyof T]: T[K] };
