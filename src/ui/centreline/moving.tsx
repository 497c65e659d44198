'use client';
import { memo, useMemo } from 'react';
import { mapRegion, pathOfRegion, type Region, regionBounds } from '@/core/geometry';
import { standsBelow } from '@/core/machine';
import type { HeldView } from '@/core/plan';
import { mountedAt, type ToolSection, toolFacts, toolSection } from '@/core/tooling';
import { formatLength } from '@/core/units';
import { useDerived } from '../job/derived';
import { useDocument } from '../job/document';
import { useHeld, useHoldingId } from '../job/holding';
import { useMoment, useMomentOf } from '../job/playback';
import { useSelection } from '../job/selection';
import { useAcross, useUnit } from '../kit/units';
import { toolDrawing } from './paths';

/** What follows the time cursor, each part by itself, so that the rest of the drawing stays as it is. */

export const mirror = (r: Region): Region => mapRegion(r, (p) => ({ x: p.x, y: -p.y }), true);

const StockPath = memo(({ stock, hair }: { stock: Region; hair: number }) => (
  <g pointerEvents="none">
    <path
      data-testid="stock"
      d={pathOfRegion(stock)}
      fill="url(#hatch-stock)"
      stroke="var(--color-straw-edge)"
      strokeWidth={hair}
    />
    <path
      d={pathOfRegion(mirror(stock))}
      fill="var(--color-straw-pale)"
      stroke="var(--color-straw-edge)"
      strokeWidth={hair}
    />
  </g>
));
StockPath.displayName = 'StockPath';

/** What lies in a holding's jaws at the time cursor: a piece that the other spindle has taken away is gone. */
export const useStockOf = (held: HeldView | null): Region | null => {
  const moment = useMomentOf(held?.id ?? '');
  const gone = useSelection((s) => s.time) >= useHandedOver(held?.id ?? '').gives;
  const stock = moment?.stock ?? held?.rawStock ?? null;
  return useMemo(
    () => (stock && held && gone ? stock.filter((ring) => ring.some((p) => p.x < held.seat.jawFront - 1e-6)) : stock),
    [stock, held, gone],
  );
};

/** What supports the work of a holding at the time cursor. */
const useSupportOf = (held: HeldView | null): Region => {
  const time = useSelection((s) => s.time);
  const now = useDerived((s) =>
    s.view?.operations.findLast((o) => o.holding === held?.id && o.state !== 'off' && o.times.start <= time),
  );
  return now?.support ?? [];
};

/** The centre in the front of the work, and the rollers around it, where they stand. */
export const SupportShape = ({ held, hair }: { held: HeldView; hair: number }) => {
  const support = useSupportOf(held);
  if (support.length === 0) return null;
  const d = pathOfRegion(support);
  return (
    <g
      pointerEvents="none"
      strokeWidth={hair}
      data-testid="support"
      fill="url(#hatch-steel)"
      stroke="var(--color-steel-edge)"
    >
      <path d={d} />
      <path d={pathOfRegion(mirror(support))} />
    </g>
  );
};

/** When a holding is given its work by another spindle, and when it has given it on, s; never where that does not happen. */
export const useHandedOver = (holding: string): { readonly takes: number; readonly gives: number } => {
  const operations = useDocument((s) => s.job.operations);
  const view = useDerived((s) => s.view);
  return useMemo(() => {
    let takes = Number.NEGATIVE_INFINITY;
    let gives = Number.POSITIVE_INFINITY;
    for (const o of view?.operations ?? []) {
      const op = operations[o.operation];
      if (op?.kind === 'handover' && op.params.to === holding) takes = o.times.end;
      if (op?.kind === 'withdraw' && op.holding === holding) gives = o.times.end;
    }
    return { takes, gives };
  }, [operations, view, holding]);
};

/** Stock under the time cursor. */
export const MovingStock = ({ hair }: { hair: number }) => {
  const stock = useStockOf(useHeld());
  return stock ? <StockPath stock={stock} hair={hair} /> : null;
};

/** A tool shown by itself in the Tool phase stands beside the front of the part. */
const useStanding = () => {
  const job = useDocument((s) => s.job);
  const phase = useSelection((s) => s.phase);
  const toolId = useSelection((s) => s.tool);
  const held = useHeld();
  return useMemo(() => {
    const part = held?.part;
    const tool = phase === 'tool' && toolId ? job.tools[toolId] : undefined;
    if (!tool || !held || !part || part.region.length === 0) return null;
    const s = toolSection(tool, mountedAt(job.mounts, tool.id)?.mount.wayUp);
    if (!s.ok) return null;
    const box = regionBounds(part.region);
    const thick = held.rawStock.length > 0 ? regionBounds(held.rawStock).maxY : box.maxY;
    const facts = toolFacts(tool);
    const at =
      facts.stands === 'across'
        ? { x: box.maxX - 1, y: thick + 3 }
        : { x: box.maxX + 4, y: facts.onCentre ? 0 : Math.max(0, (part.inner[0]?.curve.from.y ?? 6) - 2) };
    return { section: s.section, at };
  }, [phase, toolId, job, held]);
};

/** The tools at work, to scale; those of a carrier below the axis stand below it. */
export const MovingTool = ({ hair }: { hair: number }) => {
  const phase = useSelection((s) => s.phase);
  const moment = useMoment();
  const standing = useStanding();
  const machine = useDocument((s) => s.job.machine);
  if (standing) return <ToolAt section={standing.section} at={standing.at} below={false} hair={hair} />;
  if (!moment || phase === 'part' || phase === 'hold') return null;
  return moment.hands.map((h) => (
    <ToolAt
      key={h.operation.id}
      section={h.section}
      at={h.centre}
      below={standsBelow(machine, h.operation.channel)}
      hair={hair}
    />
  ));
};

interface Standing {
  readonly section: ToolSection;
  /** Nose centre. */
  readonly at: { readonly x: number; readonly y: number };
  readonly below: boolean;
  readonly hair: number;
}

export const ToolAt = ({ section, at, below, hair }: Standing) => {
  const drawn = toolDrawing(section);
  return (
    <g transform={below ? 'scale(1 -1)' : undefined} pointerEvents="none">
      <g transform={`translate(${at.x} ${at.y})`} data-testid="tool">
        <path
          d={drawn.turret}
          fill="var(--color-turret)"
          fillOpacity={0.55}
          stroke="var(--color-iron-edge)"
          strokeWidth={hair}
        />
        <path
          d={drawn.holder}
          fill="var(--color-shank)"
          fillOpacity={0.9}
          stroke="var(--color-shank-edge)"
          strokeWidth={hair}
        />
        <path d={drawn.cutting} fill="var(--color-insert)" stroke="var(--color-ink)" strokeWidth={1.2 * hair} />
        <circle cx={section.tip.x} cy={section.tip.y} r={2.2 * hair} fill="var(--color-madder)" />
      </g>
    </g>
  );
};

/** Leftover and gouge, once the time cursor stands at the end. */
export const AtTheEnd = ({ hair }: { hair: number }) => {
  const end = useDerived((s) => s.view?.end);
  const total = useDerived((s) => s.view?.total ?? 0);
  const reached = useSelection((s) => s.time >= total - 1e-6);
  const phase = useSelection((s) => s.phase);
  const holding = useHoldingId();
  const last = useDocument((s) => s.job.holdingOrder[s.job.holdingOrder.length - 1]);
  if (!end || !reached || holding !== last || phase === 'part' || phase === 'hold') return null;
  return (
    <g pointerEvents="none">
      <path d={pathOfRegion(end.leftover)} fill="url(#stipple)" stroke="var(--color-weld-mark)" strokeWidth={hair} />
      <path d={pathOfRegion(end.gouge)} fill="url(#cross)" stroke="var(--color-madder)" strokeWidth={hair} />
    </g>
  );
};

/** Where the tip stands, or the pointer when nothing runs. */
export const Readout = ({ pointer, about }: { pointer: { x: number; y: number } | null; about: string }) => {
  const unit = useUnit();
  const across = useAcross();
  const moment = useMoment();
  const round = (v: number): number => Math.round(v * 100) / 100;
  const words = moment?.hands.map(
    (h) =>
      `X ${across(h.tip.y, unit)}  Z ${formatLength(h.tip.x, unit)}  S ${Math.round(h.speed)}  T${h.operation.station ?? '–'}`,
  );
  const place =
    words && words.length > 0
      ? words.join('\n')
      : pointer
        ? `${across(round(Math.abs(pointer.y) * 2) / 2, unit)}  Z ${formatLength(round(pointer.x), unit)}`
        : '';
  return (
    <div
      className="num pointer-events-none absolute bottom-2 left-3 whitespace-pre-line rounded bg-linen/85 px-1 text-ink"
      data-testid="readout"
    >
      {place}
      {about ? `   ${about}` : ''}
    </div>
  );
};
