import { add, onceForEach, type Point, point, type RoundedPolygon, subtract } from '../geometry';
import type { SectionResult } from './kind';
import { besideIn, type Mount, type Mounted, type Mounts } from './mount';
import { mapShape, programmedAt, type ToolSection } from './section';
import { type Tool, toolFacts, toolSection } from './tool';

/**
 * A mounted tool as the work in a spindle sees it, in that spindle's own frame. A spindle that is turned to face the main one
 * has its frame turned about X: a tool that stands across the axis is seen with its back up there, one that lies along the
 * axis has to be mounted with its point toward that spindle. Null where it points the other way.
 */
export const standingTool = (tool: Tool, mount: Mount | null, turned: boolean): SectionResult | null => {
  const wayUp = mount?.wayUp ?? 'usual';
  const which = mount?.point ?? 'tip';
  if (toolFacts(tool).stands === 'across')
    return namedBy(toolSection(tool, turned ? (wayUp === 'usual' ? 'turned' : 'usual') : wayUp), which);
  return (mount?.facing === 'sub') === turned ? namedBy(toolSection(tool, wayUp), which) : null;
};

/** A section with the point that a program names, made once for each. */
const namedBy = onceForEach(
  (made: SectionResult, which: Mount['point']): SectionResult =>
    made.ok && which !== 'tip' ? { ok: true, section: programmedAt(made.section, which) } : made,
  (which) => which,
);

interface Neighbour {
  readonly tool: Tool;
  readonly mount: Mount;
}

interface Block {
  readonly own: Mount['at'];
  readonly beside: readonly Neighbour[];
  readonly turned: boolean;
}

/** Where a block holds a tool, in the frame of the spindle that sees it. */
const heldAt = (at: Mount['at'], turned: boolean): Point => point(turned ? -at.z : at.z, at.x);

/** The station's own place from a tool's origin, in that frame. */
const stationFrom = (section: ToolSection, at: Mount['at'], turned: boolean): Point =>
  subtract(add(section.tip, section.gauge), heldAt(at, turned));

/** A tool as the spindle sees it, whichever way it points, with its station's place at the origin. */
export const seenAtStation = ({ tool, mount }: Neighbour, turned: boolean): RoundedPolygon[] => {
  const here = standingTool(tool, mount, turned);
  const there = here ?? standingTool(tool, mount, !turned);
  if (!there?.ok) return [];
  const { section } = there;
  const station = stationFrom(section, mount.at, here ? turned : !turned);
  // one that points toward the other spindle lies the other way round
  const seen = (p: Point): Point => {
    const from = subtract(p, station);
    return here ? from : point(-from.x, from.y);
  };
  return [...section.cutting, ...section.holder].map((s) => mapShape(s, seen));
};

/** A section in its place in a block: the slide stands where the block puts it, and the other tools of the block move along. */
const inBlock = onceForEach(
  (made: SectionResult, { own, beside, turned }: Block): SectionResult => {
    if (!made.ok) return made;
    const { section } = made;
    const station = stationFrom(section, own, turned);
    const moved = (p: Point): Point => subtract(p, heldAt(own, turned));
    const others = beside.flatMap((n) => seenAtStation(n, turned));
    return {
      ok: true,
      section: {
        ...section,
        gauge: moved(section.gauge),
        turret: [
          ...section.turret.map((s) => mapShape(s, moved)),
          ...others.map((s) => mapShape(s, (p) => add(p, station))),
        ],
      },
    };
  },
  (block) => JSON.stringify(block),
);

/**
 * A tool of a job as the work in a spindle sees it, in its place: with the other tools of its block, which come along and may
 * meet something. Null where it stands nowhere or points the other way.
 */
export const toolInPlace = (
  tools: Readonly<Record<string, Tool>>,
  mounts: Mounts,
  m: Mounted | null,
  turned: boolean,
): SectionResult | null => {
  const tool = m ? tools[m.mount.tool] : undefined;
  if (!m || !tool) return null;
  const made = standingTool(tool, m.mount, turned);
  if (!made) return null;
  const beside = besideIn(mounts, m).flatMap((k): Neighbour[] => {
    const other = tools[k.mount.tool];
    return other ? [{ tool: other, mount: k.mount }] : [];
  });
  const own = m.mount.at;
  return beside.length === 0 && own.x === 0 && own.z === 0 ? made : inBlock(made, { own, beside, turned });
};
