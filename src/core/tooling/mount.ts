import { z } from 'zod';
import { onceFor } from '../geometry';
import { place } from '../units';

/** How the tool is clamped: its rake where the usual spindle direction wants it, or turned over about its shank. */
export const WayUpSchema = z.enum(['usual', 'turned']);

/** A tool in a place of a carrier. */
export const MountSchema = z.object({
  tool: z.string().min(1).max(80),
  wayUp: WayUpSchema.default('usual'),
  /** The spindle toward which a tool that lies along the axis points. */
  facing: z.enum(['main', 'sub']).default('main'),
  /** The point that a program names: the usual tip, a blade's other corner, or the centre of the nose. */
  point: z.enum(['tip', 'other', 'centre']).default('tip'),
  /** Works beyond the centre line, where X is negative, with the spindle turning the other way. */
  beyond: z.boolean().default(false),
  /** Wear and geometry offset number; null = the station's number. */
  offset: z.number().int().min(1).max(999, 'it must be at most 999').nullable().default(null),
  /** Where a block holds it, from the station's own place: away from the axis and along the spindle's Z, mm. */
  at: z.object({ x: place(), z: place() }).default({ x: 0, z: 0 }),
});
export type Mount = z.infer<typeof MountSchema>;

const key = z.string().max(40);
/** Carrier → station → position in the station's block → what stands there. */
export const MountsSchema = z.record(key, z.record(key, z.record(key, MountSchema)));
export type Mounts = z.infer<typeof MountsSchema>;

/** The place in a block that holds one tool. */
export const FIRST_POSITION = '1';

/** Tools that one block may hold. */
export const MOST_IN_BLOCK = 8;

/** A tool as it stands when it is put into a station. */
export const usualMount = (tool: string): Mount => ({
  tool,
  wayUp: 'usual',
  facing: 'main',
  point: 'tip',
  beyond: false,
  offset: null,
  at: { x: 0, z: 0 },
});

export interface Mounted {
  readonly carrier: string;
  /** As the document says it; a number only after it was checked. */
  readonly station: string;
  readonly position: string;
  readonly mount: Mount;
}

/** Every mount of every carrier, in the order of the document. */
export const mountList = (mounts: Mounts): Mounted[] =>
  Object.entries(mounts).flatMap(([carrier, stations]) =>
    Object.entries(stations).flatMap(([station, positions]) =>
      Object.entries(positions).map(([position, mount]) => ({ carrier, station, position, mount })),
    ),
  );

const byTool = onceFor((mounts: Mounts): ReadonlyMap<string, Mounted> => {
  const found = new Map<string, Mounted>();
  for (const m of mountList(mounts)) if (!found.has(m.mount.tool)) found.set(m.mount.tool, m);
  return found;
});

/** Where a tool stands, or null. Looked up once for each state of the mounts, which no one changes in place. */
export const mountedAt = (mounts: Mounts, tool: string): Mounted | null => byTool(mounts).get(tool) ?? null;

/** The other tools of the block in which one stands. */
export const besideIn = (mounts: Mounts, m: Mounted): Mounted[] => {
  const positions = mounts[m.carrier]?.[m.station] ?? {};
  return Object.entries(positions).flatMap(([position, mount]) =>
    position === m.position ? [] : [{ ...m, position, mount }],
  );
};

/** The first free position of a station's block; null when it is full. */
export const freePosition = (mounts: Mounts, carrier: string, station: string): string | null => {
  const taken = mounts[carrier]?.[station] ?? {};
  for (let n = 1; n <= MOST_IN_BLOCK; n++) if (!(String(n) in taken)) return String(n);
  return null;
};

/** The first offset number of a carrier above its stations' own that no tool has. */
export const freeOffset = (mounts: Mounts, carrier: string, stations: number): number => {
  const used = new Set(mountList({ [carrier]: mounts[carrier] ?? {} }).map(offsetOf));
  let n = stations + 1;
  while (used.has(n)) n++;
  return n;
};

/** Tools in the first positions of stations, for carriers that hold one tool in each: station → tool. */
export const inStations = (tools: Readonly<Record<string, string>>): Mounts[string] =>
  Object.fromEntries(Object.entries(tools).map(([n, id]) => [n, { [FIRST_POSITION]: usualMount(id) }]));

/** Whether a carrier of so many stations has the place of a mount. */
export const standsOn = (m: Mounted, stations: number): boolean => {
  const within = (text: string, most: number): boolean =>
    /^\d+$/.test(text) && Number(text) >= 1 && Number(text) <= most;
  return within(m.station, stations) && within(m.position, MOST_IN_BLOCK);
};

/** The place of a mount: its station, and the position where its block holds several. */
export const placeNumber = (mounts: Mounts, m: Mounted): string =>
  m.position === FIRST_POSITION && besideIn(mounts, m).length === 0
    ? m.station
    : `${m.station}, position ${m.position}`;

/** The same in words. */
export const placeName = (mounts: Mounts, m: Mounted): string => `station ${placeNumber(mounts, m)}`;

/** The offset number that a mount is called with. */
export const offsetOf = (m: Mounted): number => m.mount.offset ?? Number(m.station);
