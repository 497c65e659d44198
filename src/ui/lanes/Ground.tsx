'use client';
import { useEffect, useState } from 'react';
import { heldByHand } from '@/core/holding';
import { carrierOf } from '@/core/machine';
import type { Cycle, Job } from '@/core/plan';
import { core } from '../job/core';
import { useDerived } from '../job/derived';
import { channelColour, type Laid, type Picture } from './layout';

const niceStep = (total: number, width: number): number => {
  const rough = (total / Math.max(1, width)) * 90;
  return [0.5, 1, 2, 5, 10, 15, 30, 60, 120, 300, 600].find((s) => s >= rough) ?? 1200;
};

/** Spindle speeds of the channels over time, asked for at the width of the picture. */
const useSpeeds = (channels: readonly string[], step: number): ReadonlyMap<string, Float64Array> => {
  const view = useDerived((s) => s.view);
  const names = channels.join(' ');
  const [lines, setLines] = useState<ReadonlyMap<string, Float64Array>>(new Map());
  useEffect(() => {
    if (!view) return;
    let current = true;
    Promise.all(names.split(' ').map(async (c) => [c, await core().speeds(c, step)] as const))
      .then((found) => current && setLines(new Map(found)))
      .catch(() => undefined);
    return () => {
      current = false;
    };
  }, [view, names, step]);
  return lines;
};

/** [seconds, rev/min] pairs as a polyline in a band of `height` px. */
const speedPoints = (
  line: Float64Array,
  x: (t: number) => number,
  top: number,
  height: number,
  most: number,
): string => {
  let points = '';
  for (let i = 0; i < line.length; i += 2)
    points += `${x(line[i]).toFixed(1)},${(top + height - (line[i + 1] / most) * height).toFixed(1)} `;
  return points;
};

interface Ground {
  readonly job: Job;
  readonly picture: Picture;
  readonly size: { readonly width: number; readonly height: number };
}

/** Moments along the top, by time. */
export const Moments = ({ picture, size }: Omit<Ground, 'job'>) => {
  const { x, total } = picture;
  const tickStep = niceStep(total, size.width);
  return Array.from({ length: Math.floor(total / tickStep) + 1 }, (_, i) => i * tickStep).map((t) => (
    <g key={t}>
      <line x1={x(t)} x2={x(t)} y1={18} y2={size.height} stroke="var(--color-hair-pale)" />
      <text x={x(t)} y={13} fontSize={11} textAnchor="middle" fill="var(--color-soft)" className="num">
        {`${Math.floor(t / 60)}:${String(Math.floor(t % 60)).padStart(2, '0')}${tickStep < 1 ? `.${Math.round((t % 1) * 10)}` : ''}`}
      </text>
    </g>
  ));
};

/** Names of the lanes, and the speed of each one's spindle over time. */
export const LaneNames = ({ job, picture, size }: Ground) => {
  const { channels, spindles } = job.machine;
  const { x, laneTop, rowHeight, total, even } = picture;
  const lines = useSpeeds(
    channels.map((c) => c.id),
    Math.max(0.01, total / Math.max(200, size.width * 1.5)),
  );
  const most = Math.max(...spindles.map((s) => s.maxSpeed));
  return channels.map((c, ci) => {
    const top = laneTop(ci);
    const speeds = lines.get(c.id);
    return (
      <g key={c.id}>
        <text x={10} y={top + 16} fontSize={12} fontWeight={600} fill="var(--color-ink)">
          {c.name}
        </text>
        <text x={10} y={top + 32} fontSize={12} fill="var(--color-soft)">
          {carrierOf(job.machine, c.id)?.name}
        </text>
        <text x={10} y={top + rowHeight + 24} fontSize={12} fill="var(--color-soft)">
          spindle rev/min
        </text>
        {speeds && !even && (
          <polyline
            points={speedPoints(speeds, x, top + rowHeight + 6, 26, most)}
            fill="none"
            stroke="var(--color-walnut)"
            strokeWidth={1.4}
          />
        )}
      </g>
    );
  });
};

/** What begins of the next part while this one is still worked on. */
export const NextPart = ({ job, picture, size, cycle }: Ground & { cycle: Cycle | null }) => {
  const { x, laneTop, rowHeight } = picture;
  if (picture.even || !cycle) return null;
  return cycle.next.map((n) => {
    const lane = job.machine.channels.findIndex((c) => c.id === n.channel);
    const right = Math.min(x(n.end), size.width - 4);
    return (
      <g key={`${n.channel} ${n.operation}`} data-testid={`next-${n.operation}`}>
        <title>The next part: {job.operations[n.operation]?.name}</title>
        <rect
          x={x(n.start) + 2}
          y={laneTop(lane)}
          width={Math.max(2, right - x(n.start) - 3)}
          height={rowHeight}
          rx={3}
          fill="none"
          stroke={channelColour(lane)}
          strokeDasharray="4 3"
        />
        {right - x(n.start) > 46 && (
          <text x={x(n.start) + 8} y={laneTop(lane) + 16} fontSize={11} fill="var(--color-soft)">
            next part
          </text>
        )}
      </g>
    );
  });
};

/** Where the work is held anew by hand. */
export const Borders = ({ job, picture, size, blocks }: Ground & { blocks: readonly (readonly Laid[])[] }) =>
  job.holdingOrder.slice(1).map((id) => {
    if (!heldByHand(job.holdings[id])) return null;
    const starts = blocks.flat().filter((b) => job.operations[b.id]?.holding === id && b.end > b.start);
    if (starts.length === 0) return null;
    const at = picture.x(Math.min(...starts.map((b) => b.start))) - 1;
    return (
      <g key={id} pointerEvents="none" data-testid={`border-${id}`}>
        <line x1={at} x2={at} y1={18} y2={size.height} stroke="var(--color-heather)" strokeDasharray="6 3" />
        <text x={at + 5} y={size.height - 6} fontSize={12} fill="var(--color-heather)">
          {job.holdings[id].name}
        </text>
      </g>
    );
  });

/** The time cursor. */
export const Cursor = ({ at, height }: { at: number; height: number }) => (
  <g pointerEvents="none">
    <line x1={at} x2={at} y1={14} y2={height} stroke="var(--color-madder)" strokeWidth={1.5} />
    <path d={`M${at - 6} 12h12l-6 8z`} fill="var(--color-madder)" />
  </g>
);
