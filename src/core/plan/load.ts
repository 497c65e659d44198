import { clampDiameter, drillLoad, roughness, surfaceSpeedAt, turningLoad } from '../cutting';
import { type Finding, note } from '../findings';
import { isMove, type MotionEvent, wantedSpeed } from '../motion';
import { type CuttingOperation, kindOf, type Place } from '../operations';
import { decodeInsert, type Tool } from '../tooling';
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
  /** Overhang over diameter of a bar or drill, null for others. */
  readonly slenderness: number | null;
}

/** How far a bar may stick out, in diameters, by what it is made of. */
const STILL: Readonly<Record<'steel' | 'carbide' | 'damped', { most: number; name: string }>> = {
  steel: { most: 4, name: 'a steel bar' },
  carbide: { most: 6, name: 'a carbide bar' },
  damped: { most: 10, name: 'a damped bar' },
};

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
  if (!spindle || cuts.length === 0) return null;
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
  const dMax = tool.kind === 'drill' ? tool.diameter : most;
  const dMin = tool.kind === 'drill' ? tool.diameter : Math.min(least, most);
  const vc = surfaceSpeedAt(speedAt(dMax), dMax);
  const common = {
    available: spindle.power,
    speedMin: speedAt(dMax),
    speedMax: speedAt(dMin),
    diameterMin: dMin,
    diameterMax: dMax,
    clampedBelow: speed.mode === 'surface' ? clampDiameter(speed.value, place.clamp) : 0,
  };
  const { kc11, mc } = job.material;
  const { feed } = op.cutting;
  if (tool.kind === 'drill') {
    const l = drillLoad({ kc11, mc, diameter: tool.diameter, feed, pointAngle: tool.pointAngle, surfaceSpeed: vc });
    return {
      ...common,
      depth,
      power: l.power / spindle.efficiency,
      force: l.thrust,
      torque: l.torque,
      chip: feed / 2,
      slenderness: tool.overhang / tool.diameter,
    };
  }
  const approachAngle = tool.kind === 'cutoff' ? 90 : tool.approachAngle;
  const l = turningLoad({
    kc11,
    mc,
    depth: Math.max(depth, 0.05),
    feed,
    approachAngle,
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
    slenderness: tool.kind === 'boring' ? tool.overhang / tool.barDiameter : null,
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
  const insert = tool.kind === 'turning' || tool.kind === 'boring' ? decodeInsert(tool.insert) : null;
  if (insert?.ok && kind.deep && load.depth > insert.insert.edgeLength * 0.6)
    result.push(
      note('attention', 'depth-over-edge', op.id, { depth: load.depth, edge: insert.insert.edgeLength * 0.6 }),
    );
  if (tool.kind === 'boring' && load.slenderness !== null && load.slenderness > STILL[tool.bar].most + 1e-6)
    result.push(
      note('attention', 'bar-overhang', op.id, {
        ratio: load.slenderness,
        most: STILL[tool.bar].most,
        bar: STILL[tool.bar].name,
      }),
    );
  if (!op.cutting.coolant && wantsCoolant(material, tool))
    result.push(
      note('attention', 'coolant-wanted', op.id, { material: material.name }, null, {
        remedy: { label: 'Coolant on', set: { [`/operations/${op.id}/cutting/coolant`]: true } },
      }),
    );
  const { speed } = op.cutting;
  if (
    speed.mode === 'surface' &&
    load.clampedBelow > 0 &&
    load.diameterMin < load.clampedBelow - 0.01 &&
    tool.kind !== 'drill'
  ) {
    const reached = surfaceSpeedAt(load.speedMax, load.diameterMin);
    result.push(note('info', 'speed-clamp', op.id, { diameter: load.clampedBelow, clamp: load.speedMax, reached }));
  }
  return result;
};

/** Stainless steels and heat-resisting alloys always; steel where the chips are shut in. */
const wantsCoolant = (material: Job['material'], tool: Tool): boolean =>
  material.group === 'M' ||
  material.group === 'S' ||
  (material.group === 'P' && (tool.kind === 'drill' || tool.kind === 'cutoff'));

/** A finishing feed against the roughness asked for on the elements of its span. */
export const roughnessFinding = (op: CuttingOperation, tool: Tool, asked: number | null): Finding[] => {
  if (asked === null || kindOf(op).covers !== 'finish' || (tool.kind !== 'turning' && tool.kind !== 'boring'))
    return [];
  const insert = decodeInsert(tool.insert);
  if (!insert.ok) return [];
  const made = roughness(op.cutting.feed, insert.insert.noseRadius).ra;
  if (made <= asked * 1.001) return [];
  // Ra = 0.2566·f²/(8ρ)
  const feed = Math.floor(Math.sqrt((asked * 8 * insert.insert.noseRadius) / (0.2566 * 1000)) * 1000) / 1000;
  return [
    note('attention', 'too-rough', op.id, { made, asked, feed }, null, {
      remedy: { label: `Feed ${feed} mm/rev`, set: { [`/operations/${op.id}/cutting/feed`]: feed } },
    }),
  ];
};
