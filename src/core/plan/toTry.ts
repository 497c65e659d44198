import type { Finding } from '../findings';
import { onceFor } from '../geometry';
import { jointAt, reachOf } from '../machine';
import { mountedAt, mountList, type Tool, toolSection } from '../tooling';
import type { Job } from './document';
import type { Held } from './held';
import { type Placed, placed, withPlaced } from './placing';
import { toolChangeFindings } from './practice';

/** Whether every tool of a carrier can stand at a place along Z. */
const travels = (job: Job, held: Held, carrier: string, z: number): boolean =>
  mountList({ [carrier]: job.mounts[carrier] ?? {} }).every(({ mount, station }) => {
    const axis = reachOf(job.machine, carrier, job.holdings[held.id].spindle, station)?.axes.Z;
    const tool = job.tools[mount.tool];
    const made = tool && toolSection(tool, mount.wayUp);
    if (!axis || !made?.ok) return true;
    const position = jointAt(axis, held.zeroFromFace + z + made.section.gauge.x);
    return position >= axis.min && position <= axis.max;
  });

/** How a tool stands when it is tried: the job in which it does, where it was put for that, and what stands against it. */
export interface Stand {
  readonly job: Job;
  readonly put: Placed | null;
  readonly against: readonly Finding[];
}

/** The tools to try. */
export interface ToTry {
  /** Those that stand in a station of the job. */
  readonly standing: readonly Tool[];
  readonly loose: readonly Tool[];
  /** How one of them stands: as it does, else where it could go; null where there is no room. Worked out when it is asked for. */
  readonly place: (tool: Tool) => Stand | null;
}

/** Tools to try: those of the job as they stand, then the others, each in the station where it could go. */
export const toolsToTry = (job: Job, held: Held, shelf: readonly Tool[]): ToTry => {
  const standing = Object.values(job.tools).filter((t) => mountedAt(job.mounts, t.id));
  const own = new Set(standing.map((t) => t.id));
  const loose = [...Object.values(job.tools), ...shelf].filter((t) => !own.has(t.id) && own.add(t.id));
  const stands = new Set(standing);
  let closeNow: boolean | null = null;
  /** The tool change moved out as far as a tool wants it, where the slide travels so far and nothing else was too close. */
  const withRoom = (found: { job: Job; put: Placed }): Stand => {
    const against = toolChangeFindings(found.job, held);
    if (against.length === 0) return { ...found, against };
    closeNow ??= toolChangeFindings(job, held).length > 0;
    if (closeNow) return { ...found, against: [] };
    const z = Math.max(...against.flatMap((f) => (f.code === 'tool-change-close' ? [f.numbers.needed] : [])));
    const put = { ...found.put, toolChange: { holding: held.id, z } };
    const made = withPlaced(job, put);
    return travels(made, held, put.carrier, z) ? { job: made, put, against: [] } : { ...found, against };
  };
  const place = onceFor((tool: Tool): Stand | null => {
    if (stands.has(tool)) return { job, put: null, against: [] };
    const found = placed(job, tool, held.id);
    return found && withRoom(found);
  });
  return { standing, loose, place };
};
