'use client';
import { threadsIn } from '@/core/plan';
import { useDocument } from '../job/document';
import { useHeld } from '../job/holding';
import { useSelection } from '../job/selection';

/** Threads as drawings show them: a thin line at the root in both halves, closed at its end, with the designation. */
export const Threads = ({ hair }: { hair: number }) => {
  const job = useDocument((s) => s.job);
  const held = useHeld();
  const selected = useSelection((s) => s.operation);
  if (!held) return null;
  return threadsIn(job, held).map((t) => {
    const [a, b] = t.root;
    const end = t.crest[1];
    const chosen = selected === t.operation;
    return [1, -1].map((half) => (
      <g key={`${t.operation}${half}`} transform={`scale(1 ${half})`} pointerEvents="none">
        <path
          d={`M${a.x} ${a.y}L${b.x} ${b.y}L${end.x} ${end.y}`}
          fill="none"
          stroke={chosen ? 'var(--color-woad)' : 'var(--color-ink)'}
          strokeWidth={(chosen ? 1.6 : 1) * hair}
          data-testid={half > 0 ? `thread-${t.operation}` : undefined}
        />
      </g>
    ));
  });
};
