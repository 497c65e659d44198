import { carryPoint, turnDirection } from '../frames';
import { add3, cross3, dot3, onceFor, scale3, subtract3, type Vec3 } from '../geometry';
import type { AxisName, Link } from './links';
import type { Carrier, Channel, Machine, Spindle } from './machine';
import { chainTo, linkFrame, type Places, spindleFrame, type Travel } from './tree';

/** The joint by which a carrier's tool moves against the work of a spindle in one axis. */
export interface Drive extends Travel {
  readonly axis: AxisName;
  readonly link: string;
  /** Its word in the channel's program. */
  readonly word: string;
  readonly moves: 'tool' | 'work';
  /** The joint stands at `sign · coordinate + offset`; the coordinate is counted from the chuck's face and from the axis. */
  readonly sign: 1 | -1;
  readonly offset: number;
  /** Seconds to clamp or to free it. */
  readonly clamp: number;
}

/** How a carrier's tools move against the work of one spindle. */
export interface Reach {
  readonly carrier: Carrier;
  readonly spindle: Spindle;
  /** The carrier stands below the axis. */
  readonly below: boolean;
  readonly axes: Readonly<Partial<Record<AxisName, Drive>>>;
}

export const channelOfCarrier = (machine: Machine, carrier: string): Channel | null =>
  machine.channels.find((c) => c.carrier === carrier) ?? null;

/** The carrier whose tools a channel calls; null for a channel without one. */
export const carrierOf = (machine: Machine, channel: string): Carrier | null => {
  const own = machine.channels.find((c) => c.id === channel)?.carrier;
  return machine.carriers.find((c) => c.id === own) ?? null;
};

/** Joints between a carrier and the work, nearest to the tool first; what both stand on moves neither against the other. */
const jointsBetween = (machine: Machine, carrier: Carrier, spindle: Spindle): { link: Link; tool: boolean }[] => {
  const tool = chainTo(machine, carrier.link);
  const work = chainTo(machine, spindle.link);
  const own = (chain: Link[], other: Link[]): Link[] => chain.filter((l) => l.joint && !other.includes(l)).reverse();
  return [
    ...own(tool, work).map((link) => ({ link, tool: true })),
    ...own(work, tool).map((link) => ({ link, tool: false })),
  ];
};

/** A tool's place against a spindle's: along `direction`, with the joints at `places`. */
const between = (
  machine: Machine,
  carrier: Carrier,
  station: Vec3,
  spindle: Spindle,
  direction: Vec3,
  places: Places,
): number => {
  const tool = carryPoint(linkFrame(machine, carrier.link, places), add3(carrier.at, station));
  return dot3(subtract3(tool, spindleFrame(machine, spindle, places).move), direction);
};

/** How far a joint's travel may lie out of the direction of its axis. */
const SLANT = 1e-6;

const makeReach = (machine: Machine, carrier: Carrier, spindle: Spindle, station: string): Reach => {
  const channel = channelOfCarrier(machine, carrier.id);
  const joints = jointsBetween(machine, carrier, spindle);
  const place = carrier.places[station] ?? ([0, 0, 0] as Vec3);
  const find = (axis: AxisName) => joints.find(({ link }) => link.joint?.axis === axis && channel?.words[link.id]);
  const z = turnDirection(spindleFrame(machine, spindle), [0, 0, 1]);
  // away from the axis is where the X slide's plus leads the tool, or leads the work away from it
  const across = find('X');
  const away: Vec3 = across?.link.joint ? scale3(across.link.joint.direction, across.tool ? 1 : -1) : [1, 0, 0];
  const directions: Partial<Record<AxisName, Vec3>> = { X: away, Y: cross3(z, away), Z: z };
  const axes: Partial<Record<AxisName, Drive>> = {};
  for (const axis of ['X', 'Y', 'Z', 'A', 'B', 'C'] as const) {
    const found = find(axis);
    const joint = found?.link.joint;
    if (!found || !joint) continue;
    const { min, max, rapid, acceleration, clamp } = joint;
    const drive = {
      axis,
      link: found.link.id,
      word: channel?.words[found.link.id] ?? axis,
      moves: found.tool ? ('tool' as const) : ('work' as const),
      min: min ?? -Infinity,
      max: max ?? Infinity,
      rapid,
      acceleration,
      clamp,
    };
    const direction = directions[axis];
    if (joint.kind === 'rotary' || !direction) {
      axes[axis] = { ...drive, sign: 1, offset: 0 };
      continue;
    }
    const at = (q: number): number => between(machine, carrier, place, spindle, direction, { [found.link.id]: q });
    const zero = at(0);
    const step = at(1) - zero;
    if (Math.abs(Math.abs(step) - 1) > SLANT) continue;
    const sign = step > 0 ? 1 : -1;
    axes[axis] = { ...drive, sign, offset: -sign * zero };
  }
  return { carrier, spindle, below: away[0] < -SLANT, axes };
};

const reaches = onceFor((_: Machine) => new Map<string, Reach | null>());

/** Whether a carrier's tools come to the work of a spindle, by the machine's own word. */
export const mayReach = (carrier: Carrier, spindle: string): boolean =>
  carrier.reaches.length === 0 || carrier.reaches.includes(spindle);

/**
 * The axes in which a tool of a carrier moves against the work of a spindle, as they stand in the machine; null where it does
 * not come there. `station` matters where the stations stand beside one another.
 */
export const reachOf = (machine: Machine, carrier: string, spindle: string, station = ''): Reach | null => {
  const known = reaches(machine);
  const own = machine.carriers.find((k) => k.id === carrier)?.places[station] ? station : '';
  const key = `${carrier}\n${spindle}\n${own}`;
  const found = known.get(key);
  if (found !== undefined) return found;
  const c = machine.carriers.find((k) => k.id === carrier);
  const s = machine.spindles.find((k) => k.id === spindle);
  const made = c && s && mayReach(c, s.id) ? makeReach(machine, c, s, station) : null;
  known.set(key, made);
  return made;
};

/** A carrier's reach to the first of the spindles that it comes to: what it is drawn by and how fast it goes by itself. */
export const ownReach = (machine: Machine, carrier: string): Reach | null =>
  machine.spindles.reduce<Reach | null>((found, s) => found ?? reachOf(machine, carrier, s.id), null);

/** Where a drive's joint stands for a coordinate: from the chuck's face along Z, from the axis in X and Y, degrees. */
export const jointAt = (drive: Drive, coordinate: number): number => drive.sign * coordinate + drive.offset;

/** Whether the carrier of a channel stands below the axis. */
export const standsBelow = (machine: Machine, channel: string): boolean => {
  const carrier = carrierOf(machine, channel);
  return carrier !== null && (ownReach(machine, carrier.id)?.below ?? false);
};
