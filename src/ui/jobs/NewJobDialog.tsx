'use client';
import { useRouter } from 'next/navigation';
import { Dialog as RadixDialog } from 'radix-ui';
import { useState } from 'react';
import { toast } from 'sonner';
import { noProgramFor } from '@/core/dialects';
import type { Job } from '@/core/plan';
import type { JobListRow } from '@/db/jobs';
import { ask } from '../house/ask';
import { usePerson } from '../house/person';
import { Button, Choice } from '../kit/controls';
import { keepFile } from '../part/bring';
import { usePart } from '../part/store';
import { useLibrary } from '../tray/Hold';
import type { PartFile } from './files';
import { firstPart, makeJob } from './newJob';
import { useFoundJobs } from './useFoundJobs';

/** Makes a job on the server; null after telling why not. */
export const postJob = async (document: Job): Promise<string | null> => {
  const made = await ask<{ id: string }>('POST', '/api/jobs', { document });
  if (made.ok) return made.body.id;
  toast.error('The job could not be made.', { description: made.message });
  return null;
};

/** What a new job begins with: a part read from a file, and what the file calls it. */
export interface NewJobStart {
  readonly file: PartFile | null;
  readonly number: string | null;
  readonly name: string;
}

export const NewJob = ({
  start,
  jobs,
  count,
  onClose,
}: {
  start: NewJobStart;
  jobs: readonly JobListRow[];
  count: number;
  onClose: () => void;
}) => {
  const router = useRouter();
  const person = usePerson();
  const library = useLibrary();
  const [number, setNumber] = useState(start.number ?? `LM-${300 + count}`);
  const [name, setName] = useState(start.name);
  const [machine, setMachine] = useState('');
  const [material, setMaterial] = useState('');
  const [template, setTemplate] = useState('none');
  const [find, setFind] = useState('');
  // jobs whose operations a new one may begin with: those of the list, or what is found among all
  const found = useFoundJobs(find);
  const templates = (found ?? jobs).filter((j) => j.summary.operations > 0);
  const [busy, setBusy] = useState(false);
  // the machine of the job that was saved last is the likeliest
  const usual = library?.machines.find((k) => k.name === jobs[0]?.summary.machine) ?? library?.machines[0];
  const chosen = library?.machines.find((k) => k.id === machine) ?? usual;
  const noProgram = chosen ? noProgramFor(chosen.dialect) : null;
  const make = async (): Promise<void> => {
    const mat = library?.materials.find((k) => k.id === material) ?? library?.materials[0];
    if (!library || !chosen || !mat) return;
    setBusy(true);
    let job = makeJob({
      number,
      name: name || 'New part',
      machine: chosen,
      material: mat,
      part: start.file?.part ?? firstPart(),
      tools: library.tools,
      author: person.name,
    });
    if (template !== 'none') {
      const got = await ask<{ document: Job }>('GET', `/api/jobs/${template}`);
      if (got.ok) {
        const { body } = got;
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
            {noProgram !== null && <p className="mb-1 pl-[7.75rem] text-weld">▲ {noProgram}</p>}
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
                  ...templates.map((j) => ({ value: j.id, label: `${j.summary.number} ${j.summary.name}` })),
                ]}
                onChange={setTemplate}
              />
              {count > jobs.length && (
                <input
                  aria-label="Find a job"
                  placeholder="find"
                  className="field !font-text w-20"
                  maxLength={80}
                  value={find}
                  onChange={(e) => {
                    setFind(e.target.value);
                    setTemplate('none');
                  }}
                />
              )}
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
