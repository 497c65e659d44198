'use client';
import { useEffect, useState } from 'react';
import type { Cycle } from '@/core/plan';
import { core } from '../job/core';
import { useDerived } from '../job/derived';
import { useDocument } from '../job/document';
import { longSeconds } from '../kit/state';

const percent = (share: number | undefined): string => `${Math.round((share ?? 0) * 100)} %`;

/** How often a part comes and how busy all are, for machines on which things run side by side; null elsewhere. */
export const useCycle = (): Cycle | null => {
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
  return several ? cycle : null;
};

/** The same in words, under the lanes. */
export const CycleWords = ({ cycle }: { cycle: Cycle }) => {
  const machine = useDocument((s) => s.job.machine);
  const busy = [
    ...machine.spindles.map((s) => `${s.id} ${percent(cycle.spindles[s.id])}`),
    ...machine.channels.map((c) => `ch ${c.id} ${percent(cycle.channels[c.id])}`),
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
