'use client';
import { useMemo } from 'react';
import { buildPart, type Part, type PartDocument } from '@/core/part';
import { useDocument } from '../job/document';

/** The last part built of a document: tray, card, section and 3D view ask for the same one after every edit. */
const known = new WeakMap<PartDocument, { readonly unit: 'mm' | 'inch'; readonly part: Part }>();

const builtOf = (document: PartDocument, unit: 'mm' | 'inch'): Part => {
  const last = known.get(document);
  if (last?.unit === unit) return last.part;
  const part = buildPart(document, unit);
  known.set(document, { unit, part });
  return part;
};

/**
 * The contour of the document as it stands, without waiting for the plan: a profile is built in a few milliseconds, its
 * operations may take longer.
 */
export const useBuiltPart = (): Part => {
  const document = useDocument((s) => s.job.part);
  const unit = useDocument((s) => s.job.units);
  return useMemo(() => builtOf(document, unit), [document, unit]);
};
