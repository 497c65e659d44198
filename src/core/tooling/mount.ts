import { z } from 'zod';
import { onceFor } from '../geometry';

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
  /** Wear and geometry offset number; null = the station's number. */
  offset: z.number().int().min(1).max(999, 'it must be at most 999').nullable().default(null),
});
export type Mount = z.infer<typeof MountSchema>;

const key = z.string().max(40);
/** Carrier → station → position in the station's block → what stands there. */
export const MountsSchema = z.record(key, z.record(key, z.record(key, MountSchema)));
export type Mounts = z.infer<typeof MountsSchema>;

/** The place in a block that holds one tool. */
export const FIRST_POSITION = '1';

/** A tool as it stands when it is put into a station. */
export const usualMount = (tool: string): Mount => ({
  tool,
  wayUp: 'usual',
  facing: 'main',
  point: 'tip',
  offset: null,
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

/** Tools in the first positions of stations, for carriers that hold one tool in each: station → tool. */
export const inStations = (tools: Readonly<Record<string, string>>): Mounts[string] =>
  Object.fromEntries(Object.entries(tools).map(([n, id]) => [n, { [FIRST_POSITION]: usualMount(id) }]));

/** The offset number that a mount is called with. */
export const offsetOf = (m: Mounted): number => m.mount.offset ?? Number(m.station);
