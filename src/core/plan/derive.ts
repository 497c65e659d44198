import { checkMotion } from '../checks';
import { type Finding, note } from '../findings';
import { onceFor, point, type Region, unionRegions } from '../geometry';
import {
  type ChannelTimeline,
  isMove,
  type MotionEvent,
  type MotionProgram,
  mirroredEvent,
  type OperationTimes,
  type Timeline,
  timeProgram,
} from '../motion';
import { type CuttingOperation, isCutting, kindOf, type Planned, planOperation, see } from '../operations';
import { elementsBetween, type Part } from '../part';
import type { Body } from '../stock';
import { beyondAxis, mountedAt, type ToolSection, worksFrom } from '../tooling';
import { acted } from './acting';
import { type Along, eventsAlong, heldAlong, movedBody } from './along';
import { type Checked, DeriveCache, type SeenPart, seenPart } from './cache';
import type { Coverage } from './coverage';
import type { Job } from './document';
import { endFindings, endOf, endOfHolding, type Fallen } from './end';
import { feedAndSpeedFindings } from './feeds';
import { operationNames, withFormulas } from './formulas';
import { spindleConflicts, tooEarly, validateHandovers } from './handover';
import { hashBody, hashOf, hashWay, keepHash } from './hash';
import { cutoffBladeIn, type Held } from './held';
import { loadFindings, loadOf, type OperationLoad, roughnessFinding } from './load';
import { type Workplace, Workplaces } from './places';
import { gripFindings, shortTool, toolChangeFindings, validateHolding } from './practice';
import { type LaidOut, programOf } from './program';
import { type Resolved, resolveOperation, validateReferences } from './references';
import { documentId, operationOf, validateRepeats } from './repeats';
import { eventsOfSecond, firstId, forTwo, inStep, secondChannel, secondFindings, secondMark, secondOf } from './second';
import { markOrder, type Turn, unsynchronised } from './sequence';
import { spaceFindings } from './space';
import { hiddenBySupport, pushedFindings, type Standing } from './supports';
import { withRoomBehind } from './threadRoom';
import { folded, isTooShort, withFindings, withinStickOut, worst } from './told';
import { afterFeed, outOfTurn, unfinishedHandovers } from './turns';
import { unsaidFindings } from './unsaid';
import { validateOperation, validateOrder } from './validate';

export { hashRegion } from './hash';
export type { Held } from './held';

import { lonelyMarks } from './lonely';
import { neighbourFindings } from './neighbours';

export type { OperationLoad } from './load';

export type OperationState = 'ready' | 'attention' | 'blocked' | 'off';

export type { OperationTimes };

export interface DerivedOperation {
  /** Name of this time; the first one has the operation's own. */
  readonly id: string;
  /** The operation of the document. */
  readonly operation: string;
  /** How many pitches of its repeat it is further on. */
  readonly copy: number;
  /** Which time of a repeat it is and how many there are in all; null for one that is not repeated. */
  readonly time: { readonly number: number; readonly count: number } | null;
  readonly channel: string;
  readonly holding: string;
  readonly state: OperationState;
  readonly station: number | null;
  readonly section: ToolSection | null;
  readonly events: readonly MotionEvent[];
  readonly before: Body;
  readonly after: Body;
  readonly removed: number;
  readonly findings: readonly Finding[];
  readonly times: OperationTimes;
  readonly load: OperationLoad | null;
  readonly depth: number;
  /** What supports the work in front of the jaws meanwhile; after it, for an operation that changes that. */
  readonly supports: readonly Standing[];
  /** Changes with its path. */
  readonly key: string;
}

export interface Derived {
  /** The part as it is drawn. */
  readonly part: Part;
  /** Every holding of the job in its order, with what it holds. */
  readonly holdings: readonly Held[];
  /** In the order in which they change the stock. */
  readonly operations: readonly DerivedOperation[];
  readonly program: MotionProgram;
  readonly timeline: Timeline;
  readonly findings: readonly Finding[];
  readonly coverage: Coverage;
  /** In the last holding: what stays in its jaws, and the piece that came off (or all of it when nothing did). */
  readonly finalStock: Body;
  readonly finished: Body;
  readonly leftover: Region;
  readonly gouge: Region;
  readonly leftoverVolume: number;
}

/** The raw stock of a job: what its first holding was given. */
export const rawStockOf = (derived: Derived): Body => derived.holdings[0].rawStock;

/** The holding of that name in a derived job. */
export const heldIn = (derived: Derived, id: string): Held =>
  derived.holdings.find((h) => h.id === id) ?? derived.holdings[0];

export interface DeriveProgress {
  readonly done: number;
  readonly all: number;
  /** The operation that was planned last: its path is what it will be, unless the order of time has it cut something else. */
  readonly made: DerivedOperation | null;
}

/** Events of a path beyond the centre line, made once for each path. */
const beyondOnce = onceFor((events: readonly MotionEvent[]) => events.map((e) => mirroredEvent(e, 'X')));

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

/** The order of operations by when they begin, holding by holding. */
const byTime = (order: readonly Turn[], timeline: Timeline, job: Job): Turn[] => {
  // in a deadlock nothing has a time
  if (job.machine.channels.length < 2 || timeline.kind === 'deadlock') return [...order];
  const cut = new Map<string, number>();
  const begun = new Map<string, number>();
  for (const c of timeline.channels)
    for (const t of c.events) {
      if (!begun.has(t.event.op)) begun.set(t.event.op, t.start);
      if (isMove(t.event) && t.event.purpose === 'cut' && !cut.has(t.event.op)) cut.set(t.event.op, t.start);
    }
  // what moves no tool, as a handover, has its time too; what does nothing stands after the one before it in its channel
  const last = new Map<string, number>();
  const at = order.map((t) => {
    const time = cut.get(t.id) ?? begun.get(t.id) ?? last.get(t.channel) ?? 0;
    last.set(t.channel, time);
    return time;
  });
  const rank = order.map((t) => job.holdingOrder.indexOf(t.holding));
  const shares = new Map(order.flatMap((t) => (t.second ? [[firstId(t.id), t] as const] : [])));
  return order
    .map((t, i) => ({ t, i }))
    .sort((a, b) => rank[a.i] - rank[b.i] || at[a.i] - at[b.i] || a.i - b.i)
    .map(({ t }) => t)
    .filter((t) => !t.second)
    .flatMap((t) => {
      const share = shares.get(t.id);
      return share ? [t, share] : [t];
    });
};

/** One job with all that is the same for its operations. */
class World {
  readonly part: Part;
  /** The job with tools that stay the same objects from derive to derive as long as they say the same. */
  private readonly job: Job;
  private readonly seen: SeenPart;
  private readonly general: Finding[];
  private readonly partKey: string;
  private readonly machineKey: string;
  private readonly loadBase: string;
  private readonly places: Workplaces;

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
    this.partKey = hashOf(job.part, job.units);
    this.seen = cache.parts.get(this.partKey, () => seenPart(structuredClone(job.part), job.units));
    this.part = this.seen.part;
    this.general = [
      ...validateReferences(job),
      ...validateOrder(job),
      ...unsynchronised(job),
      ...lonelyMarks(job),
      ...validateHandovers(job),
      ...validateRepeats(job, this.part, (holding) => cutoffBladeIn(job, holding)),
    ];
    this.machineKey = hashOf(job.machine);
    this.places = new Workplaces(job, cache, this.part, this.partKey, this.machineKey);
    this.loadBase = hashOf(job.material, job.machine.spindles);
  }

  /** Plans and checks every operation in its turn, holding by holding. */
  *operations(order: readonly Turn[]): Generator<DeriveProgress, DerivedOperation[]> {
    const done: DerivedOperation[] = [];
    const { places } = this;
    places.begin();
    for (const id of this.job.holdingOrder) {
      const place = places.enter(id);
      const own: DerivedOperation[] = [];
      const contours: string[] = [];
      const fallen: Fallen[] = [];
      let stock = place.held.rawStock;
      let at = place;
      for (const turn of order) {
        if (turn.holding !== id) continue;
        yield { done: done.length + own.length, all: order.length, made: own.at(-1) ?? done.at(-1) ?? null };
        const first = turn.second ? own.find((o) => o.id === firstId(turn.id)) : undefined;
        const made = first ? this.secondShare(turn, at, first) : this.operation(turn, at, stock, contours);
        stock = made.after;
        own.push(made);
        const piece = made.time && made.time.number < made.time.count ? places.fall(turn, place, made) : null;
        if (piece) {
          fallen.push({ piece: piece.off, number: made.time?.number ?? 1 });
          stock = piece.held;
        }
        // from the grip on the jaws of the other spindle stand there too, until it has withdrawn
        const op = this.job.operations[turn.operation];
        if (!op.on) continue;
        if (op.kind === 'support') at = places.supported(place, made.supports);
        const met = op.kind === 'handover' ? places.meet(op, at, stock) : null;
        if (met) at = places.beside(places.supported(place, at.supports), met);
        else if (op.kind === 'withdraw') at = places.supported(place, at.supports);
      }
      done.push(...own);
      const last = own.at(-1);
      const shift = last ? (places.alongOf(last, place)?.shift ?? 0) : 0;
      places.ends.push(endOfHolding(this.job, place.held, own, fallen, shift));
    }
    return done;
  }

  private operation(turn: Turn, at: Workplace, stock: Body, contours: string[]): DerivedOperation {
    const along = this.places.alongOf(turn, at);
    if (!along) return this.here(turn, at, stock, contours, null);
    const { shift } = along;
    const alone = shift === 0 && along.others.length === 0;
    const held = alone ? at.held : heldAlong(this.cache, at.held, along);
    const place = alone ? at : this.places.workplace(held, at.drawn, at.cutoffWidth);
    const made = this.here(turn, place, movedBody(this.cache, stock, shift), contours, along);
    if (shift === 0) return made;
    return {
      ...made,
      before: stock,
      after: made.removed === 0 && made.events.length === 0 ? stock : movedBody(this.cache, made.after, -shift),
      findings: made.findings.map((f) => (f.at ? { ...f, at: point(f.at.x - shift, f.at.y) } : f)),
    };
  }

  /** One operation in its place, planned from `stock` as it stands there. */
  private here(turn: Turn, at: Workplace, stock: Body, contours: string[], along: Along | null): DerivedOperation {
    const { job } = this;
    const { id, channel, holding } = turn;
    const listed = job.operations[turn.operation];
    const idle = (state: OperationState, more: Partial<DerivedOperation> = {}): DerivedOperation => ({
      id,
      operation: turn.operation,
      copy: turn.copy,
      time: along && { number: along.number, count: along.count },
      channel,
      holding,
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
      supports: at.supports,
      key: '',
      ...more,
    });
    if (!listed.on) return idle('off');
    if (!isCutting(listed)) {
      const made = acted(this.places, listed, at, stock);
      const { events, supports = at.supports } = made;
      const findings = [...made.findings, ...unsaidFindings(listed.id, events, job.machine)];
      return idle(worst(findings), { events: this.renamed(events, turn, along, hashOf(events)), findings, supports });
    }
    const names = listed.formulas ? operationNames(at.drawn, this.seen.names) : this.seen.names;
    const { op, findings: broken } = withFormulas(listed, names, job.units);
    const { resolved, station, section, findings } = this.resolved(op, channel, at, along);
    const second = secondOf(op) === null ? null : this.second(op, at, along, section);
    const invalid = [...broken, ...findings, ...validateOperation(op), ...(second?.findings ?? [])];
    if (!resolved || invalid.length > 0 || this.part.region.length === 0 || stock.isEmpty)
      return idle('blocked', { station, section, findings: invalid });
    const { planned, key } = this.plan(op, resolved, at, stock, contours);
    if (planned.contourKey) contours.push(planned.contourKey);
    const checked = this.check(op, resolved, at, planned, stock);
    const heldAt = at.supports.map((s) => s.z);
    const { load, findings: loading } = this.cache.loads.get(hashOf(key, this.loadBase, heldAt), () => {
      const made = loadOf(job, op, planned.events, planned.depth, resolved.tool, resolved.place, heldAt);
      const against = [loadFindings, feedAndSpeedFindings].flatMap((f) => f(op, made, resolved.tool, job.material));
      return { load: made, findings: against };
    });
    const all = [
      ...planned.findings,
      ...hiddenBySupport(op.id, planned.findings, at.supports),
      ...checked.findings,
      ...loading,
      ...unsaidFindings(op.id, planned.events, job.machine),
      ...shortTool(op, resolved.tool),
      ...neighbourFindings(job, op, resolved, at.held, planned.events, stock.turnedOutline),
      ...roughnessFinding(op, resolved.tool, this.askedRoughness(op, at.held.part)),
    ];
    const moved = resolved.beyond ? beyondOnce(planned.events) : planned.events;
    return idle(worst(all), {
      station,
      // as it stands on the machine
      section: resolved.beyond ? beyondAxis(resolved.section) : section,
      events: this.renamed(moved, turn, along, key),
      after: checked.after,
      removed: checked.removed,
      findings: all,
      load,
      depth: planned.depth,
      key: along ? hashOf(key, along.shift) : key,
    });
  }

  /** The second tool of an operation, looked up; what is wrong with it. */
  private second(op: CuttingOperation, at: Workplace, along: Along | null, first: ToolSection | null) {
    const { job } = this;
    const tool = secondOf(op) ?? '';
    const channel = secondChannel(job, op);
    if (!channel)
      return {
        resolved: null,
        findings: [note('blocking', 'second-alone', op.id, { tool: job.tools[tool]?.name ?? '' })],
      };
    if (along)
      return {
        resolved: null,
        findings: [
          note('blocking', 'second-repeated', op.id, {}, null, {
            remedy: { label: 'One tool', set: { [`/operations/${op.id}/params/second`]: null } },
          }),
        ],
      };
    const made = this.resolved({ ...op, tool, channel }, channel, at, along);
    if (!made.resolved || !first) return { resolved: null, findings: made.findings };
    const names = { first: job.tools[op.tool ?? '']?.name ?? '', second: made.resolved.tool.name };
    const beyond = made.resolved.beyond || (mountedAt(job.mounts, op.tool ?? '')?.mount.beyond ?? false);
    const findings = beyond
      ? [note('blocking', 'second-differs', op.id, { ...names, what: 'works on the other side of the centre line' })]
      : secondFindings(op, first, made.resolved.section, names);
    return { resolved: made.resolved, findings };
  }

  /** The second tool's share of an operation: the same ways, held against what that tool and its slides may meet. */
  private secondShare(turn: Turn, place: Workplace, first: DerivedOperation): DerivedOperation {
    const { job } = this;
    const none = {
      ...first,
      id: turn.id,
      channel: turn.channel,
      before: first.after,
      removed: 0,
      load: null,
      findings: [],
    };
    const op = job.operations[turn.operation];
    const found = isCutting(op) && first.events.length > 0 ? this.second(op, place, null, first.section) : null;
    if (!found?.resolved || !isCutting(op)) return { ...none, state: 'off', events: [], section: null, station: null };
    const { resolved } = found;
    const events = this.cache.seconds.get(hashOf(first.key, turn.id, resolved.place), () =>
      eventsOfSecond(first.events, turn.id, resolved.place, resolved.tool.id),
    );
    const planned = { events, findings: [], depth: first.depth, contourKey: null };
    const findings = [
      ...this.check(op, resolved, place, planned, first.before).findings,
      ...neighbourFindings(job, op, resolved, place.held, events, first.before.turnedOutline),
    ];
    return {
      ...none,
      state: worst(findings),
      station: resolved.place.station,
      section: resolved.section,
      events,
      findings,
      key: hashOf(first.key, turn.id),
    };
  }

  /**
   * All that an operation names. The tool change place stays where it is, however far along the work is; in a sub-program,
   * which says the same every time, it comes along.
   */
  private resolved(op: CuttingOperation, channel: string, at: Workplace, along: Along | null) {
    const made = resolveOperation(this.job, op, channel, at.held);
    if (!made.resolved || !along || along.shift === 0 || along.zero?.local) return made;
    const { place } = made.resolved;
    const toolChange = { ...place.toolChange, z: place.toolChange.z + along.shift };
    return { ...made, resolved: { ...made.resolved, place: { ...place, toolChange } } };
  }

  /** Events under the name of their turn, where it works. */
  private renamed(
    events: readonly MotionEvent[],
    turn: Turn,
    along: Along | null,
    key: string,
  ): readonly MotionEvent[] {
    if (!along || (along.shift === 0 && !along.zero && turn.id === turn.operation)) return events;
    return this.cache.movedEvents.get(hashOf('along', key, turn.id, along), () =>
      eventsAlong(events, along).map((e) => ({ ...e, op: turn.id })),
    );
  }

  private plan(
    op: CuttingOperation,
    at: Resolved,
    { held, drawn, cutoffWidth }: Workplace,
    stock: Body,
    contours: readonly string[],
  ): { planned: Planned; key: string } {
    const kind = kindOf(op);
    const seen = see(kind, op, {
      part: drawn,
      metal: stock.turnedOutline,
      fixtures: held.fixtures,
      section: keepHash(at.section),
      tool: keepHash(at.tool),
      place: at.place,
      cutoffWidth,
      roughness: this.seen.roughness,
      cycleContours: [...contours],
    });
    keepHash(seen.contour);
    keepHash(seen.metal);
    if (seen.fixtures) keepHash(seen.fixtures);
    // the name and the comment are the only things of an operation that its path cannot depend on
    const other = secondChannel(this.job, op);
    const mark = other ? secondMark(this.job, op.id) : 0;
    const key = hashOf({ ...op, name: '', note: '' }, seen, other, mark);
    const planned = this.cache.plans.get(key, () => {
      try {
        if (!other) return planOperation(op, seen);
        const made = planOperation(forTwo(op), seen);
        return { ...made, events: inStep(made.events, op.id, mark, [op.channel, other]) };
      } catch (error) {
        // one operation that fails must not take the job with it
        const reason = error instanceof Error ? error.message : String(error);
        return { events: [], findings: [note('blocking', 'internal', op.id, { reason })], depth: 0, contourKey: null };
      }
    });
    return { planned, key };
  }

  private check(
    op: CuttingOperation,
    at: Resolved,
    { held, checkBase }: Workplace,
    planned: Planned,
    stock: Body,
  ): Checked {
    const { X, Y, Z } = at.reach.axes;
    const slides = hashOf(at.reach.carrier.id, X?.offset, Y?.offset, Z?.offset);
    const key = hashOf(op.id, hashWay(planned.events), keepHash(at.section), slides, hashBody(stock));
    return this.cache.checks.get(key + checkBase, () => {
      try {
        const { findings, stock: after } = checkMotion({
          op: op.id,
          events: planned.events,
          section: at.section,
          beyond: at.beyond,
          frame: worksFrom(at.section),
          stock,
          part: held.others.length > 0 ? unionRegions(held.part.region, held.others) : held.part.region,
          jaws: held.jaws,
          chuck: held.chuck,
          support: held.support,
          machine: this.job.machine,
          reach: at.reach,
          zeroFromFace: held.zeroFromFace,
        });
        return { findings, after, removed: Math.max(0, stock.volume - after.volume) };
      } catch (error) {
        const reason = error instanceof Error ? error.message : String(error);
        return { findings: [note('blocking', 'internal', op.id, { reason })], after: stock, removed: 0 };
      }
    });
  }

  /** Finest roughness asked for on the elements of an operation's span, Ra in µm. */
  private askedRoughness(op: CuttingOperation, part: Part): number | null {
    const { roughness } = this.seen;
    if (roughness.size === 0 || kindOf(op).meetsRoughness?.(op)) return null;
    const list = kindOf(op).side === 'inner' ? part.inner : part.outer;
    const asked = (elementsBetween(list, op.span) ?? []).flatMap((e) => roughness.get(e.id) ?? []).filter((v) => v > 0);
    return asked.length > 0 ? Math.min(...asked) : null;
  }

  private made: LaidOut = { program: { channels: [] }, standing: new Map() };

  time(done: readonly DerivedOperation[]): Timeline {
    this.made = programOf(this.job, done, this.cache.homings);
    return timeProgram(this.made.program, this.job.machine, this.cache.timing(this.machineKey));
  }

  finish(done: readonly DerivedOperation[], timeline: Timeline): Derived {
    const { job } = this;
    const timed = withTimes(done, timeline.channels).map((d) => holdingReady(d, this.made.standing.get(d.id)));
    const holdings = this.places.list.map((p) => p.held);
    const general = [
      ...this.general,
      ...holdings.flatMap((h) => [
        ...validateHolding(job, h),
        ...toolChangeFindings(job, h),
        ...gripFindings(
          job,
          h,
          done.filter((d) => d.holding === h.id).map((d) => d.load),
        ),
      ]),
      ...this.places.passing,
      ...pushedFindings(job, timed),
      ...tooEarly(job, timed),
      // in a deadlock nothing has a time
      ...(timeline.kind === 'deadlock' ? [] : [...outOfTurn(job, timed), ...afterFeed(job, timed)]),
      ...unfinishedHandovers(job, timed),
      ...spindleConflicts(job, timed, timeline),
      ...spaceFindings(job, holdings, timed, timeline),
    ];
    // a mark that has no partner is told as such; who then waits elsewhere follows from it
    if (timeline.kind === 'deadlock' && !general.some((f) => f.code === 'mark-partner'))
      for (const w of timeline.waiting)
        general.push(
          note(
            'blocking',
            'deadlock',
            w.op,
            { channel: w.channel, mark: w.mark, channels: w.channels.join(' and ') },
            null,
            operationOf(job, w.op)?.kind === 'wait'
              ? {
                  remedy: {
                    label: `Switch mark ${w.mark} off here`,
                    set: { [`/operations/${documentId(job, w.op)}/on`]: false },
                  },
                }
              : {},
          ),
        );
    const end = endOf(job, this.part, holdings, this.places.ends, timed, this.cache.ends);
    const last = holdings[holdings.length - 1].id;
    if (!isTooShort(general, timed, last)) general.push(...endFindings(end, this.part, timed, last));
    const operations = withRoomBehind(job, folded(withFindings(withinStickOut(job, timed, general), general)));
    return {
      part: this.part,
      holdings,
      operations,
      program: this.made.program,
      timeline,
      findings: [
        ...general.filter((f) => !operations.some((d) => d.id === f.operation)),
        ...operations.flatMap((d) => d.findings),
      ],
      coverage: end.coverage,
      finalStock: end.finalStock,
      finished: end.finished,
      leftover: end.leftover,
      gouge: end.gouge,
      leftoverVolume: end.leftoverVolume,
    };
  }
}

const withTimes = (done: readonly DerivedOperation[], channels: readonly ChannelTimeline[]): DerivedOperation[] => {
  const times = new Map(channels.flatMap((c) => [...c.operations]));
  return done.map((d) => ({ ...d, times: times.get(d.id) ?? NO_TIMES }));
};

/** An operation that moves no tool of its own, with the one that stands ready meanwhile. */
const holdingReady = (d: DerivedOperation, next: DerivedOperation | undefined): DerivedOperation =>
  next ? { ...d, section: next.section, station: next.station, key: hashOf('standing', next.key) } : d;
