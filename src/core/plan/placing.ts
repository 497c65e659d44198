import { onceFor } from '../geometry';
import { type Carrier, chainTo, facesBack, reachOf } from '../machine';
import { isCutting } from '../operations';
import { FIRST_POSITION, type Mount, mountList, type Tool, toolFacts, usualMount } from '../tooling';
import type { Job } from './document';

/** Where a tool that stands in no station could go. */
export interface Placed {
  readonly carrier: string;
  readonly station: number;
  readonly mount: Mount;
  readonly tool: Tool;
  /** What stood there and works nowhere: it gives way, the turret being full. */
  readonly replaces?: string;
  /** Z to which the tool change of a holding has to move, so that this tool passes the work when the turret indexes. */
  readonly toolChange?: { readonly holding: string; readonly z: number };
}

/** Stations of a carrier in which nothing stands, in their order. */
export const freeStations = (job: Pick<Job, 'mounts'>, carrier: Carrier): number[] => {
  const taken = job.mounts[carrier.id] ?? {};
  return Array.from({ length: carrier.stations }, (_, i) => i + 1).filter(
    (n) => Object.keys(taken[String(n)] ?? {}).length === 0,
  );
};

/** Carriers that come to the work of a holding: those that already work there first, then those whose channel moves its spindle. */
const carriersFor = (job: Job, holding: string): Carrier[] => {
  const { machine } = job;
  const spindle = job.holdings[holding]?.spindle ?? '';
  const works = (c: Carrier, here: boolean): boolean => {
    const channel = machine.channels.find((k) => k.carrier === c.id)?.id ?? '';
    return (job.order[channel] ?? []).some((id) => {
      const op = job.operations[id];
      return op && isCutting(op) && (op.holding === holding) === here;
    });
  };
  const chain = chainTo(machine, machine.spindles.find((s) => s.id === spindle)?.link ?? '');
  const moves = (c: Carrier): number => {
    const words = machine.channels.find((k) => k.carrier === c.id)?.words ?? {};
    return chain.filter((l) => words[l.id]).length;
  };
  const rank = (c: Carrier): number => (works(c, true) ? -100 : works(c, false) ? 1 : 0) - 10 * moves(c);
  return machine.carriers.filter((c) => reachOf(machine, c.id, spindle)).sort((a, b) => rank(a) - rank(b));
};

/**
 * A tool put into a free station of a carrier that comes to the work of a holding, pointing there; in a full one in place of a tool
 * that works nowhere; null where there is no room.
 */
export const placed = (job: Job, tool: Tool, holding: string): { job: Job; put: Placed } | null => {
  const back = facesBack(job.machine, job.holdings[holding]?.spindle ?? '');
  const facing = back && toolFacts(tool).stands === 'along' ? 'sub' : 'main';
  const mount: Mount = { ...usualMount(tool.id), facing };
  const carriers = carriersFor(job, holding);
  const at = (put: Placed): { job: Job; put: Placed } => ({ job: withPlaced(job, put), put });
  for (const carrier of carriers) {
    const [station] = freeStations(job, carrier);
    if (station !== undefined) return at({ carrier: carrier.id, station, mount, tool });
  }
  for (const carrier of carriers) {
    const idle = idleStation(job, carrier);
    if (idle) return at({ carrier: carrier.id, station: idle.station, replaces: idle.name, mount, tool });
  }
  return null;
};

/** All that operations say: a tool that is named nowhere in it works nowhere. */
const workOf = onceFor((operations: Job['operations']): string => JSON.stringify(Object.values(operations)));

/** The last station of a carrier whose one tool no operation works with, and that tool's name. */
const idleStation = (job: Job, carrier: Carrier): { station: number; name: string } | null => {
  const work = workOf(job.operations);
  const idle = mountList({ [carrier.id]: job.mounts[carrier.id] ?? {} }).filter(
    ({ station, mount }) =>
      Number(station) <= carrier.stations &&
      !work.includes(JSON.stringify(mount.tool)) &&
      job.tools[mount.tool] !== undefined &&
      Object.keys(job.mounts[carrier.id]?.[station] ?? {}).length === 1,
  );
  const last = idle.reduce<(typeof idle)[number] | null>(
    (most, m) => (most && Number(most.station) >= Number(m.station) ? most : m),
    null,
  );
  return last && { station: Number(last.station), name: job.tools[last.mount.tool].name };
};

const withToolChange = ({ holdings }: Job, { holding, z }: { holding: string; z: number }): Job['holdings'] => {
  const own = holdings[holding];
  return { ...holdings, [holding]: { ...own, toolChange: { ...own.toolChange, z } } };
};

/** The job with a tool in its place, and with room to change to it. */
export const withPlaced = (job: Job, { carrier, station, mount, tool, toolChange }: Placed): Job => ({
  ...job,
  ...(toolChange ? { holdings: withToolChange(job, toolChange) } : {}),
  tools: { ...job.tools, [tool.id]: tool },
  mounts: { ...job.mounts, [carrier]: { ...job.mounts[carrier], [String(station)]: { [FIRST_POSITION]: mount } } },
});

/** A second tool of the same making, under a name of its own. */
export const sameAgain = (tool: Tool, taken: Readonly<Record<string, Tool>>): Tool => {
  let n = 2;
  while (`${tool.id}-${n}` in taken) n++;
  return { ...structuredClone(tool), id: `${tool.id}-${n}`, name: `${tool.name} (${n})`.slice(0, 120) };
};
