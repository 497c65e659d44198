'use client';
import { memo, useMemo } from 'react';
import type { Finding } from '@/core/findings';
import type { Curve, Region } from '@/core/geometry';
import { pathOfCurves, pathOfRegion } from '@/core/geometry';
import type { Element } from '@/core/part';
import type { Coverage } from '@/core/plan';
import { usePath } from '../job/playback';
import { mirror } from './moving';
import { pathDrawing } from './paths';

/** What stays while the time cursor moves. */

export const COVER: Record<string, { colour: string; word: string }> = {
  finished: { colour: 'var(--color-verdigris)', word: 'finished' },
  roughed: { colour: 'var(--color-woad-mid)', word: 'roughed' },
  leftover: { colour: 'var(--color-weld)', word: 'leftover' },
  raw: { colour: 'var(--color-white)', word: 'raw' },
};

/** Chuck and jaws on both sides of the axis. */
export const Fixtures = memo(({ chuck, jaws, hair }: { chuck: Region; jaws: Region; hair: number }) => (
  <g pointerEvents="none" strokeWidth={hair}>
    <path d={pathOfRegion(chuck)} fill="var(--color-iron)" stroke="var(--color-iron-edge)" />
    <path d={pathOfRegion(mirror(chuck))} fill="var(--color-iron)" stroke="var(--color-iron-edge)" />
    <path d={pathOfRegion(jaws)} fill="url(#hatch-steel)" stroke="var(--color-steel-edge)" />
    <path d={pathOfRegion(mirror(jaws))} fill="url(#hatch-steel)" stroke="var(--color-steel-edge)" />
  </g>
));
Fixtures.displayName = 'Fixtures';

/** The part's section, and its outline below. */
export const PartOutline = memo(
  ({ boundary, opacity, hair }: { boundary: readonly Curve[]; opacity: number; hair: number }) => {
    const d = useMemo(() => `${pathOfCurves(boundary)}Z`, [boundary]);
    return (
      <g pointerEvents="none">
        <path
          d={d}
          fill="var(--color-paper)"
          fillOpacity={opacity}
          stroke="var(--color-ink)"
          strokeWidth={1.6 * hair}
        />
        <g transform="scale(1 -1)">
          <path d={d} fill="none" stroke="var(--color-ink)" strokeOpacity={0.75} strokeWidth={hair} />
        </g>
      </g>
    );
  },
);
PartOutline.displayName = 'PartOutline';

/** Where the other parts of a stick-out come to lie. */
export const OtherParts = memo(
  ({ boundary, pitch, count, hair }: { boundary: readonly Curve[]; pitch: number; count: number; hair: number }) => {
    const d = useMemo(() => `${pathOfCurves(boundary)}Z`, [boundary]);
    return (
      <g pointerEvents="none" fill="none" stroke="var(--color-heather)" strokeWidth={hair} data-testid="other-parts">
        {Array.from({ length: Math.min(count - 1, MOST_DRAWN) }, (_, i) => (
          <g key={i} transform={`translate(${-(i + 1) * pitch} 0)`} strokeDasharray={`${4 * hair} ${3 * hair}`}>
            <path d={d} />
            <path d={d} transform="scale(1 -1)" />
          </g>
        ))}
      </g>
    );
  },
);
OtherParts.displayName = 'OtherParts';
const MOST_DRAWN = 60;

/** Element by element what is still to do, along the lower outline. */
export const CoverageStrip = memo(
  ({ elements, coverage, hair }: { elements: readonly Element[]; coverage: Coverage; hair: number }) => {
    const states = new Map(coverage.map((c) => [c.element, c.state]));
    return (
      <g transform="scale(1 -1)" pointerEvents="none" data-testid="coverage" fill="none">
        {elements.map((e) => {
          const d = pathOfCurves([e.curve]);
          return (
            <g key={e.id}>
              <path d={d} stroke="var(--color-soft)" strokeWidth={5.5 * hair} />
              <path d={d} stroke={COVER[states.get(e.id) ?? 'raw'].colour} strokeWidth={3.8 * hair} />
            </g>
          );
        })}
      </g>
    );
  },
);
CoverageStrip.displayName = 'CoverageStrip';

/** Path of the programmed tip of an operation. */
export const ToolPath = memo(({ operation, hair }: { operation: string | null; hair: number }) => {
  const events = usePath(operation);
  const path = useMemo(() => pathDrawing(events ?? []), [events]);
  return (
    <g pointerEvents="none" fill="none">
      {path.rapids && (
        <path
          d={path.rapids}
          stroke="var(--color-soft)"
          strokeWidth={hair}
          strokeDasharray={`${3 * hair} ${3 * hair}`}
        />
      )}
      {path.leads && <path d={path.leads} stroke="var(--color-woad)" strokeWidth={hair} />}
      {path.cuts && <path data-testid="toolpath" d={path.cuts} stroke="var(--color-woad)" strokeWidth={1.9 * hair} />}
      {path.engage.map((p) => (
        <circle
          key={`${p.x},${p.y}`}
          cx={p.x}
          cy={p.y}
          r={3 * hair}
          fill="var(--color-linen)"
          stroke="var(--color-woad)"
          strokeWidth={hair}
        />
      ))}
    </g>
  );
});
ToolPath.displayName = 'ToolPath';

/** Rings at the places of findings. */
export const FindingMarks = ({ findings, hair }: { findings: readonly Finding[]; hair: number }) =>
  findings.map((f) => (
    <circle
      key={`${f.operation}-${f.code}`}
      pointerEvents="none"
      cx={f.at?.x}
      cy={f.at?.y}
      r={9 * hair}
      fill="none"
      stroke={f.severity === 'blocking' ? 'var(--color-madder)' : 'var(--color-weld-mark)'}
      strokeWidth={2 * hair}
    />
  ));
