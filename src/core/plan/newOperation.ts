import { startingData } from '../cutting';
import { onceForEach } from '../geometry';
import { channelOfCarrier } from '../machine';
import { type CuttingKind, type CuttingOperation, kindOf, OperationSchema } from '../operations';
import { buildPart, type Part, turnedRound } from '../part';
import { mountedAt, type Tool, toolFacts } from '../tooling';
import type { Job } from './document';
import { edgeFeed } from './feeds';
import { drillWithinPower } from './withinPower';

export type PickedSpan = { readonly from: string; readonly to: string } | null;

/** The part as it lies in a holding. */
const partIn = onceForEach(
  (part: Job['part'], { units, turned }: { readonly units: Job['units']; readonly turned: boolean }): Part => {
    const built = buildPart(part, units);
    return turned ? turnedRound(built) : built;
  },
  ({ units, turned }) => `${units} ${turned}`,
);

/** The channel that commands the carrier on which a tool stands; the first one for a tool in no station. */
export const channelOfTool = (job: Pick<Job, 'machine' | 'mounts'>, tool: string | null): string => {
  const at = tool === null ? null : mountedAt(job.mounts, tool);
  return (at && channelOfCarrier(job.machine, at.carrier)?.id) ?? job.machine.channels[0].id;
};

/** Greatest diameter of the picked elements, or of the whole side, mm. */
const diameterOf = (part: Part, side: 'outer' | 'inner' | 'axis', span: PickedSpan): number => {
  const list = side === 'inner' ? part.inner : part.outer;
  const own = span ? list.filter((e) => e.id === span.from || e.id === span.to) : list;
  return Math.max(1, ...own.flatMap((e) => [2 * e.curve.from.y, 2 * e.curve.to.y]));
};

/** A new operation with starting values from the material, the tool and the kind. */
export const newOperation = (
  job: Pick<Job, 'material' | 'machine' | 'units' | 'part' | 'holdings' | 'mounts'>,
  kind: CuttingKind,
  tool: Tool | null,
  span: PickedSpan,
  id: string,
  holding: string,
): CuttingOperation => {
  const definition = kindOf({ kind });
  const data = startingData(job.material, definition.purpose);
  const drill = tool ? toolFacts(tool).onCentre : null;
  const bar = tool !== null && toolFacts(tool).slender !== null;
  const part = partIn(job.part, { units: job.units, turned: job.holdings[holding].turned });
  const turns = (diameter: number): number =>
    Math.min(
      job.holdings[holding].maxSpeed,
      Math.max(1, Math.round((1000 * data.surfaceSpeed * (bar ? 0.6 : 1)) / (Math.PI * diameter) / 10) * 10),
    );
  const fixed = (value: number): object => ({ mode: 'fixed', value });
  const drilling = (d: { readonly diameter: number; readonly pointAngle: number }): object => {
    const asked = { speed: turns(d.diameter), feed: Math.max(0.005, Math.round(data.feed * d.diameter * 1000) / 1000) };
    const spindle = job.machine.spindles.find((s) => s.id === job.holdings[holding].spindle);
    const { speed, feed } = spindle ? drillWithinPower(spindle, job.material, d, asked) : asked;
    return { speed: fixed(speed), feed };
  };
  // no more feed than the blade's width or the nose bears
  const most = (tool && edgeFeed(tool)?.most) ?? data.feed;
  const fed = Math.min(data.feed, Math.floor(most * 1000 + 1e-9) / 1000);
  const cutting = definition.leads
    ? { speed: fixed(turns(drill?.diameter ?? diameterOf(part, definition.side, span))), feed: data.feed }
    : drill
      ? drilling(drill)
      : {
          speed: { mode: 'surface', value: bar ? Math.round(data.surfaceSpeed * 0.6) : data.surfaceSpeed },
          feed: bar ? Math.round(fed * 50) / 100 : fed,
        };
  return OperationSchema.parse({
    id,
    kind,
    name: definition.label,
    channel: channelOfTool(job, tool?.id ?? null),
    holding,
    tool: tool?.id ?? null,
    cutting,
    span: definition.target === 'span' ? (definition.spanFor?.(part, span) ?? span) : null,
    params: definition.starting({
      material: job.material,
      tool,
      part,
      span,
      depth: data.depth,
    }),
  }) as CuttingOperation;
};

/** What an operation like this one would begin with; null where that cannot be said. */
export const startingValues = (
  job: Parameters<typeof newOperation>[0],
  op: CuttingOperation,
  tool: Tool | null,
): CuttingOperation | null => {
  if (!(op.holding in job.holdings)) return null;
  try {
    return newOperation(job, op.kind, tool, op.span, op.id, op.holding);
  } catch {
    // a material or part that cannot be read is told elsewhere
    return null;
  }
};
