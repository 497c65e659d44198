import { onceFor, type Point, point } from '../geometry';
import { mapShape, type ToolSection, worksFrom } from './section';
import type { Tool } from './tool';

/**
 * A tool that works beyond the centre line stands where X is negative, and the spindle turns the other way. Seen from there it
 * is the tool mirrored about the axis: a boring bar turns an outside, an outside tool a bore where its shank has room.
 */

const over = (p: Point): Point => point(p.x, -p.y);

/** Tip numbers as they lie with X turned over. */
const TURNED: Readonly<Record<number, number>> = { 1: 4, 2: 3, 3: 2, 4: 1, 6: 8, 8: 6 };
const turnedNumber = (n: number): number => TURNED[n] ?? n;

const SIDES = { outer: 'inner', inner: 'outer', face: 'face' } as const;

/** The section as the half beyond the axis has it, in which distances from the axis are positive. */
export const beyondAxis = onceFor((s: ToolSection): ToolSection => {
  const shapes = (list: ToolSection['cutting']) => list.map((k) => mapShape(k, over));
  return {
    ...s,
    cutting: shapes(s.cutting),
    holder: shapes(s.holder),
    turret: shapes(s.turret),
    corners: s.corners.map((c) => ({ number: turnedNumber(c.number), at: over(c.at) })),
    tipNumber: turnedNumber(s.tipNumber),
    works: SIDES[worksFrom(s)],
    tip: over(s.tip),
    gauge: over(s.gauge),
    spindle: s.spindle === 'forward' ? 'reverse' : 'forward',
  };
});

/** What a kind of tool is as good as beyond the axis. */
const AS: Readonly<Partial<Record<Tool['kind'], Tool['kind']>>> = {
  turning: 'boring',
  boring: 'turning',
  grooving: 'grooving-bar',
  'grooving-bar': 'grooving',
  threading: 'threading-bar',
  'threading-bar': 'threading',
};

/** The kind that a tool counts as where it stands; null for one that is no use beyond the axis. */
export const countsAs = (kind: Tool['kind'], beyond: boolean): Tool['kind'] | null =>
  beyond ? (AS[kind] ?? null) : kind;
