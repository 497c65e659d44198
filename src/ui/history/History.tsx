'use client';
import { Download } from 'lucide-react';
import { useRouter } from 'next/navigation';
import { useCallback, useEffect, useMemo, useState } from 'react';
import { toast } from 'sonner';
import { differencesInWords, type Job } from '@/core/plan';
import type { ReleaseRow, RevisionRow } from '@/db/revisions';
import { ask } from '../house/ask';
import { HouseBar } from '../house/HouseBar';
import { useMay } from '../house/person';
import { Button, cx } from '../kit/controls';
import { newId } from '../kit/ids';
import { moment } from '../kit/moments';
import { Overlaid, SectionThumb } from './Sections';

interface Page {
  readonly rows: readonly RevisionRow[];
  readonly next: number | null;
}

/** Revisions of a job: who made them, what they changed, any two over each other, and the way back to one. */
export const History = ({ job, title, version }: { job: string; title: string; version: number }) => {
  const router = useRouter();
  const mayProgram = useMay('program');
  const mayRelease = useMay('release');
  const [rows, setRows] = useState<readonly RevisionRow[]>([]);
  const [next, setNext] = useState<number | null>(null);
  const [named, setNamed] = useState(false);
  const [newest, setNewest] = useState(version);
  /** The earlier and the later of the two that are compared. */
  const [pair, setPair] = useState<readonly [number, number]>([Math.max(1, version - 1), version]);
  const [busy, setBusy] = useState(false);
  const load = useCallback(
    async (below: number | null, onlyNamed: boolean): Promise<void> => {
      const q = new URLSearchParams();
      if (below !== null) q.set('below', String(below));
      if (onlyNamed) q.set('named', '1');
      const got = await ask<Page>('GET', `/api/jobs/${job}/revisions?${q}`);
      if (!got.ok) {
        toast.error(got.message);
        return;
      }
      setRows((r) => (below === null ? got.body.rows : [...r, ...got.body.rows]));
      setNext(got.body.next);
      if (below === null && !onlyNamed && got.body.rows[0]) setNewest(got.body.rows[0].version);
    },
    [job],
  );
  useEffect(() => void load(null, named), [load, named]);
  /** Reads one revision anew; the others stay as far back as they are shown. */
  const again = useCallback(
    async (v: number, onlyNamed: boolean): Promise<void> => {
      const got = await ask<Page>('GET', `/api/jobs/${job}/revisions?below=${v + 1}`);
      const row = got.ok ? got.body.rows[0] : undefined;
      if (row?.version !== v) return;
      const shown = onlyNamed && row.name === null ? [] : [row];
      setRows((rows) => rows.flatMap((r) => (r.version === v ? shown : [r])));
    },
    [job],
  );
  // a worker posts and proves what waits for its release
  const waiting = rows.flatMap((r) => (r.release?.state === 'waiting' ? [r.version] : [])).join();
  useEffect(() => {
    if (waiting === '') return;
    const timer = setInterval(() => {
      for (const v of waiting.split(',')) void again(Number(v), named);
    }, 1000);
    return () => clearInterval(timer);
  }, [waiting, again, named]);
  const back = async (to: number): Promise<void> => {
    setBusy(true);
    const done = await ask<{ version: number }>('POST', `/api/jobs/${job}/revisions/${to}/back`, {
      base: newest,
      edit: newId(),
    });
    setBusy(false);
    await load(null, named);
    if (!done.ok) {
      toast.error('Not gone back.', { description: done.message, duration: 12_000 });
      return;
    }
    setPair([Math.max(1, done.body.version - 1), done.body.version]);
    toast.success(`The job is as it was at revision ${to}; what came after it stays in the history.`, {
      action: { label: 'Open the job', onClick: () => router.push(`/jobs/${job}`) },
      duration: 12_000,
    });
  };
  const call = async (v: number, name: string | null, released = false): Promise<void> => {
    const done = await ask('PUT', `/api/jobs/${job}/revisions/${v}/name`, { name, released });
    if (!done.ok) toast.error(done.message);
    await again(v, named);
  };
  return (
    <main className="mx-auto flex h-full max-w-6xl flex-col px-6">
      <HouseBar here="">
        <Button onClick={() => router.push(`/jobs/${job}`)}>Back to the job</Button>
      </HouseBar>
      <div className="flex items-baseline gap-3 pb-2">
        <h1 className="text-[18px] font-semibold">History of {title}</h1>
        <label className="flex items-center gap-1.5 text-soft">
          <input type="checkbox" checked={named} onChange={(e) => setNamed(e.target.checked)} /> named ones only
        </label>
      </div>
      <div className="grid min-h-0 flex-1 grid-cols-[minmax(0,1fr)_minmax(0,1.05fr)] gap-5 border-t border-hair">
        <section aria-label="Revisions" className="relative min-h-0 overflow-y-auto pr-1">
          <ol data-testid="revisions">
            {rows.map((r) => (
              <Revision
                key={r.version}
                row={r}
                job={job}
                newest={r.version === newest}
                pair={pair}
                onPair={setPair}
                onBack={mayProgram && r.version !== newest && !busy ? () => void back(r.version) : null}
                onCall={mayProgram || mayRelease ? (name) => void call(r.version, name) : null}
                onRelease={
                  mayRelease && r.name !== null && !r.releasedAt && r.release?.state !== 'waiting'
                    ? () => void call(r.version, r.name, true)
                    : null
                }
              />
            ))}
          </ol>
          {rows.length === 0 && <p className="py-8 text-center text-soft">No revision has a name yet.</p>}
          {next !== null && (
            <div className="py-3 text-center">
              <Button onClick={() => void load(next, named)}>Show earlier ones</Button>
            </div>
          )}
          <p className="py-3 text-soft">
            All revisions of the last 30 days are kept, then the last of each day, after a year the last of each month;
            named and released ones always.
          </p>
        </section>
        <Compare job={job} pair={pair} />
      </div>
    </main>
  );
};

const Revision = ({
  row,
  job,
  newest,
  pair,
  onPair,
  onBack,
  onCall,
  onRelease,
}: {
  row: RevisionRow;
  job: string;
  newest: boolean;
  pair: readonly [number, number];
  onPair: (pair: readonly [number, number]) => void;
  onBack: (() => void) | null;
  onCall: ((name: string | null) => void) | null;
  onRelease: (() => void) | null;
}) => {
  const [naming, setNaming] = useState(false);
  const v = row.version;
  const shown = v === pair[1];
  return (
    <li className={cx('flex gap-3 border-b border-hair py-2', shown && 'bg-paper')} data-testid={`revision-${v}`}>
      <span className="flex w-14 shrink-0 flex-col gap-2 pl-1 pt-1 text-soft">
        <label className="flex items-center gap-1">
          <input
            type="radio"
            name="earlier"
            aria-label={`Compare from revision ${v}`}
            title="compare from this one"
            checked={v === pair[0]}
            disabled={v >= pair[1]}
            onChange={() => onPair([v, pair[1]])}
          />{' '}
          from
        </label>
        <label className="flex items-center gap-1">
          <input
            type="radio"
            name="later"
            aria-label={`Compare to revision ${v}`}
            title="compare to this one"
            checked={shown}
            onChange={() => onPair([Math.min(pair[0], Math.max(1, v - 1)), v])}
          />{' '}
          to
        </label>
      </span>
      <SectionThumb job={job} version={v} />
      <span className="min-w-0 flex-1">
        <span className="flex items-baseline gap-2">
          <b className="num">{v}</b>
          {row.name && <b className="truncate text-woad">{row.name}</b>}
          {row.releasedAt && <span className="text-verdigris">● released</span>}
          {newest && <span className="text-soft">newest</span>}
        </span>
        <span className="block truncate">{row.label || 'edit'}</span>
        <span className="block truncate text-soft">
          {row.author} · <span className="num">{moment(row.at)}</span>
        </span>
        {row.release && <Release job={job} version={v} release={row.release} />}
        {naming && onCall ? (
          <form
            className="mt-1 flex gap-1"
            onSubmit={(e) => {
              e.preventDefault();
              const name = String(new FormData(e.currentTarget).get('name') ?? '').trim();
              onCall(name === '' ? null : name);
              setNaming(false);
            }}
          >
            <input
              name="name"
              // opened by a click that asks for it
              ref={(e) => e?.focus()}
              aria-label="Name of the revision"
              maxLength={120}
              defaultValue={row.name ?? ''}
              className="field !font-text min-w-0 flex-1"
            />
            <Button type="submit">Name it</Button>
          </form>
        ) : (
          <span className="mt-1 flex gap-1">
            {onBack && <Button onClick={onBack}>Go back to this</Button>}
            {onCall && <Button onClick={() => setNaming(true)}>{row.name ? 'Rename' : 'Name'}</Button>}
            {onRelease && <Button onClick={onRelease}>Release</Button>}
          </span>
        )}
      </span>
    </li>
  );
};

/** What came of asking for a release: the programs as they went out, or why there are none. */
const Release = ({ job, version, release }: { job: string; version: number; release: ReleaseRow }) => {
  if (release.state === 'waiting')
    return (
      <span className="block text-soft" role="status">
        Posting and proving, asked for by {release.by} …
      </span>
    );
  if (release.state === 'refused')
    return (
      <span className="block text-madder" role="status">
        ✕ Not released. {release.reason}
      </span>
    );
  return (
    <span className="block">
      <span className="block text-soft">
        by {release.by}
        {release.proof && (
          <>
            {' '}
            · proved <span className="num">{release.proof.maxDeviation.toFixed(4)} mm</span> over{' '}
            <span className="num">{release.proof.moves}</span> moves
          </>
        )}
      </span>
      {release.programs.map((p) => (
        <a
          key={p.name}
          className="mr-3 inline-flex items-center gap-1 text-woad underline"
          href={`/api/jobs/${job}/revisions/${version}/programs?name=${encodeURIComponent(p.name)}`}
          download={p.name}
          title={`As it was released. SHA-256 ${p.hash}`}
        >
          <Download size={13} aria-hidden /> {p.name}
        </a>
      ))}
    </span>
  );
};

const useDocumentAt = (job: string, version: number): { document: Job | null; problem: string | null } => {
  const [state, setState] = useState<{ version: number; document: Job | null; problem: string | null }>({
    version: 0,
    document: null,
    problem: null,
  });
  useEffect(() => {
    let ended = false;
    void ask<{ document: Job }>('GET', `/api/jobs/${job}/revisions/${version}`).then((got) => {
      if (ended) return;
      setState({ version, document: got.ok ? got.body.document : null, problem: got.ok ? null : got.message });
    });
    return () => {
      ended = true;
    };
  }, [job, version]);
  return state.version === version ? state : { document: null, problem: null };
};

/** Two revisions: drawn over each other, and what changed in words. */
const Compare = ({ job, pair: [from, to] }: { job: string; pair: readonly [number, number] }) => {
  const before = useDocumentAt(job, from);
  const after = useDocumentAt(job, to);
  const words = useMemo(
    () => (before.document && after.document ? differencesInWords(before.document, after.document) : null),
    [before.document, after.document],
  );
  const problem = before.problem ?? after.problem;
  return (
    <section aria-label="Compare" className="relative flex min-h-0 flex-col overflow-y-auto py-3" data-testid="compare">
      <h2 className="mb-2 font-semibold">
        From revision <span className="num">{from}</span> to <span className="num">{to}</span>
      </h2>
      {problem && <p role="alert">{problem}</p>}
      {before.document && after.document && <Overlaid before={before.document} after={after.document} />}
      {words && words.length === 0 && (
        <p className="text-soft">{from === to ? 'The first revision: nothing came before it.' : 'Nothing differs.'}</p>
      )}
      {words && words.length > 0 && (
        <ul>
          {words.map((d, i) => (
            <li key={i} className="border-t border-hair py-1">
              <b className="font-semibold">{d.about}</b>: {d.words}
            </li>
          ))}
        </ul>
      )}
    </section>
  );
};
