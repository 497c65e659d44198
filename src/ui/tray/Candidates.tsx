'use client';
import { ChevronDown, ChevronRight } from 'lucide-react';
import { useEffect, useRef, useState } from 'react';
import { type CuttingKind, kindOf } from '@/core/operations';
import type { Candidate } from '@/core/plan';
import { useDocument } from '../job/document';
import { addCandidate } from '../job/edits';
import { useSelection } from '../job/selection';
import { cx } from '../kit/controls';
import { longSeconds, percent } from '../kit/state';

/** One candidate; under another of its kind it is headed by its tool. */
const CandidateCard = ({
  candidate,
  index,
  other = false,
}: {
  candidate: Candidate;
  index: number;
  other?: boolean;
}) => {
  const set = useSelection((s) => s.set);
  const able = candidate.reach > 0;
  const { cure } = candidate;
  const carrierName = useDocument((s) => s.job.machine.carriers.find((c) => c.id === candidate.put?.carrier)?.name);
  return (
    <button
      type="button"
      data-testid={`candidate-${candidate.kind}-${candidate.tool}`}
      disabled={!able && cure === null}
      onPointerEnter={() => set({ previewed: index })}
      onPointerLeave={() => set({ previewed: null })}
      onFocus={() => set({ previewed: index })}
      onClick={() => addCandidate(candidate)}
      className={cx(
        'mb-1.5 block w-full rounded border bg-white px-2 py-1.5 text-left',
        able || cure !== null ? 'border-hair hover:border-woad' : 'border-hair text-soft',
      )}
    >
      <span className="flex justify-between gap-2">
        <b className={other ? 'font-normal' : 'truncate'}>{other ? candidate.toolName : kindOf(candidate).label}</b>
        <b className="num shrink-0">{candidate.station === null ? '–' : `T${candidate.station}`}</b>
      </span>
      {!other && <span className="block truncate text-soft">{candidate.toolName}</span>}
      {candidate.put && (
        <span className="block text-soft" data-testid="goes-into">
          from the library, into {carrierName}, station {candidate.put.station}
          {candidate.put.replaces && `, in place of “${candidate.put.replaces}”, which nothing uses`}
          {candidate.put.toolChange && `; tool change moves to Z${candidate.put.toolChange.z} for it`}
        </span>
      )}
      {able ? (
        <>
          <span className="my-1 block h-1 rounded bg-weld">
            <span className="block h-1 rounded bg-verdigris" style={{ width: `${candidate.reach * 100}%` }} />
          </span>
          {candidate.doubtful && <span className="block text-weld">▲ {candidate.reason}</span>}
          <span className="num block text-soft">
            {candidate.makes ?? `takes ${percent(candidate.reach)}`} · {longSeconds(candidate.seconds)}
            {candidate.leaves > 0.5 && candidate.makes === null ? ` · leaves ${candidate.leaves.toFixed(0)} mm³` : ''}
          </span>
        </>
      ) : (
        <>
          <span className="block text-madder">✕ {candidate.reason ?? 'nothing to cut here'}</span>
          {cure !== null && <span className="block text-soft">Its card offers: {cure}</span>}
        </>
      )}
    </button>
  );
};

const nameOf = (c: Candidate): string => `${c.kind} ${c.tool}`;

/** Those that stood there before in their old order, the others behind them. */
const inOrder = (found: readonly Candidate[], before: readonly string[]): Candidate[] => {
  const place = (c: Candidate): number => {
    const i = before.indexOf(nameOf(c));
    return i < 0 ? before.length : i;
  };
  return [...found].sort((a, b) => place(a) - place(b));
};

/** The candidates of one kind, the best one first. */
interface OfKind {
  readonly kind: CuttingKind;
  readonly list: readonly Candidate[];
}

/** By kind, kinds and tools in the order of what was found. */
const byKind = (found: readonly Candidate[]): OfKind[] => {
  const groups = new Map<CuttingKind, Candidate[]>();
  for (const c of found) groups.set(c.kind, [...(groups.get(c.kind) ?? []), c]);
  return [...groups].map(([kind, list]) => ({ kind, list }));
};

/** Other tools of a kind: how many more can, and how many cannot. */
const othersInWords = (others: readonly Candidate[]): string => {
  const can = others.filter((c) => c.reach > 0).length;
  const cannot = others.length - can;
  const tools = can + cannot === 1 ? 'other tool' : 'other tools';
  return can === 0 ? `${cannot} ${tools}, none can` : `${can} ${tools}${cannot > 0 ? `, ${cannot} more cannot` : ''}`;
};

/**
 * What can cut the picked span: of each kind of operation the best tool, its other tools folded below it. Under a pointer that
 * moves nothing changes its place.
 *
 * @param props.found what is offered, ranked
 * @param props.all everything that was found, for which the drawing is asked by index
 * @param props.finished nothing is left on the span: only what is sound is offered then
 */
export const Candidates = ({
  found,
  all,
  finished,
  searching,
}: {
  found: readonly Candidate[];
  all: readonly Candidate[];
  finished: boolean;
  searching: boolean;
}) => {
  const [open, setOpen] = useState<readonly CuttingKind[]>([]);
  const [more, setMore] = useState(false);
  const [over, setOver] = useState(false);
  const standing = useRef<string[]>([]);
  const ranked = over ? inOrder(found, standing.current) : found;
  useEffect(() => {
    standing.current = ranked.map(nameOf);
  });
  const groups = byKind(ranked);
  const able = ({ list }: OfKind): boolean => list.some((c) => c.reach > 0 && !(finished && c.doubtful));
  // of what cannot, that comes first for which there is a remedy; without anything else it is all there is to say
  const curable = ({ list }: OfKind): boolean => !finished && list.some((c) => c.cure !== null);
  const none = !searching && !groups.some(able);
  const shown = more || none ? groups : groups.filter((g) => able(g) || curable(g));
  const rest = groups.length - shown.length;
  if (finished && !groups.some(able)) return null;
  return (
    // a list that comes up under a pointer that rests is not looked at yet
    <div
      data-testid="candidates"
      onPointerMove={(e) => (e.movementX !== 0 || e.movementY !== 0) && setOver(true)}
      onPointerLeave={() => setOver(false)}
    >
      {shown.map(({ kind, list: [best, ...others] }) => (
        <div key={kind} className="mb-2">
          <CandidateCard key={nameOf(best)} candidate={best} index={all.indexOf(best)} />
          {others.length > 0 && (
            <button
              type="button"
              data-testid={`others-${kind}`}
              aria-expanded={open.includes(kind)}
              className="mb-1 flex w-full items-center gap-1 rounded px-1 text-left text-woad hover:bg-linen"
              onClick={() => setOpen(open.includes(kind) ? open.filter((k) => k !== kind) : [...open, kind])}
            >
              {open.includes(kind) ? <ChevronDown size={13} aria-hidden /> : <ChevronRight size={13} aria-hidden />}
              {othersInWords(others)}
            </button>
          )}
          {open.includes(kind) && (
            <div className="ml-2 border-hair border-l pl-2">
              {others.map((c) => (
                <CandidateCard key={nameOf(c)} candidate={c} index={all.indexOf(c)} other />
              ))}
            </div>
          )}
        </div>
      ))}
      {none && <p className="mb-2">No tool of the machine or the library takes metal here.</p>}
      {rest > 0 && (
        <button type="button" className="text-woad underline" onClick={() => setMore(true)}>
          and {rest} {rest === 1 ? 'kind' : 'kinds'} of operation that cannot
        </button>
      )}
    </div>
  );
};
