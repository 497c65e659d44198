'use client';
import { useMemo } from 'react';
import { pathOfCurves, pathOfRegion, regionBounds } from '@/core/geometry';
import { standsBelow } from '@/core/machine';
import type { HeldView } from '@/core/plan';
import { useDerived } from '../job/derived';
import { useDocument } from '../job/document';
import { showHolding } from '../job/holdings';
import { useMomentOf } from '../job/playback';
import { useSelection } from '../job/selection';
import { mirror, ToolAt, useHandedOver, useStockOf } from './moving';
import { Fixtures } from './still';

/** Room between the work of two spindles that face each other, mm: they are drawn nearer than they stand. */
const GAP = 26;
/** How much of its chuck is shown. */
const CHUCK = 8;

export interface Facing {
  readonly held: HeldView;
  /** Where its zero is drawn, in the shown holding's coordinates; its Z runs the other way. */
  readonly at: number;
  /** How far it reaches there. */
  readonly far: number;
}

/** The work in the spindle that faces the shown one, if there is any. */
export const useFacing = (shown: HeldView | null): Facing | null => {
  const holdings = useDerived((s) => s.view?.holdings);
  return useMemo(() => {
    const held = holdings?.find((h) => shown && h.direction !== shown.direction);
    if (!shown || !held || shown.rawStock.length === 0 || held.rawStock.length === 0) return null;
    const at = regionBounds(shown.rawStock).maxX + GAP + regionBounds(held.rawStock).maxX;
    const back = Math.min(held.seat.jawFront, regionBounds(held.jaws.length > 0 ? held.jaws : held.rawStock).minX);
    return { held, at, far: at - back + CHUCK };
  }, [shown, holdings]);
};

/** The other spindle at the far end of the axis, softer; a click makes it the one that is edited. */
export const FacingSpindle = ({ facing, hair }: { facing: Facing; hair: number }) => {
  const { held, at } = facing;
  const moment = useMomentOf(held.id);
  const lying = useStockOf(held);
  const { takes } = useHandedOver(held.id);
  // its jaws are empty until the part has come over
  const there = useSelection((s) => s.time) >= takes - 1e-6;
  const stock = there && lying ? lying : [];
  const machine = useDocument((s) => s.job.machine);
  return (
    <g
      transform={`translate(${at} 0) scale(-1 1)`}
      opacity={0.62}
      style={{ cursor: 'pointer' }}
      data-testid="facing-spindle"
      onClick={() => showHolding(held.id)}
    >
      <Fixtures chuck={held.chuck} jaws={held.jaws} hair={hair} />
      <path d={pathOfRegion(stock)} fill="url(#hatch-stock)" stroke="var(--color-straw-edge)" strokeWidth={hair} />
      <path
        d={pathOfRegion(mirror(stock))}
        fill="var(--color-straw-pale)"
        stroke="var(--color-straw-edge)"
        strokeWidth={hair}
      />
      {there && held.part.boundary.length > 0 && (
        <path
          d={`${pathOfCurves(held.part.boundary)}Z`}
          fill="var(--color-paper)"
          fillOpacity={0.4}
          stroke="var(--color-ink)"
          strokeWidth={hair}
        />
      )}
      {moment?.hands.map((h) => (
        <ToolAt
          key={h.operation.id}
          section={h.section}
          at={h.centre}
          below={standsBelow(machine, h.operation.channel)}
          hair={hair}
        />
      ))}
      <circle r={4 * hair} fill="var(--color-paper)" stroke="var(--color-madder)" strokeWidth={1.4 * hair} />
    </g>
  );
};
