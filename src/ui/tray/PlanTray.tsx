'use client';
import { useEffect, useRef, useState } from 'react';
import { CUTTING_KINDS, kindOf } from '@/core/operations';
import { describeElement, describeSpan, elementsBetween } from '@/core/part';
import type { Candidate } from '@/core/plan';
import { formatLength } from '@/core/units';
import { useDerived } from '../job/derived';
import { useDocument } from '../job/document';
import { addCandidate } from '../job/edits';
import { useHeld } from '../job/holding';
import { useSelection } from '../job/selection';
import { Button, cx, Section } from '../kit/controls';
import { longSeconds } from '../kit/state';
import { useUnit } from '../kit/units';
import { useThreadsWanted } from '../part/FeatureList';
import { useLibrary } from './Hold';
import { OrderPanel } from './OrderPanel';

const CandidateCard = ({ candidate, index }: { candidate: Candidate; index: number }) => {
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
        <b className="truncate">{kindOf(candidate).label}</b>
        <b className="num shrink-0">{candidate.station === null ? '–' : `T${candidate.station}`}</b>
      </span>
      <span className="block truncate text-soft">{candidate.toolName}</span>
      {candidate.put && (
        <span className="block text-soft" data-testid="goes-into">
          from the library, into {carrierName}, station {candidate.put.station}
        </span>
      )}
      {able ? (
        <>
          <span className="my-1 block h-1 rounded bg-weld">
            <span className="block h-1 rounded bg-verdigris" style={{ width: `${candidate.reach * 100}%` }} />
          </span>
          {candidate.doubtful && <span className="block text-weld">▲ {candidate.reason}</span>}
          <span className="num block text-soft">
            {candidate.makes ?? `takes ${(candidate.reach * 100).toFixed(0)} %`} · {longSeconds(candidate.seconds)}
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

/** An element with more metal than this on it is raw, mm. */
const RAW = 20;
/** Candidates that are shown before somebody asks for all. */
const AT_A_GLANCE = 20;

/** Candidates that are not shown: how many more can, and how many cannot. */
const restInWords = (more: number, cannot: number): string =>
  `and ${[...(more > 0 ? [`${more} more`] : []), ...(cannot > 0 ? [`${cannot} that cannot`] : [])].join(', then ')}`;

/** What can cut the picked span, and what is still to make. */
export const PlanTray = () => {
  const unit = useUnit();
  const job = useDocument((s) => s.job);
  const derived = useDerived((s) => s.view);
  const held = useHeld();
  const span = useSelection((s) => s.span);
  const found = useDerived((s) => s.candidates);
  const find = useDerived((s) => s.findCandidates);
  const candidates = span ? found : null;
  const library = useLibrary();
  const set = useSelection((s) => s.set);
  const threads = useThreadsWanted();
  const [searching, setSearching] = useState(false);
  const [all, setAll] = useState(false);
  const [over, setOver] = useState(false);
  const standing = useRef<string[]>([]);

  // biome-ignore lint/correctness/useExhaustiveDependencies: a changed job asks anew for the same span
  useEffect(() => {
    standing.current = [];
    setOver(false);
    set({ previewed: null });
    if (!span) return;
    let current = true;
    setSearching(true);
    find(library?.tools ?? [])
      .catch(() => undefined)
      .finally(() => current && setSearching(false));
    return () => {
      current = false;
    };
  }, [span, job, held?.id, find, library, set]);

  const list = held ? (span?.side === 'inner' ? held.part.inner : held.part.outer) : [];
  const chosen = (span && elementsBetween(list, span)) ?? [];
  const open = derived?.coverage.filter((c) => c.state !== 'finished') ?? [];
  const elements = held ? [...held.part.outer, ...held.part.inner] : [];
  const finished = new Set(derived?.coverage.filter((c) => c.state === 'finished').map((c) => c.element));
  const done = chosen.length > 0 && chosen.every((e) => finished.has(e.id));
  // a finished span may still get its thread
  const offered = (candidates ?? []).filter((c) => !done || c.makes !== null);
  const able = offered.filter((c) => c.reach > 0);
  // those that can come first; a glance takes in no more than so many, and on what is finished nothing that nobody asked for
  const glance = done ? offered.filter((c) => !c.doubtful) : offered;
  // the best of each kind is always among them
  const best = new Set(CUTTING_KINDS.map(({ kind }) => glance.find((c) => c.kind === kind && c.reach > 0)));
  const many = Math.min(AT_A_GLANCE, able.length + 2);
  const ranked = all ? offered : glance.filter((c, i) => i < many || best.has(c));
  // under the pointer nothing changes its place: what is found meanwhile comes behind
  const shown = over ? inOrder(ranked, standing.current) : ranked;
  useEffect(() => {
    standing.current = shown.map(nameOf);
  });
  const whole = (side: 'outer' | 'inner'): void => {
    const l = side === 'outer' ? held?.part.outer : held?.part.inner;
    if (l && l.length > 0) set({ span: { side, from: l[0].id, to: l[l.length - 1].id }, operation: null });
  };

  return (
    <>
      <Section title="What can cut this">
        {!span && (
          <p className="mb-2">
            Click a piece of the contour in the drawing; Shift-click another to take all between. Or take a whole side:
          </p>
        )}
        <div className="mb-2 flex gap-1.5">
          <Button className="flex-1 !px-1" onClick={() => whole('outer')}>
            whole outside
          </Button>
          <Button className="flex-1 !px-1" disabled={!held?.part.inner.length} onClick={() => whole('inner')}>
            whole bore
          </Button>
        </div>
        {span && (
          <p className="mb-1.5 text-soft" data-testid="span-words">
            {chosen.length === 0
              ? 'the picked piece is gone'
              : `${describeSpan(chosen)}${chosen.length > 1 ? `, ${chosen.length} elements` : ''}`}
          </p>
        )}
        {done && (
          <p className="mb-2 text-verdigris" data-testid="span-finished">
            ● Nothing is left to cut on this span.
            {open.length > 0 ? ' What is still to make stands below.' : ''}
          </p>
        )}
        {searching && !done && <p className="text-soft">Trying every tool, those of the library too …</p>}
        {(!done || able.length > 0) && (
          // a list that comes up under a pointer that rests is not looked at yet
          <div
            data-testid="candidates"
            onPointerMove={(e) => (e.movementX !== 0 || e.movementY !== 0) && setOver(true)}
            onPointerLeave={() => setOver(false)}
          >
            {candidates &&
              shown.map((c) => <CandidateCard key={nameOf(c)} candidate={c} index={candidates.indexOf(c)} />)}
            {candidates && able.length === 0 && !searching && (
              <p>No tool of the machine or the library takes metal here.</p>
            )}
            {candidates && offered.length > shown.length && (
              <button type="button" className="text-woad underline" onClick={() => setAll(true)}>
                {restInWords(able.length - shown.length, offered.length - Math.max(able.length, shown.length))}
              </button>
            )}
          </div>
        )}
      </Section>
      <Section
        title="Still to make"
        aside={open.some((c) => c.left <= RAW) ? <span className="text-soft">{unit} left</span> : null}
      >
        {open.length === 0 && derived ? <p className="text-verdigris">● Every element is finished.</p> : null}
        {threads.length > 0 && (
          <ul data-testid="threads-wanted">
            {threads.map((f) => (
              <li key={f.id}>
                <button
                  type="button"
                  className="flex h-7 w-full items-center gap-2 rounded px-1 text-left hover:bg-linen"
                  onClick={() =>
                    set({
                      span: {
                        side: f.kind === 'thread' ? 'outer' : 'inner',
                        from: f.elements[0],
                        to: f.elements[0],
                      },
                      operation: null,
                    })
                  }
                >
                  <span aria-hidden>–</span>
                  <span className="min-w-0 flex-1 truncate">{f.words}</span>
                  <span className="shrink-0 text-soft">no operation</span>
                </button>
              </li>
            ))}
          </ul>
        )}
        <ul>
          {open.map((c) => {
            const e = elements.find((k) => k.id === c.element);
            return (
              e && (
                <li key={c.element}>
                  <button
                    type="button"
                    className="flex h-7 w-full items-center gap-2 rounded px-1 text-left hover:bg-linen"
                    onClick={() =>
                      e.side !== 'back' && set({ span: { side: e.side, from: e.id, to: e.id }, operation: null })
                    }
                  >
                    <span aria-hidden>{c.state === 'raw' ? '○' : c.state === 'roughed' ? '◐' : '◔'}</span>
                    <span className="num min-w-0 flex-1 truncate">{describeElement(e)}</span>
                    <span className={cx('num shrink-0', c.state === 'leftover' ? 'text-weld' : 'text-soft')}>
                      {c.left > RAW ? 'raw' : formatLength(Math.round(c.left * 100) / 100, unit)}
                    </span>
                  </button>
                </li>
              )
            );
          })}
        </ul>
      </Section>
      <OrderPanel />
    </>
  );
};
