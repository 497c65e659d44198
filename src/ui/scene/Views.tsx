'use client';
import { Ruler } from 'lucide-react';
import dynamic from 'next/dynamic';
import type { ReactNode } from 'react';
import { cx } from '../kit/controls';
import { MeasureStrip } from '../measure/Measure';
import { useMeasure } from '../measure/store';
import { type PartView, usePart } from '../part/store';

// the 3D view and its library load when they are first asked for
const Scene = dynamic(() => import('./Scene').then((m) => m.Scene), {
  ssr: false,
  loading: () => <p className="p-4 text-soft">Getting the 3D view ready …</p>,
});

const VIEWS: readonly (readonly [PartView, string])[] = [
  ['section', 'Section'],
  ['both', 'Both'],
  ['solid', '3D'],
];

/** Section, 3D, or both side by side, with the measuring strip over them. */
export const Views = ({ section }: { section: ReactNode }) => {
  const view = usePart((s) => s.view);
  const set = usePart((s) => s.set);
  const measuring = useMeasure((s) => s.on);
  const toggle = useMeasure((s) => s.toggle);
  return (
    <div className="relative flex h-full">
      <div className={cx('min-w-0 flex-1', view === 'solid' && 'hidden')}>{section}</div>
      {view !== 'section' && (
        <div className={cx('min-w-0 flex-1', view === 'both' && 'border-l border-hair')}>
          <Scene />
        </div>
      )}
      <div
        className="absolute right-2 top-1.5 z-10 flex rounded border border-hair bg-paper"
        role="group"
        aria-label="View"
      >
        {VIEWS.map(([v, word]) => (
          <button
            key={v}
            type="button"
            aria-pressed={view === v}
            className={cx('h-7 px-2 hover:bg-white', view === v && 'bg-woad-pale')}
            onClick={() => set({ view: v })}
          >
            {word}
          </button>
        ))}
        <button
          type="button"
          aria-pressed={measuring}
          title="Measure (M)"
          className={cx(
            'flex h-7 items-center gap-1 border-l border-hair px-2 hover:bg-white',
            measuring && 'bg-woad-pale',
          )}
          onClick={toggle}
        >
          <Ruler size={13} aria-hidden /> Measure
        </button>
      </div>
      <MeasureStrip />
    </div>
  );
};
