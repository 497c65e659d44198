import { checkMotion } from '../checks';
import { type Finding, wordFinding } from '../findings';
import { intersectRegions, onceFor, onceForEach } from '../geometry';
import { timeProgram } from '../motion';
import {
  type AnyKind,
  CUTTING_KINDS,
  type CuttingKind,
  type CuttingOperation,
  isCutting,
  isSevering,
  kindOf,
  planOperation,
  see,
} from '../operations';
import { describeFeature, type Feature, type Part, turnedFeatures } from '../part';
import type { Body } from '../stock';
import { threadByName } from '../threads';
import { type Tool, toolFacts, toolSection, worksFrom } from '../tooling';
import { DeriveCache } from './cache';
import { derive, heldIn } from './derive';
import type { Job } from './document';
import { cutoffWidthIn, type Held } from './held';
import { beforeCutoff, landingPlace } from './landing';
import { newOperation, type PickedSpan } from './newOperation';
import type { Placed } from './placing';
import { rankCandidates } from './ranking';
import { resolveOperation, stationOf, takesTool } from './references';
import { reliefAround } from './relief';
import { type Box, isForward, metalOf, reachesBack, spanBox, thicknessOf } from './spanMetal';
import { type Standing, withSupports } from './supports';
import { toolsToTry } from './toTry';

export interface Candidate {
  readonly kind: CuttingKind;
  readonly tool: string;
  readonly toolName: string;
  readonly station: number | null;
  /** A tool that stands in no station yet: where it would go. */
  readonly put: Placed | null;
  /** Share of the span's metal that comes off, 0–1. */
  readonly reach: number;
  readonly seconds: number;
  /** mm³ of the span that stay. */
  readonly leaves: number;
  /** It works, but something needs attention: ranked behind those without. */
  readonly doubtful: boolean;
  /** A drill whose point is the bottom of the part's hole: no other tool makes that. */
  readonly bottom: boolean;
  /** What it makes, where that has a name: the designation of a thread. */
  readonly makes: string | null;
  /** Why it cannot, or what to know. */
  readonly reason: string | null;
  /** It cannot as things are, but a remedy that is offered with it may make it: what that says. */
  readonly cure: string | null;
  readonly operation: CuttingOperation;
}

/** Stock and what holds it at the place where a new operation would land, by its channel and index in that channel's order. */
type WorkAt = (channel: string, at: number) => { readonly stock: Body; readonly around: Held };

const workOf = (job: Job, holding: string, cache: DeriveCache): { held: Held; workAt: WorkAt } => {
  const derived = derive(job, cache);
  const held = heldIn(derived, holding);
  const own = derived.operations.filter((d) => d.holding === holding);
  const supported = onceFor((supports: readonly Standing[]): Held => withSupports(held, supports));
  const workAt: WorkAt = (channel, at) => {
    const order = job.order[channel] ?? [];
    // what stands before the next operation of the channel; behind its last one whatever all channels have left
    const next = order.slice(at).find((id) => job.operations[id].holding === holding);
    const i = own.findIndex((d) => d.id === next);
    const last = i < 0 ? own.at(-1) : own[i - 1];
    return {
      stock: own[i]?.before ?? last?.after ?? held.rawStock,
      around: last ? supported(last.supports) : held,
    };
  };
  return { held, workAt };
};

/** A thread goes on one element, once. */
const threaded = (job: Job, holding: string, kind: CuttingKind, span: PickedSpan): boolean => {
  const own = Object.values(job.operations).filter((op) => op.kind === kind && op.holding === holding && isCutting(op));
  if (kindOf({ kind }).target === 'none') return own.length > 0;
  return span?.from !== span?.to || span === null || own.some((op) => isCutting(op) && op.span?.from === span.from);
};

/** The thread that the part shows on a single picked element; null for none. */
const threadShownAt = (part: Part, span: PickedSpan): Feature | null => {
  if (!span || span.from !== span.to) return null;
  return turnedFeatures(part).find((f) => f.sizes.pitch !== undefined && f.elements[0] === span.from) ?? null;
};

/** Why a candidate cannot, or what to know of it; null for nothing. */
const reasonFor = (
  why: Finding | undefined,
  other: Feature | null,
  idle: boolean,
  asked: string | undefined,
): string | null => {
  if (why) return wordFinding(why).message;
  if (other) return `The part looks as if it wanted ${describeFeature(other)} here.`;
  return idle ? 'It takes nothing off here.' : (asked ?? null);
};

/** A feature says its pitch to the tenth of a micrometre, mm. */
const SAME_PITCH = 2e-4;

/** Whether a thread by its designation is the one that a feature of the part shows. */
const sameThread = (designation: string, { sizes }: Feature): boolean => {
  const form = threadByName(designation);
  return !form || Math.abs(form.pitch - sizes.pitch) < SAME_PITCH;
};

const madeBy = (op: CuttingOperation, tool: Tool): string | null =>
  'thread' in op.params ? op.params.thread || null : tool.kind === 'tap' ? tool.cutter.thread : null;

/** Sizes and angles of a drill and of a hole's bottom that differ by no more than this are one, mm and degrees. */
const SAME_SIZE = 0.05;
const SAME_ANGLE = 1;

/** Whether a drill's diameter and point are those of the cone in which the part's bore ends on the axis. */
const isBottomOf = (tool: Tool, part: Part): boolean => {
  const last = part.inner[part.inner.length - 1]?.curve;
  if (tool.kind !== 'drill' || last?.kind !== 'line' || last.to.y > SAME_SIZE) return false;
  const { diameter, pointAngle } = tool.cutter;
  const angle = (2 * Math.atan2(last.from.y, last.from.x - last.to.x) * 180) / Math.PI;
  return Math.abs(2 * last.from.y - diameter) <= SAME_SIZE && Math.abs(angle - pointAngle) <= SAME_ANGLE;
};

/** What cannot be said in mm counts as this much. */
const FAR_OFF = 1e4;

/** A tool of the shelf that cannot do it as things are, with how much stands against it. */
interface Short {
  readonly against: number;
  /** What it lacks in all, mm, where that can be said. */
  readonly short: number;
  readonly candidate: Candidate;
}

const shortBy = (against: readonly Finding[]): number =>
  against.reduce((sum, f) => {
    if (f.code === 'bar-too-thick' || f.code === 'bore-shallow') return sum + f.numbers.missing;
    if (f.code === 'drill-too-short') return sum + f.numbers.depth - f.numbers.flutes;
    const struck = f.numbers as { readonly along?: number } | undefined;
    return sum + (struck?.along ?? FAR_OFF);
  }, 0);

/** What takes less of a span's metal than this is no help there. */
const LEAST_REACH = 0.002;

/** Where the metal is thick, roughing that takes more than this of it comes before any finishing; the rest may be grooves and face. */
const WANTS_ROUGHING = 0.25;

/** What an operation covers that is there to take metal off. */
const TAKES_METAL: ReadonlySet<string> = new Set(['rough', 'finish', 'hole', 'seat']);

/** What to know of one that takes only what others take behind it. */
const TAKEN_LATER = 'Operations that stand behind it take this metal already.';

/** A tool that nothing would help stands behind all that something would. */
const NO_CURE = 100;

/** Another way is taken that takes this share of a span’s metal more. */
const CLEARLY = 0.02;

/** A way into a corner that takes less than this of its metal is no help there. */
const MADE = 0.9;
/** More of a span's metal than this is all of it. */
const ALL_OF_IT = 0.97;
/** Mean thickness of metal, mm, that a tool which goes into a corner may find there. */
const CORNER_SKIN = 0.6;

/** Roughing that takes less than this by bridging is tried into the hollows. */
const LITTLE = 0.02;

/** Mean thickness of a span's metal, mm, below which it is made but for its corners: no other way is looked for. */
const SKIN = 0.005;

/**
 * What can cut a span of the contour in a holding, one pair of operation and tool after another: every tool of the job, then
 * those of the `shelf`, is tried as the next operation before any cutoff, its path planned and checked for real.
 */
export function* candidateSteps(
  job: Job,
  span: PickedSpan,
  side: 'outer' | 'inner',
  holding: string,
  cache: DeriveCache,
  shelf: readonly Tool[] = [],
): Generator<Candidate> {
  const { held, workAt } = workOf(job, holding, cache);
  const { part } = held;
  if (part.region.length === 0 || held.rawStock.isEmpty) return;
  const severed = Object.values(job.operations).some((op) => op.holding === holding && op.on && isSevering(op));
  /** What a kind would be pointed at, the box of that, and whether any of it may be seen from the front. */
  const aims = new Map(
    CUTTING_KINDS.map((kind) => {
      const aim = kind.spanFor ? kind.spanFor(part, span) : span;
      return [kind.kind, { aim, box: spanBox(part, aim, side), forward: isForward(part, aim, side) }] as const;
    }),
  );
  const tools = toolsToTry(job, held, shelf);
  const wanted = threadShownAt(part, span);
  const kinds = CUTTING_KINDS.filter(
    (kind) =>
      kind.offeredFor.includes(side) &&
      !(kind.spanFor && !aims.get(kind.kind)?.aim) &&
      // a piece has nothing left to be cut off from, and a part is cut off behind its back
      !(
        kind.covers === 'sever' &&
        (severed || job.holdings[holding].stock.form !== 'bar' || !reachesBack(part, span, side))
      ),
  );
  // those that stand in a station first, whatever they do
  const pairs = [tools.standing, tools.loose].flatMap((list) =>
    kinds.flatMap((kind) => list.map((tool) => ({ kind, tool }))),
  );
  /** Kinds of which something can do it, and for the others what from the shelf could with the least help. */
  const able = new Set<CuttingKind>();
  const helped = new Map<CuttingKind, Short>();
  /** The same of those that nothing would help. */
  const helpless = new Map<CuttingKind, Short>();
  /** Something found so far roughs it without a doubt. */
  let roughing = false;
  const metalAt = onceForEach(
    (body: Body, box: Box): number => metalOf(body.turnedOutline, part, box, side),
    (box) => (box ? `${box.minX} ${box.maxX} ${box.minY} ${box.maxY}` : ''),
  );
  for (const { kind, tool } of pairs) {
    if (!takesTool(job, kind.tools, tool)) continue;
    if (kind.covers === 'thread' && threaded(job, holding, kind.kind, span)) continue;
    const { aim, box, forward } = aims.get(kind.kind) ?? { aim: span, box: null, forward: false };
    const stand = tools.place(tool);
    if (!stand) continue;
    const { job: trialJob, put } = stand;
    let operation = newOperation(trialJob, kind.kind, tool, aim, 'trial', holding);
    if (kind.covers === 'thread' && madeBy(operation, tool) === null) continue;
    const { channel } = operation;
    const { stock, around } = workAt(channel, landingPlace(job, kind.kind, holding, channel));
    const target = metalAt(stock, box);
    // a tool that is not there and would finish what wants roughing is no help where roughing is
    const late = put !== null && roughing && kind.deepest !== undefined;
    const thickness = thicknessOf(part, aim, side, target);
    const thick = kind.deepest !== undefined && thickness > kind.deepest;
    if (late && thick) continue;
    const idleBy = late ? isDoubt : null;
    let found = tryOut({ job: trialJob, kind, operation, channel, held: around, stock }, idleBy);
    if (!found) continue;
    const whole = kind.covers === 'sever' || kind.covers === 'thread';
    const reachOf = (rest: number): number =>
      whole ? 1 : target <= 1e-6 ? 0 : Math.max(0, Math.min(1, 1 - rest / target));
    let left = metalAt(found.after, box);
    // before a finishing it may take what is taken anyway
    const end = workAt(channel, beforeCutoff(job, holding, channel)).stock;
    const stays = TAKES_METAL.has(kind.covers) && end !== stock ? metalAt(end, box) : null;
    // another way of a tool of the shelf is not worth the time then
    const open = put === null && stays !== null && stays > LITTLE * target;
    const takenLater = (tried: Tried, rest: number): boolean =>
      stays !== null &&
      reachOf(rest) >= LEAST_REACH &&
      stays - metalOf(intersectRegions(end.turnedOutline, tried.after.turnedOutline), part, box, side) <
        LEAST_REACH * target;
    let later = takenLater(found, left);
    // where bridging leaves hardly anything to do, what it has bridged is still there, and what is not reached from the side
    // may be from the front
    for (const other of thickness < SKIN ? [] : otherWays(operation, forward && !thick, part, tool)) {
      // into a corner it goes where the usual ways leave something of a little
      const corner = 'along' in other.params && other.params.along === 'corner';
      if (
        corner
          ? reachOf(left) > ALL_OF_IT || thickness > CORNER_SKIN
          : found.cuts && reachOf(left) > LITTLE && !(open && later)
      )
        continue;
      const tried = tryOut({ job: trialJob, kind, operation: other, channel, held: around, stock });
      if (!tried?.cuts || tried.findings.some((f) => f.severity === 'blocking')) continue;
      const rest = metalAt(tried.after, box);
      const better = corner ? reachOf(rest) > MADE : !found.cuts;
      if (better || (found.cuts && !corner && rest < left - CLEARLY * target))
        [operation, found, left, later] = [other, tried, rest, takenLater(tried, rest)];
    }
    const reach = reachOf(left);
    const findings = [...found.findings, ...stand.against];
    const against = findings.filter((f) => f.severity === 'blocking');
    const cure = against.find((f) => f.remedy) ?? null;
    const blocking = cure ?? against[0] ?? (found.cuts ? undefined : found.findings[0]);
    const warning = findings.find((f) => f.severity === 'attention');
    const makes = madeBy(operation, tool);
    const other =
      makes !== null && wanted !== null && kind.onlyWhereAsked === undefined && !sameThread(makes, wanted)
        ? wanted
        : null;
    const idle = blocking !== undefined || reach < LEAST_REACH;
    const candidate: Candidate = {
      kind: kind.kind,
      tool: tool.id,
      toolName: tool.name,
      station: put ? put.station : stationOf(job, tool.id),
      put,
      reach: idle ? 0 : reach,
      seconds: found.seconds,
      leaves: left,
      doubtful: warning !== undefined || other !== null || later || kind.onlyWhereAsked !== undefined,
      bottom: isBottomOf(tool, part),
      makes,
      reason: reasonFor(blocking ?? warning, other, idle, later ? TAKEN_LATER : kind.onlyWhereAsked),
      cure: cure?.remedy?.label ?? null,
      operation,
    };
    // a tool that is not there and cannot do it is no news, unless nothing else of its kind can: then why, of one that could be
    // helped, or where the picked elements ask for this kind
    if (put && (idle || !found.cuts)) {
      // one that would make another thread than the part shows tells less
      const far = against.length + (other ? 1 : 0) + (cure ? 0 : NO_CURE);
      const list = cure || (kind.spanFor && against.length > 0) ? helped : helpless;
      const best = list.get(kind.kind);
      // of tools that nothing helps the one tells most that is nearest to it
      const short = shortBy(against);
      const nearer = list === helpless && far === best?.against && short < best.short;
      if (against.length > 0 && (!best || far < best.against || nearer))
        list.set(kind.kind, { against: far, short, candidate });
      continue;
    }
    if (kind.covers === 'rough' && !idle && !warning && reach > WANTS_ROUGHING) roughing = true;
    if (!idle) able.add(kind.kind);
    yield candidate;
  }
  for (const [kind, { candidate }] of helped) if (!able.has(kind)) yield candidate;
  // where nothing at all can, why not is all that there is to say; and where nothing can cut the thread that the part shows
  const threads = (kind: CuttingKind): boolean => kindOf({ kind }).covers === 'thread';
  const unthreaded = wanted !== null && ![...able].some(threads);
  for (const [kind, { candidate }] of helpless)
    if (!helped.has(kind) && (able.size === 0 || (unthreaded && threads(kind)))) yield candidate;
}

/** The same turning going into hollows, across the axis, and into a corner, where that is of use, if it does not do so already. */
const otherWays = (op: CuttingOperation, forward: boolean, part: Part, tool: Tool): CuttingOperation[] => {
  const { params } = op;
  const hollows = 'undercuts' in params && params.undercuts === 'bridge' ? [{ undercuts: 'enter' }] : [];
  const across = forward && 'along' in params && params.along === 'z' ? [{ along: 'x', undercuts: 'enter' }] : [];
  const ways = [...hollows, ...across].map((way) => ({ ...op, params: { ...params, ...way } }) as CuttingOperation);
  if (op.kind !== 'outer-finish' || op.params.along !== 'z') return ways;
  const section = toolSection(tool);
  const span = reliefAround(part, op.span, section.ok && section.section.feeds === 'from-chuck');
  return span ? [...ways, { ...op, span, params: { ...op.params, along: 'corner' } }] : ways;
};

interface Trial {
  readonly job: Job;
  readonly kind: AnyKind;
  readonly operation: CuttingOperation;
  readonly channel: string;
  readonly held: Held;
  readonly stock: Body;
}

interface Tried {
  readonly findings: readonly Finding[];
  readonly after: Body;
  readonly seconds: number;
  readonly cuts: boolean;
}

const isDoubt = (f: Finding): boolean => f.severity !== 'info';

/** Plans and checks an operation; only as far as its plan, and null, where one of its findings ends it. */
const tryOut = (t: Trial, ends: ((f: Finding) => boolean) | null = null): Tried | null => {
  const { job, operation, stock, held } = t;
  const { resolved, findings } = resolveOperation(job, operation, t.channel, held);
  if (!resolved) return { findings, after: stock, seconds: 0, cuts: false };
  const blade = toolFacts(resolved.tool).bladeWidth;
  const cutoffWidth = Math.max(blade, cutoffWidthIn(job, held.id));
  const { section, beyond, tool, place, reach } = resolved;
  const seen = see(t.kind, operation, {
    part: held.part,
    metal: stock.turnedOutline,
    fixtures: held.fixtures,
    section,
    tool,
    place,
    cutoffWidth,
    roughness: new Map(),
    cycleContours: [],
  });
  const planned = planOperation(operation, seen);
  if (ends && planned.findings.some(ends)) return null;
  const checked = checkMotion({
    op: operation.id,
    events: planned.events,
    section,
    beyond,
    frame: worksFrom(section),
    stock,
    part: held.part.region,
    jaws: held.jaws,
    chuck: held.chuck,
    support: held.support,
    machine: job.machine,
    reach,
    zeroFromFace: held.zeroFromFace,
  });
  const { total } = timeProgram({ channels: [{ channel: t.channel, events: planned.events }] }, job.machine);
  return {
    findings: [...planned.findings, ...checked.findings],
    after: checked.stock,
    seconds: total,
    cuts: planned.events.length > 0,
  };
};

/** All candidates at once, ranked. */
export const candidatesFor = (
  job: Job,
  span: PickedSpan,
  side: 'outer' | 'inner',
  holding: string,
  cache: DeriveCache = new DeriveCache(),
  shelf: readonly Tool[] = [],
): Candidate[] => rankCandidates(job, [...candidateSteps(job, span, side, holding, cache, shelf)]);
