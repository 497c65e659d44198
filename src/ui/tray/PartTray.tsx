'use client';
import { FileUp } from 'lucide-react';
import { useRef } from 'react';
import { describeElement } from '@/core/part';
import { useJob } from '../job/store';
import { importDrawingFile } from '../jobs/files';
import { Button, Choice, cx, Section, TextField } from '../kit/controls';

const STATE: Record<string, string> = { finished: '●', roughed: '◐', leftover: '◔', raw: '○' };

export const PartTray = () => {
  const job = useJob((s) => s.job);
  const derived = useJob((s) => s.derived);
  const element = useJob((s) => s.element);
  const set = useJob((s) => s.set);
  const edit = useJob((s) => s.edit);
  const file = useRef<HTMLInputElement>(null);
  const elements = derived ? [...derived.part.outer, ...derived.part.inner] : [];
  const header = (key: 'number' | 'name' | 'revision', label: string, most: number) => (
    <label className="flex items-center gap-2 py-px">
      <span className="w-16 shrink-0 text-soft">{label}</span>
      <TextField
        label={label}
        className="min-w-0 flex-1"
        value={job.header[key]}
        onChange={(v) => edit(`${label.toLowerCase()} of the part`, (j) => ({ ...j, header: { ...j.header, [key]: v.slice(0, most) } }))}
      />
    </label>
  );
  return (
    <>
      <Section title="Part">
        {header('number', 'Number', 60)}
        {header('name', 'Name', 200)}
        {header('revision', 'Revision', 40)}
        <div className="flex items-center gap-2 py-px">
          <span className="w-16 shrink-0 text-soft">Units</span>
          <Choice
            label="Units"
            className="min-w-0 flex-1"
            value={job.units}
            options={[
              { value: 'mm', label: 'mm, X as ⌀' },
              { value: 'inch', label: 'inch, X as ⌀' },
            ]}
            onChange={(v) => edit('units', (j) => ({ ...j, units: v as 'mm' | 'inch' }))}
          />
        </div>
        <input
          ref={file}
          type="file"
          accept=".dxf"
          className="hidden"
          data-testid="drawing-input"
          onChange={async (e) => {
            const chosen = e.target.files?.[0];
            e.target.value = '';
            if (!chosen) return;
            const part = await importDrawingFile(chosen);
            if (part) edit(`import ${chosen.name.slice(0, 60)}`, (j) => ({ ...j, part }));
          }}
        />
        <Button className="mt-2 w-full" onClick={() => file.current?.click()}>
          <FileUp size={14} /> Bring in a DXF contour
        </Button>
        {derived && derived.part.volume > 0 && (
          <p className="num mt-2 text-soft">
            {(derived.part.volume / 1000).toFixed(3)} cm³ · {((derived.part.volume / 1000) * job.material.density).toFixed(1)} g
          </p>
        )}
      </Section>
      <Section title="Elements">
        <ul>
          {elements.map((e) => {
            const c = derived?.coverage.find((k) => k.element === e.id);
            return (
              <li key={e.id}>
                <button
                  type="button"
                  className={cx('flex h-7 w-full items-center gap-2 rounded px-1.5 text-left hover:bg-linen', element === e.id && 'bg-woad-pale')}
                  onClick={() => set({ element: e.id.split('/')[0] })}
                >
                  <span aria-hidden>{STATE[c?.state ?? 'raw']}</span>
                  <span className="num min-w-0 flex-1 truncate">{describeElement(e)}</span>
                  <span className="text-soft">{c && c.state !== 'finished' ? c.state : ''}</span>
                </button>
              </li>
            );
          })}
        </ul>
      </Section>
    </>
  );
};
