'use client';
import { RotateCcw } from 'lucide-react';
import { useState } from 'react';
import { codeLines, withCode } from '@/core/dialects';
import { useDocument } from '../job/document';
import { IconButton, TextField } from '../kit/controls';

/** A code as it is typed: `70`, `m70`; empty gives it back to the control, null is no code. */
const typed = (text: string): string | null => {
  const bare = text.trim().toUpperCase();
  if (bare === '') return '';
  const [, digits] = /^M?(\d{1,3})$/.exec(bare) ?? [];
  return digits === undefined ? null : `M${Number(digits)}`;
};

/** Codes M of the machine: those of its control, and those that this machine has instead. */
export const MachineCodes = () => {
  const machine = useDocument((s) => s.job.machine);
  const edit = useDocument((s) => s.edit);
  const [wrong, setWrong] = useState<{ readonly name: string; readonly text: string } | null>(null);
  const lines = codeLines(machine);
  if (lines.length === 0) return null;
  const own = lines.filter((l) => l.own).length;
  const put = (name: string, text: string): void => {
    const code = typed(text);
    setWrong(code === null ? { name, text } : null);
    if (code === null) return;
    edit(`code of ${name}`, (j) => ({
      ...j,
      machine: { ...j.machine, codes: withCode(j.machine, name, code === '' ? null : code) },
    }));
  };
  return (
    <details className="border-t border-hair px-3 py-2.5" data-testid="machine-codes">
      <summary className="eyebrow">Codes of this machine{own > 0 ? `: ${own} of its own` : ''}</summary>
      <p className="mt-1 text-soft">As the control has them, until the machine is given others.</p>
      <ul className="mt-1">
        {lines.map(({ name, code, own }) => (
          <li key={name} className="flex items-center gap-1 py-px">
            <span className="min-w-0 flex-1" title={name}>
              {name}
            </span>
            {own && (
              <IconButton label={`${name}: the control’s code again`} onClick={() => put(name, '')}>
                <RotateCcw size={13} />
              </IconButton>
            )}
            <TextField
              label={`Code of ${name}`}
              value={code}
              placeholder="none"
              className={`num w-14 shrink-0 ${own ? 'font-semibold' : ''}`}
              onChange={(text) => put(name, text)}
            />
          </li>
        ))}
      </ul>
      {wrong && (
        <p className="mt-1 text-madder" role="alert">
          ✕ {wrong.name}: “{wrong.text}” is no code. Type M and a number of up to three digits, such as M70.
        </p>
      )}
    </details>
  );
};
