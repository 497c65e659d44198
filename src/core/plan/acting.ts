import { deviceCalls } from '../dialects';
import { type Finding, note } from '../findings';
import { devicesOf, isCalled } from '../machine';
import type { MotionEvent } from '../motion';
import { type ActorOperation, planActor, remarkLines } from '../operations';
import type { Body } from '../stock';
import type { Job } from './document';
import { handoverFindings, slideCommanded } from './handover';
import { hashOf } from './hash';
import type { Workplace, Workplaces } from './places';
import { idleSupport, placedSupport, type Standing, type SupportOperation, supportsAfter } from './supports';
import { badSeconds } from './validate';

/** Events of an operation that moves no tool, what is wrong with it, and what supports the work from it on where it changes that. */
export const acted = (
  places: Workplaces,
  op: ActorOperation,
  at: Workplace,
  stock: Body,
): {
  readonly events: readonly MotionEvent[];
  readonly findings: readonly Finding[];
  readonly supports?: readonly Standing[];
} => {
  const { job, cache } = places;
  const { spindle } = job.holdings[at.held.id];
  if (op.kind !== 'handover' && op.kind !== 'withdraw') {
    const wrong = badSeconds(op);
    if (wrong.length > 0) return { events: [], findings: wrong };
    if (op.kind === 'support') return supportOf(places, op, at, stock, spindle);
    const findings = callingFindings(job, op);
    const blocked = findings.some((f) => f.severity === 'blocking');
    return {
      events: blocked ? [] : cache.waits.get(hashOf(op, spindle), () => planActor(op, spindle, null)),
      findings,
    };
  }
  const met = places.meet(op, at, stock);
  if (!met) return { events: [], findings: [note('blocking', 'handover-unknown', op.id, { holding: op.params.to })] };
  return {
    events: cache.waits.get(hashOf(op, met.meeting), () => planActor(op, spindle, met.meeting)),
    findings:
      op.kind === 'handover' ? handoverFindings(job, op, at.held, met) : slideCommanded(job, op, met.meeting.follower),
  };
};

const supportOf = (places: Workplaces, op: SupportOperation, at: Workplace, stock: Body, spindle: string) => {
  const { job, cache } = places;
  const placed = op.params.action === 'on' ? placedSupport(job, op, at.held, stock) : null;
  const findings = placed?.findings ?? idleSupport(op, at.supports);
  const events = cache.waits.get(hashOf(op, spindle), () => planActor(op, spindle, null));
  return {
    events: findings.some((f) => f.severity === 'blocking') ? [] : events,
    findings,
    supports: supportsAfter(at.supports, op, placed?.standing ?? null),
  };
};

/** A device that is called on for itself and is not there, or that this channel does not command. */
const callFindings = (job: Job, op: Extract<ActorOperation, { kind: 'device' }>): Finding[] => {
  const { action } = op.params;
  const calls = deviceCalls(job.machine).map((l) => l.name);
  if (!calls.includes(action)) return [note('blocking', 'device-unknown', op.id, { action, known: calls.join(', ') })];
  const called = job.machine.devices.find((d) => isCalled(d) && action.startsWith(`${d.id} `));
  return called && !devicesOf(job.machine, op.channel).includes(called)
    ? [note('blocking', 'device-missing', op.id, { device: called.name, channel: op.channel })]
    : [];
};

/** What is wrong with an operation that only calls on devices, or on nothing. */
const callingFindings = (job: Job, op: ActorOperation): Finding[] => {
  if (op.kind === 'device') return callFindings(job, op);
  if (op.kind === 'text')
    return remarkLines(op.params.text).length > 0 ? [] : [note('blocking', 'remark-empty', op.id, {})];
  const { stock } = job.holdings[op.holding];
  if (op.kind !== 'bar-feed') return [];
  if (stock.form !== 'bar') return [note('blocking', 'no-bar', op.id, {})];
  if (!devicesOf(job.machine, op.channel).some((d) => d.kind === 'bar-feeder'))
    return [note('blocking', 'device-missing', op.id, { device: 'bar feeder', channel: op.channel })];
  return [];
};
