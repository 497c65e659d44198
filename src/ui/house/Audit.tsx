'use client';
import Link from 'next/link';
import { useCallback, useEffect, useState } from 'react';
import type { AuditRow } from '@/db/audit';
import type { PersonRow } from '@/db/people';
import { ACTIONS } from '@/house/actions';
import { Button, Choice } from '../kit/controls';
import { moment } from '../kit/moments';
import { ask } from './ask';
import { HouseBar } from './HouseBar';

interface Filter {
  readonly person: string;
  readonly action: string;
  readonly words: string;
  readonly from: string;
  readonly to: string;
}
const ALL: Filter = { person: 'all', action: 'all', words: '', from: '', to: '' };

const detailWords = (detail: Record<string, unknown>): string =>
  Object.entries(detail)
    .map(([k, v]) =>
      Array.isArray(v) && v.length === 2 && k !== 'rights'
        ? `${k}: ${String(v[0])} → ${String(v[1])}`
        : Array.isArray(v)
          ? `${k}: ${v.map((x) => (Array.isArray(x) ? x.join(', ') : String(x))).join(v.some(Array.isArray) ? ' → ' : ', ')}`
          : `${k}: ${String(v)}`,
    )
    .join('; ');

/** Who did what, and when: the newest first, by person, kind, words and days; edits of jobs as long as their revisions are kept. */
export const Audit = ({ people }: { people: readonly PersonRow[] }) => {
  const [filter, setFilter] = useState(ALL);
  const [rows, setRows] = useState<readonly AuditRow[]>([]);
  const [next, setNext] = useState<string | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const [busy, setBusy] = useState(true);
  const load = useCallback(async (f: Filter, before: string | null): Promise<void> => {
    setBusy(true);
    const q = new URLSearchParams();
    if (f.person !== 'all') q.set('person', f.person);
    if (f.action !== 'all') q.set('action', f.action);
    if (f.words.trim()) q.set('words', f.words.trim());
    if (f.from) q.set('from', f.from);
    if (f.to) q.set('to', f.to);
    if (before) q.set('before', before);
    const got = await ask<{ rows: AuditRow[]; next: string | null }>('GET', `/api/audit?${q}`);
    setBusy(false);
    setProblem(got.ok ? null : got.message);
    if (!got.ok) return;
    setRows((r) => (before ? [...r, ...got.body.rows] : got.body.rows));
    setNext(got.body.next);
  }, []);
  useEffect(() => {
    const t = setTimeout(() => void load(filter, null), 250);
    return () => clearTimeout(t);
  }, [filter, load]);
  const set = (change: Partial<Filter>): void => setFilter({ ...filter, ...change });
  return (
    <main className="mx-auto flex h-full max-w-5xl flex-col px-6">
      <HouseBar here="Who did what" />
      <h1 className="sr-only">Who did what</h1>
      <div className="flex flex-wrap items-center gap-2 pb-3">
        <Choice
          label="Person"
          className="w-44"
          value={filter.person}
          options={[{ value: 'all', label: 'everybody' }, ...people.map((p) => ({ value: p.id, label: p.name }))]}
          onChange={(person) => set({ person })}
        />
        <Choice
          label="What was done"
          className="w-48"
          value={filter.action}
          options={[{ value: 'all', label: 'everything' }, ...ACTIONS.map((a) => ({ value: a, label: a }))]}
          onChange={(action) => set({ action })}
        />
        <input
          aria-label="Words"
          placeholder="job, name, word"
          className="field !font-text w-44"
          maxLength={100}
          value={filter.words}
          onChange={(e) => set({ words: e.target.value })}
        />
        <label className="flex items-center gap-1 text-soft">
          from
          <input type="date" className="field" value={filter.from} onChange={(e) => set({ from: e.target.value })} />
        </label>
        <label className="flex items-center gap-1 text-soft">
          before
          <input type="date" className="field" value={filter.to} onChange={(e) => set({ to: e.target.value })} />
        </label>
        {JSON.stringify(filter) !== JSON.stringify(ALL) && <Button onClick={() => setFilter(ALL)}>Show all</Button>}
      </div>
      {problem && <p role="alert">{problem}</p>}
      <div className="relative min-h-0 flex-1 overflow-y-auto border-t border-hair" data-testid="audit">
        <table className="w-full table-fixed">
          <thead className="text-left text-soft">
            <tr>
              <th className="w-36 py-2 font-normal">When</th>
              <th className="w-36 py-2 font-normal">Who</th>
              <th className="w-40 py-2 font-normal">What</th>
              <th className="py-2 font-normal">Of what</th>
              <th className="w-32 py-2 font-normal">From</th>
            </tr>
          </thead>
          <tbody>
            {rows.map((r) => (
              <tr key={r.id} className="border-t border-hair align-top">
                <td className="num py-1.5">{moment(r.at)}</td>
                <td className="truncate py-1.5 pr-2">{r.name}</td>
                <td className={r.action.includes('refused') ? 'py-1.5 text-madder' : 'py-1.5'}>{r.action}</td>
                <td className="py-1.5 pr-2">
                  {r.job ? (
                    <Link href={`/jobs/${r.job}/history`} className="text-woad underline">
                      {r.subject || 'a job'}
                    </Link>
                  ) : (
                    r.subject
                  )}
                  {Object.keys(r.detail).length > 0 && <span className="block text-soft">{detailWords(r.detail)}</span>}
                </td>
                <td className="num truncate py-1.5 text-soft">{r.address}</td>
              </tr>
            ))}
          </tbody>
        </table>
        {rows.length === 0 && !busy && (
          <p className="py-8 text-center text-soft">Nothing of this kind has been done.</p>
        )}
        {next && (
          <div className="py-3 text-center">
            <Button disabled={busy} onClick={() => void load(filter, next)}>
              Show earlier ones
            </Button>
          </div>
        )}
      </div>
      <p className="py-3 text-soft">
        What an edit changed stands in the history of its job; edits thinned out there are not told here either.
      </p>
    </main>
  );
};
