import { type Finding, note } from '../findings';
import { point, type Region, unionRegions } from '../geometry';
import { centreRegion, centreSeat, restRegion, restSeat } from '../holding';
import { centreOf, devicesOf, restOf } from '../machine';
import { isSevering, type Operation, titleOf } from '../operations';
import type { Body } from '../stock';
import { addedBeside } from './adding';
import type { DerivedOperation } from './derive';
import type { Job } from './document';
import type { Held } from './held';

export type SupportOperation = Extract<Operation, { kind: 'support' }>;

/** A support that stands at the work, in the holding's coordinates. */
export interface Standing {
  readonly device: SupportOperation['params']['device'];
  /** Where it holds the work, along Z. */
  readonly z: number;
  /** What a tool may not meet. */
  readonly region: Region;
}

/** Rollers that would run on diameters further apart than this jump, mm in radius. */
const UNEVEN = 0.02;

/** What each is called. */
const CALLED = { tailstock: 'tailstock', steady: 'steady rest' } as const;

/** What a support comes to stand against, and what is wrong with that; null where it cannot stand at all. */
export const placedSupport = (
  job: Job,
  op: SupportOperation,
  held: Held,
  stock: Body,
): { readonly standing: Standing | null; readonly findings: readonly Finding[] } => {
  const refuse = (f: Finding) => ({ standing: null, findings: [f] });
  const device = devicesOf(job.machine, op.channel).find((d) => d.kind === op.params.device);
  const called = CALLED[op.params.device];
  if (!device) return refuse(note('blocking', 'device-missing', op.id, { device: called, channel: op.channel }));
  const work = stock.turnedOutline;
  if (op.params.device === 'tailstock') {
    if (held.direction < 0) return refuse(note('blocking', 'support-faces-away', op.id, { spindle: held.name }));
    const centre = centreOf(device);
    const seat = centreSeat(work, centre);
    if (!seat) return refuse(note('blocking', 'support-no-work', op.id, { device: called }));
    const at = point(seat.z, seat.radius);
    if (!seat.hole) {
      const large = seat.radius > 1;
      return refuse(
        large
          ? note('blocking', 'support-hole-large', op.id, { point: centre.point }, at)
          : note('blocking', 'support-no-centre', op.id, {}, at),
      );
    }
    // the tip of the point is what the device's travel is about
    const place = held.zeroZ + held.direction * seat.apex;
    const { min, max } = job.machine.links.find((l) => l.id === device.link)?.joint ?? { min: null, max: null };
    const findings =
      min !== null && max !== null && (place < min || place > max)
        ? [note('blocking', 'support-travel', op.id, { device: device.name, place, min, max }, at)]
        : [];
    return {
      standing: { device: 'tailstock', z: seat.z, region: centreRegion(seat.apex, centre) },
      findings,
    };
  }
  const { z } = op.params;
  const rest = restOf(device);
  const seat = restSeat(work, z, rest);
  const at = point(z, seat.radius);
  if (seat.least <= 0 || z - rest.width / 2 < held.seat.jawFront)
    return refuse(note('blocking', 'support-no-work', op.id, { device: called }, at));
  const findings =
    seat.radius - seat.least > UNEVEN
      ? [note('blocking', 'support-uneven', op.id, { least: 2 * seat.least, most: 2 * seat.radius, z }, at)]
      : [];
  return { standing: { device: 'steady', z, region: restRegion(z, seat.radius, rest) }, findings };
};

/** A holding with the supports that stand in it. */
export const withSupports = (held: Held, standing: readonly Standing[]): Held => {
  if (standing.length === 0) return held;
  const support = unionRegions(...standing.map((s) => s.region));
  return { ...held, support, fixtures: unionRegions(held.fixtures, support) };
};

/** Supports that stand from an operation on, after it has been placed. */
export const supportsAfter = (
  before: readonly Standing[],
  op: SupportOperation,
  placed: Standing | null,
): readonly Standing[] => {
  const others = before.filter((s) => s.device !== op.params.device);
  return op.params.action === 'on' && placed ? [...others, placed] : others;
};

/** A support that is taken away where none stands. */
export const idleSupport = (op: SupportOperation, before: readonly Standing[]): Finding[] =>
  op.params.action === 'off' && !before.some((s) => s.device === op.params.device)
    ? [note('attention', 'support-not-on', op.id, { device: CALLED[op.params.device] })]
    : [];

/** Said where an operation finds nothing to cut while a support may stand before it. */
export const hiddenBySupport = (id: string, planned: readonly Finding[], standing: readonly Standing[]): Finding[] =>
  standing.length > 0 && planned.some((f) => f.code === 'nothing-to-cut')
    ? [note('attention', 'support-in-the-way', id, {})]
    : [];

/** A part that is taken off while a centre still pushes against it: it jams at the blade. */
export const pushedFindings = (job: Job, done: readonly DerivedOperation[]): Finding[] =>
  done.flatMap((d) => {
    const op = job.operations[d.operation];
    if (!isSevering(op) || d.events.length === 0 || !d.supports.some((s) => s.device === 'tailstock')) return [];
    const remedy = addedBeside(
      'before',
      job,
      `Draw it back before “${titleOf(op)}”`,
      { kind: 'support', holding: op.holding, params: { device: 'tailstock', action: 'off' } },
      op.id,
    );
    return [note('attention', 'support-pushes', d.id, {}, null, remedy ? { remedy } : {})];
  });
