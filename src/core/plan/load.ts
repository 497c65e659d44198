import { clampDiameter, drillLoad, roughness, surfaceSpeedAt, turningLoad } from '../cutting';
import { type Finding, note } from '../findings';
import { powerAt } from '../machine';
import { isMove, type MotionEvent, wantedSpeed } from '../motion';
import { type CuttingOperation, kindOf, type Place } from '../operations';
import { type Tool, toolFacts } from '../tooling';
import type { Job } from './document';

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
  readonly diameterMax: number;
  readonly clampedBelow: number;
}

/** Power, force and speeds of an operation from its cuts; null where nothing is cut. */
export const loadOf = (
  job: Job,
  op: CuttingOperation,
  events: readonly MotionEvent[],
  depth: number,
  tool: Tool,
  place: Place,
): OperationLoad | null => {
  const spindle = job.machine.spindles.find((s) => s.id === place.spindle);
  const cuts = events.filter((e) => isMove(e) && e.purpose === 'cut' && e.kind !== 'rapid');
  // the chip of a thread is no turning chip
  if (!spindle || cuts.length === 0 || kindOf(op).leads) return null;
  let most = 0.1;
  let least = Number.POSITIVE_INFINITY;
  for (const e of cuts)
    if (isMove(e) && e.to.X !== undefined) {
      most = Math.max(most, Math.abs(e.to.X) * 2);
      least = Math.min(least, Math.abs(e.to.X) * 2);
    }
  const { speed } = op.cutting;
  const asked =
    speed.mode === 'surface'
      ? { mode: 'surface' as const, value: speed.value, clamp: place.clamp }
      : { mode: 'fixed' as const, value: Math.min(speed.value, place.clamp) };
  const speedAt = (d: number): number => wantedSpeed(asked, d / 2);
  const facts = toolFacts(tool);
  const dMax = facts.onCentre?.diameter ?? most;
  const dMin = facts.onCentre?.diameter ?? Math.min(least, most);
  const vc = surfaceSpeedAt(speedAt(dMax), dMax);
  const common = {
    available: powerAt(spindle, speedAt(dMax)),
    speedMin: speedAt(dMax),
    speedMax: speedAt(dMin),
    diameterMin: dMin,
    diameterMax: dMax,
    clampedBelow: speed.mode === 'surface' ? clampDiameter(speed.value, place.clamp) : 0,
  };
  const { kc11, mc } = job.material;
  const { feed } = op.cutting;
  if (facts.onCentre) {
    const l = drillLoad({ kc11, mc, ...facts.onCentre, feed, surfaceSpeed: vc });
    return {
      ...common,
      depth,
      power: l.power / spindle.efficiency,
      force: l.thrust,
      torque: l.torque,
      chip: feed / 2,
    };
  }
  const l = turningLoad({
    kc11,
    mc,
    depth: Math.max(depth, 0.05),
    feed,
    approachAngle: facts.approachAngle,
    surfaceSpeed: vc,
    diameter: dMax,
  });
  return {
    ...common,
    depth,
    power: l.power / spindle.efficiency,
    force: l.force,
    torque: l.torque,
    chip: l.chip,
  };
};

/** What the load says against an operation. */
export const loadFindings = (
  op: CuttingOperation,
  load: OperationLoad | null,
  tool: Tool,
  material: Job['material'],
): Finding[] => {
  if (!load) return [];
  const kind = kindOf(op);
  const result: Finding[] = [];
  if (load.power > load.available)
    result.push(note('attention', 'power-over', op.id, { power: load.power, available: load.available }));
  const { insert, slender, onCentre } = toolFacts(tool);
  if (insert && kind.deep && load.depth > insert.edgeLength * 0.6)
    result.push(note('attention', 'depth-over-edge', op.id, { depth: load.depth, edge: insert.edgeLength * 0.6 }));
  if (slender && slender.ratio > slender.most + 1e-6)
    result.push(
      note('attention', 'bar-overhang', op.id, { ratio: slender.ratio, most: slender.most, bar: slender.name }),
    );
  if (!op.cutting.coolant && wantsCoolant(material, tool))
    result.push(
      note('attention', 'coolant-wanted', op.id, { material: material.name }, null, {
        remedy: { label: 'Coolant on', set: { [`/operations/${op.id}/cutting/coolant`]: true } },
      }),
    );
  const { speed } = op.cutting;
  if (speed.mode === 'surface' && load.clampedBelow > 0 && load.diameterMin < load.clampedBelow - 0.01 && !onCentre) {
    const reached = surfaceSpeedAt(load.speedMax, load.diameterMin);
    result.push(note('info', 'speed-clamp', op.id, { diameter: load.clampedBelow, clamp: load.speedMax, reached }));
  }
  return result;
};

/** Stainless steels and heat-resisting alloys always; steel where the chips are shut in. */
const wantsCoolant = (material: Job['material'], tool: Tool): boolean =>
  material.group === 'M' || material.group === 'S' || (material.group === 'P' && toolFacts(tool).enclosed);

/** A finishing feed against the roughness asked for on the elements of its span. */
export const roughnessFinding = (op: CuttingOperation, tool: Tool, asked: number | null): Finding[] => {
  const { insert } = toolFacts(tool);
  if (asked === null || kindOf(op).covers !== 'finish' || !insert) return [];
  const made = roughness(op.cutting.feed, insert.noseRadius).ra;
  if (made <= asked * 1.001) return [];
  // Ra = 0.2566·f²/(8ρ)
  const feed = Math.floor(Math.sqrt((asked * 8 * insert.noseRadius) / (0.2566 * 1000)) * 1000) / 1000;
  return [
    note('attention', 'too-rough', op.id, { made, asked, feed }, null, {
      remedy: { label: `Feed ${feed} mm/rev`, set: { [`/operations/${op.id}/cutting/feed`]: feed } },
    }),
  ];
};
