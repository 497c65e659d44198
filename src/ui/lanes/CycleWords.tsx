'use client';
import { useEffect, useState } from 'react';
import type { Cycle } from '@/core/plan';
import { core } from '../job/core';
import { useDerived } from '../job/derived';
import { useDocument } from '../job/document';
import { longSeconds } from '../kit/state';

const percent = (share: number | undefined): string => `${Math.round((share ?? 0) * 100)} %`;

/** How busy channels and spindles are, and how often a part comes; for machines on which things run side by side. */
export const CycleWords = () => {
  const view = useDerived((s) => s.view);
  const job = useDocument((s) => s.job);
  const several = job.machine.channels.length > 1;
  const [cycle, setCycle] = useState<Cycle | null>(null);
  useEffect(() => {
    if (!several || !view) return;
    let current = true;
    core()
      .cycle(job)
      .then((found) => current && setCycle(found))
      .catch(() => undefined);
    return () => {
      current = false;
    };
  }, [view, job, several]);
  if (!several || !cycle) return null;
  const busy = [
    ...job.machine.spindles.map((s) => `${s.id} ${percent(cycle.spindles[s.id])}`),
    ...job.machine.channels.map((c) => `ch ${c.id} ${percent(cycle.channels[c.id])}`),
  ].join('  ');
  return (
    <div
      className="flex h-7 shrink-0 items-center justify-between gap-3 border-t border-hair px-3 text-soft"
      data-testid="cycle"
    >
      <span>
        busy <span className="num">{busy}</span>
      </span>
      <span>
        one part every <b className="text-ink">{longSeconds(cycle.time)}</b> · bound {longSeconds(cycle.bound)}
      </span>
    </div>
  );
};
