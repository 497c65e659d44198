import { type Finding, note } from '../findings';
import { type Point, point, regionBounds, regionBoundsOnce } from '../geometry';
import type { CuttingOperation } from '../operations';
import { mountList, type Tool, toolFacts, toolInPlace, toolSection } from '../tooling';
import { addedCentre } from './adding';
import type { Job } from './document';
import { bestGrip, leastGrip } from './grip';
import type { Held } from './held';
import type { OperationLoad } from './load';

/** Free length over diameter above which a bar wants support. */
const FREE = 3;
/** The same between jaws and a centre: beyond it wants a steady rest. */
const CENTRED = 10;
/** Share of the clamping force at rest that has to be left at speed. */
const GRIP_LEFT = 1 / 3;
/** Smallest safe distance before rough stock, mm. */
const LEAST_SAFE = 0.2;
/** Room between a turning turret's tools and the metal, mm. */
const INDEX_ROOM = 10;

/** A holding against what it holds. */
export const validateHolding = (job: Job, held: Held): Finding[] => {
  const { part, seat, id } = held;
  if (part.region.length === 0) return id === job.holdingOrder[0] ? [note('blocking', 'part-missing', null, {})] : [];
  const result: Finding[] = [];
  const b = regionBounds(part.region);
  const holding = job.holdings[id];
  const { stock } = holding;
  const here = { holding: id };
  const remedy = (label: string, field: string, value: number) => ({
    holding: id,
    remedy: { label, set: { [`/holdings/${id}/${field}`]: value } },
  });
  const { jawFront: front } = seat;
  const diameter = 2 * seat.radius;
  const stickOut = seat.front - front;
  if (stock.form === 'bar') {
    if (stock.diameter < b.maxY * 2 - 1e-6)
      result.push(
        note(
          'blocking',
          'stock-too-small',
          null,
          { stock: stock.diameter, part: b.maxY * 2 },
          point(b.minX, b.maxY),
          here,
        ),
      );
    if (b.minX < front - 1e-6) {
      const needed = stock.stickOut + front - b.minX;
      const said = Math.ceil(needed);
      result.push(
        note(
          'blocking',
          'stick-out-short',
          null,
          { missing: front - b.minX, needed },
          point(front, stock.diameter / 2),
          remedy(`Stick-out ${said} mm`, 'stock/stickOut', said),
        ),
      );
    }
  }
  const ratio = diameter > 0 ? stickOut / diameter : 0;
  const by = (device: 'tailstock' | 'steady'): boolean =>
    Object.values(job.operations).some(
      (op) =>
        op.on && op.kind === 'support' && op.holding === id && op.params.device === device && op.params.action === 'on',
    );
  if (ratio > FREE + 1e-6 && !by('tailstock') && !by('steady')) {
    const centre = addedCentre(job, id);
    const more = centre ? { ...here, remedy: centre } : here;
    result.push(note('attention', 'unsupported', null, { ratio, length: stickOut, diameter }, null, more));
  } else if (ratio > CENTRED + 1e-6 && by('tailstock') && !by('steady'))
    result.push(note('attention', 'steady-wanted', null, { ratio, length: stickOut, diameter }, null, here));
  const least = leastGrip(diameter);
  if (holding.grip < least - 1e-6) {
    const longer = stock.form === 'bar' ? Math.ceil(least) : bestGrip(holding, held.rawStock.turnedOutline);
    result.push(
      note(
        'attention',
        'grip-short',
        null,
        { grip: holding.grip, least },
        point(front, seat.radius),
        longer !== null && longer >= least ? remedy(`Grip ${longer} mm`, 'grip', longer) : here,
      ),
    );
  }
  if (holding.safeDistance < LEAST_SAFE - 1e-9)
    result.push(
      note(
        'attention',
        'safe-distance-small',
        null,
        { distance: holding.safeDistance, least: LEAST_SAFE },
        null,
        remedy('Safe distance 1 mm', 'safeDistance', 1),
      ),
    );
  return result;
};

/** Grip that is left at the highest speed of a holding: F(n) = F0 − jaws·m·r_cg·ω² (outside grip). */
export const gripFindings = (job: Job, held: Held, loads: readonly (OperationLoad | null)[]): Finding[] => {
  const { jaws, gripForce } = job.holdings[held.id];
  const top = Math.max(0, ...loads.map((l) => l?.speedMax ?? 0));
  if (top <= 0) return [];
  // the jaws' own mass lies about half their height above the work
  const height = Math.max(...jaws.steps.map((s) => s.height));
  const radius = (held.seat.radius + height / 2) / 1000;
  const pull = (speed: number): number => jaws.count * jaws.mass * radius * ((speed * 2 * Math.PI) / 60) ** 2;
  const left = gripForce - pull(top);
  if (left >= gripForce * GRIP_LEFT) return [];
  const most = (Math.sqrt((gripForce * (1 - GRIP_LEFT)) / (jaws.count * jaws.mass * radius)) * 60) / (2 * Math.PI);
  const speed = Math.floor(most / 10) * 10;
  return [
    note(
      'attention',
      'grip-lost',
      null,
      { speed: top, left: Math.max(0, left) / 1000, force: gripForce / 1000, most: speed },
      null,
      {
        holding: held.id,
        remedy: { label: `Limit ${speed} rev/min`, set: { [`/holdings/${held.id}/maxSpeed`]: speed } },
      },
    ),
  ];
};

/** A tool that is said to stand out less than its own cutter and body do. */
export const shortTool = (op: CuttingOperation, tool: Tool): Finding[] => {
  if (toolFacts(tool).stands !== 'across') return [];
  const made = toolSection(tool, 'usual');
  if (!made.ok) return [];
  const least = made.section.gauge.y + made.section.tip.y;
  if (tool.stickOut >= least - 1e-6) return [];
  return [
    note('attention', 'stick-out-of-tool', op.id, { stickOut: tool.stickOut, least }, null, {
      remedy: { label: `Stick-out ${Math.ceil(least)} mm`, set: { [`/tools/${tool.id}/stickOut`]: Math.ceil(least) } },
    }),
  ];
};

interface Passing {
  readonly name: string;
  readonly gauge: Point;
  /** Least Z and least distance from the axis of the tool, from its programmed tip. */
  readonly low: Point;
}

/**
 * Tools that come close to the metal when the turret indexes: while one tool stands at the tool change position, every
 * other passes its own working place, off by the difference of their gauge lengths.
 */
export const toolChangeFindings = (job: Job, held: Held): Finding[] => {
  const result: Finding[] = [];
  const { toolChange } = job.holdings[held.id];
  if (held.rawStock.isEmpty) return [];
  const thick = regionBoundsOnce(held.rawStock.turnedOutline).maxY;
  for (const carrier of Object.keys(job.mounts)) {
    if (!job.machine.carriers.some((c) => c.id === carrier)) continue;
    const mounted = mountList({ [carrier]: job.mounts[carrier] }).flatMap((m): Passing[] => {
      const tool = job.tools[m.mount.tool];
      // whichever spindle it points to, seen from the main one
      const made = toolInPlace(job.tools, job.mounts, m, false) ?? (tool ? toolSection(tool, m.mount.wayUp) : null);
      if (!tool || !made?.ok) return [];
      const { section } = made;
      const all = [...section.cutting, ...section.holder].flatMap((s) =>
        s.points.map((p) => point(p.x - s.radius, p.y - s.radius)),
      );
      const low = point(
        Math.min(...all.map((p) => p.x)) - section.tip.x,
        Math.min(...all.map((p) => p.y)) - section.tip.y,
      );
      return [{ name: tool.name, gauge: section.gauge, low }];
    });
    let worst: { tool: Passing; gap: number } | null = null;
    // further out in Z until every tool that comes too close in both ways is clear in Z
    let further = 0;
    for (const a of mounted)
      for (const b of mounted) {
        const z = toolChange.z + a.gauge.x - b.gauge.x + b.low.x - held.seat.front;
        const r = toolChange.diameter / 2 + a.gauge.y - b.gauge.y + b.low.y - thick;
        const gap = Math.max(z, r);
        if (gap >= INDEX_ROOM) continue;
        further = Math.max(further, INDEX_ROOM - z);
        if (!worst || gap < worst.gap) worst = { tool: b, gap };
      }
    if (!worst) continue;
    const needed = Math.ceil(toolChange.z + further);
    result.push(
      note(
        // what comes within nothing of the metal goes into it
        worst.gap < 0 ? 'blocking' : 'attention',
        'tool-change-close',
        null,
        { tool: worst.tool.name, gap: worst.gap, least: INDEX_ROOM, needed },
        null,
        {
          holding: held.id,
          remedy: { label: `Tool change at Z${needed}`, set: { [`/holdings/${held.id}/toolChange/z`]: needed } },
        },
      ),
    );
  }
  return result;
};
