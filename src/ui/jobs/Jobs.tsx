'use client';
import { Archive, Copy, FileUp, History as HistoryIcon, Plus, Search, Trash2 } from 'lucide-react';
import Link from 'next/link';
import { useRouter } from 'next/navigation';
import { Tooltip } from 'radix-ui';
import { useCallback, useEffect, useRef, useState } from 'react';
import { toast } from 'sonner';
import type { Job } from '@/core/plan';
import type { JobListRow, JobPage, JobSummary } from '@/db/jobs';
import { SectionPicture } from '../history/Sections';
import { ask } from '../house/ask';
import { HouseBar } from '../house/HouseBar';
import { allowed, useMay } from '../house/person';
import { Button, cx, Hint, IconButton } from '../kit/controls';
import { shownName } from '../kit/fileNames';
import { ago } from '../kit/moments';
import { longSeconds } from '../kit/state';
import { importPartFile, namesOfFile, postArchive, readJobFile } from './files';
import { LabelsButton } from './LabelsButton';
import { NewJob, type NewJobStart, postJob } from './NewJobDialog';
import { UnsavedElsewhere } from './UnsavedElsewhere';
import { useJobList, useSeen } from './useJobList';

const Thumb = ({ summary }: { summary: JobSummary }) => (
  <span className="block h-[60px] w-[112px] shrink-0 rounded border border-hair bg-paper">
    <SectionPicture picture={summary} label={`Section of ${summary.name}`} />
  </span>
);

const stateOf = (s: JobSummary): { glyph: string; word: string; tone: string } =>
  s.blocked > 0
    ? { glyph: '✕', word: `${s.blocked} blocked`, tone: 'text-madder' }
    : s.operations === 0
      ? { glyph: '○', word: 'not planned', tone: 'text-soft' }
      : s.attention > 0
        ? { glyph: '▲', word: `${s.attention} to look at`, tone: 'text-weld' }
        : { glyph: '●', word: 'ready', tone: 'text-verdigris' };

export const Jobs = ({ first, shop, now }: { first: JobPage; shop: string; now: number }) => {
  const router = useRouter();
  const mayProgram = useMay('program');
  const list = useJobList(first);
  const { page } = list;
  const rows = page.jobs;
  const [labels, setLabels] = useState<readonly { label: string; count: number }[]>([]);
  const [making, setMaking] = useState<NewJobStart | null>(null);
  const [over, setOver] = useState(false);
  const file = useRef<HTMLInputElement>(null);
  const end = useSeen<HTMLLIElement>(() => page.next && !list.busy && void list.load(page.next));
  const loadLabels = useCallback(async (): Promise<void> => {
    const got = await ask<{ labels: { label: string; count: number }[] }>('GET', '/api/labels');
    if (got.ok) setLabels(got.body.labels);
  }, []);
  useEffect(() => void loadLabels(), [loadLabels]);

  const take = async (f: File): Promise<void> => {
    if (!allowed('program')) return;
    if (/\.(?:zip|json)$/i.test(f.name)) {
      const job = /\.json$/i.test(f.name) ? await readJobFile(f) : null;
      const id = job ? await postJob(job) : /\.zip$/i.test(f.name) ? await postArchive(f) : null;
      if (id) router.push(`/jobs/${id}`);
      return;
    }
    const read = await importPartFile(f);
    if (read) setMaking({ file: read, ...namesOfFile(shownName(f.name)) });
  };

  const copy = async (row: JobListRow): Promise<void> => {
    const got = await ask<{ document: Job }>('GET', `/api/jobs/${row.id}`);
    if (!got.ok) {
      toast.error('The job could not be copied.', { description: got.message });
      return;
    }
    const { document } = got.body;
    const name = `${document.header.name} copy`.slice(0, 200);
    const id = await postJob({ ...document, header: { ...document.header, name } });
    if (id) router.push(`/jobs/${id}`);
  };

  const remove = async (row: JobListRow): Promise<void> => {
    const done = await ask('DELETE', `/api/jobs/${row.id}`);
    if (!done.ok) {
      toast.error('The job is not deleted.', { description: done.message });
      return;
    }
    await list.load(null);
    toast(`“${row.summary.number} ${row.summary.name}” is deleted.`, {
      duration: 12_000,
      action: {
        label: 'Undo',
        onClick: () => void ask('POST', `/api/jobs/${row.id}/restore`).then(() => list.load(null)),
      },
    });
  };

  const setRowLabels = async (row: JobListRow, next: readonly string[]): Promise<void> => {
    const done = await ask('PUT', `/api/jobs/${row.id}/labels`, { labels: next });
    if (!done.ok) toast.error('The labels are not set.', { description: done.message });
    await Promise.all([list.load(null), loadLabels()]);
  };

  return (
    <Tooltip.Provider>
      <main
        className={cx('mx-auto flex h-full max-w-5xl flex-col px-6', over && 'bg-woad-pale')}
        onDragOver={(e) => {
          e.preventDefault();
          setOver(true);
        }}
        onDragLeave={() => setOver(false)}
        onDrop={(e) => {
          e.preventDefault();
          setOver(false);
          const f = e.dataTransfer.files[0];
          if (f) void take(f);
        }}
      >
        <HouseBar here="Jobs" shop={shop}>
          <label className="flex h-8 items-center gap-2 rounded border border-hair bg-white px-2">
            <Search size={14} className="text-soft" aria-hidden />
            <input
              aria-label="Search jobs"
              placeholder="part, machine, label"
              className="w-36 bg-transparent outline-none"
              maxLength={120}
              value={list.words}
              onChange={(e) => list.setWords(e.target.value)}
            />
          </label>
          <input
            ref={file}
            type="file"
            accept=".step,.stp,.p21,.stl,.dxf,.json,.zip"
            className="hidden"
            data-testid="file-input"
            onChange={(e) => {
              const f = e.target.files?.[0];
              e.target.value = '';
              if (f) void take(f);
            }}
          />
          {mayProgram && (
            <>
              <Button className="!h-8" onClick={() => file.current?.click()}>
                <FileUp size={14} /> Open a file
              </Button>
              <Button tone="primary" className="!h-8" onClick={() => setMaking({ file: null, number: null, name: '' })}>
                <Plus size={14} /> New job
              </Button>
            </>
          )}
        </HouseBar>
        <h1 className="sr-only">Jobs</h1>
        <UnsavedElsewhere />
        {labels.length > 0 && (
          <div className="flex flex-wrap items-center gap-1.5 pb-2" data-testid="labels">
            {labels.map((l) => (
              <button
                key={l.label}
                type="button"
                aria-pressed={list.label === l.label}
                className={cx(
                  'rounded border px-2 py-0.5',
                  list.label === l.label ? 'border-woad bg-woad-pale' : 'border-hair bg-white hover:border-soft',
                )}
                onClick={() => list.setLabel(list.label === l.label ? null : l.label)}
              >
                {l.label} <span className="num text-soft">{l.count}</span>
              </button>
            ))}
          </div>
        )}
        <ul className="relative min-h-0 flex-1 overflow-y-auto border-t border-hair" data-testid="job-list">
          {rows.map((row) => {
            const s = row.summary;
            const state = stateOf(s);
            return (
              <li key={row.id} className="flex items-center gap-3 border-b border-hair pr-2 hover:bg-paper">
                <Link href={`/jobs/${row.id}`} className="flex min-w-0 flex-1 items-center gap-4 py-2.5 pl-2">
                  <Thumb summary={s} />
                  <span className="min-w-0 flex-1">
                    <span className="block truncate text-[15px]">
                      <b>{s.number}</b> {s.name}
                    </span>
                    <span className="block truncate text-soft">
                      {s.machine} · {s.material}
                      {row.labels.map((l) => (
                        <span key={l} className="ml-1.5 rounded border border-hair bg-white px-1">
                          {l}
                        </span>
                      ))}
                    </span>
                    {row.present.length > 0 && (
                      <span className="block truncate text-heather">open now: {row.present.join(', ')}</span>
                    )}
                  </span>
                  <span className={cx('w-32 shrink-0', state.tone)}>
                    <span aria-hidden>{state.glyph}</span> {state.word}
                  </span>
                  <span className="num w-24 shrink-0 whitespace-nowrap text-right">
                    {s.operations > 0 ? longSeconds(s.seconds) : ''}
                  </span>
                  <span className="w-36 shrink-0 truncate text-soft">
                    {ago(row.updatedAt, now)}
                    <br />
                    {row.updatedBy}
                  </span>
                </Link>
                <span className="flex shrink-0">
                  <IconButton label={`History of ${s.number}`} onClick={() => router.push(`/jobs/${row.id}/history`)}>
                    <HistoryIcon size={14} />
                  </IconButton>
                  <Hint text={`Export ${s.number} with its files as one archive`}>
                    <a
                      href={`/api/jobs/${row.id}/archive`}
                      download
                      aria-label={`Export ${s.number}`}
                      className="inline-flex h-7 w-7 shrink-0 items-center justify-center rounded border border-transparent hover:border-hair hover:bg-white"
                    >
                      <Archive size={14} />
                    </a>
                  </Hint>
                  {mayProgram && (
                    <>
                      <LabelsButton
                        row={row}
                        known={labels.map((l) => l.label)}
                        onTake={(l) => void setRowLabels(row, l)}
                      />
                      <IconButton label={`Copy ${s.number}`} onClick={() => void copy(row)}>
                        <Copy size={14} />
                      </IconButton>
                      <IconButton label={`Delete ${s.number}`} onClick={() => void remove(row)}>
                        <Trash2 size={14} />
                      </IconButton>
                    </>
                  )}
                </span>
              </li>
            );
          })}
          {rows.length === 0 && (
            <li className="py-10 text-center text-soft">
              {list.words === '' && !list.label
                ? 'No jobs yet. Drop a STEP, STL or DXF file or a job file here, or make a new job; bin/start --reset brings the demo jobs back.'
                : 'No job has these words.'}
            </li>
          )}
          {page.next && (
            <li ref={end} className="py-4 text-center text-soft">
              <Button disabled={list.busy} onClick={() => void list.load(page.next)}>
                Show more
              </Button>
            </li>
          )}
        </ul>
        <p className="flex justify-between py-3 text-soft">
          <span>Drop a STEP solid, an STL mesh, a DXF contour, a job file or an archive anywhere on this page.</span>
          <span className="num" data-testid="job-count">
            {rows.length < page.count ? `${rows.length} of ${page.count}` : page.count} jobs
          </span>
        </p>
        {making && <NewJob start={making} jobs={rows} count={page.count} onClose={() => setMaking(null)} />}
      </main>
    </Tooltip.Provider>
  );
};
