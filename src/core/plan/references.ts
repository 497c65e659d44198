import { codeFindings, controlOf, isDialect } from '../dialects';
import { type Finding, note } from '../findings';
import { onceFor, type Region, regionBounds } from '../geometry';
import { WORK_OFFSETS } from '../holding';
import { carrierOf, devicesOf, machineProblems, mayReach, type Reach, reachOf } from '../machine';
import { type CuttingOperation, kindOf, type Place } from '../operations';
import {
  beyondAxis,
  countsAs,
  type Mounted,
  mountedAt,
  mountList,
  offsetOf,
  placeName,
  placeNumber,
  standingTool,
  standsOn,
  type Tool,
  type ToolSection,
  toolInPlace,
  toolKind,
} from '../tooling';
import type { Job } from './document';
import type { Held } from './held';

/** What a slide can do; one that the machine does not tell of is no limit. */
const slideOf = ({ axes }: Reach, axis: 'Z' | 'X'): Place['slides'][typeof axis] => ({
  rapid: axes[axis]?.rapid ?? Number.POSITIVE_INFINITY,
  acceleration: axes[axis]?.acceleration ?? 1000,
});

/** Station of a tool on any carrier, or null. */
export const stationOf = (job: Job, tool: string): number | null => {
  const station = Number(mountedAt(job.mounts, tool)?.station ?? Number.NaN);
  return Number.isInteger(station) ? station : null;
};

export interface Resolved {
  readonly tool: Tool;
  /** As the work sees it where it cuts: beyond the centre line the tool mirrored. */
  readonly section: ToolSection;
  readonly beyond: boolean;
  readonly place: Place;
  readonly reach: Reach;
}

/** Whether a kind of operation takes a kind of tool where it stands. */
const fitsKind = (wanted: readonly Tool['kind'][], found: Tool['kind'], beyond: boolean): boolean => {
  const as = countsAs(found, beyond);
  return as !== null && wanted.includes(as);
};

/** Whether a tool, as it is mounted in a job, is of a kind that an operation takes. */
export const takesTool = (job: Pick<Job, 'mounts'>, wanted: readonly Tool['kind'][], tool: Tool): boolean =>
  fitsKind(wanted, tool.kind, mountedAt(job.mounts, tool.id)?.mount.beyond ?? false);

/** All that an operation names, looked up; or why it cannot be planned. Nothing is guessed. */
export const resolveOperation = (
  job: Job,
  op: CuttingOperation,
  channel: string,
  held: Held,
): { resolved: Resolved | null; station: number | null; section: ToolSection | null; findings: Finding[] } => {
  const findings: Finding[] = [];
  const stop = (f: Finding, station: number | null = null, section: ToolSection | null = null) => ({
    resolved: null,
    station,
    section,
    findings: [...findings, f],
  });
  if (!op.tool) return stop(note('blocking', 'no-tool', op.id, {}));
  const tool = job.tools[op.tool];
  if (!tool) return stop(note('blocking', 'tool-unknown', op.id, { tool: op.tool }));
  const mount = mountedAt(job.mounts, tool.id);
  const station = stationOf(job, tool.id);
  const wayUp = mount?.mount.wayUp ?? 'usual';
  const turned = held.direction < 0;
  const made = mount ? toolInPlace(job.tools, job.mounts, mount, turned) : standingTool(tool, null, turned);
  if (!made && mount) {
    const facing = turned ? 'sub' : 'main';
    const at = `/mounts/${mount.carrier}/${mount.station}/${mount.position}/facing`;
    return stop(
      note('blocking', 'faces-away', op.id, { tool: tool.name, spindle: job.holdings[held.id].spindle }, null, {
        remedy: {
          label: `Point it toward the ${facing === 'sub' ? 'sub-spindle' : 'main spindle'}`,
          set: { [at]: facing },
        },
      }),
      station,
    );
  }
  if (!made) return stop(note('blocking', 'tool-not-in-station', op.id, { tool: tool.name }));
  if (!made.ok)
    return stop(note('blocking', 'tool-unreadable', op.id, { found: made.found, reason: made.code }), station);
  const beyond = mount?.mount.beyond ?? false;
  const section = beyond ? beyondAxis(made.section) : made.section;
  const bad = (f: Finding) => stop(f, station, section);
  const kind = kindOf(op);
  if (!fitsKind(kind.tools, tool.kind, beyond))
    return bad(
      note('blocking', 'wrong-tool', op.id, {
        needs: kind.needs,
        found: `${toolKind(tool).name}${beyond ? ' beyond the centre line' : ''}`,
      }),
    );
  const refusal = kind.accepts?.(section) ?? null;
  if (refusal) return bad(note('blocking', 'wrong-hand', op.id, { needs: refusal.needs, found: refusal.found }));
  if (!toolKind(tool).waysUp.includes(wayUp))
    return bad(note('blocking', 'way-up-not-possible', op.id, { tool: tool.name }));
  if (op.channel !== channel)
    findings.push(
      note('blocking', 'channel-differs', op.id, { said: op.channel, listed: channel }, null, {
        remedy: { label: `Channel ${channel}`, set: { [`/operations/${op.id}/channel`]: channel } },
      }),
    );
  const carrier = carrierOf(job.machine, channel);
  if (!carrier) return bad(note('blocking', 'channel-unknown', op.id, { channel }));
  if (!mount) return bad(note('blocking', 'tool-not-in-station', op.id, { tool: tool.name }));
  if (mount.carrier !== carrier.id) {
    const on =
      job.machine.carriers.find((c) => c.id === mount.carrier)?.name ??
      `“${mount.carrier}”, which the machine does not have`;
    return bad(
      note('blocking', 'tool-on-other-carrier', op.id, { tool: tool.name, carrier: on, wanted: carrier.name }),
    );
  }
  if (station === null || !standsOn(mount, carrier.stations))
    return bad(
      note('blocking', 'station-missing', op.id, {
        station: mount.station,
        stations: carrier.stations,
        carrier: carrier.name,
      }),
    );
  const holding = job.holdings[held.id];
  const spindle = job.machine.spindles.find((s) => s.id === holding.spindle);
  if (!spindle) return bad(note('blocking', 'spindle-unknown', op.id, { spindle: holding.spindle }));
  const reach = reachOf(job.machine, carrier.id, spindle.id, mount.station);
  if (!reach) {
    const others = job.machine.carriers.filter((c) => mayReach(c, spindle.id)).map((c) => c.name);
    const numbers = { carrier: carrier.name, spindle: spindle.name, others: others.join(' or ') };
    return bad(note('blocking', 'out-of-reach', op.id, numbers));
  }
  if (!job.machine.channels.some((c) => c.id === channel && c.spindles.includes(spindle.id)))
    return bad(note('blocking', 'spindle-not-commanded', op.id, { spindle: spindle.name, channel }));
  if (findings.length > 0) return { resolved: null, station, section, findings };
  const limit = Math.min(spindle.maxSpeed, holding.maxSpeed);
  const own = op.cutting.speed.mode === 'surface' ? op.cutting.speed.clamp : null;
  const place: Place = {
    carrier: carrier.id,
    station,
    offset: offsetOf(mount),
    holding: held.id,
    spindle: spindle.id,
    clamp: own === null ? limit : Math.min(limit, own),
    workOffset: holding.workOffset,
    // counted from the half in which the tool works: the slide changes tools on its own side
    toolChange: beyond ? { ...holding.toolChange, diameter: -holding.toolChange.diameter } : holding.toolChange,
    safeDistance: holding.safeDistance,
    stickOut: held.seat.front - held.seat.jawFront,
    jawFront: held.seat.jawFront,
    cycleRetract: controlOf(job.machine)?.cycles.retract ?? null,
    threadCycle: controlOf(job.machine)?.cycles.threading ?? null,
    slides: { Z: slideOf(reach, 'Z'), X: slideOf(reach, 'X') },
    catcher: catcherOf(job, channel),
    grid: 10 ** -(controlOf(job.machine)?.decimals ?? 3),
    stockDiameter: 2 * thickest(held.rawStock.turnedOutline),
    stockFront: held.seat.front,
    centred: held.support.length > 0 && regionBounds(held.support).maxX > held.seat.front,
  };
  return { resolved: { tool, section, beyond, place, reach }, station, section, findings };
};

/** The part catcher that a channel commands. */
const catcherOf = (job: Job, channel: string): string | null =>
  devicesOf(job.machine, channel).find((d) => d.kind === 'catcher')?.id ?? null;

/** Greatest radius of the stock that is held, looked up once. */
const thickest = onceFor((stock: Region): number => (stock.length === 0 ? 0 : regionBounds(stock).maxY));

/** References of the job as a whole that lead nowhere. */
export const validateReferences = (job: Job): Finding[] => {
  const result: Finding[] = [];
  if (!isDialect(job.machine.dialect))
    result.push(note('blocking', 'dialect-unknown', null, { dialect: job.machine.dialect }));
  const broken = machineProblems(job.machine).map((p) => p.finding);
  // codes are told by the names of spindles and devices
  result.push(...(broken.length > 0 ? broken : codeFindings(job.machine)));
  const zeros = new Map<string, string[]>();
  for (const id of job.holdingOrder) {
    const { spindle, workOffset, name } = job.holdings[id];
    zeros.set(workOffset, [...(zeros.get(workOffset) ?? []), id]);
    if (job.machine.spindles.some((s) => s.id === spindle)) continue;
    const [first] = job.machine.spindles;
    const remedy = { label: `Hold ${name} in ${first.name}`, set: { [`/holdings/${id}/spindle`]: first.id } };
    result.push(note('blocking', 'spindle-unknown', null, { spindle }, null, { remedy, holding: id }));
  }
  for (const [code, ids] of zeros) {
    if (ids.length < 2) continue;
    const free = WORK_OFFSETS.find((w) => !zeros.has(w));
    const last = ids[ids.length - 1];
    result.push(
      note(
        'attention',
        'same-zero',
        null,
        { code, holdings: ids.map((id) => `“${job.holdings[id].name}”`).join(' and ') },
        null,
        {
          holding: last,
          ...(free
            ? {
                remedy: {
                  label: `${free} for “${job.holdings[last].name}”`,
                  set: { [`/holdings/${last}/workOffset`]: free },
                },
              }
            : {}),
        },
      ),
    );
  }
  const offsets = new Map<string, Mounted[]>();
  for (const m of mountList(job.mounts)) {
    const there = job.machine.carriers.find((c) => c.id === m.carrier);
    const key = `${m.carrier} ${offsetOf(m)}`;
    offsets.set(key, [...(offsets.get(key) ?? []), m]);
    if (!there || !standsOn(m, there.stations))
      result.push(
        note('attention', 'station-missing', null, {
          station: placeNumber(job.mounts, m),
          stations: there?.stations ?? 0,
          carrier: there?.name ?? m.carrier,
        }),
      );
  }
  const places = new Map<string, string[]>();
  for (const m of mountList(job.mounts)) {
    const { tool } = m.mount;
    if (!job.tools[tool]) result.push(note('attention', 'tool-unknown', null, { tool }));
    places.set(tool, [...(places.get(tool) ?? []), placeName(job.mounts, m)]);
  }
  for (const [tool, list] of places)
    if (list.length > 1)
      result.push(
        note('blocking', 'tool-twice', null, { tool: job.tools[tool]?.name ?? tool, places: list.join(' and ') }),
      );
  for (const list of offsets.values())
    if (list.length > 1)
      result.push(
        note('attention', 'duplicate-station', null, {
          offset: offsetOf(list[0]),
          stations: list.map((m) => placeNumber(job.mounts, m)).join(' and '),
        }),
      );
  return result;
};
