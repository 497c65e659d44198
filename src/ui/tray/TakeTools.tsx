'use client';
import { useState } from 'react';
import { toast } from 'sonner';
import { type Job, type TakenOver, takeTools } from '@/core/plan';
import type { JobListRow } from '@/db/jobs';
import { ask } from '../house/ask';
import { useDocument } from '../job/document';
import { useFoundJobs } from '../jobs/useFoundJobs';
import { Section } from '../kit/controls';

const tools = (n: number): string => `${n} ${n === 1 ? 'tool' : 'tools'}`;

/** What came of it, in one sentence for each way. */
const told = (taken: readonly TakenOver[]): string => {
  const of = (why: TakenOver['why']): readonly TakenOver[] => taken.filter((t) => t.why === why);
  const moved = of(null).filter((t) => t.station !== t.from.station);
  return [
    moved.length > 0 && `Not in their own stations, which were taken: ${moved.map((t) => t.tool.name).join(', ')}.`,
    of('stands here').length > 0 && `${tools(of('stands here').length)} stood here already.`,
    of('no free station').length > 0 &&
      `Left behind for want of a free station: ${of('no free station')
        .map((t) => t.tool.name)
        .join(', ')}.`,
    of('no carrier').length > 0 && `${tools(of('no carrier').length)} stand on a carrier that this machine has not.`,
  ]
    .filter(Boolean)
    .join(' ');
};

/** Puts the tools of another job into the stations that are free. */
export const TakeTools = () => {
  const own = useDocument((s) => s.id);
  const [words, setWords] = useState('');
  const found = useFoundJobs(words);
  const take = async (row: JobListRow): Promise<void> => {
    const got = await ask<{ document: Job }>('GET', `/api/jobs/${row.id}`);
    if (!got.ok) {
      toast.error('The other job could not be read.', { description: got.message });
      return;
    }
    const { job, edit } = useDocument.getState();
    const { job: after, taken } = takeTools(job, got.body.document);
    const count = taken.filter((t) => t.station !== null).length;
    if (count > 0) edit(`take ${tools(count)} over from ${row.summary.number}`, () => after);
    toast(`${tools(count)} taken over from ${row.summary.number}.`, { description: told(taken) });
    setWords('');
  };
  return (
    <Section title="Tools of another job">
      <input
        aria-label="Find a job whose tools are wanted"
        placeholder="find a job"
        title="Its tools go into the stations that are free; what stands here stays."
        className="field mb-1 w-full !font-text"
        maxLength={80}
        value={words}
        onChange={(e) => setWords(e.target.value)}
      />
      {found && (
        <ul data-testid="tool-donors">
          {found
            .filter((j) => j.id !== own)
            .slice(0, 8)
            .map((j) => (
              <li key={j.id}>
                <button
                  type="button"
                  className="flex h-8 w-full min-w-0 items-center rounded px-1.5 text-left hover:bg-linen"
                  onClick={() => void take(j)}
                >
                  <span className="truncate">
                    {j.summary.number} {j.summary.name}
                  </span>
                </button>
              </li>
            ))}
          {found.length === 0 && <li className="text-soft">No job has these words.</li>}
        </ul>
      )}
    </Section>
  );
};
