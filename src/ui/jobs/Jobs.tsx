'use client';
import { Copy, FileUp, Plus, Search, Trash2 } from 'lucide-react';
import Link from 'next/link';
import { useRouter } from 'next/navigation';
import { Dialog as RadixDialog, Tooltip } from 'radix-ui';
import { useMemo, useRef, useState } from 'react';
import { toast } from 'sonner';
import type { Job } from '@/core/plan';
import type { JobListRow, JobSummary } from '@/db/jobs';
import { Button, Choice, cx, IconButton } from '../kit/controls';
import { longSeconds } from '../kit/state';
import { keepFile, usePart } from '../part/store';
import { useLibrary } from '../tray/Hold';
import { importPartFile, namesOfFile, type PartFile, readJobFile, shownName } from './files';
import { Mark } from './Mark';
import { firstPart, makeJob } from './newJob';

const Thumb = ({ summary }: { summary: JobSummary }) => {
  const [x, y, w, h] = summary.box;
  const pad = Math.max(w, h) * 0.06;
  return (
    <svg
      width={112}
      height={60}
      viewBox={`${x - pad} ${-(y + h) - pad} ${w + 2 * pad} ${h + 2 * pad}`}
      role="img"
      aria-label={`Section of ${summary.name}`}
      className="shrink-0 rounded border border-hair bg-paper"
    >
      <g transform="scale(1 -1)">
        <path
          d={summary.path}
          fill="var(--color-straw)"
          stroke="var(--color-ink)"
          strokeWidth={1.3}
          vectorEffect="non-scaling-stroke"
        />
        <line
          x1={x - pad}
          x2={x + w + pad}
          y1={0}
          y2={0}
          stroke="var(--color-soft)"
          strokeWidth={0.8}
          strokeDasharray="8 2 2 2"
          vectorEffect="non-scaling-stroke"
        />
      </g>
    </svg>
  );
};

const stateOf = (s: JobSummary): { glyph: string; word: string; tone: string } =>
  s.blocked > 0
    ? { glyph: '✕', word: `${s.blocked} blocked`, tone: 'text-madder' }
    : s.operations === 0
      ? { glyph: '○', word: 'not planned', tone: 'text-soft' }
      : s.attention > 0
        ? { glyph: '▲', word: `${s.attention} to look at`, tone: 'text-weld' }
        : { glyph: '●', word: 'ready', tone: 'text-verdigris' };

const author = (): string => window.localStorage.getItem('lively.author') ?? 'Ottilie Marsh';

const ago = (iso: string, now: number): string => {
  const s = Math.max(0, (now - Date.parse(iso)) / 1000);
  if (s < 90) return 'just now';
  if (s < 5400) return `${Math.round(s / 60)} min ago`;
  if (s < 129600) return `${Math.round(s / 3600)} h ago`;
  return `${Math.round(s / 86400)} days ago`;
};

const postJob = async (document: Job): Promise<string | null> => {
  const response = await fetch('/api/jobs', {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ document, author: author() }),
  }).catch(() => null);
  const body = (await response?.json().catch(() => ({}))) as { id?: string; message?: string } | undefined;
  if (!response?.ok || !body?.id) {
    toast.error('The job could not be made.', { description: body?.message ?? 'No connection to the server.' });
    return null;
  }
  return body.id;
};

export const Jobs = ({ jobs, now }: { jobs: readonly JobListRow[]; now: number }) => {
  const router = useRouter();
  const [search, setSearch] = useState('');
  const [making, setMaking] = useState<NewJobStart | null>(null);
  const [over, setOver] = useState(false);
  const [gone, setGone] = useState<ReadonlySet<string>>(new Set());
  const file = useRef<HTMLInputElement>(null);
  const rows = useMemo(
    () =>
      jobs.filter(
        (j) =>
          !gone.has(j.id) &&
          `${j.summary.number} ${j.summary.name} ${j.summary.machine} ${j.summary.material}`
            .toLowerCase()
            .includes(search.toLowerCase()),
      ),
    [jobs, search, gone],
  );

  const take = async (f: File): Promise<void> => {
    if (/\.json$/i.test(f.name)) {
      const job = await readJobFile(f);
      const id = job && (await postJob(job));
      if (id) router.push(`/jobs/${id}`);
      return;
    }
    const read = await importPartFile(f);
    if (read) setMaking({ file: read, ...namesOfFile(shownName(f.name)) });
  };

  const copy = async (row: JobListRow): Promise<void> => {
    const response = await fetch(`/api/jobs/${row.id}`);
    const body = (await response.json()) as { document?: Job; message?: string };
    if (!body.document) {
      toast.error('The job could not be copied.', { description: body.message });
      return;
    }
    const id = await postJob({
      ...body.document,
      header: { ...body.document.header, name: `${body.document.header.name} copy`.slice(0, 200) },
    });
    if (id) router.push(`/jobs/${id}`);
  };

  const remove = async (row: JobListRow): Promise<void> => {
    const response = await fetch(`/api/jobs/${row.id}`, { method: 'DELETE' });
    if (!response.ok) return;
    setGone(new Set([...gone, row.id]));
    toast(`“${row.summary.number} ${row.summary.name}” is deleted.`, {
      duration: 12_000,
      action: {
        label: 'Undo',
        onClick: async () => {
          await fetch(`/api/jobs/${row.id}/restore`, { method: 'POST' });
          setGone((g) => new Set([...g].filter((k) => k !== row.id)));
          router.refresh();
        },
      },
    });
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
        <header className="flex items-center gap-3 py-5">
          <Mark size={26} />
          <h1 className="text-[22px] font-semibold">Lively Spindle</h1>
          <span className="text-soft">Marrow Lane Loomworks</span>
          <span className="flex-1" />
          <label className="flex h-8 items-center gap-2 rounded border border-hair bg-white px-2">
            <Search size={14} className="text-soft" aria-hidden />
            <input
              aria-label="Search jobs"
              placeholder="part, machine, material"
              className="w-44 bg-transparent outline-none"
              value={search}
              onChange={(e) => setSearch(e.target.value)}
            />
          </label>
          <input
            ref={file}
            type="file"
            accept=".step,.stp,.p21,.stl,.dxf,.json"
            className="hidden"
            data-testid="file-input"
            onChange={(e) => {
              const f = e.target.files?.[0];
              e.target.value = '';
              if (f) void take(f);
            }}
          />
          <Button className="!h-8" onClick={() => file.current?.click()}>
            <FileUp size={14} /> Open a file
          </Button>
          <Button tone="primary" className="!h-8" onClick={() => setMaking({ file: null, number: null, name: '' })}>
            <Plus size={14} /> New job
          </Button>
        </header>
        <ul className="min-h-0 flex-1 overflow-y-auto border-t border-hair" data-testid="job-list">
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
                    </span>
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
                <IconButton label={`Copy ${s.number}`} onClick={() => void copy(row)}>
                  <Copy size={14} />
                </IconButton>
                <IconButton label={`Delete ${s.number}`} onClick={() => void remove(row)}>
                  <Trash2 size={14} />
                </IconButton>
              </li>
            );
          })}
          {rows.length === 0 && (
            <li className="py-10 text-center text-soft">
              {jobs.length === 0
                ? 'No jobs yet. Drop a STEP, STL or DXF file or a job file here, or make a new job; bin/start --reset brings the demo jobs back.'
                : 'No job has these words.'}
            </li>
          )}
        </ul>
        <p className="py-3 text-soft">
          Drop a STEP solid, an STL mesh, a DXF contour or a job file anywhere on this page.
        </p>
        {making && <NewJob start={making} jobs={jobs} onClose={() => setMaking(null)} />}
      </main>
    </Tooltip.Provider>
  );
};

/** What a new job begins with: a part read from a file, and what the file calls it. */
interface NewJobStart {
  readonly file: PartFile | null;
  readonly number: string | null;
  readonly name: string;
}

const NewJob = ({ start, jobs, onClose }: { start: NewJobStart; jobs: readonly JobListRow[]; onClose: () => void }) => {
  const router = useRouter();
  const library = useLibrary();
  const [number, setNumber] = useState(start.number ?? `LM-${300 + jobs.length}`);
  const [name, setName] = useState(start.name);
  const [machine, setMachine] = useState('');
  const [material, setMaterial] = useState('');
  const [template, setTemplate] = useState('none');
  const [busy, setBusy] = useState(false);
  // the machine of the job that was saved last is the likeliest
  const usual = library?.machines.find((k) => k.name === jobs[0]?.summary.machine) ?? library?.machines[0];
  const make = async (): Promise<void> => {
    const m = library?.machines.find((k) => k.id === machine) ?? usual;
    const mat = library?.materials.find((k) => k.id === material) ?? library?.materials[0];
    if (!library || !m || !mat) return;
    setBusy(true);
    let job = makeJob({
      number,
      name: name || 'New part',
      machine: m,
      material: mat,
      part: start.file?.part ?? firstPart(),
      tools: library.tools,
      author: author(),
    });
    if (template !== 'none') {
      const body = (await (await fetch(`/api/jobs/${template}`)).json()) as { document?: Job };
      if (body.document) {
        // tools, holding and operations of the template; spans of another contour fall back to the whole side
        const operations = Object.fromEntries(
          Object.entries(body.document.operations).map(([id, o]) => [id, 'span' in o ? { ...o, span: null } : o]),
        );
        job = {
          ...job,
          tools: body.document.tools,
          mounts: body.document.mounts,
          operations,
          order: body.document.order,
        };
      }
    }
    const id = await postJob(job);
    if (id && start.file) {
      await keepFile(start.file.hash, start.file.name, start.file.bytes);
      // the 3D picture has the solid at once, with what turning does not make
      usePart.setState({ source: { hash: start.file.hash, brought: start.file.brought } });
    }
    setBusy(false);
    if (id) router.push(`/jobs/${id}?phase=part`);
  };
  const row = 'flex items-center gap-3 py-1';
  return (
    <RadixDialog.Root open onOpenChange={(open) => !open && onClose()}>
      <RadixDialog.Portal>
        <RadixDialog.Overlay className="fixed inset-0 z-40 bg-ink/25" />
        <RadixDialog.Content
          aria-describedby={undefined}
          className="fixed left-1/2 top-24 z-50 w-[460px] -translate-x-1/2 rounded border border-soft bg-paper p-5"
        >
          <RadixDialog.Title className="mb-3 text-[16px] font-semibold">New job</RadixDialog.Title>
          <form
            onSubmit={(e) => {
              e.preventDefault();
              void make();
            }}
          >
            <label className={row}>
              <span className="w-28 text-soft">Part number</span>
              <input
                className="field !font-text flex-1"
                value={number}
                maxLength={60}
                onChange={(e) => setNumber(e.target.value)}
              />
            </label>
            <label className={row}>
              <span className="w-28 text-soft">Name</span>
              <input
                className="field !font-text flex-1"
                value={name}
                maxLength={200}
                placeholder="New part"
                onChange={(e) => setName(e.target.value)}
              />
            </label>
            <div className={row}>
              <span className="w-28 text-soft">Machine</span>
              <Choice
                label="Machine of the new job"
                className="flex-1"
                value={machine || (usual?.id ?? '')}
                options={(library?.machines ?? []).map((m) => ({ value: m.id, label: m.name }))}
                onChange={setMachine}
              />
            </div>
            <div className={row}>
              <span className="w-28 text-soft">Material</span>
              <Choice
                label="Material of the new job"
                className="flex-1"
                value={material || (library?.materials[0]?.id ?? '')}
                options={(library?.materials ?? []).map((m) => ({ value: m.id, label: m.name }))}
                onChange={setMaterial}
              />
            </div>
            <div className={row}>
              <span className="w-28 text-soft">Operations like</span>
              <Choice
                label="Template"
                className="flex-1"
                value={template}
                options={[
                  { value: 'none', label: 'start with none' },
                  ...jobs
                    .filter((j) => j.summary.operations > 0)
                    .map((j) => ({ value: j.id, label: `${j.summary.number} ${j.summary.name}` })),
                ]}
                onChange={setTemplate}
              />
            </div>
            <p className="mt-2 text-soft">
              {start.file
                ? `The part is what “${start.file.name}” holds; it can be read with other choices in the Part phase.`
                : 'A stepped pin to begin with; change its rows, or bring in a STEP, STL or DXF file, in the Part phase.'}
            </p>
            <div className="mt-4 flex justify-end gap-2">
              <Button onClick={onClose}>Cancel</Button>
              <Button tone="primary" type="submit" disabled={busy || !library}>
                Make the job
              </Button>
            </div>
          </form>
        </RadixDialog.Content>
      </RadixDialog.Portal>
    </RadixDialog.Root>
  );
};
