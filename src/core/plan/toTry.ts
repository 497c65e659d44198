import type { Finding } from '../findings';
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

/** A tool to try: the job in which it stands, where it was put for that, and what stands against its standing there. */
export interface ToTry {
  readonly tool: Tool;
  readonly job: Job;
  readonly put: Placed | null;
  readonly against: readonly Finding[];
}

/** A tool in its place, the tool change moved out as far as that tool wants it, where the slide travels so far. */
const withRoom = (job: Job, held: Held, found: { job: Job; put: Placed }): Omit<ToTry, 'tool'> => {
  const told = toolChangeFindings(found.job, held);
  if (told.length === 0 || toolChangeFindings(job, held).length > 0) return { ...found, against: [] };
  const z = Math.max(...told.flatMap((f) => (f.code === 'tool-change-close' ? [f.numbers.needed] : [])));
  const put = { ...found.put, toolChange: { holding: held.id, z } };
  const made = withPlaced(job, put);
  return travels(made, held, put.carrier, z) ? { job: made, put, against: [] } : { ...found, against: told };
};

/** Tools to try: those of the job as they stand, then the others, each in the station where it could go. */
export const toolsToTry = (job: Job, held: Held, shelf: readonly Tool[]): ToTry[] => {
  const standing = Object.values(job.tools).filter((t) => mountedAt(job.mounts, t.id));
  const own = new Set(standing.map((t) => t.id));
  const loose = [...Object.values(job.tools), ...shelf].filter((t) => !own.has(t.id) && own.add(t.id));
  return [
    ...standing.map((tool) => ({ tool, job, put: null, against: [] })),
    ...loose.flatMap((tool) => {
      const found = placed(job, tool, held.id);
      return found ? [{ tool, ...withRoom(job, held, found) }] : [];
    }),
  ];
};
