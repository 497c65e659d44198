'use client';
import { useEffect, useState } from 'react';
import type { JobListRow } from '@/db/jobs';
import { ask } from '../house/ask';

/** Jobs of the whole shop that have these words, shortly after typing; null while there are no words. */
export const useFoundJobs = (words: string): readonly JobListRow[] | null => {
  const [found, setFound] = useState<readonly JobListRow[] | null>(null);
  useEffect(() => {
    if (words.trim() === '') {
      setFound(null);
      return;
    }
    const t = setTimeout(() => {
      void ask<{ jobs: JobListRow[] }>('GET', `/api/jobs?words=${encodeURIComponent(words)}`).then(
        (got) => got.ok && setFound(got.body.jobs),
      );
    }, 200);
    return () => clearTimeout(t);
  }, [words]);
  return found;
};
