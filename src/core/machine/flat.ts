import { MACHINE_FORMAT } from './machine';

/** Machines as jobs of versions 1 to 4 carry them: spindles and carriers with their axes, and no links between them. */

type Json = Record<string, unknown>;
const isObject = (v: unknown): v is Json => typeof v === 'object' && v !== null && !Array.isArray(v);
const objects = (v: unknown): Json[] => (Array.isArray(v) ? v.filter(isObject) : []);
const name = (v: unknown): string => String(v ?? '');

const DIRECTIONS: Readonly<Record<string, readonly number[]>> = {
  X: [1, 0, 0],
  Y: [0, 1, 0],
  Z: [0, 0, 1],
  A: [1, 0, 0],
  B: [0, 1, 0],
  C: [0, 0, 1],
};
const ROTARY = 'ABC';

/** A carrier's axes as a chain of links, Z nearest to the bed. */
const carrierLinks = (carrier: Json): { links: Json[]; words: Json; last: string } => {
  const axes = isObject(carrier.axes) ? carrier.axes : {};
  const words: Json = {};
  let parent = 'bed';
  const links = ['Z', 'Y', 'X', 'A', 'B', 'C'].flatMap((axis) => {
    const a = axes[axis];
    if (!isObject(a)) return [];
    const id = `${name(carrier.id)}-${axis.toLowerCase()}`.slice(0, 40);
    const direction = axis === 'X' && carrier.below === true ? [-1, 0, 0] : DIRECTIONS[axis];
    const kind = ROTARY.includes(axis) ? 'rotary' : 'linear';
    const link = { id, parent, joint: { ...a, axis, kind, direction, home: kind === 'linear' ? a.max : 0 } };
    words[id] = axis;
    parent = id;
    return [link];
  });
  return { links, words, last: parent };
};

/** A spindle stands where its chuck's face stands, or slides there. */
const spindleLink = (spindle: Json): Json => {
  const slide = isObject(spindle.slide) ? spindle.slide : null;
  const joint = slide && { ...slide, axis: 'Z', kind: 'linear', direction: [0, 0, 1], home: spindle.chuckFaceZ ?? 0 };
  return { id: `${name(spindle.id)}-head`.slice(0, 40), parent: 'bed', role: 'spindle', joint };
};

const linkedSpindle = (spindle: Json): Json => {
  const { chuckFaceZ, turned, slide, ...rest } = spindle;
  const at = [0, 0, isObject(slide) ? 0 : (chuckFaceZ ?? 0)];
  return { ...rest, link: spindleLink(spindle).id, face: { at, direction: [0, 0, turned === true ? -1 : 1] } };
};

/** A flat machine as a tree of links; what has links, or is no machine at all, stays as it is. */
export const linkedMachine = (machine: unknown): unknown => {
  if (!isObject(machine) || 'links' in machine || 'format' in machine) return machine;
  const carriers = objects(machine.carriers);
  const spindles = objects(machine.spindles);
  const chains = carriers.map(carrierLinks);
  const slides = Object.fromEntries(
    spindles.flatMap((s) => (isObject(s.slide) ? [[name(spindleLink(s).id), 'A'] as const] : [])),
  );
  const devices = [
    { id: 'bar feeder', name: 'Bar feeder', kind: 'bar-feeder' },
    { id: 'catcher', name: 'Part catcher', kind: 'catcher' },
  ];
  const channels = objects(machine.channels).map((c) => {
    const own = carriers.findIndex((k) => k.channel === c.id);
    return {
      ...c,
      carrier: own < 0 ? null : carriers[own].id,
      spindles: spindles.map((s) => s.id),
      devices: devices.map((d) => d.id),
      words: { ...(chains[own]?.words ?? {}), ...slides },
    };
  });
  return {
    ...machine,
    format: MACHINE_FORMAT,
    version: 2,
    links: [{ id: 'bed', parent: null, role: 'bed' }, ...chains.flatMap((c) => c.links), ...spindles.map(spindleLink)],
    spindles: spindles.map(linkedSpindle),
    carriers: carriers.map(({ axes, channel, below, indexFixed, indexPerStation, ...c }, i) => ({
      ...c,
      link: chains[i].last,
      index: { kind: 'turret', fixed: indexFixed, perStation: indexPerStation },
    })),
    devices,
    channels,
    capabilities: spindles.some((s) => isObject(s.slide)) ? ['synchronised-spindles', 'limited-feed'] : [],
  };
};
