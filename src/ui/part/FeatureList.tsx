'use client';
import { Eye, EyeOff } from 'lucide-react';
import { useMemo } from 'react';
import { type ListedFeature, listFeatures, type Part, PLAIN_NOTE } from '@/core/part';
import { type Coverage, type Derived, type Job, threadedIn } from '@/core/plan';
import { useDerived } from '../job/derived';
import { useDocument } from '../job/document';
import { useSelection } from '../job/selection';
import { cx, IconButton, Section } from '../kit/controls';
import { useBuiltPart } from './built';
import { usePart } from './store';

const GROUPS = [
  ['main', 'From the front'],
  ['radial', 'From the side'],
  ['angled', 'At an angle'],
  ['back', 'From the back'],
] as const;

export type FeatureState = 'raw' | 'roughed' | 'leftover' | 'finished' | 'none';
export const FEATURE_GLYPH: Record<FeatureState, string> = {
  finished: '●',
  roughed: '◐',
  leftover: '◔',
  raw: '○',
  none: '–',
};
export const FEATURE_STATE: Record<FeatureState, string> = {
  finished: 'finished',
  roughed: 'roughed',
  leftover: 'leftover',
  raw: 'raw',
  none: 'no operation yet',
};

const isThread = (f: ListedFeature): boolean => f.kind === 'thread' || f.kind === 'inner-thread';

/** Elements that get a thread by an operation of the job. */
export const useThreaded = (): ReadonlySet<string> => {
  const job = useDocument((s) => s.job);
  const holdings = useDerived((s) => s.view?.holdings);
  // the same set while nothing of it changes
  const ids = useMemo(() => (holdings ?? []).flatMap((held) => threadedIn(job, held)).join(' '), [job, holdings]);
  return useMemo(() => new Set(ids.split(' ')), [ids]);
};

/** Threads that the part has room for, or wants, and that no operation cuts yet. */
export const useThreadsWanted = (): readonly ListedFeature[] => {
  const features = useFeatures();
  const cut = useThreaded();
  return features.filter((f) => isThread(f) && !f.note.ignored && !f.elements.some((e) => cut.has(e)));
};

/** The least finished of a feature's elements; milled ones and threads that nobody cuts have no operation yet. */
export const featureState = (
  f: ListedFeature,
  coverage: Coverage | undefined,
  threaded: ReadonlySet<string>,
): FeatureState => {
  if (f.elements.length === 0 || (isThread(f) && !f.elements.some((e) => threaded.has(e)))) return 'none';
  const rank: FeatureState[] = ['raw', 'roughed', 'leftover', 'finished'];
  const states = f.elements.map((e) => coverage?.find((c) => c.element === e)?.state ?? 'raw');
  return rank.find((r) => states.includes(r as never)) ?? 'raw';
};

/** Lists by the built part, which belongs to one document: the tray, the card and the drawings ask for the same one. */
const listed = new WeakMap<Part, readonly ListedFeature[]>();

/** Features of the job's part, kept while neither document nor contour changes. */
export const useFeatures = (): readonly ListedFeature[] => {
  const document = useDocument((s) => s.job.part);
  const part = useBuiltPart();
  return useMemo(() => {
    const known = listed.get(part) ?? listFeatures(document, part);
    listed.set(part, known);
    return known;
  }, [document, part]);
};

export const setFeatureNote = (id: string, label: string, change: Partial<ListedFeature['note']>): void => {
  useDocument.getState().edit(label, (j: Job) => {
    j.part.notes = { ...j.part.notes, [id]: { ...PLAIN_NOTE, ...j.part.notes?.[id], ...change } };
    return j;
  });
};

export const FeatureList = () => {
  const features = useFeatures();
  const coverage: Derived['coverage'] | undefined = useDerived((s) => s.view?.coverage);
  const threaded = useThreaded();
  const chosen = usePart((s) => s.feature);
  const set = usePart((s) => s.set);
  return (
    <div data-testid="features">
      {GROUPS.map(([access, title]) => {
        const group = features.filter((f) => f.access === access);
        if (group.length === 0) return null;
        return (
          <Section key={access} title={title}>
            <ul>
              {group.map((f) => {
                const state = featureState(f, coverage, threaded);
                return (
                  <li
                    key={f.id}
                    className={cx(
                      'group relative flex items-center rounded hover:bg-linen',
                      chosen === f.id && 'bg-woad-pale',
                      f.note.ignored && 'opacity-55',
                    )}
                    onPointerEnter={() => set({ hoveredFeature: f.id })}
                    onPointerLeave={() => set({ hoveredFeature: null })}
                  >
                    <button
                      type="button"
                      className="flex min-h-7 min-w-0 flex-1 items-center gap-2 px-1.5 text-left"
                      aria-pressed={chosen === f.id}
                      onFocus={() => set({ hoveredFeature: f.id })}
                      onBlur={() => set({ hoveredFeature: null })}
                      onClick={() => {
                        set({ feature: chosen === f.id ? null : f.id });
                        useSelection.getState().set({ element: f.elements[0]?.split('/')[0] ?? null });
                      }}
                    >
                      <span aria-hidden className="w-3.5 shrink-0 text-center" title={FEATURE_STATE[state]}>
                        {f.proposed ? '?' : FEATURE_GLYPH[state]}
                      </span>
                      <span className={cx('min-w-0 flex-1 truncate', f.note.ignored && 'line-through')}>{f.words}</span>
                      <span className="sr-only">{f.proposed ? 'fits, not assumed' : FEATURE_STATE[state]}</span>
                    </button>
                    <span
                      className={cx(
                        'absolute right-0 rounded bg-linen',
                        !f.note.ignored && 'opacity-0 focus-within:opacity-100 group-hover:opacity-100',
                      )}
                    >
                      <IconButton
                        className="!h-6 !w-6"
                        label={f.note.ignored ? `Take ${f.words} up again` : `Ignore ${f.words}`}
                        onClick={() =>
                          setFeatureNote(f.id, f.note.ignored ? 'take feature up' : 'ignore feature', {
                            ignored: !f.note.ignored,
                          })
                        }
                      >
                        {f.note.ignored ? <EyeOff size={13} /> : <Eye size={13} />}
                      </IconButton>
                    </span>
                  </li>
                );
              })}
            </ul>
          </Section>
        );
      })}
    </div>
  );
};
