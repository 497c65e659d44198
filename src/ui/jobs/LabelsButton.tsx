'use client';
import { Tag } from 'lucide-react';
import { Popover } from 'radix-ui';
import { useState } from 'react';
import type { JobListRow } from '@/db/jobs';
import { Button, cx } from '../kit/controls';

/** Labels of a job: those of the shop to switch, and a new one. */
export const LabelsButton = ({
  row,
  known,
  onTake,
}: {
  row: JobListRow;
  known: readonly string[];
  onTake: (labels: readonly string[]) => void;
}) => {
  const [text, setText] = useState('');
  const all = [...new Set([...row.labels, ...known])];
  const toggle = (l: string): void =>
    onTake(row.labels.includes(l) ? row.labels.filter((k) => k !== l) : [...row.labels, l]);
  return (
    <Popover.Root>
      <Popover.Trigger
        aria-label={`Labels of ${row.summary.number}`}
        title={`Labels of ${row.summary.number}`}
        className="inline-flex h-7 w-7 shrink-0 items-center justify-center rounded border border-transparent hover:border-hair hover:bg-white"
      >
        <Tag size={14} />
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content sideOffset={4} align="end" className="z-50 w-60 rounded border border-soft bg-paper p-3">
          <p className="mb-1.5 text-soft">Labels group jobs and are found by the search.</p>
          <div className="mb-2 flex flex-wrap gap-1.5">
            {all.map((l) => (
              <button
                key={l}
                type="button"
                aria-pressed={row.labels.includes(l)}
                className={cx(
                  'rounded border px-2 py-0.5',
                  row.labels.includes(l) ? 'border-woad bg-woad-pale' : 'border-hair bg-white',
                )}
                onClick={() => toggle(l)}
              >
                {l}
              </button>
            ))}
          </div>
          <form
            className="flex gap-1"
            onSubmit={(e) => {
              e.preventDefault();
              const label = text.trim();
              setText('');
              if (label && !row.labels.includes(label)) onTake([...row.labels, label]);
            }}
          >
            <input
              aria-label="New label"
              placeholder="new label"
              className="field !font-text min-w-0 flex-1"
              maxLength={30}
              value={text}
              onChange={(e) => setText(e.target.value.replace(/,/g, ''))}
            />
            <Button type="submit">Add</Button>
          </form>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
};
