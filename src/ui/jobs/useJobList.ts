'use client';
import { useCallback, useEffect, useRef, useState } from 'react';
import { toast } from 'sonner';
import type { JobPage } from '@/db/jobs';
import { ask } from '../house/ask';

/** ms between looks at who works on what, and what others have made. */
const LOOK = 8000;
/** ms after the last letter until it is searched. */
const REST = 200;

/** The list as the server pages it: the search looks at all jobs, and what follows comes when it is scrolled to. */
export const useJobList = (first: JobPage) => {
  const [words, setWords] = useState('');
  const [label, setLabel] = useState<string | null>(null);
  const [page, setPage] = useState(first);
  const [busy, setBusy] = useState(false);
  const ticket = useRef(0);
  const load = useCallback(
    async (after: string | null, quiet = false): Promise<void> => {
      const mine = ++ticket.current;
      const q = new URLSearchParams({ words });
      if (label) q.set('label', label);
      if (after) q.set('after', after);
      setBusy(true);
      const got = await ask<JobPage>('GET', `/api/jobs?${q}`);
      if (mine !== ticket.current) return;
      setBusy(false);
      if (!got.ok) {
        if (!quiet) toast.error('The list is not up to date.', { id: 'list', description: got.message });
        return;
      }
      setPage((p) => (after ? { ...got.body, jobs: [...p.jobs, ...got.body.jobs] } : got.body));
    },
    [words, label],
  );
  const untouched = useRef(true);
  useEffect(() => {
    // also at once: the page may have come out of the browser's own memory
    const t = setTimeout(() => void load(null, true), untouched.current ? 0 : REST);
    untouched.current = false;
    return () => clearTimeout(t);
  }, [load]);
  const top = page.jobs.length <= 50;
  useEffect(() => {
    const t = setInterval(() => document.visibilityState === 'visible' && top && void load(null, true), LOOK);
    return () => clearInterval(t);
  }, [load, top]);
  return { words, setWords, label, setLabel, page, busy, load };
};

/** Calls when an element is scrolled into view. */
export const useSeen = <E extends Element>(call: () => void) => {
  const element = useRef<E>(null);
  const latest = useRef(call);
  latest.current = call;
  useEffect(() => {
    const seen = new IntersectionObserver((e) => e.some((k) => k.isIntersecting) && latest.current(), {
      rootMargin: '300px',
    });
    if (element.current) seen.observe(element.current);
    return () => seen.disconnect();
  });
  return element;
};
