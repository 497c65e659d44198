import { composed, frameAlong, type Rigid, rotationAbout, STILL, translation, turnDirection } from '../frames';
import { onceFor, scale3 } from '../geometry';
import type { Joint, Link } from './links';
import type { Device, Machine, Spindle } from './machine';

/** Where joints stand, mm or degrees, by their links. */
export type Places = Readonly<Record<string, number>>;

const linksById = onceFor((links: Machine['links']): ReadonlyMap<string, Link> => new Map(links.map((l) => [l.id, l])));

/** The links from the bed out to one of them. A tree that is broken ends where it breaks; `problems.ts` tells of that. */
export const chainTo = (machine: Machine, link: string): Link[] => {
  const known = linksById(machine.links);
  const chain: Link[] = [];
  for (let at = known.get(link); at && !chain.includes(at); at = at.parent === null ? undefined : known.get(at.parent))
    chain.unshift(at);
  return chain;
};

const moved = (joint: Joint, by: number): Rigid =>
  joint.kind === 'linear' ? translation(scale3(joint.direction, by)) : rotationAbout(joint.origin, joint.direction, by);

/** How a link stands against the machine's coordinates; joints that `places` does not name stand at home. */
export const linkFrame = (machine: Machine, link: string, places: Places = {}): Rigid =>
  chainTo(machine, link).reduce<Rigid>(
    (frame, l) => (l.joint ? composed(frame, moved(l.joint, places[l.id] ?? l.joint.home)) : frame),
    STILL,
  );

/** Frame of a spindle: origin at its chuck's face, Z away from the chuck, X as near to the machine's X as it can be. */
export const spindleFrame = (machine: Machine, spindle: Spindle, places: Places = {}): Rigid => {
  const link = linkFrame(machine, spindle.link, places);
  const { at, direction } = spindle.face;
  return composed(link, frameAlong(at, direction, [1, 0, 0]));
};

/** Travel of an axis and how fast it goes: mm and minutes, or degrees. */
export interface Travel {
  readonly min: number;
  readonly max: number;
  /** mm/min or degrees/min. */
  readonly rapid: number;
  /** mm/s² or degrees/s². */
  readonly acceleration: number;
}

/** How a spindle stands in its machine when it works. */
export interface Stand {
  /** Machine Z of the chuck's face. */
  readonly face: number;
  /** Which way along the machine's Z the work looks. */
  readonly direction: 1 | -1;
  /** Places of the chuck's face along the machine's Z, where the spindle can move along it. */
  readonly slide: Travel | null;
}

const standOf = (machine: Machine, spindle: Spindle): Stand => {
  const frame = spindleFrame(machine, spindle);
  const chain = chainTo(machine, spindle.link);
  const slide = chain.findLast((l) => l.joint?.kind === 'linear' && Math.abs(l.joint.direction[2]) > 0.999);
  const along = (turnDirection(frame, [0, 0, 1])[2] < 0 ? -1 : 1) as 1 | -1;
  const stand = { face: frame.move[2], direction: along };
  if (!slide?.joint) return { ...stand, slide: null };
  const { joint } = slide;
  const at = (q: number): number => frame.move[2] + (q - joint.home) * joint.direction[2];
  const ends = [at(joint.min ?? joint.home), at(joint.max ?? joint.home)];
  const { rapid, acceleration } = joint;
  return { ...stand, slide: { min: Math.min(...ends), max: Math.max(...ends), rapid, acceleration } };
};

const stands = onceFor(
  (machine: Machine): ReadonlyMap<string, Stand> =>
    new Map(machine.spindles.map((s) => [s.id, standOf(machine, s)] as const)),
);

/** How a spindle stands; null for one that the machine does not have. */
export const spindleStand = (machine: Machine, spindle: string): Stand | null => stands(machine).get(spindle) ?? null;

/** The spindle that a control means where it names none: the first that looks forward. */
export const mainSpindle = (machine: Machine): string =>
  (machine.spindles.find((k) => !facesBack(machine, k.id)) ?? machine.spindles[0]).id;

/** Devices that a channel commands. */
export const devicesOf = (machine: Machine, channel: string): Device[] => {
  const own = machine.channels.find((c) => c.id === channel)?.devices ?? [];
  return machine.devices.filter((d) => own.includes(d.id));
};

/** The spindle that works with the main one: the first that faces it, or the first other; null where there is but one. */
export const secondSpindle = (machine: Machine): string | null => {
  const others = machine.spindles.filter((k) => k.id !== mainSpindle(machine));
  return (others.find((k) => facesBack(machine, k.id)) ?? others[0])?.id ?? null;
};

/** A spindle that looks against the main one's way: work in it points toward −Z of the machine. */
export const facesBack = (machine: Machine, spindle: string): boolean =>
  (spindleStand(machine, spindle)?.direction ?? 1) < 0;
