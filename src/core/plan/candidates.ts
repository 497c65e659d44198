import { wordFinding } from '../checks';
import { startingData } from '../cutting';
import { intersectRegions, rectangle, regionBounds, regionVolume, subtractRegion } from '../geometry';
import { type CuttingOperation, KINDS, type OperationKind, OperationSchema } from '../operations';
import { buildPart } from '../part';
import { decodeInsert, type Tool } from '../tooling';
import { DeriveCache, type Derived, derive } from './derive';
import type { Job } from './document';

export interface Candidate {
  readonly kind: OperationKind;
  readonly tool: string;
  readonly toolName: string;
  readonly station: number | null;
  /** Share of the span's metal that comes off, 0–1. */
  readonly reach: number;
  readonly seconds: number;
  /** mm³ of the span that stay. */
  readonly leaves: number;
  /** It works, but something needs attention: ranked behind those without. */
  readonly doubtful: boolean;
  /** Why it cannot, or what to know. */
  readonly reason: string | null;
  readonly operation: CuttingOperation;
}

/** A new operation with starting values from the material, the tool and the kind. */
export const newOperation = (
  job: Job,
  kind: Exclude<OperationKind, 'wait'>,
  tool: Tool | null,
  span: { from: string; to: string } | null,
  id: string,
): CuttingOperation => {
  const info = KINDS[kind];
  const data = startingData(job.material, info.purpose ?? 'rough');
  const drill = tool?.kind === 'drill' ? tool : null;
  const cutting = drill
    ? {
        speedMode: 'fixed',
        speed: Math.min(
          job.holding.maxSpeed,
          Math.round((1000 * data.surfaceSpeed) / (Math.PI * drill.diameter) / 10) * 10,
        ),
        feed: Math.round(data.feed * drill.diameter * 1000) / 1000,
      }
    : {
        speedMode: 'surface',
        speed: tool?.kind === 'boring' ? Math.round(data.surfaceSpeed * 0.6) : data.surfaceSpeed,
        feed: tool?.kind === 'boring' ? Math.round(data.feed * 50) / 100 : data.feed,
      };
  const params: Record<string, unknown> = {};
  if (kind === 'face') params.depth = Math.min(1.5, data.depth ?? 1);
  if (kind === 'outer-rough') params.depth = Math.min(2.5, data.depth ?? 2);
  if (kind === 'inner-rough') Object.assign(params, { depth: Math.min(1, data.depth ?? 1), allowanceX: 0.3 });
  if (kind === 'drill')
    Object.assign(params, {
      depth: null,
      breakThrough: 3,
      peck: drill && partLength(job) > 3 * drill.diameter ? Math.round(drill.diameter) : 0,
    });
  const needsSpan = kind !== 'face' && kind !== 'drill' && kind !== 'cutoff';
  return OperationSchema.parse({
    id,
    kind,
    name: info.label,
    channel: job.machine.channels[0].id,
    tool: tool?.id ?? null,
    cutting,
    span: needsSpan ? span : null,
    params,
  }) as CuttingOperation;
};

const partLength = (job: Job): number => -Math.min(0, ...buildPart(job.part, job.units).outer.map((e) => e.curve.to.x));

const KIND_OF_TOOL: Record<Tool['kind'], readonly Exclude<OperationKind, 'wait'>[]> = {
  turning: ['outer-rough', 'outer-finish', 'face'],
  boring: ['inner-rough', 'inner-finish'],
  drill: ['drill'],
  cutoff: ['cutoff'],
};

/**
 * What can cut a span of the contour: every tool of the job is tried as the next operation before any cutoff, its path
 * planned and checked for real. Ranked by what comes off, then by time; those that cannot say why.
 */
export const candidatesFor = (
  job: Job,
  span: { from: string; to: string } | null,
  side: 'outer' | 'inner',
  cache: DeriveCache = new DeriveCache(),
): Candidate[] => {
  const channel = job.machine.channels[0].id;
  const order = job.order[channel] ?? [];
  const found: Candidate[] = [];
  const base = baseline(job, cache);
  for (const tool of Object.values(job.tools)) {
    for (const kind of KIND_OF_TOOL[tool.kind]) {
      if (side === 'outer' && (kind === 'inner-rough' || kind === 'inner-finish' || kind === 'drill')) continue;
      if (kind === 'cutoff' && order.some((id) => job.operations[id].kind === 'cutoff' && job.operations[id].on))
        continue;
      if (
        side === 'inner' &&
        (kind === 'outer-rough' || kind === 'outer-finish' || kind === 'face' || kind === 'cutoff')
      )
        continue;
      const operation = newOperation(job, kind, tool, span, 'trial');
      const at = landingPlace(job, kind);
      const trial: Job = {
        ...job,
        operations: { ...job.operations, trial: operation },
        order: {
          ...job.order,
          [channel]: [
            ...order.slice(0, at),
            'trial',
            ...order.slice(at).filter((id) => job.operations[id].kind !== 'cutoff' || kind === 'cutoff'),
          ],
        },
      };
      const d = derive(
        { ...trial, order: { ...trial.order, [channel]: trial.order[channel].slice(0, at + 1) } },
        cache,
      );
      const result = d.operations.find((o) => o.id === 'trial');
      if (!result) continue;
      const blocking =
        result.findings.find((f) => f.severity === 'blocking') ??
        (result.events.length === 0 ? result.findings[0] : undefined);
      const warning = result.findings.find((f) => f.severity === 'attention');
      const seconds = result.times.cutting + result.times.rapid + result.times.other;
      const target = spanMetal(base, d, result.before, span, side);
      const after = spanMetal(base, d, result.after, span, side);
      const reach =
        kind === 'cutoff'
          ? blocking
            ? 0
            : 1
          : target <= 1e-6
            ? 0
            : Math.max(0, Math.min(1, (target - after) / target));
      found.push({
        kind,
        tool: tool.id,
        toolName: tool.name,
        station: result.station,
        reach: blocking ? 0 : reach,
        seconds,
        leaves: after,
        doubtful: warning !== undefined,
        reason: blocking ? wordFinding(blocking).message : warning ? wordFinding(warning).message : null,
        operation,
      });
    }
  }
  // among equals a strong corner roughs better than a slender one
  const strength = (c: Candidate): number => {
    const tool = job.tools[c.tool];
    if (!/rough|face/.test(c.kind) || !('insert' in tool)) return 0;
    const insert = decodeInsert(tool.insert);
    return insert.ok ? insert.insert.cornerAngle / 10 : 0;
  };
  const score = (c: Candidate): number =>
    c.reach > 0
      ? c.reach * 100 - c.seconds / 30 + strength(c) - (c.kind === 'cutoff' ? 60 : 0) - (c.doubtful ? 60 : 0)
      : -1000;
  return found.sort((a, b) => score(b) - score(a));
};

const baseline = (job: Job, cache: DeriveCache): Derived =>
  derive({ ...job, order: Object.fromEntries(Object.keys(job.order).map((k) => [k, []])) }, cache);

/** Metal outside the part (mm³) beside the elements of a span. */
const spanMetal = (
  base: Derived,
  d: Derived,
  stock: Derived['rawStock'],
  span: { from: string; to: string } | null,
  side: 'outer' | 'inner',
): number => {
  const elements = side === 'outer' ? base.part.outer : base.part.inner;
  const a = span ? elements.findIndex((e) => e.id === span.from) : 0;
  const b = span ? elements.findIndex((e) => e.id === span.to) : elements.length - 1;
  if (a < 0 || b < 0 || elements.length === 0) return 0;
  const chosen = elements.slice(Math.min(a, b), Math.max(a, b) + 1);
  const box = regionBounds([chosen.flatMap((e) => [e.curve.from, e.curve.to])]);
  const outside = subtractPart(stock, d.part.region, box, side);
  return regionVolume(outside);
};

const subtractPart = (
  stock: Derived['rawStock'],
  part: Derived['rawStock'],
  box: ReturnType<typeof regionBounds>,
  side: 'outer' | 'inner',
) => {
  const low = side === 'outer' ? Math.max(0, box.minY - 0.01) : 0;
  const high = side === 'outer' ? 1e4 : box.maxY + 0.01;
  return intersectRegions(
    subtractRegion(stock, part),
    rectangle(box.minX - 0.01, low, Math.max(box.maxX + 0.01, box.minX + 0.02), high),
  );
};

/** Where a new operation of a kind belongs in the order: after the last of smaller or equal rank, never after a cutoff. */
export const landingPlace = (job: Job, kind: OperationKind): number => {
  const order = job.order[job.machine.channels[0].id] ?? [];
  const cutoff = order.findIndex((id) => job.operations[id].kind === 'cutoff');
  const end = cutoff >= 0 && kind !== 'cutoff' ? cutoff : order.length;
  let at = 0;
  for (let i = 0; i < end; i++) if (KINDS[job.operations[order[i]].kind].rank <= KINDS[kind].rank) at = i + 1;
  return Math.min(at, end);
};
