import type { Carrier } from '../machine';
import { type Mount, type Mounted, mountList, type Tool } from '../tooling';
import type { Job } from './document';
import { freeStations } from './placing';

/** A tool with the place that it came from. */
export interface TakenOver {
  readonly tool: Tool;
  readonly from: Mounted;
  /** The station where it stands now; null where it was left behind. */
  readonly station: string | null;
  /** Why it was left behind. */
  readonly why: 'stands here' | 'no carrier' | 'no free station' | null;
}

/** The wanted station where it is free, else the first free one; null when there is none. */
const freeStation = (job: Job, carrier: Carrier, wanted: string): string | null => {
  const free = freeStations(job, carrier).map(String);
  return free.includes(wanted) ? wanted : (free[0] ?? null);
};

/**
 * Blocks of another job's carriers put into free stations of the carriers of the same name here: into their own station where
 * it is free, else the first free one; a tool that stands here already stays where it is. What stands here is never moved.
 */
export const takeTools = (job: Job, other: Pick<Job, 'tools' | 'mounts'>): { job: Job; taken: TakenOver[] } => {
  const result = structuredClone(job);
  const standing = new Set(mountList(job.mounts).map((m) => m.mount.tool));
  const taken: TakenOver[] = [];
  // blocks go as they are, so that tools of one block stay together
  for (const [carrierId, stations] of Object.entries(other.mounts))
    for (const [station, block] of Object.entries(stations)) {
      const carrier = job.machine.carriers.find((c) => c.id === carrierId);
      const whole = Object.entries(block).flatMap(([position, mount]) => {
        const tool = other.tools[mount.tool];
        return tool ? [{ tool, from: { carrier: carrierId, station, position, mount } }] : [];
      });
      const tell = (list: typeof whole, to: string | null, why: TakenOver['why']): void =>
        void taken.push(...list.map((t) => ({ ...t, station: to, why })));
      const fresh = whole.filter((t) => !standing.has(t.tool.id));
      tell(
        whole.filter((t) => standing.has(t.tool.id)),
        null,
        'stands here',
      );
      if (fresh.length === 0) continue;
      const to = carrier ? freeStation(result, carrier, station) : null;
      tell(fresh, to, !carrier ? 'no carrier' : to === null ? 'no free station' : null);
      if (!carrier || to === null) continue;
      const own: Record<string, Mount> = {};
      for (const { tool, from } of fresh) {
        standing.add(tool.id);
        result.tools[tool.id] = structuredClone(tool);
        own[from.position] = structuredClone(from.mount);
      }
      result.mounts[carrier.id] = { ...result.mounts[carrier.id], [to]: own };
    }
  return { job: result, taken };
};

/** Offset numbers of a carrier: each tool that of its station, further ones of a block after the last station; or 1, 2, 3 … in turn. */
export const numberedOffsets = (job: Job, carrier: Carrier, way: 'stations' | 'sequence'): Job => {
  const result = structuredClone(job);
  const list = mountList({ [carrier.id]: result.mounts[carrier.id] ?? {} }).sort(
    (a, b) => Number(a.station) - Number(b.station) || Number(a.position) - Number(b.position),
  );
  let beyond = carrier.stations;
  const seen = new Set<string>();
  list.forEach((m, i) => {
    const first = !seen.has(m.station);
    seen.add(m.station);
    m.mount.offset = way === 'sequence' ? i + 1 : first ? null : ++beyond;
  });
  return result;
};
