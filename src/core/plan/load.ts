import {
  bendFree,
  bendWith,
  clampDiameter,
  drillLoad,
  elasticityOf,
  feedForRoughness,
  PASSIVE_SHARE,
  roughness,
  roundInertia,
  surfaceSpeedAt,
  turningLoad,
} from '../cutting';
import { type Finding, note, type Remedy } from '../findings';
import { powerAt } from '../machine';
import { isMove, type MotionEvent, wantedSpeed } from '../motion';
import { type CuttingOperation, kindOf, type Place } from '../operations';
import { type Tool, toolFacts } from '../tooling';
import type { Job } from './document';
import { secondOf } from './second';
import { depthWithin, feedWithin } from './withinPower';

export interface OperationLoad {
  /** kW at the spindle motor. */
  readonly power: number;
  readonly available: number;
  readonly force: number;
  readonly torque: number;
  /** Nm that the spindle has at that speed. */
  readonly torqueAvailable: number;
  /** Ra by the nose and the feed, µm; null where no nose makes it. */
  readonly roughness: number | null;
  /** How much larger the work comes out at its free end because it bends away, mm on diameter. */
  readonly bend: number;
  /** It is held in front of the jaws too: the bend is the greatest along the cut. */
  readonly supported: boolean;
  /** Depth that would use most of what spindle and edge can give, mm; null where that is no more than now. */
  readonly couldTake: number | null;
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
  supports: readonly number[] = [],
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
  const available = powerAt(spindle, speedAt(dMax));
  const common = {
    available,
    torqueAvailable: (available * 60_000) / (2 * Math.PI * Math.max(1, speedAt(dMax))),
    speedMin: speedAt(dMax),
    speedMax: speedAt(dMin),
    diameterMin: dMin,
    diameterMax: dMax,
    clampedBelow: speed.mode === 'surface' ? clampDiameter(speed.value, place.clamp) : 0,
    supported: supports.length > 0,
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
      roughness: null,
      bend: 0,
      couldTake: null,
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
  // two edges opposite each other take twice the power, and push the work nowhere
  const edges = secondOf(op) === null ? 1 : 2;
  return {
    ...common,
    depth,
    power: (edges * l.power) / spindle.efficiency,
    force: l.force,
    torque: edges * l.torque,
    chip: l.chip,
    roughness: facts.insert ? roughness(feed, facts.insert.noseRadius).ra : null,
    bend: kindOf(op).side === 'outer' && edges === 1 ? 2 * bendOf(job, place, l.force, cuts, supports) : 0,
    couldTake: kindOf(op).deep
      ? couldTake(depth, (available * spindle.efficiency) / edges, l.power, facts.insert?.edgeLength)
      : null,
  };
};

/** Places along a cut at which the bend of supported work is worked out. */
const PLACES = 24;

/** How far the stock bends away from the tool, mm: its free end, or with supports the worst place along the cut. */
const bendOf = (
  job: Job,
  place: Place,
  force: number,
  cuts: readonly MotionEvent[],
  supports: readonly number[],
): number => {
  if (place.stockDiameter <= 0) return 0;
  const [pushed, e, i] = [force * PASSIVE_SHARE, elasticityOf(job.material), roundInertia(place.stockDiameter)];
  if (supports.length === 0) return bendFree(pushed, place.stickOut, e, i);
  const zs = cuts.flatMap((c) => (isMove(c) && c.to.Z !== undefined ? [c.to.Z - place.jawFront] : []));
  const [from, to] = [Math.max(0, Math.min(...zs)), Math.min(place.stickOut, Math.max(...zs))];
  const from0 = supports.map((s) => s - place.jawFront);
  const at = (k: number): number => from + ((to - from) * k) / PLACES;
  return Math.max(...Array.from({ length: PLACES + 1 }, (_, k) => bendWith(pushed, at(k), from0, e, i)));
};

/** Share of the power that a roughing cut may use, and of its edge. */
const USED = 0.8;
const EDGE = 0.6;
/** A deeper cut is worth a word from this much on. */
const WORTH = 1.4;

/** Power grows with the depth: the depth at which it, or the edge, is used up. */
const couldTake = (depth: number, available: number, power: number, edge: number | undefined): number | null => {
  if (depth <= 0 || power <= 0) return null;
  const most = Math.min((depth * USED * available) / power, (edge ?? Number.POSITIVE_INFINITY) * EDGE);
  return most > depth * WORTH ? Math.floor(most * 10) / 10 : null;
};

/** A finished diameter that comes out larger than this because the work bends is worth a word, mm. */
const MOST_BEND = 0.05;

/** An edit after which a cut asks for no more than the spindle gives: a shallower pass where there are passes, else less feed. */
const lessPower = (op: CuttingOperation, load: OperationLoad, { mc }: Job['material']): Remedy => {
  const share = load.power / load.available;
  if (kindOf(op).deep && 'depth' in op.params) {
    const depth = Math.max(0.05, depthWithin(load.depth, share));
    return { label: `${depth} mm per pass`, set: { [`/operations/${op.id}/params/depth`]: depth } };
  }
  const feed = Math.max(0.005, feedWithin(op.cutting.feed, share, mc));
  return { label: `Feed ${feed} mm/rev`, set: { [`/operations/${op.id}/cutting/feed`]: feed } };
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
  if (kind.covers === 'finish' && load.bend > MOST_BEND)
    result.push(
      note('attention', 'part-bends', op.id, {
        bend: load.bend,
        force: load.force * PASSIVE_SHARE,
        where: load.supported ? 'between its supports' : 'at its free end',
      }),
    );
  const { insert, slender, onCentre } = toolFacts(tool);
  if (load.power > load.available) {
    const numbers = { power: load.power, available: load.available };
    result.push(note('attention', 'power-over', op.id, numbers, null, { remedy: lessPower(op, load, material) }));
  }
  if (insert && kind.deep && load.depth > insert.edgeLength * EDGE)
    result.push(note('attention', 'depth-over-edge', op.id, { depth: load.depth, edge: insert.edgeLength * EDGE }));
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
  const feed = Math.floor(feedForRoughness(asked, insert.noseRadius) * 1000) / 1000;
  return [
    note('attention', 'too-rough', op.id, { made, asked, feed }, null, {
      remedy: { label: `Feed ${feed} mm/rev`, set: { [`/operations/${op.id}/cutting/feed`]: feed } },
    }),
  ];
};
