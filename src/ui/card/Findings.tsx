'use client';
import { type Finding, wordFinding } from '@/core/findings';
import { applyRemedy } from '../job/edits';
import { Button } from '../kit/controls';

const GLYPHS = { blocking: '✕', attention: '▲', info: 'i' } as const;
const TONES = { blocking: 'text-madder', attention: 'text-weld', info: 'text-soft' } as const;

/** One finding as a sentence with its remedy; a safe remedy is a button. */
export const FindingRow = ({ finding, title, onGo }: { finding: Finding; title?: string; onGo?: () => void }) => {
  const w = wordFinding(finding);
  const body = (
    <>
      {title && <span className="block text-soft">{title}</span>}
      <span className={`${TONES[finding.severity]} font-semibold`}>
        <span aria-hidden>{GLYPHS[finding.severity]}</span> <span className="sr-only">{finding.severity}: </span>
        {w.message}
      </span>{' '}
      <span className="text-soft">{w.remedy}</span>
    </>
  );
  const { remedy } = finding;
  return (
    <div className="mb-1.5" data-testid={`finding-${finding.code}`}>
      {onGo ? (
        <button
          type="button"
          onClick={onGo}
          className="block w-full rounded border border-hair bg-white px-2 py-1.5 text-left hover:border-soft"
        >
          {body}
        </button>
      ) : (
        <p>{body}</p>
      )}
      {remedy && (
        <Button className="mt-1 w-full" onClick={() => applyRemedy(remedy)}>
          {remedy.label}
        </Button>
      )}
    </div>
  );
};

const keyOf = (f: Finding): string => `${f.operation}${f.code}${JSON.stringify(f.numbers)}`;

interface Listed {
  readonly findings: readonly Finding[];
  readonly titleOf?: (f: Finding) => string | undefined;
  readonly onGo?: (f: Finding) => void;
}

/** Findings in full sentences; notes of one kind are folded to one quiet line. */
export const FindingList = ({ findings, titleOf, onGo }: Listed) => {
  const serious = findings.filter((f) => f.severity !== 'info');
  const notes = new Map<Finding['code'], Finding[]>();
  for (const f of findings) if (f.severity === 'info') notes.set(f.code, [...(notes.get(f.code) ?? []), f]);
  const row = (f: Finding) => (
    <FindingRow key={keyOf(f)} finding={f} title={titleOf?.(f)} onGo={onGo ? () => onGo(f) : undefined} />
  );
  return (
    <>
      {serious.map(row)}
      {[...notes].map(([code, list]) => (
        <details key={code} className="mb-1 text-soft" data-testid={`notes-${code}`}>
          <summary className="cursor-pointer">
            i {list.length > 1 ? `${list.length} × ` : ''}
            {NOTE_WORDS[code] ?? wordFinding(list[0]).message}
          </summary>
          <div className="mt-1">{list.map(row)}</div>
        </details>
      ))}
    </>
  );
};

/** Short words for the notes that come often. */
const NOTE_WORDS: Partial<Record<Finding['code'], string>> = {
  'speed-clamp': 'spindle at its limit near the centre',
  'cycle-not-possible': 'posted as moves, not as a cycle',
  'compensation-not-possible': 'a stretch without G41/G42',
  'pass-below-nose': 'passes thinner than the nose',
};
