'use client';
import { Redo2, Undo2, Users } from 'lucide-react';
import Link from 'next/link';
import { useEffect, useState } from 'react';
import type { DerivedView, Job } from '@/core/plan';
import { useMay, usePerson } from '../house/person';
import { Mark } from '../jobs/Mark';
import { cx, Hint, IconButton } from '../kit/controls';
import { useDerived } from './derived';
import { useDocument } from './document';
import { thisTab } from './kept';
import type { Saving } from './saving';
import { useSaving } from './saving';
import { PHASES, type Phase, useSelection } from './selection';
import { usePresent } from './watch';

interface Knot {
  readonly state: 'open' | 'ready' | 'attention' | 'blocked';
  readonly count: number;
}

const HOLD = new Set(['stock-too-small', 'stick-out-short', 'cutoff-meets-jaws', 'part-missing']);
const TOOL = new Set(['tool-unreadable', 'duplicate-station', 'tool-not-in-station']);

/** What each phase's knot shows. */
export const knotsOf = (job: Job, derived: DerivedView | null, proved: boolean): Record<Phase, Knot> => {
  const open: Knot = { state: 'open', count: 0 };
  if (!derived) return { part: open, hold: open, tool: open, plan: open, prove: open, release: open };
  const judge = (findings: DerivedView['findings'], ready: boolean): Knot => {
    const blocking = findings.filter((f) => f.severity === 'blocking').length;
    const attention = findings.filter((f) => f.severity === 'attention').length;
    if (blocking > 0) return { state: 'blocked', count: blocking };
    if (attention > 0) return { state: 'attention', count: attention };
    return ready ? { state: 'ready', count: 0 } : open;
  };
  const planned = Object.keys(job.operations).length > 0;
  const rest = derived.findings.filter((f) => !HOLD.has(f.code) && !TOOL.has(f.code));
  const unfinished = derived.coverage.filter((c) => c.state !== 'finished').length;
  return {
    part:
      derived.part.problems.length > 0
        ? { state: 'blocked', count: derived.part.problems.length }
        : { state: 'ready', count: 0 },
    hold: judge(
      derived.findings.filter((f) => HOLD.has(f.code)),
      true,
    ),
    tool: judge(
      derived.findings.filter((f) => TOOL.has(f.code)),
      Object.keys(job.tools).length > 0,
    ),
    plan: !planned ? open : unfinished > 0 ? { state: 'attention', count: unfinished } : judge(rest, true),
    prove: planned ? judge(rest, true) : open,
    release:
      proved && planned && !derived.findings.some((f) => f.severity === 'blocking')
        ? { state: 'ready', count: 0 }
        : open,
  };
};

const LOOK = {
  open: { glyph: '○', tone: 'text-soft', word: 'open' },
  ready: { glyph: '●', tone: 'text-verdigris', word: 'ready' },
  attention: { glyph: '▲', tone: 'text-weld', word: 'needs attention' },
  blocked: { glyph: '✕', tone: 'text-madder', word: 'blocked' },
} as const;

const savingWords = (s: Saving, now: number): { text: string; tone: string } => {
  switch (s.kind) {
    case 'saved':
      return {
        text:
          s.at === 0 || now - s.at < 4000
            ? 'saved'
            : now - s.at < 60_000
              ? `saved ${Math.round((now - s.at) / 1000)} s ago`
              : `saved ${Math.round((now - s.at) / 60_000)} min ago`,
        tone: 'text-soft',
      };
    case 'saving':
      return { text: 'saving …', tone: 'text-soft' };
    case 'waiting':
      return { text: `not saved: ${s.reason}`, tone: 'text-weld' };
    case 'signed-out':
      return { text: 'not saved: signed out', tone: 'text-weld' };
    case 'refused':
      return { text: `not saved: ${s.reason}`, tone: 'text-madder' };
    default:
      return s satisfies never;
  }
};

const UNLINKED = { text: 'saved; no connection now', tone: 'text-weld' };

export const TopStrip = ({ onSearch, onHelp }: { onSearch: () => void; onHelp: () => void }) => {
  const job = useDocument((s) => s.job);
  const derived = useDerived((s) => s.view);
  const phase = useSelection((s) => s.phase);
  const saving = useSaving((s) => s.saving);
  const progress = useDerived((s) => s.progress);
  const failure = useDerived((s) => s.failure);
  const past = useDocument((s) => s.past);
  const future = useDocument((s) => s.future);
  const linked = useSaving((s) => s.linked);
  const person = usePerson();
  const mayProgram = useMay('program');
  const id = useDocument((s) => s.id);
  const proved = useDerived((s) => s.releasedFor === job && Boolean(s.released?.proof.ok));
  const [now, setNow] = useState(Date.now());
  useEffect(() => {
    const t = setInterval(() => setNow(Date.now()), 3000);
    return () => clearInterval(t);
  }, []);
  const { stock } = job.holdings[job.holdingOrder[0]];
  const knots = knotsOf(job, derived, proved);
  const words = linked || saving.kind !== 'saved' ? savingWords(saving, now) : UNLINKED;
  return (
    <header className="flex h-11 shrink-0 items-center gap-2.5 border-b border-hair bg-paper px-3">
      <Link href="/" aria-label="All jobs" className="shrink-0">
        <Mark size={24} />
      </Link>
      <div className="w-[300px] min-w-0 leading-tight">
        <h1 className="truncate text-[14px]">
          <b>{job.header.number}</b> {job.header.name}
        </h1>
        <div className="flex gap-1.5 text-[12px]">
          <span className="truncate text-soft">
            {job.machine.name} · {job.material.name}
            {stock.form === 'bar' ? ` ⌀${stock.diameter}` : ''}
          </span>
          <span
            className={cx(
              'shrink-0',
              words.tone,
              (!linked || (saving.kind !== 'saved' && saving.kind !== 'saving')) && 'max-w-40 truncate',
            )}
            data-testid="saving"
            role="status"
            title={words.text}
          >
            {words.text}
          </span>
          {saving.kind === 'refused' && (
            <button
              type="button"
              className="shrink-0 text-woad underline"
              onClick={() => void useSaving.getState().leaveAsNew()}
            >
              Save as a new job
            </button>
          )}
        </div>
      </div>
      <nav aria-label="Phases" className="flex flex-1 items-center justify-center">
        {PHASES.map((p, i) => {
          const k = knots[p];
          const look = LOOK[k.state];
          return (
            <span key={p} className="flex items-center">
              {i > 0 && <span className="h-px w-3.5 bg-soft" aria-hidden />}
              <button
                type="button"
                data-testid={`phase-${p}`}
                data-state={k.state}
                aria-current={phase === p ? 'step' : undefined}
                title={`${look.word}${k.count > 0 ? `: ${k.count}` : ''} (key ${i + 1})`}
                onClick={() => useSelection.getState().set({ phase: p })}
                className={cx(
                  'flex h-8 items-center gap-1.5 rounded px-2 hover:bg-linen',
                  phase === p && 'font-semibold text-woad underline decoration-2 underline-offset-4',
                )}
              >
                <span aria-hidden className={cx('text-[11px]', look.tone)}>
                  {look.glyph}
                </span>
                {p[0].toUpperCase() + p.slice(1)}
                {k.count > 0 && <span className={cx('num', look.tone)}>{k.count}</span>}
                <span className="sr-only">{look.word}</span>
              </button>
            </span>
          );
        })}
      </nav>
      {progress && progress.all > 0 && (
        <span className="flex items-center gap-1 text-soft" data-testid="progress">
          <span className="num">
            {progress.done}/{progress.all}
          </span>
          <button type="button" className="underline" onClick={() => useDerived.getState().cancel()}>
            stop
          </button>
        </span>
      )}
      {failure && <span className="max-w-52 truncate text-madder">{failure}</span>}
      <IconButton
        label={past.length > 0 ? `Undo: ${past[past.length - 1].label} (Ctrl Z)` : 'Nothing to undo'}
        disabled={past.length === 0}
        onClick={() => useDocument.getState().undo()}
      >
        <Undo2 size={15} />
      </IconButton>
      <IconButton
        label={future.length > 0 ? `Redo: ${future[0].label} (Ctrl Shift Z)` : 'Nothing to redo'}
        disabled={future.length === 0}
        onClick={() => useDocument.getState().redo()}
      >
        <Redo2 size={15} />
      </IconButton>
      <button
        type="button"
        onClick={onSearch}
        className="flex h-7 shrink-0 items-center gap-1.5 whitespace-nowrap rounded border border-hair bg-white px-2 text-soft"
      >
        <kbd className="num">Ctrl K</kbd> find
      </button>
      <button
        type="button"
        aria-label="All keys"
        onClick={onHelp}
        className="num h-7 w-7 shrink-0 rounded border border-hair bg-white"
      >
        ?
      </button>
      <Others />
      <Link
        href={`/jobs/${id}/history`}
        title="Revisions of this job: who changed what, and back to any of them"
        className="shrink-0 rounded px-1 hover:bg-linen"
      >
        history
      </Link>
      <Link
        href="/me"
        className="max-w-36 shrink-0 truncate text-soft hover:underline"
        title={mayProgram ? person.name : `${person.name} may look at jobs, not change them`}
      >
        {mayProgram ? person.name : `${person.name} · reads only`}
      </Link>
    </header>
  );
};

/** Who else has this job open now. */
const Others = () => {
  const people = usePresent((s) => s.people);
  const person = usePerson();
  const others = people.filter((p) => p.tab !== thisTab());
  if (others.length === 0) return null;
  const names = [...new Set(others.map((p) => (p.name === person.name ? 'you, elsewhere' : p.name)))];
  return (
    <Hint text={`Open now: ${names.join(', ')}. What they change is seen here within a second or two.`}>
      <span
        className="flex max-w-28 shrink-0 items-center gap-1 truncate text-heather"
        data-testid="others"
        tabIndex={-1}
      >
        <Users size={13} aria-hidden />{' '}
        <span className="truncate">{names.map((n) => (n.startsWith('you') ? n : n.split(' ')[0])).join(', ')}</span>
      </span>
    </Hint>
  );
};
