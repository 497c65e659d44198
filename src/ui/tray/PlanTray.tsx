'use client';
import { useEffect, useState } from 'react';
import { isSevering } from '@/core/operations';
import { describeElement, describeSpan, elementsBetween } from '@/core/part';
import { madeByCutoff } from '@/core/plan';
import { formatLength } from '@/core/units';
import { useDerived } from '../job/derived';
import { useDocument } from '../job/document';
import { useHeld } from '../job/holding';
import { useSelection } from '../job/selection';
import { Button, cx, Section } from '../kit/controls';
import { useUnit } from '../kit/units';
import { useThreadsWanted } from '../part/FeatureList';
import { Candidates } from './Candidates';
import { useLibrary } from './Hold';
import { OrderPanel } from './OrderPanel';

/** So long nothing is asked before the worker tries its hand, ms. */
const IDLE = 600;

/** An element with more metal than this on it is raw, mm. */
const RAW = 20;

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
  /** How often was asked: what was unfolded or held still belongs to one answer. */
  const [asked, setAsked] = useState(0);

  // biome-ignore lint/correctness/useExhaustiveDependencies: a changed job asks anew for the same span
  useEffect(() => {
    setAsked((n) => n + 1);
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

  const practise = useDerived((s) => s.practise);
  const idle = derived !== null && library !== null && !span;
  useEffect(() => {
    if (!idle || !library) return;
    const timer = setTimeout(() => practise(library.tools), IDLE);
    return () => clearTimeout(timer);
  }, [idle, library, practise]);

  const list = held ? (span?.side === 'inner' ? held.part.inner : held.part.outer) : [];
  const chosen = (span && elementsBetween(list, span)) ?? [];
  const open = derived?.coverage.filter((c) => c.state !== 'finished') ?? [];
  const elements = held ? [...held.part.outer, ...held.part.inner] : [];
  const finished = new Set(derived?.coverage.filter((c) => c.state === 'finished').map((c) => c.element));
  const done = chosen.length > 0 && chosen.every((e) => finished.has(e.id));
  // a finished span may still get its thread; where the part shows one, one that has a remark too
  const wantsThread = span?.from === span?.to && threads.some((f) => f.elements[0] === span?.from);
  const offered = (candidates ?? []).filter((c) => !done || c.makes !== null);
  const severed = Object.values(job.operations).some((op) => op.on && op.holding === held?.id && isSevering(op));
  const toSever = held && !severed && job.holdings[held.id]?.stock.form === 'bar' ? madeByCutoff(held.part) : null;
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
            ● Nothing is left to cut on this span{wantsThread ? ' but its thread' : ''}.
            {!wantsThread && open.length > 0 ? ' What is still to make stands below.' : ''}
          </p>
        )}
        {span && searching && (!done || wantsThread) && (
          <p className="text-soft">Trying every tool, those of the library too …</p>
        )}
        {span && candidates && (
          <Candidates
            key={asked}
            found={offered}
            all={candidates}
            finished={done && !wantsThread}
            searching={searching}
          />
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
                  className="flex min-h-7 w-full items-center gap-2 rounded px-1 text-left hover:bg-linen"
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
                  <span className="min-w-0 flex-1">
                    <span className="block truncate">{f.words}</span>
                    <span className="block text-soft">no operation</span>
                  </span>
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
                    className="flex min-h-7 w-full items-center gap-2 rounded px-1 text-left hover:bg-linen"
                    onClick={() =>
                      e.side !== 'back' && set({ span: { side: e.side, from: e.id, to: e.id }, operation: null })
                    }
                  >
                    <span aria-hidden>{c.state === 'raw' ? '○' : c.state === 'roughed' ? '◐' : '◔'}</span>
                    <span className="min-w-0 flex-1">
                      <span className="num block truncate">{describeElement(e)}</span>
                      {toSever?.has(c.element) && <span className="block text-soft">made by the cutoff</span>}
                    </span>
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
