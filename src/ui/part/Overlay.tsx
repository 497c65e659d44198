'use client';
import { useMemo } from 'react';
import { buildPart } from '@/core/part';
import { chainPath } from '../centreline/paths';
import { useJob } from '../job/store';
import { usePart } from './store';

/** Over the part: the contour of a file being looked at, places that are wrong in it, and the revision before. */
export const Overlay = ({ hair }: { hair: number }) => {
  const brought = usePart((s) => s.bringing?.brought) ?? null;
  const showPrevious = usePart((s) => s.showPrevious);
  const previous = useJob((s) => s.job.part.previous) ?? null;
  const unit = useJob((s) => s.job.units);
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
            d={`${chainPath(old.boundary)}Z`}
            fill="none"
            stroke="#7b5a8e"
            strokeWidth={1.6 * hair}
            strokeDasharray={`${6 * hair} ${3 * hair}`}
          />
        </g>
      )}
      {half && (
        <g data-testid="brought">
          {[half.outer, half.inner, half.back].map((chain, i) => (
            <g key={['outer', 'inner', 'back'][i]}>
              <path d={chainPath(chain)} fill="none" stroke="#fbfaf6" strokeWidth={5 * hair} />
              <path d={chainPath(chain)} fill="none" stroke="#2e4a7d" strokeWidth={2.2 * hair} />
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
              stroke={p.severity === 'blocking' ? '#a83a2a' : '#b8860b'}
              strokeWidth={2 * hair}
            />
          ),
      )}
    </g>
  );
};
