'use client';
import { useMemo } from 'react';
import { buildPart, type Part } from '@/core/part';
import { useJob } from '../job/store';

/**
 * The contour of the document as it stands, without waiting for the plan: a profile is built in a few milliseconds, its
 * operations may take longer.
 */
export const useBuiltPart = (): Part => {
  const document = useJob((s) => s.job.part);
  const unit = useJob((s) => s.job.units);
  return useMemo(() => buildPart(document, unit), [document, unit]);
};
