import { onceFor, type Point, pathOfCurves, pathOfRegion, sweepAlong, unionRegions } from '@/core/geometry';
import { type MotionEvent, movesOf } from '@/core/motion';
import type { ToolSection } from '@/core/tooling';

export interface ToolDrawing {
  readonly cutting: string;
  readonly holder: string;
  readonly turret: string;
}

/** Outlines of a tool with its nose centre at the origin. */
export const toolDrawing = onceFor((section: ToolSection): ToolDrawing => {
  const draw = (shapes: ToolSection['cutting']): string =>
    pathOfRegion(unionRegions(...shapes.map((s) => sweepAlong(s, [{ x: 0, y: 0 }]))));
  return { cutting: draw(section.cutting), holder: draw(section.holder), turret: draw(section.turret) };
});

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
      const d = pathOfCurves([m.curve]);
      if (!rapid && m.event.purpose === 'cut') cuts += d;
      else if (!rapid) leads += d;
      else if (m.event.purpose !== 'tool-change') rapids += d;
      if (!rapid && wasRapid) engage.push(m.curve.from);
    }
    wasRapid = rapid;
  }
  return { cuts, leads, rapids, engage };
};
