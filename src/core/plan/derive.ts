import { checkMotion, compareWithPart } from '../checks';
import { clampDiameter, drillLoad, surfaceSpeedAt, turningLoad } from '../cutting';
import { greatestHalfThickness, point, type Region, regionBounds, regionVolume, unionRegions } from '../geometry';
import { chuckRegion, jawFront, jawLength, jawRegion, partZeroInMachine, stockRegion } from '../holding';
import {
  type ChannelTimeline,
  isMove,
  type MotionEvent,
  type MotionProgram,
  type TimedEvent,
  type Timeline,
  timeProgram,
} from '../motion';
import { type CuttingOperation, type Finding, type PlanContext, planOperation } from '../operations';
import { planWait } from '../operations/wait';
import { buildPart, type Part } from '../part';
import { separate } from '../stock';
import { decodeInsert, type ToolSection, toolSection } from '../tooling';
import { type Coverage, coverageOf } from './coverage';
import { type Job, stationOf } from './document';
import { validateHolding, validateOperation, validateOrder } from './validate';

export type OperationState = 'ready' | 'attention' | 'blocked' | 'off';

export interface OperationTimes {
  readonly start: number;
  readonly end: number;
  readonly cutting: number;
  readonly rapid: number;
  readonly other: number;
}

export interface OperationLoad {
  /** kW at the spindle motor. */
  readonly power: number;
  readonly available: number;
  readonly force: number;
  readonly torque: number;
  readonly chip: number;
  readonly depth: number;
  readonly speedMin: number;
  readonly speedMax: number;
  /** Smallest diameter cut, and the one below which the spindle is at its limit (0 with a fixed speed). */
  readonly diameterMin: number;
  readonly clampedBelow: number;
  /** Overhang over diameter of a bar or drill, null for others. */
  readonly slenderness: number | null;
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

interface Cached {
  readonly events: readonly MotionEvent[];
  readonly findings: readonly Finding[];
  readonly after: Region;
  readonly depth: number;
  readonly contourKey: string | null;
}

/** Results kept from derive to derive, by a hash of all that they depend on. */
export class DeriveCache {
  private entries = new Map<string, Cached>();
  private touched = new Set<string>();
  hits = 0;
  misses = 0;
  get(key: string): Cached | undefined {
    const found = this.entries.get(key);
    if (found) {
      this.touched.add(key);
      this.hits++;
    } else this.misses++;
    return found;
  }
  set(key: string, value: Cached): void {
    this.entries.set(key, value);
    this.touched.add(key);
  }
  /** Forgets what the last derives did not use once there is much of it. */
  sweep(keep = 3000): void {
    if (this.entries.size <= keep) return;
    for (const key of this.entries.keys()) if (!this.touched.has(key)) this.entries.delete(key);
    this.touched.clear();
  }
}

/** 53-bit string hash (two mixed 32-bit lanes); only for cache keys. */
export const hashText = (text: string): string => {
  let h1 = 0xdeadbeef;
  let h2 = 0x41c6ce57;
  for (let i = 0; i < text.length; i++) {
    const c = text.charCodeAt(i);
    h1 = Math.imul(h1 ^ c, 2654435761);
    h2 = Math.imul(h2 ^ c, 1597334677);
  }
  h1 = Math.imul(h1 ^ (h1 >>> 16), 2246822507) ^ Math.imul(h2 ^ (h2 >>> 13), 3266489909);
  h2 = Math.imul(h2 ^ (h2 >>> 16), 2246822507) ^ Math.imul(h1 ^ (h1 >>> 13), 3266489909);
  return (4294967296 * (2097151 & h2) + (h1 >>> 0)).toString(36);
};

/** Hash of a region by its coordinates on a 10 nm grid. */
export const hashRegion = (region: Region): string => {
  let h1 = 17;
  let h2 = 31;
  for (const ring of region) {
    h1 = Math.imul(h1 ^ ring.length, 2654435761);
    for (const p of ring) {
      h1 = Math.imul(h1 ^ (Math.round(p.x * 1e5) | 0), 2654435761) ^ (h1 >>> 15);
      h2 = Math.imul(h2 ^ (Math.round(p.y * 1e5) | 0), 1597334677) ^ (h2 >>> 13);
    }
  }
  return `${(h1 >>> 0).toString(36)}${(h2 >>> 0).toString(36)}`;
};

export interface DeriveProgress {
  readonly done: number;
  readonly all: number;
}

const emptyTimes: OperationTimes = { start: 0, end: 0, cutting: 0, rapid: 0, other: 0 };

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
  const part = buildPart(job.part, job.units);
  const spindle = job.machine.spindles.find((s) => s.id === job.holding.spindle) ?? job.machine.spindles[0];
  const rawStock = stockRegion(job.stock, job.holding, spindle);
  const jaws = jawRegion(job.stock, job.holding);
  const chuck = chuckRegion(job.stock, job.holding, spindle);
  const fixtures = unionRegions(jaws, chuck);
  const zeroZ = partZeroInMachine(job.stock, job.holding, spindle);
  const general = [...validateHolding(job, part), ...validateOrder(job)];
  const heldZ = jawFront(job.stock, job.holding) - jawLength(job.holding) / 2;
  const cutoffWidth = Math.max(
    0,
    ...Object.values(job.operations).map((op) => {
      const tool = op.kind === 'cutoff' && op.on && op.tool ? job.tools[op.tool] : undefined;
      return tool?.kind === 'cutoff' ? tool.width : 0;
    }),
  );
  const base = hashText(JSON.stringify([job.part, job.stock, job.holding, job.machine, job.material.id, cutoffWidth]));

  const sequence = runOrder(job);
  let stock = rawStock;
  let stockKey = hashRegion(stock);
  const done: DerivedOperation[] = [];
  const contours: { operation: string; key: string }[] = [];
  for (const [i, { id, channel }] of sequence.entries()) {
    const op = job.operations[id];
    yield { done: i, all: sequence.length };
    const idle = (
      state: OperationState,
      findings: Finding[] = [],
      station: number | null = null,
      section: ToolSection | null = null,
    ): void => {
      done.push({
        id,
        channel,
        state,
        station,
        section,
        events: [],
        before: stock,
        after: stock,
        removed: 0,
        findings,
        times: emptyTimes,
        load: null,
        depth: 0,
      });
    };
    if (!op.on) {
      idle('off');
      continue;
    }
    if (op.kind === 'wait') {
      done.push({
        id,
        channel,
        state: 'ready',
        station: null,
        section: null,
        events: planWait(op),
        before: stock,
        after: stock,
        removed: 0,
        findings: [],
        times: emptyTimes,
        load: null,
        depth: 0,
      });
      continue;
    }
    const say = (code: string, numbers: Finding['numbers'] = {}): Finding => ({
      severity: 'blocking',
      code,
      operation: id,
      numbers,
      at: null,
      event: null,
    });
    const tool = op.tool ? job.tools[op.tool] : undefined;
    if (!op.tool || !tool) {
      idle('blocked', [op.tool ? say('tool-unknown', { tool: op.tool }) : say('no-tool')]);
      continue;
    }
    const station = stationOf(job, tool.id);
    const section = toolSection(tool);
    if (!section.ok) {
      idle('blocked', [say('tool-unreadable', { found: section.found, reason: section.code })], station);
      continue;
    }
    const invalid = validateOperation(op);
    if (station === null) invalid.push(say('tool-not-in-station', { tool: tool.name }));
    if (invalid.length > 0 || part.region.length === 0 || station === null) {
      idle('blocked', invalid, station, section.section);
      continue;
    }
    const key = [
      base,
      hashText(JSON.stringify([{ ...op, name: '', note: '' }, tool, station])),
      stockKey,
      hashText(contours.map((c) => c.key).join()),
    ].join(':');
    let result = cache.get(key);
    if (!result) {
      result = planAndCheck(
        op,
        {
          part,
          stockDocument: job.stock,
          holding: job.holding,
          machine: job.machine,
          spindle,
          material: job.material,
          tool,
          station,
          section: section.section,
          stock,
          fixtures,
          cutoffWidth,
          cycleContours: contours,
        },
        { jaws, chuck, zeroZ },
      );
      cache.set(key, result);
    }
    if (result.contourKey) contours.push({ operation: id, key: result.contourKey });
    const before = stock;
    const after = result.after;
    stock = after;
    stockKey = hashRegion(stock);
    const load = loadOf(job, op, result, spindle);
    const findings = [...result.findings, ...loadFindings(op, load, tool)];
    done.push({
      id,
      channel,
      state: worst(findings),
      station,
      section: section.section,
      events: result.events,
      before,
      after,
      removed: Math.max(0, regionVolume(before) - regionVolume(after)),
      findings,
      times: emptyTimes,
      load,
      depth: result.depth,
    });
  }
  cache.sweep();

  const byId = new Map(done.map((d) => [d.id, d]));
  const program: MotionProgram = {
    channels: job.machine.channels.map((c) => ({
      channel: c.id,
      events: (job.order[c.id] ?? []).flatMap((id) => byId.get(id)?.events ?? []),
    })),
  };
  const timeline = timeProgram(program, job.machine);
  const eventsOf = timedByOperation(timeline.channels);
  const timed = done.map((d) => ({ ...d, times: timesOf(eventsOf.get(d.id) ?? []) }));
  if (timeline.kind === 'deadlock')
    for (const w of timeline.waiting)
      general.push({
        severity: 'blocking',
        code: 'deadlock',
        operation: w.op,
        numbers: { channel: w.channel, mark: w.mark, channels: w.channels.join(' and ') },
        at: null,
        event: null,
      });

  const cutOff = timed.some((d) => job.operations[d.id].kind === 'cutoff' && d.events.length > 0);
  const parted = separate(stock, heldZ);
  const finished = cutOff && parted.off.length > 0 ? parted.off : stock;
  const compared = compareWithPart(finished, part.region);
  const leftoverVolume = regionVolume(compared.leftover);
  if (cutOff && leftoverVolume > 0.05)
    general.push({
      severity: 'attention',
      code: 'leftover',
      operation: null,
      numbers: { volume: leftoverVolume, thickness: 2 * greatestHalfThickness(compared.leftover) },
      at: centreOf(compared.leftover),
      event: null,
    });
  const findings = [...general, ...timed.flatMap((d) => d.findings)];
  return {
    part,
    rawStock,
    jaws,
    chuck,
    operations: timed,
    program,
    timeline,
    findings,
    coverage: coverageOf(part, finished, rawStock, timed, job),
    finalStock: parted.held.length > 0 ? parted.held : stock,
    finished,
    leftover: compared.leftover,
    gouge: compared.gouge,
    leftoverVolume,
  };
}

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

const planAndCheck = (
  op: CuttingOperation,
  ctx: PlanContext,
  place: { jaws: Region; chuck: Region; zeroZ: number },
): Cached => {
  try {
    const planned = planOperation(op, ctx);
    const carrier = ctx.machine.carriers.find((c) => c.channel === op.channel) ?? ctx.machine.carriers[0];
    const checked = checkMotion({
      op: op.id,
      events: planned.events,
      section: ctx.section,
      stock: ctx.stock,
      part: ctx.part.region,
      jaws: place.jaws,
      chuck: place.chuck,
      machine: ctx.machine,
      carrier,
      spindle: ctx.spindle,
      zeroZ: place.zeroZ,
    });
    return {
      events: planned.events,
      findings: [...planned.findings, ...checked.findings],
      after: checked.stock,
      depth: planned.depth,
      contourKey: planned.contourKey,
    };
  } catch (error) {
    // one operation that fails must not take the job with it
    const reason = error instanceof Error ? error.message : String(error);
    return {
      events: [],
      findings: [
        { severity: 'blocking', code: 'internal', operation: op.id, numbers: { reason }, at: null, event: null },
      ],
      after: ctx.stock,
      depth: 0,
      contourKey: null,
    };
  }
};

/** Operations of all channels in the order in which they change the stock: channels take turns between common wait marks. */
export const runOrder = (job: Job): { id: string; channel: string }[] => {
  const queues = job.machine.channels.map((c) => ({ channel: c.id, ids: [...(job.order[c.id] ?? [])] }));
  const result: { id: string; channel: string }[] = [];
  for (;;) {
    let moved = false;
    for (const q of queues)
      while (q.ids.length > 0 && job.operations[q.ids[0]].kind !== 'wait') {
        result.push({ id: q.ids.shift() as string, channel: q.channel });
        moved = true;
      }
    for (const q of queues)
      if (q.ids.length > 0) {
        result.push({ id: q.ids.shift() as string, channel: q.channel });
        moved = true;
      }
    if (!moved) return result;
  }
};

const timedByOperation = (channels: readonly ChannelTimeline[]): Map<string, TimedEvent[]> => {
  const result = new Map<string, TimedEvent[]>();
  for (const channel of channels)
    for (const t of channel.events) {
      const list = result.get(t.event.op);
      if (list) list.push(t);
      else result.set(t.event.op, [t]);
    }
  return result;
};

const timesOf = (events: readonly TimedEvent[]): OperationTimes => {
  let start = Infinity;
  let end = 0;
  let cutting = 0;
  let rapid = 0;
  let other = 0;
  for (const t of events) {
    start = Math.min(start, t.start);
    end = Math.max(end, t.end);
    const moving = t.end - t.start - t.waiting;
    if (isMove(t.event)) {
      if (t.event.kind === 'rapid') rapid += moving;
      else cutting += moving;
      other += t.waiting;
    } else other += t.end - t.start;
  }
  return Number.isFinite(start) ? { start, end, cutting, rapid, other } : emptyTimes;
};

const loadOf = (
  job: Job,
  op: CuttingOperation,
  result: Cached,
  spindle: Job['machine']['spindles'][number],
): OperationLoad | null => {
  const tool = op.tool ? job.tools[op.tool] : undefined;
  const cuts = result.events.filter((e) => isMove(e) && e.purpose === 'cut' && e.kind !== 'rapid');
  if (!tool || cuts.length === 0) return null;
  const diameters = cuts.flatMap((e) => (isMove(e) && e.to.X !== undefined ? [Math.abs(e.to.X) * 2] : []));
  const clamp = Math.min(spindle.maxSpeed, job.holding.maxSpeed);
  const speedAt = (d: number): number =>
    op.cutting.speedMode === 'fixed'
      ? Math.min(op.cutting.speed, clamp)
      : Math.min(clamp, d > 0.01 ? (1000 * op.cutting.speed) / (Math.PI * d) : clamp);
  const dMax = tool.kind === 'drill' ? tool.diameter : Math.max(...diameters, 0.1);
  const dMin = tool.kind === 'drill' ? tool.diameter : Math.min(...diameters);
  const vc = surfaceSpeedAt(speedAt(dMax), dMax);
  const available = spindle.power;
  const common = {
    available,
    depth: result.depth,
    speedMin: speedAt(dMax),
    speedMax: speedAt(dMin),
    diameterMin: dMin,
    clampedBelow: op.cutting.speedMode === 'surface' ? clampDiameter(op.cutting.speed, clamp) : 0,
  };
  if (tool.kind === 'drill') {
    const l = drillLoad({
      kc11: job.material.kc11,
      mc: job.material.mc,
      diameter: tool.diameter,
      feed: op.cutting.feed,
      pointAngle: tool.pointAngle,
      surfaceSpeed: vc,
    });
    return {
      ...common,
      power: l.power / spindle.efficiency,
      force: l.thrust,
      torque: l.torque,
      chip: op.cutting.feed / 2,
      slenderness: tool.overhang / tool.diameter,
    };
  }
  const kappa = tool.kind === 'cutoff' ? 90 : tool.approachAngle;
  const depth = Math.max(result.depth, 0.05);
  const l = turningLoad({
    kc11: job.material.kc11,
    mc: job.material.mc,
    depth,
    feed: op.cutting.feed,
    approachAngle: kappa,
    surfaceSpeed: vc,
    diameter: dMax,
  });
  return {
    ...common,
    power: l.power / spindle.efficiency,
    force: l.force,
    torque: l.torque,
    chip: l.chip,
    slenderness: tool.kind === 'boring' ? tool.overhang / tool.barDiameter : null,
  };
};

const loadFindings = (op: CuttingOperation, load: OperationLoad | null, tool: Job['tools'][string]): Finding[] => {
  if (!load) return [];
  const result: Finding[] = [];
  const say = (severity: Finding['severity'], code: string, numbers: Finding['numbers']): void => {
    result.push({ severity, code, operation: op.id, numbers, at: null, event: null });
  };
  if (load.power > load.available) say('attention', 'power-over', { power: load.power, available: load.available });
  if (tool.kind === 'turning' || tool.kind === 'boring') {
    const insert = decodeInsert(tool.insert);
    if (
      insert.ok &&
      (op.kind === 'outer-rough' || op.kind === 'inner-rough' || op.kind === 'face') &&
      load.depth > insert.insert.edgeLength * 0.6
    )
      say('attention', 'depth-over-edge', { depth: load.depth, edge: insert.insert.edgeLength * 0.6 });
  }
  const reached =
    op.cutting.speedMode === 'surface' && load.clampedBelow > 0
      ? surfaceSpeedAt(load.speedMax, load.diameterMin)
      : null;
  if (reached !== null && load.diameterMin < load.clampedBelow - 0.01 && op.kind !== 'drill')
    say('info', 'speed-clamp', { diameter: load.clampedBelow, clamp: load.speedMax, reached });
  return result;
};
