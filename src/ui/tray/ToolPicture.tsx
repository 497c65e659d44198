'use client';
import { useMemo } from 'react';
import { boundsOfPoints } from '@/core/geometry';
import { type Mount, type Tool, toolSection } from '@/core/tooling';
import { toolDrawing } from '../centreline/paths';

/** A tool to scale from its numbers. */
export const ToolPicture = ({ tool, wayUp, height }: { tool: Tool; wayUp: Mount['wayUp']; height: number }) => {
  const section = useMemo(() => toolSection(tool, wayUp), [tool, wayUp]);
  if (!section.ok)
    return (
      <p className="p-2 text-madder">
        ✕ The insert “{section.found}” cannot be read. Write it as ISO 1832 has it, such as CNMG120408.
      </p>
    );
  const s = section.section;
  const shapes = [...s.cutting, ...s.holder].flatMap((k) =>
    k.points.flatMap((p) => [
      { x: p.x - k.radius, y: p.y - k.radius },
      { x: p.x + k.radius, y: p.y + k.radius },
    ]),
  );
  const b = boundsOfPoints(shapes);
  const pad = 3;
  const d = toolDrawing(s);
  return (
    <svg
      width="100%"
      height={height}
      viewBox={`${b.minX - pad} ${-b.maxY - pad} ${b.maxX - b.minX + 2 * pad} ${b.maxY - b.minY + 2 * pad}`}
      role="img"
      aria-label={`${tool.name} in section`}
    >
      <g transform="scale(1 -1)" strokeWidth={0.3}>
        <path
          d={d.holder}
          fill="var(--color-shank)"
          stroke="var(--color-shank-edge)"
          vectorEffect="non-scaling-stroke"
        />
        <path d={d.cutting} fill="var(--color-insert)" stroke="var(--color-ink)" vectorEffect="non-scaling-stroke" />
        <circle cx={s.tip.x} cy={s.tip.y} r={0.7} fill="var(--color-madder)" />
      </g>
    </svg>
  );
};
