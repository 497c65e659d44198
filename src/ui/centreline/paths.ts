import { arcRadius, arcSweep, type Curve, type Point, type Region, sweepAlong, unionRegions } from '@/core/geometry';
import { type MotionEvent, movesOf } from '@/core/motion';
import type { ToolSection } from '@/core/tooling';

const n = (v: number): string => String(Math.round(v * 1e4) / 1e4);

/** SVG path of a region; fill-rule nonzero. */
export const regionPath = (region: Region): string =>
  region.map((ring) => (ring.length > 0 ? `M${ring.map((p) => `${n(p.x)} ${n(p.y)}`).join('L')}Z` : '')).join('');

/** SVG path of a chain; arcs stay arcs. Drawn in a group whose y points up, a counter-clockwise arc has sweep 1. */
export const chainPath = (chain: readonly Curve[]): string => {
  let d = '';
  let last: Point | null = null;
  for (const c of chain) {
    if (!last || Math.hypot(last.x - c.from.x, last.y - c.from.y) > 1e-6) d += `M${n(c.from.x)} ${n(c.from.y)}`;
    d +=
      c.kind === 'line'
        ? `L${n(c.to.x)} ${n(c.to.y)}`
        : `A${n(arcRadius(c))} ${n(arcRadius(c))} 0 ${Math.abs(arcSweep(c)) > Math.PI ? 1 : 0} ${c.clockwise ? 0 : 1} ${n(c.to.x)} ${n(c.to.y)}`;
    last = c.to;
  }
  return d;
};

export interface ToolDrawing {
  readonly cutting: string;
  readonly holder: string;
  readonly turret: string;
}

const drawings = new WeakMap<ToolSection, ToolDrawing>();

/** Outlines of a tool with its nose centre at the origin. */
export const toolDrawing = (section: ToolSection): ToolDrawing => {
  const found = drawings.get(section);
  if (found) return found;
  const draw = (shapes: ToolSection['cutting']): string =>
    regionPath(unionRegions(...shapes.map((s) => sweepAlong(s, [{ x: 0, y: 0 }]))));
  const made = { cutting: draw(section.cutting), holder: draw(section.holder), turret: draw(section.turret) };
  drawings.set(section, made);
  return made;
};

export interface ToolPathDrawing {
  readonly cuts: string;
  readonly leads: string;
  readonly rapids: string;
  /** Places where the feed begins. */
  readonly engage: readonly Point[];
}

/** Tip path of an operation, told apart by purpose. */
export const pathDrawing = (events: readonly MotionEvent[]): ToolPathDrawing => {
  let cuts = '';
  let leads = '';
  let rapids = '';
  const engage: Point[] = [];
  let wasRapid = true;
  for (const m of movesOf(events)) {
    const rapid = m.event.kind === 'rapid';
    if (m.placed) {
      const d = chainPath([m.curve]);
      if (!rapid && m.event.purpose === 'cut') cuts += d;
      else if (!rapid) leads += d;
      else if (m.event.purpose !== 'tool-change') rapids += d;
      if (!rapid && wasRapid) engage.push(m.curve.from);
    }
    wasRapid = rapid;
  }
  return { cuts, leads, rapids, engage };
};
