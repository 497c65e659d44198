'use client';
import { useMemo } from 'react';
import { pathOfCurves } from '@/core/geometry';
import { buildPart } from '@/core/part';
import { useDocument } from '../job/document';
import { usePart } from './store';

/** Over the part: the contour of a file being looked at, places that are wrong in it, and the revision before. */
export const Overlay = ({ hair }: { hair: number }) => {
  const brought = usePart((s) => s.bringing?.brought) ?? null;
  const showPrevious = usePart((s) => s.showPrevious);
  const previous = useDocument((s) => s.job.part.previous) ?? null;
  const unit = useDocument((s) => s.job.units);
  const old = useMemo(
    () => (previous && showPrevious ? buildPart({ ...previous }, unit) : null),
    [previous, showPrevious, unit],
  );
  const half = brought?.half ?? null;
  return (
    <g pointerEvents="none">
      {old && old.boundary.length > 0 && (
        <g data-testid="previous">
          <path
            d={`${pathOfCurves(old.boundary)}Z`}
            fill="none"
            stroke="var(--color-heather)"
            strokeWidth={1.6 * hair}
            strokeDasharray={`${6 * hair} ${3 * hair}`}
          />
        </g>
      )}
      {half && (
        <g data-testid="brought">
          {[half.outer, half.inner, half.back].map((chain, i) => (
            <g key={['outer', 'inner', 'back'][i]}>
              <path d={pathOfCurves(chain)} fill="none" stroke="var(--color-paper)" strokeWidth={5 * hair} />
              <path d={pathOfCurves(chain)} fill="none" stroke="var(--color-woad)" strokeWidth={2.2 * hair} />
            </g>
          ))}
        </g>
      )}
      {brought?.problems.map(
        (p) =>
          p.at && (
            <circle
              key={`${p.code}${p.at[0]}${p.at[1]}`}
              cx={p.at[0]}
              cy={p.at[1]}
              r={9 * hair}
              fill="none"
              stroke={p.severity === 'blocking' ? 'var(--color-madder)' : 'var(--color-weld-mark)'}
              strokeWidth={2 * hair}
            />
          ),
      )}
    </g>
  );
};
