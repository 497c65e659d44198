'use client';
import { FileUp } from 'lucide-react';
import { useRef, useState } from 'react';
import { edgeFromDxf } from '@/core/part';
import { profileText, readProfile } from '@/core/tooling';
import { Hint } from '../kit/controls';

/** Largest drawing of an edge that is read here, bytes: it is one line. */
const MOST_BYTES = 1_000_000;

/** The edge of a form tool: typed, or taken from a drawing. */
export const ProfileField = ({
  label,
  help,
  text,
  onChange,
}: {
  readonly label: string;
  readonly help: string;
  readonly text: string;
  readonly onChange: (text: string) => void;
}) => {
  const [draft, setDraft] = useState<string | null>(null);
  const [why, setWhy] = useState<string | null>(null);
  const file = useRef<HTMLInputElement>(null);
  const shown = draft ?? text;
  const read = readProfile(shown);
  const wrong = why ?? (read.ok ? null : `“${read.found}” is no place of the edge: write “z x”, from left to right.`);
  const bring = async (f: File): Promise<void> => {
    if (f.size > MOST_BYTES) {
      setWhy('The drawing is larger than 1 MB. Leave only the edge in it.');
      return;
    }
    const made = edgeFromDxf(await f.text());
    setWhy(made.ok ? null : made.why);
    if (!made.ok) return;
    setDraft(null);
    onChange(profileText(made.points));
  };
  return (
    <div className="py-1">
      <div className="flex items-center justify-between">
        <Hint text={help}>
          <span className="cursor-help">{label}</span>
        </Hint>
        <button type="button" className="flex items-center gap-1 text-woad" onClick={() => file.current?.click()}>
          <FileUp size={13} /> from a DXF
        </button>
        <input
          ref={file}
          type="file"
          accept=".dxf"
          className="hidden"
          aria-label={`${label} from a DXF`}
          onChange={(e) => {
            const f = e.target.files?.[0];
            e.target.value = '';
            if (f) void bring(f);
          }}
        />
      </div>
      <textarea
        aria-label={label}
        className="field mt-1 h-16 w-full resize-y !font-number !text-[11px]"
        maxLength={8000}
        spellCheck={false}
        value={shown}
        onChange={(e) => setDraft(e.target.value)}
        onBlur={() => {
          if (draft !== null && draft !== text) onChange(draft);
          setDraft(null);
        }}
      />
      {wrong && (
        <p className="text-madder" role="alert">
          ✕ {wrong}
        </p>
      )}
    </div>
  );
};
