import { type Finding, note } from '../findings';
import { mapRegion, type Region, rectangle, regionBounds, unionRegions } from '../geometry';
import { chuckFace } from '../holding';
import { chainTo, spindleStand } from '../machine';
import type { Timeline } from '../motion';
import { isCutting, isSevering, type Meeting, type Operation } from '../operations';
import { type Part, turnAbout } from '../part';
import type { Body } from '../stock';
import { addedHandover, orderBefore } from './adding';
import type { DerivedOperation } from './derive';
import type { Job } from './document';
import { cutoffWidthIn, type Held } from './held';
import { channelOf } from './landing';
import { markBetween } from './marks';

/** Two holdings of one part that meet: where the taking spindle stands, and what that means for the giving one. */
export interface Encounter {
  readonly meeting: Meeting;
  /** Jaws and chuck of the taking spindle at the grip, in the giving holding's coordinates. */
  readonly jaws: Region;
  readonly chuck: Region;
  /** Free length between the jaws of both, mm. */
  readonly room: number;
}

/** Room in front of the jaws that a piece needs to be taken over: the blade and the safe distance on both sides. */
const roomNeeded = (job: Job, from: Held): number =>
  cutoffWidthIn(job, from.id) + 2 * job.holdings[from.id].safeDistance;

/** Where two holdings meet; distances come from chucks, jaws, grip and part. `part` is the part as it is drawn. */
export const encounter = (job: Job, part: Part, from: Held, to: Held, clearance: number): Encounter => {
  const turn = turnAbout(part);
  // from the taking holding's coordinates to the drawn part's, and on to the giving one's
  const across = (x: number): number => {
    const drawn = to.turned ? turn({ x, y: 0 }).x : x;
    return from.turned ? turn({ x: drawn, y: 0 }).x : drawn;
  };
  const mirrors = to.turned !== from.turned;
  const over = (region: Region): Region => mapRegion(region, (p) => ({ x: across(p.x), y: p.y }), mirrors);
  const holding = job.holdings[to.id];
  const stand = spindleStand(job.machine, holding.spindle);
  const zero = from.zeroZ + from.direction * across(0);
  const grip = zero + to.direction * chuckFace(to.seat, holding);
  return {
    meeting: {
      leader: job.holdings[from.id].spindle,
      follower: holding.spindle,
      home: stand?.face ?? grip,
      clear: grip - to.direction * (holding.grip + clearance),
      grip,
    },
    jaws: over(to.jaws),
    chuck: over(to.chuck),
    room: across(to.seat.jawFront) - from.seat.jawFront,
  };
};

/** The part of a bar that will be taken over, before it is cut off: what stands in front of the part's back. */
export const uncutPiece = (from: Held, stock: Body): Body => {
  const b = regionBounds(stock.turnedOutline);
  const back = from.part.region.length > 0 ? regionBounds(from.part.region).minX : b.minX;
  return stock.within(rectangle(back, 0, b.maxX + 1, 1e4));
};

/** The giving holding with the jaws and the chuck of the taking one beside its own. */
export const withPartner = (held: Held, { jaws, chuck }: Encounter): Held => {
  const both = { jaws: unionRegions(held.jaws, jaws), chuck: unionRegions(held.chuck, chuck) };
  return { ...held, ...both, fixtures: unionRegions(both.jaws, both.chuck) };
};

/** Fastest approach to a grip: what gives way by force needs time to feel it, mm/min. */
const FASTEST_GRIP = 3000;

/** Numbers of a handover that its spindles and its slide cannot take, or that would push the part back. */
const numberFindings = (
  job: Job,
  op: Extract<Operation, { kind: 'handover' }>,
  from: Held,
  met: Encounter,
): Finding[] => {
  const { clearance, feed, speed, delay } = op.params;
  const limits = [met.meeting.leader, met.meeting.follower].flatMap((id) => {
    const spindle = job.machine.spindles.find((s) => s.id === id);
    return spindle ? [spindle.maxSpeed] : [];
  });
  const held = [job.holdings[from.id].maxSpeed, job.holdings[op.params.to]?.maxSpeed ?? Number.POSITIVE_INFINITY];
  const rows = [
    // the jaws come in a rapid up to here
    ['Clearance', 'clearance', clearance, 0.5, 200, 'mm', 5],
    ['Feed', 'feed', feed, 1, FASTEST_GRIP, 'mm/min', 500],
    ['Speed of both', 'speed', speed, 0, Math.min(...limits, ...held), 'rev/min', 500],
    ['Delay', 'delay', delay, 0, 60, 's', 0.5],
  ] as const;
  return rows.flatMap(([field, key, value, least, most, unit, usual]): Finding[] => {
    if (Number.isFinite(value) && value >= least - 1e-9 && value <= most + 1e-9) return [];
    const mended = Math.min(usual, most);
    return [
      note('blocking', 'handover-number', op.id, { field, value, least, most, unit }, null, {
        remedy: { label: `${field} ${mended} ${unit}`, set: { [`/operations/${op.id}/params/${key}`]: mended } },
      }),
    ];
  });
};

/** What is wrong with a handover at its place. */
export const handoverFindings = (job: Job, op: Operation, from: Held, met: Encounter): Finding[] => {
  const findings: Finding[] = [];
  const needed = roomNeeded(job, from);
  if (met.room < needed - 1e-6) findings.push(note('blocking', 'handover-room', op.id, { room: met.room, needed }));
  const slide = spindleStand(job.machine, met.meeting.follower)?.slide;
  const { grip } = met.meeting;
  if (!slide || grip < slide.min - 1e-6 || grip > slide.max + 1e-6)
    findings.push(
      note('blocking', 'handover-slide', op.id, { at: grip, min: slide?.min ?? grip, max: slide?.max ?? grip }),
    );
  if (op.kind === 'handover') findings.push(...numberFindings(job, op, from, met));
  const { machine } = job;
  if (!machine.capabilities.includes('synchronised-spindles'))
    findings.push(note('blocking', 'cannot-synchronise', op.id, { machine: machine.name }));
  if (op.kind === 'handover' && op.params.limited && !machine.capabilities.includes('limited-feed'))
    findings.push(
      note('blocking', 'no-limited-feed', op.id, { machine: machine.name }, null, {
        remedy: { label: 'Without limited force', set: { [`/operations/${op.id}/params/limited`]: false } },
      }),
    );
  findings.push(...slideCommanded(job, op, met.meeting.follower));
  return findings;
};

/** Whether the channel of an operation has a word for the slide of a spindle. */
export const slideCommanded = (job: Job, op: Operation, spindle: string): Finding[] => {
  const found = job.machine.spindles.find((s) => s.id === spindle);
  const channel = job.machine.channels.find((c) => c.id === op.channel);
  if (!found || !channel) return [];
  const links = chainTo(job.machine, found.link).flatMap((l) => (l.joint?.kind === 'linear' ? [l.id] : []));
  if (links.length === 0 || links.some((id) => channel.words[id])) return [];
  return [note('blocking', 'spindle-not-commanded', op.id, { spindle: found.name, channel: channel.id })];
};

/** Handovers that are missing, or come too late, seen from the lists alone. */
export const validateHandovers = (job: Job): Finding[] =>
  job.holdingOrder.flatMap((id): Finding[] => {
    const { stock, name } = job.holdings[id];
    if (stock.form === 'bar' || stock.by !== 'handover') return [];
    const all = Object.values(job.order).map((ids) => ids.map((k) => job.operations[k]).filter((op) => op?.on));
    const list = all.find((ops) => ops.some((op) => op.kind === 'handover' && op.params.to === id));
    const from = job.holdings[stock.holding]?.name ?? stock.holding;
    if (!list) {
      const remedy = addedHandover(job, stock.holding, id);
      return [note('blocking', 'no-handover', null, { holding: name, from }, null, { holding: id, remedy })];
    }
    const grip = list.findIndex((op) => op.kind === 'handover' && op.params.to === id);
    const cut = list.findIndex((op) => op.holding === stock.holding && isSevering(op));
    if (cut < 0 || cut > grip) return [];
    const channel = channelOf(job, list[grip].id) ?? '';
    const remedy = {
      label: `Move “${list[grip].name}” in front of it`,
      set: { [`/order/${channel}`]: orderBefore(job.order[channel], list[grip].id, list[cut].id) },
    };
    return [note('blocking', 'cutoff-before-grip', list[cut].id, { holding: name }, null, { remedy })];
  });

/** Work that begins before its holding has taken the part over. */
export const tooEarly = (job: Job, timed: readonly DerivedOperation[]): Finding[] =>
  timed.flatMap((d): Finding[] => {
    const { stock, name } = job.holdings[d.holding];
    if (
      stock.form === 'bar' ||
      stock.by !== 'handover' ||
      d.events.length === 0 ||
      !isCutting(job.operations[d.operation])
    )
      return [];
    const taken = timed.filter((k) => {
      const op = job.operations[k.operation];
      return (op.kind === 'handover' || op.kind === 'withdraw') && op.params.to === d.holding;
    });
    const ready = Math.max(0, ...taken.map((k) => k.times.end));
    if (taken.length === 0 || d.times.start >= ready - 1e-6) return [];
    const last = taken.reduce((p, q) => (q.times.end > p.times.end ? q : p));
    const set = markBetween(job, { operation: last.id, side: 'end' }, { operation: d.id, side: 'start' });
    const remedy = set ? { remedy: { label: 'Let it begin after that', set } } : {};
    return [note('blocking', 'before-handover', d.id, { holding: name, at: d.times.start, ready }, null, remedy)];
  });

/** Operations of different channels that run at one time and want one spindle at different speeds. */
export const spindleConflicts = (job: Job, timed: readonly DerivedOperation[], timeline: Timeline): Finding[] => {
  if (timeline.channels.length < 2) return [];
  const wanted = timed.flatMap((d) => {
    const op = job.operations[d.operation];
    // a stop may make the spindle stand still under the other channel's tool
    if ((!isCutting(op) && op.kind !== 'stop') || d.events.length === 0) return [];
    const told = d.events.find((e) => e.kind === 'spindle');
    return told?.kind === 'spindle'
      ? [{ d, spindle: told.spindle, how: JSON.stringify([told.direction, told.speed]) }]
      : [];
  });
  const findings: Finding[] = [];
  for (const a of wanted)
    for (const b of wanted) {
      if (a.d.channel >= b.d.channel || a.spindle !== b.spindle || a.how === b.how) continue;
      if (a.d.times.start >= b.d.times.end - 1e-6 || b.d.times.start >= a.d.times.end - 1e-6) continue;
      const spindle = job.machine.spindles.find((s) => s.id === a.spindle)?.name ?? a.spindle;
      findings.push(
        note('attention', 'spindle-conflict', b.d.id, { spindle, other: job.operations[a.d.operation].name }),
      );
    }
  return findings;
};
